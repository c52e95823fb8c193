"""The common curve from the reference's lightness to the drawing's: the camera's tone curve and the artist's
compression together, which no photo can tell apart.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_Array = NDArray[np.float64]

_TUKEY = 4.685
_ROUNDS = 20
# Below this scatter, in L*, zones are not told apart better.
_LEAST_SCALE = 1.0


@dataclass(frozen=True, eq=False)
class Curve:
    """A polynomial of L*/100 that never falls; span: the L* between which zones were seen."""

    coefficients: _Array
    span: tuple[float, float]

    def __call__(self, lightness: _Array) -> _Array:
        """The drawing's L* where the reference has this L*; beyond the span as at its ends."""
        t = np.clip(lightness, *self.span) / 100.0
        return np.asarray(np.polynomial.polynomial.polyval(t, self.coefficients))


def common_curve(reference: _Array, drawing: _Array, weights: _Array) -> Curve:
    """A robust cubic through zones (N,) of L*, weighted by their areas; of lower degree where that would fall."""
    span = float(reference.min()), float(reference.max())
    inside = np.linspace(*span, 60) / 100.0
    for degree in (3, 2, 1):
        fitted = _robust(reference / 100.0, drawing, weights, degree)
        slope = np.polynomial.polynomial.polyval(inside, np.polynomial.polynomial.polyder(fitted))
        if bool((slope > 0.0).all()):
            return Curve(fitted, span)
    return Curve(np.array([float(np.median(drawing))]), span)


def _robust(t: _Array, values: _Array, weights: _Array, degree: int) -> _Array:
    terms = np.vander(t, degree + 1, increasing=True)
    counted = weights / weights.mean()
    fitted = np.zeros(degree + 1)
    doubt = np.ones(len(t))
    for _ in range(_ROUNDS):
        root = np.sqrt(counted * doubt)
        fitted = np.linalg.lstsq(terms * root[:, None], values * root, rcond=None)[0]
        off = np.abs(values - terms @ fitted)
        scale = max(1.4826 * float(np.median(off)), _LEAST_SCALE)
        doubt = np.maximum(1.0 - (off / (_TUKEY * scale)) ** 2, 1e-6) ** 2
    return fitted
