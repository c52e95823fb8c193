"""Array types with their scale in the name.

They are aliases, not classes: numpy arrays of float64 whose last axis holds the components.
"""

from __future__ import annotations

from typing import TypeAlias

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import OutOfRangeError, ShapeError

Lab: TypeAlias = NDArray[np.float64]
"""CIE L*a*b*, shape (…, 3); L* 0 to 100, D65, 2° observer."""

XYZ: TypeAlias = NDArray[np.float64]
"""CIE tristimulus values, shape (…, 3); Y of the perfect white is 1, D65, 2°."""

LinearRGB: TypeAlias = NDArray[np.float64]
"""Linear-light sRGB, shape (…, 3); 0 to 1 is what the screen can show, values beyond are kept."""

SRGB: TypeAlias = NDArray[np.float64]
"""Encoded sRGB (IEC 61966-2-1), shape (…, 3); 0 to 1."""

Reflectance: TypeAlias = NDArray[np.float64]
"""Reflectance factor, shape (…, 31); 400 to 700 nm in steps of 10, each in (0, 1)."""

DeltaE: TypeAlias = NDArray[np.float64]
"""Colour difference CIEDE2000, shape (…)."""

Scalar: TypeAlias = NDArray[np.float64]
"""One number per colour, shape (…)."""

BANDS: NDArray[np.float64] = np.arange(400.0, 701.0, 10.0)
"""Wavelengths in nm of the 31 reflectance bands."""

# Widest a* and b* that a reflecting surface under D65 can have, with room for fluorescent colours:
# the optimal (MacAdam) colours stay within about ±175; from memory.
CHROMA_LIMIT = 200.0


def as_lab(values: ArrayLike, name: str = "lab") -> Lab:
    """Return `values` as a Lab array of shape (…, 3), float64.

    Raises ShapeError where the last axis does not hold three numbers.
    """
    lab = np.asarray(values, dtype=np.float64)
    if lab.ndim == 0 or lab.shape[-1] != 3:
        raise ShapeError(f"{name} needs L*, a*, b* on its last axis, but has shape {lab.shape}.")
    return lab


def check_finite(values: ArrayLike, name: str = "lab") -> Lab:
    """Return `values` as Lab of shape (…, 3) that holds numbers. Raises OutOfRangeError, ShapeError."""
    lab = as_lab(values, name)
    if not bool(np.all(np.isfinite(lab))):
        raise OutOfRangeError(f"{name} holds a value that is not a finite number.")
    return lab


def check_limit(limit: int | None) -> None:
    """Raises OutOfRangeError for a limit that leaves nothing of a list; None is no limit."""
    if limit is not None and limit < 1:
        raise OutOfRangeError(f"A list of the nearest has at least one in it: limit is {limit}.")


def check_lab(values: ArrayLike, name: str = "lab") -> Lab:
    """Return `values` as Lab of shape (…, 3), having checked that a surface could have it.

    Raises OutOfRangeError for L* outside 0 to 100, a* or b* beyond ±200, or a value that is no number;
    ShapeError for a wrong shape.
    """
    lab = check_finite(values, name)
    lightness, chroma = lab[..., 0], np.abs(lab[..., 1:])
    if bool(np.any((lightness < 0) | (lightness > 100))):
        raise OutOfRangeError(f"{name}: L* lies between 0 and 100.")
    if bool(np.any(chroma > CHROMA_LIMIT)):
        raise OutOfRangeError(f"{name}: a* and b* lie between -{CHROMA_LIMIT:.0f} and {CHROMA_LIMIT:.0f}.")
    return lab
