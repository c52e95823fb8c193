"""How far two colours are expected to be apart, where one of them is known only within a band."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from tidy_tinder.core.quantities import DeltaE

# Nine of ten lie within so many standard deviations of one axis where doubt is alike along three: √6.251, the root of
# the 90 % quantile of χ² with three degrees of freedom (any handbook of statistics).
_NINE_OF_TEN = 6.251388631**0.5
# Below so small a doubt there is none.
_NONE = 1e-9


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
