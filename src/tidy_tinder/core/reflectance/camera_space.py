"""The colours that a picture's numbers stand for: a curve and a matrix, as its profile gives them.

A picture is not converted to sRGB: what a screen's colours cannot show would be cut off. Its own channels are made
linear by its curve; the matrix is laid on after the tone was undone.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reflectance.colorimetry import decode_srgb


@dataclass(frozen=True, eq=False)
class CameraSpace:
    """curve: (256,), linear light of each level, 0 to 1; matrix: (3, 3), linear channels to linear sRGB, grey staying
    grey; name: as its profile calls itself.
    """

    curve: NDArray[np.float64]
    matrix: NDArray[np.float64]
    name: str


SRGB_SPACE = CameraSpace(decode_srgb(np.arange(256) / 255.0), np.eye(3), "sRGB")
"""What a picture without a profile is taken for (IEC 61966-2-1)."""
