"""Warm and cool: the temperature of each place against the picture's own middle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.components import WORD_STEPS, temperature
from tidy_tinder.core.quantities import Lab

# From here on a place is called warmer or cooler than the middle: the bare word's step of temperature.
_PLAINLY = WORD_STEPS["temperature"][1]


@dataclass(frozen=True, eq=False)
class Warmth:
    """middle: the picture's own temperature (components.temperature); warm, cool: (h, w), where it is plainly warmer or
    cooler than that.
    """

    middle: float
    warm: NDArray[np.bool_]
    cool: NDArray[np.bool_]


def warmth(lab: Lab) -> Warmth:
    """Warm and cool places of a picture (h, w, 3) against the median of its temperatures (ours)."""
    degrees = temperature(lab)
    middle = float(np.median(degrees))
    return Warmth(middle, np.asarray(degrees - middle >= _PLAINLY), np.asarray(middle - degrees >= _PLAINLY))
