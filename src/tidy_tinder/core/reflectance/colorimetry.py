"""Reflectance → XYZ → Lab → sRGB, and back from Lab; D65 and the 2° observer throughout.

Sources: CIE 15 (XYZ, Lab); IEC 61966-2-1 (sRGB: primaries, transfer curve); the Bradford
transform of Lam (1985) as used by ICC profiles, for values given under D50. The 31 × 3 weights
that turn reflectance into XYZ are derived by tools/derive_weights.py.
"""

from __future__ import annotations

import json
from functools import cache
from importlib import resources

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import OutOfRangeError, ShapeError, echoed
from tidy_tinder.core.quantities import BANDS, SRGB, XYZ, Lab, LinearRGB, Reflectance, as_lab

# ASTM E308 / CIE 15: tristimulus values of D65 and D50, 2°, Y = 1, from their chromaticities
# (0.31270, 0.32900 and 0.34570, 0.35850), which IEC 61966-2-1 and ICC name.
WHITE_D65: NDArray[np.float64] = np.array([0.3127 / 0.3290, 1.0, (1 - 0.3127 - 0.3290) / 0.3290])
WHITE_D50: NDArray[np.float64] = np.array([0.3457 / 0.3585, 1.0, (1 - 0.3457 - 0.3585) / 0.3585])

# CIE 15: f(t) turns from a cube root to a line at (6/29)³.
_EPSILON = (6.0 / 29.0) ** 3
_KAPPA = 24389.0 / 27.0

# IEC 61966-2-1: chromaticities of the primaries red, green and blue.
_PRIMARIES = np.array([[0.64, 0.33], [0.30, 0.60], [0.15, 0.06]])

# Bradford cone responses (Lam 1985; the matrix as printed in the ICC specification, annex E).
_BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])

# A channel may pass the ends of the screen's range by half an 8-bit step before it counts as outside.
_SCREEN_TOLERANCE = 0.5 / 255.0


def _rgb_to_xyz_matrix() -> NDArray[np.float64]:
    """The sRGB matrix from its primaries and white, unrounded (method: Lindbloom; IEC prints 4 digits)."""
    x, y = _PRIMARIES[:, 0], _PRIMARIES[:, 1]
    columns = np.stack([x / y, np.ones(3), (1 - x - y) / y])
    matrix: NDArray[np.float64] = columns * np.linalg.solve(columns, WHITE_D65)
    return matrix


_RGB_TO_XYZ = _rgb_to_xyz_matrix()
_XYZ_TO_RGB = np.linalg.inv(_RGB_TO_XYZ)


@cache
def weights() -> NDArray[np.float64]:
    """W (31, 3): XYZ = R @ W, Y of the perfect white being 1 (tools/derive_weights.py)."""
    text = resources.files(__package__).joinpath("weights_d65_2deg.json").read_text(encoding="utf-8")
    return np.asarray(json.loads(text)["weights"], dtype=np.float64)


def reflectance_to_xyz(reflectance: ArrayLike) -> XYZ:
    """XYZ (…, 3) of reflectance (…, 31), D65, 2°, Y of the perfect white 1.

    Raises ShapeError where the last axis does not hold 31 bands.
    """
    R = np.asarray(reflectance, dtype=np.float64)
    if R.ndim == 0 or R.shape[-1] != BANDS.size:
        raise ShapeError(f"Reflectance needs {BANDS.size} bands on its last axis, but has shape {R.shape}.")
    result: XYZ = R @ weights()
    return result


def reflectance_to_lab(reflectance: Reflectance) -> Lab:
    """Lab (…, 3) of reflectance (…, 31); the white is that of the weights, so a perfect white is exact."""
    return xyz_to_lab(reflectance_to_xyz(reflectance), white=weights().sum(axis=0))


def xyz_to_lab(xyz: ArrayLike, white: ArrayLike = WHITE_D65) -> Lab:
    """CIE L*a*b* (…, 3) of XYZ (…, 3) (CIE 15)."""
    t = np.asarray(xyz, dtype=np.float64) / np.asarray(white, dtype=np.float64)
    f = np.where(t > _EPSILON, np.cbrt(t), (_KAPPA * t + 16.0) / 116.0)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)], axis=-1)


def lab_to_xyz(lab: ArrayLike, white: ArrayLike = WHITE_D65) -> XYZ:
    """XYZ (…, 3) of CIE L*a*b* (…, 3), the inverse of `xyz_to_lab`."""
    values = as_lab(lab)
    y = (values[..., 0] + 16.0) / 116.0
    f = np.stack([y + values[..., 1] / 500.0, y, y - values[..., 2] / 200.0], axis=-1)
    t = np.where(f > np.cbrt(_EPSILON), f**3, (116.0 * f - 16.0) / _KAPPA)
    result: XYZ = t * np.asarray(white, dtype=np.float64)
    return result


def adapt_d50_to_d65(lab: ArrayLike) -> Lab:
    """Lab (…, 3) given under D50, adapted to D65 by the Bradford transform (Lam 1985)."""
    cone = _BRADFORD @ np.stack([WHITE_D50, WHITE_D65], axis=-1)
    matrix = np.linalg.inv(_BRADFORD) @ np.diag(cone[:, 1] / cone[:, 0]) @ _BRADFORD
    return xyz_to_lab(lab_to_xyz(lab, WHITE_D50) @ matrix.T)


def lab_to_linear_rgb(lab: ArrayLike) -> LinearRGB:
    """Linear-light sRGB (…, 3) of Lab (…, 3); not clipped."""
    result: LinearRGB = lab_to_xyz(lab) @ _XYZ_TO_RGB.T
    return result


def linear_rgb_to_lab(rgb: ArrayLike) -> Lab:
    """Lab (…, 3) of linear-light sRGB (…, 3)."""
    return xyz_to_lab(np.asarray(rgb, dtype=np.float64) @ _RGB_TO_XYZ.T)


def linear_rgb_to_xyz_matrix() -> NDArray[np.float64]:
    """(3, 3): XYZ = M @ linear-light sRGB."""
    return _RGB_TO_XYZ.copy()


def encode_srgb(linear: ArrayLike) -> SRGB:
    """Encoded sRGB of linear light, clipped to what the screen can show (IEC 61966-2-1)."""
    c = np.clip(np.asarray(linear, dtype=np.float64), 0.0, 1.0)
    return np.where(c <= 0.0031308, 12.92 * c, 1.055 * c ** (1 / 2.4) - 0.055)


def decode_srgb(encoded: ArrayLike) -> LinearRGB:
    """Linear light of encoded sRGB 0 to 1 (IEC 61966-2-1)."""
    c = np.asarray(encoded, dtype=np.float64)
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


def on_screen(linear: ArrayLike) -> NDArray[np.bool_]:
    """Whether a screen can show linear-light sRGB (…, 3), to within half an 8-bit step; shape (…)."""
    c = np.asarray(linear, dtype=np.float64)
    high = decode_srgb(1.0 + _SCREEN_TOLERANCE)
    low = -_SCREEN_TOLERANCE / 12.92
    return np.asarray(np.all((c >= low) & (c <= high), axis=-1))


def hex_of(linear: ArrayLike) -> str:
    """`#rrggbb` of one linear-light sRGB colour (3,), clipped to the screen's range."""
    red, green, blue = np.rint(encode_srgb(linear) * 255.0).astype(int)
    return f"#{red:02x}{green:02x}{blue:02x}"


def lab_from_hex(text: str) -> Lab:
    """Lab (3,) of an sRGB colour written as six hexadecimal digits, with or without `#`.

    Raises OutOfRangeError where the text is something else; it says what was found.
    """
    digits = text.strip().removeprefix("#")
    if len(digits) != 6 or any(d not in "0123456789abcdefABCDEF" for d in digits):
        raise OutOfRangeError(
            f"“{echoed(text)}” is not a colour of six hexadecimal digits, such as #b2402f (it has {len(digits)})."
        )
    channels = np.array([int(digits[i : i + 2], 16) for i in (0, 2, 4)]) / 255.0
    return linear_rgb_to_lab(decode_srgb(channels))
