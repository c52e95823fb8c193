"""How fast a pencil wears, from lengths and its use between them, and how long it still lasts.

Use is told in hours, or in layers over 100 cm² where it is known what was covered. Millimetres for each are log-normal:
each two lengths of a pencil with the use between them teach its range. A range of which nothing is known is a guess.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.errors import OutOfRangeError

# From one stretch to another of the same range, as a factor: sharpening, pressure, a lead that breaks (ours).
_STRETCH_FACTOR = 1.6
# A length read with a ruler is off by about a millimetre: shorter stretches teach less.
_READ_MM = 1.0
# Nine of ten of a normal distribution lie within so many standard deviations (any handbook of statistics).
_NINE_OF_TEN = 1.644854


@dataclass(frozen=True)
class Use:
    """What use is counted in. usual_mm: worn by one of it where nothing is known; factor: one sd of its log, as a
    factor; least: less than so much teaches nothing.
    """

    usual_mm: float
    factor: float
    least: float


HOURS = Use(4.0, 2.0, 0.1)
"""About 4 mm an hour at the paper with sharpening, give or take a factor of two (ours; no source)."""
LAYERS = Use(4.0, 2.5, 0.1)
"""Layers over 100 cm²: at .5 mg of core on each cm² and 1.3 g/cm³, a core of 3.8 mm is 3.4 mm shorter; sharpening takes
some more (ours; no source, and wide for that).
"""


@dataclass(frozen=True)
class Stretch:
    """A pencil between two lengths: how much shorter it is, mm, after how much use."""

    worn_mm: float
    use: float


@dataclass(frozen=True)
class Wear:
    """How fast a range wears. mm: worn by one of its use, the median; low, high: nine of ten stretches lie between;
    stretches: that it rests on; 0 is a guess.
    """

    mm: float
    low: float
    high: float
    stretches: int

    @property
    def is_guess(self) -> bool:
        """Whether nothing was measured yet."""
        return self.stretches == 0


@dataclass(frozen=True)
class Lasts:
    """How much use a pencil still has, between which nine of ten lie."""

    use: float
    low: float
    high: float


def wear_of(stretches: Sequence[Stretch], use: Use = HOURS) -> Wear:
    """How fast a range wears, from the stretches of its pencils.

    Raises OutOfRangeError for a negative length or use. A stretch that is no shorter than a ruler can tell, or hardly
    any use, teaches little or nothing.
    """
    if any(one.worn_mm < 0.0 or one.use < 0.0 for one in stretches):
        raise OutOfRangeError("A pencil grows no longer, and no time runs back.")
    useful = [one for one in stretches if one.use >= use.least and one.worn_mm > 0.0]
    stretch_sd = np.log(_STRETCH_FACTOR)
    # Each weighs by how surely its own rate is known: two readings of a ruler on a short stretch say little.
    sd = np.array([np.hypot(stretch_sd, np.sqrt(2.0) * _READ_MM / max(one.worn_mm, _READ_MM)) for one in useful])
    logs = np.array([np.log(one.worn_mm / one.use) for one in useful])
    precision = 1.0 / np.log(use.factor) ** 2 + float((1.0 / sd**2).sum())
    mean = (np.log(use.usual_mm) / np.log(use.factor) ** 2 + float((logs / sd**2).sum())) / precision
    spread = _NINE_OF_TEN * float(np.hypot(stretch_sd, precision**-0.5))
    rate, low, high = (float(np.exp(mean + by)) for by in (0.0, -spread, spread))
    return Wear(rate, low, high, len(useful))


def lasts(wear: Wear, length_mm: float, stub_mm: float) -> Lasts:
    """How much use a pencil of this length has until it is a stub; none where it is one."""
    left = max(length_mm - stub_mm, 0.0)
    return Lasts(left / wear.mm, left / wear.high, left / wear.low)
