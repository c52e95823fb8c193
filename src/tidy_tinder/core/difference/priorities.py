"""The three meanings of closest: overall, value first, hue first.

They are the parametric factors of CIEDE2000 (CIE 142, ISO/CIE 11664-6; the two weightings are ours). The
plain 1:1:1 figure is always given beside the one that ranks.
"""

from __future__ import annotations

from enum import StrEnum

from numpy.typing import ArrayLike

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.quantities import DeltaE


class Closest(StrEnum):
    """What the artist means by "closest"; the value is the word the interface and the files use."""

    OVERALL = "overall"
    VALUE = "value"
    HUE = "hue"

    @property
    def factors(self) -> tuple[float, float, float]:
        """(kL, kC, kH): a smaller factor makes that component count more."""
        return _FACTORS[self]


_FACTORS = {
    Closest.OVERALL: (1.0, 1.0, 1.0),
    Closest.VALUE: (0.5, 1.5, 1.5),
    Closest.HUE: (2.0, 1.0, 0.5),
}


def weighted_difference(lab_a: ArrayLike, lab_b: ArrayLike, closest: Closest) -> DeltaE:
    """CIEDE2000 under the factors of `closest`; shapes and errors as `delta_e_2000`."""
    kL, kC, kH = closest.factors
    return delta_e_2000(lab_a, lab_b, kL, kC, kH)
