"""CIEDE2000 for small differences: the quadratic form that it is near one colour.

For an uncertainty of a colour, given as a covariance of its Lab, this says how far it reaches in ΔE00.
Source of the weightings: Luo, Cui, Rigg (2001); Sharma, Wu, Dalal (2005).
"""

from __future__ import annotations

from statistics import NormalDist

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.quantities import DeltaE, as_lab

_Array = NDArray[np.float64]

_POW25_7 = 25.0**7
# Below this chroma a colour has no hue to speak of, and S_C and S_H are 1 to within 5 %.
_GREY = 1e-6


def local_metric(lab: ArrayLike) -> _Array:
    """G (…, 3, 3) with ΔE00² ≈ dᵀ G d for a small step d in L*, a*, b* from `lab` (…, 3).

    Raises ShapeError where the last axis does not hold three numbers.
    """
    to = _weighted_steps(as_lab(lab))
    return np.asarray(to.swapaxes(-1, -2) @ _with_rotation(as_lab(lab)) @ to)


def radius(covariance: ArrayLike, lab: ArrayLike, share: float = 0.9) -> DeltaE:
    """The ΔE00 within which a colour lies with probability `share`, from its Lab covariance (…, 3, 3); shape (…).

    A weighted sum of squares is taken as a scaled χ² of the same mean and variance (Satterthwaite 1946), whose
    quantile is that of Wilson and Hilferty (1931).
    """
    M = local_metric(lab) @ np.asarray(covariance, dtype=np.float64)
    first = np.maximum(np.trace(M, axis1=-2, axis2=-1), 1e-12)
    second = np.maximum(np.trace(M @ M, axis1=-2, axis2=-1), 1e-24)
    freedom = first * first / second
    spread = 2.0 / (9.0 * freedom)
    z = NormalDist().inv_cdf(share)
    return np.asarray(np.sqrt(first * np.maximum(1.0 - spread + z * np.sqrt(spread), 0.0) ** 3))


def _weighted_steps(lab: _Array) -> _Array:
    """Rows ΔL', ΔC', ΔH', each over its S, as linear forms (…, 3, 3) of a step in L*, a*, b*."""
    L, a, b = lab[..., 0], lab[..., 1], lab[..., 2]
    C = np.hypot(a, b)
    stretch = 1.5 - 0.5 * np.sqrt(C**7 / (C**7 + _POW25_7))
    ap = a * stretch
    Cp = np.hypot(ap, b)
    grey = Cp < _GREY
    cos, sin = np.where(grey, 1.0, ap / np.maximum(Cp, _GREY)), np.where(grey, 0.0, b / np.maximum(Cp, _GREY))
    T = _hue_weight(np.arctan2(sin, cos))
    L50 = (L - 50.0) ** 2
    S_L = 1.0 + 0.015 * L50 / np.sqrt(20.0 + L50)
    S_C, S_H = 1.0 + 0.045 * Cp, 1.0 + 0.015 * Cp * T
    # The stretch of a* changes along the step too; its derivative is left out: it is under 1 % of a step.
    nothing = np.zeros_like(L)
    rows = [
        np.stack([1.0 / S_L, nothing, nothing], axis=-1),
        np.stack([nothing, stretch * cos / S_C, sin / S_C], axis=-1),
        np.stack([nothing, -stretch * sin / S_H, cos / S_H], axis=-1),
    ]
    return np.stack(rows, axis=-2)


def _hue_weight(hue: _Array) -> _Array:
    """T of the formula, for a hue angle in radians."""
    degrees = np.radians
    return np.asarray(
        1.0
        - 0.17 * np.cos(hue - degrees(30.0))
        + 0.24 * np.cos(2.0 * hue)
        + 0.32 * np.cos(3.0 * hue + degrees(6.0))
        - 0.20 * np.cos(4.0 * hue - degrees(63.0))
    )


def _with_rotation(lab: _Array) -> _Array:
    """The 3 × 3 form in the weighted steps: the unit matrix, and R_T/2 between chroma and hue for blues."""
    C = np.hypot(lab[..., 1], lab[..., 2])
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360.0
    seventh = np.sqrt(C**7 / (C**7 + _POW25_7))
    R_T = -2.0 * seventh * np.sin(np.radians(60.0) * np.exp(-(((hue - 275.0) / 25.0) ** 2)))
    form = np.broadcast_to(np.eye(3), (*lab.shape[:-1], 3, 3)).copy()
    form[..., 1, 2] = form[..., 2, 1] = 0.5 * R_T
    return form
