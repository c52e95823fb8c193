"""How the simulated camera sees: three bells for its channels, a glowing lamp, a matrix fitted to smooth colours."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import lab_to_linear_rgb, reflectance_to_lab

Array = NDArray[np.float64]

# Peaks and widths in nm, of the kind that sensors of phones have (ours).
_PEAKS = np.array([597.0, 535.0, 462.0])
_WIDTHS = np.array([31.0, 40.0, 27.0])
# Planck's law: h c / k in nm K (CODATA).
_SECOND_CONSTANT = 1.438777e7
_VIVID = 0.06


def channels(reflectances: ArrayLike, kelvin: float) -> Array:
    """The camera's channels (n, 3) of reflectances (n, 31) under a glowing light: linear, near sRGB, white being 1."""
    seen = _raw(np.asarray(reflectances, dtype=np.float64), kelvin) @ _matrix(kelvin).T
    grey = seen @ np.array([0.2126, 0.7152, 0.0722])
    return np.asarray(np.maximum(seen + _VIVID * (seen - grey[..., None]), 2e-4), dtype=np.float64)


def _raw(reflectances: Array, kelvin: float) -> Array:
    """White-balanced responses of the sensor."""
    light = BANDS**-5.0 / (np.exp(_SECOND_CONSTANT / (BANDS * kelvin)) - 1)
    seen = light[:, None] * np.exp(-0.5 * ((BANDS[:, None] - _PEAKS) / _WIDTHS) ** 2)
    return np.asarray(reflectances @ seen / seen.sum(0), dtype=np.float64)


def _matrix(kelvin: float) -> Array:
    """Nearest to linear sRGB over smooth colours, grey staying grey."""
    at = (BANDS - 400.0) / 300.0
    smooth = np.array(
        [
            0.06 + 0.85 / (1 + np.exp(sign * (at - edge) / 0.06))
            for edge in np.linspace(0.15, 0.85, 9)
            for sign in (-1, 1)
        ]
        + [0.08 + 0.7 * np.exp(-(((at - peak) / 0.16) ** 2)) for peak in np.linspace(0.1, 0.9, 9)]
    )
    seen, wanted = _raw(smooth, kelvin), lab_to_linear_rgb(reflectance_to_lab(smooth))
    rows = np.zeros((3, 3))
    for own in range(3):
        others = [k for k in range(3) if k != own]
        terms = np.linalg.lstsq(seen[:, others] - seen[:, [own]], wanted[:, own] - seen[:, own], rcond=None)[0]
        rows[own, others], rows[own, own] = terms, 1 - terms.sum()
    return rows
