"""Chart values read as heavy marks on the artist's first paper, as far as her own swatches show how they relate.

A printed chart is no mark: its ink, its white and its printer are its own. Where enough colours have both a chart
value and a heavy swatch, an affine map between the two is learned by ridge regression, and what is left over says
how far a chart value may be trusted. Measured in benchmarks/optics.py: without it, bands of chart values hold for half
of the colours only.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.quantities import Lab, as_lab

_Array = NDArray[np.float64]

# Fewer colours than this with both values tell more of chance than of the charts.
LEAST_COLOURS = 12
# Ridge on the slopes, in squared ΔE*ab: with few colours the map stays near “as printed, plus an offset”.
_RIDGE = 20.0
_MIDDLE = np.array([60.0, 0.0, 0.0])
_LEAST_NOISE = 1.0


@dataclass(frozen=True)
class ChartReading:
    """How chart values become heavy marks: shift (4, 3) by (1, L* − 60, a*, b*); noise, the standard deviation left
    in ΔE*ab by component; colours, how many it was learned from.
    """

    shift: _Array
    noise: float
    colours: int

    def read(self, chart: ArrayLike) -> Lab:
        """Lab (…, 3) of the heavy marks that chart values (…, 3) stand for."""
        lab = as_lab(chart)
        return np.asarray(lab + _terms(lab) @ self.shift)


def learn_charts(chart: ArrayLike, heavy: ArrayLike) -> ChartReading | None:
    """The map from chart values (N, 3) to heavy marks (N, 3) of the same colours; None for fewer than 12."""
    printed, seen = as_lab(chart), as_lab(heavy)
    if printed.size // 3 < LEAST_COLOURS:
        return None
    terms = _terms(printed)
    ridge = np.diag([1e-6, _RIDGE, _RIDGE, _RIDGE])
    shift = np.asarray(np.linalg.solve(terms.T @ terms + ridge, terms.T @ (seen - printed)))
    left = seen - printed - terms @ shift
    freedom = max(1, printed.shape[0] - terms.shape[1])
    noise = float(np.sqrt((left**2).sum() / (3 * freedom)))
    return ChartReading(shift, max(noise, _LEAST_NOISE), printed.shape[0])


def _terms(lab: Lab) -> _Array:
    return np.concatenate([np.ones((*lab.shape[:-1], 1)), lab - _MIDDLE], axis=-1)
