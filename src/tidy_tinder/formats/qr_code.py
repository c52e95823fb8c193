"""A QR code as the path of a drawing: one unit a module, y down."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class QrPath:
    """size: modules on a side with the blank round them; path: of the dark modules, in the words of SVG."""

    size: int
    path: str


def qr_path(text: str) -> QrPath:
    """The code of a text. Encoded by OpenCV, with a blank of its own round it (ISO/IEC 18004)."""
    import cv2  # noqa: PLC0415 -- loaded only where a code is shown

    modules = np.asarray(cv2.QRCodeEncoder.create().encode(text)) == 0
    rows, columns = np.nonzero(modules)
    path = "".join(f"M{x} {y}h1v1h-1z" for y, x in zip(rows.tolist(), columns.tolist(), strict=True))
    return QrPath(int(modules.shape[0]), path)
