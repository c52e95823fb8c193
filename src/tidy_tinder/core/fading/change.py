"""How far the open half of a mark has come from its covered half, with the doubt of both readings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.fading.classes import FadeClass, classes_within
from tidy_tinder.core.quantities import Lab, as_lab

# Nine of ten of a normal distribution lie within so many standard deviations (any handbook of statistics).
_NINE_OF_TEN = 1.644854


@dataclass(frozen=True)
class Change:
    """A change of colour. delta_e_ab: ΔE*ab (CIE 1976), by which the classes are set; low, high: nine of ten changes
    that read so lie between; delta_e_2000: CIEDE2000 beside it; classes: those that the reading may mean, best first.
    """

    delta_e_ab: float
    low: float
    high: float
    delta_e_2000: float
    classes: tuple[FadeClass, ...]


def change_between(before: Lab, after: Lab, sd_before: float, sd_after: float) -> Change:
    """The change from one colour (3,) to another (3,), D65, 2°.

    sd_before, sd_after: how far each reading may be off, one standard deviation of ΔE*ab along the change. ΔE*ab is the
    distance in CIELAB (CIE 015; ISO/CIE 11664-4). Raises ShapeError, OutOfRangeError for a negative doubt.
    """
    if not (sd_before >= 0.0 and sd_after >= 0.0):
        raise OutOfRangeError("A doubt is not negative.")
    first, second = as_lab(before), as_lab(after)
    distance = float(np.linalg.norm(second - first))
    spread = _NINE_OF_TEN * float(np.hypot(sd_before, sd_after))
    low, high = max(distance - spread, 0.0), distance + spread
    return Change(distance, low, high, float(delta_e_2000(first, second)), classes_within(low, high))
