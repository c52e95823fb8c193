"""How far two colours are expected to be apart, where one of them is known only within a band."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from tidy_tinder.core.difference.local import local_metric
from tidy_tinder.core.quantities import DeltaE

# Nine of ten lie within so many standard deviations of one axis where doubt is alike along three: √6.251, the root of
# the 90 % quantile of χ² with three degrees of freedom (any handbook of statistics).
_NINE_OF_TEN = 6.251388631**0.5
# Below so small a doubt there is none.
_NONE = 1e-9


def expected_of(figure: ArrayLike, step: ArrayLike, covariance: ArrayLike, lab: ArrayLike) -> DeltaE:
    """Mean of the difference, in ΔE00, of two colours that most likely are `figure` (…) apart, from how they differ.

    step: Lab (…, 3) of the one less the other; covariance (…, 3, 3): by how much that is in doubt; lab (…, 3): where.
    The square of the difference has the mean figure² + tr GΣ with the metric G of small differences; that of its root
    is less by what its variance makes (the delta method to second order, any handbook of statistics).
    """
    d, step = np.asarray(figure, np.float64), np.asarray(step, np.float64)
    G = local_metric(lab)
    M = G @ np.asarray(covariance, np.float64)
    square = d * d + np.trace(M, axis1=-2, axis2=-1)
    along = ((M @ G) @ step[..., None])[..., 0]
    share = (step * along).sum(axis=-1) / np.maximum((step * (G @ step[..., None])[..., 0]).sum(axis=-1), _NONE)
    variance = 2.0 * np.trace(M @ M, axis1=-2, axis2=-1) + 4.0 * d * d * share
    root = np.sqrt(square) * (1.0 - variance / (8.0 * np.maximum(square, _NONE) ** 2))
    return np.asarray(np.maximum(root, d))


def expected_difference(delta_e: ArrayLike, band: ArrayLike) -> DeltaE:
    """Mean of the difference, in ΔE00, of two colours that most likely are delta_e (…) apart, where nine of ten lie
    within band (…) of where they are expected; both broadcast together.

    Doubt makes colours that seem alike differ, and hardly moves those that are far apart: the mean of a noncentral
    chi of three degrees of freedom (Johnson, Kotz, Balakrishnan, “Continuous univariate distributions” 2, 2nd ed.
    1995, ch. 29; the closed form for three degrees from memory), doubt taken as alike along all axes.
    """
    from scipy.special import erf  # noqa: PLC0415 -- loaded when a plan is worked out

    d, sd = np.broadcast_arrays(np.asarray(delta_e, np.float64), np.asarray(band, np.float64) / _NINE_OF_TEN)
    safe = np.maximum(sd, _NONE)
    away = np.maximum(d / safe, _NONE)
    mean = np.sqrt(2.0 / np.pi) * np.exp(-0.5 * away**2) + (away + 1.0 / away) * erf(away / np.sqrt(2.0))
    return np.asarray(np.where(sd < _NONE, d, np.maximum(safe * mean, d)))
