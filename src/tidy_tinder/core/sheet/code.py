"""The code on a page, read from the flat page: a cross-check of which set it belongs to."""

from __future__ import annotations

import numpy as np

from tidy_tinder.core.sheet.flattening import PX_PER_MM, FlatPage

_AROUND = 2.0  # bare paper round it, in mm
_SCALES = (1, 2, 3)


def code_on(flat: FlatPage) -> str:
    """The text of the code; empty where it cannot be read, which may be in a picture that is measured well."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    box = flat.found.layout.code.inset(-_AROUND)
    part = flat.image[
        round(box.y * PX_PER_MM) : round(box.bottom * PX_PER_MM),
        round(box.x * PX_PER_MM) : round(box.right * PX_PER_MM),
    ]
    grey = cv2.cvtColor(np.ascontiguousarray(part), cv2.COLOR_RGB2GRAY)
    detector = cv2.QRCodeDetector()
    for scale in _SCALES:
        text, _, _ = detector.detectAndDecode(cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_CUBIC))
        if text:
            return str(text)
    return ""
