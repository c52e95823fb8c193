"""Several readings of one mark made into one value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.quantities import BANDS, Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab


@dataclass(frozen=True)
class Average:
    """The mean of N readings: reflectance (31,), its Lab (3,), D65, 2°, and how far the farthest lies from it.

    spread: the largest ΔE00 between a reading and the mean.
    """

    reflectance: Reflectance
    lab: Lab
    spread: float
    count: int


def average_readings(readings: Sequence[Reflectance]) -> Average:
    """The mean reflectance of readings (31,) each, band by band: light adds up, Lab values do not.

    Raises ShapeError where there is none, or one has another number of bands.
    """
    if not readings or any(np.shape(r) != BANDS.shape for r in readings):
        raise ShapeError(f"An average needs at least one reading of {BANDS.size} bands each.")
    stacked = np.asarray(readings, dtype=np.float64)
    mean = stacked.mean(axis=0)
    lab = reflectance_to_lab(mean)
    spread = float(np.max(delta_e_2000(reflectance_to_lab(stacked), lab)))
    return Average(mean, lab, spread, len(readings))
