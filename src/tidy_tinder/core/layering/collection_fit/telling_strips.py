"""Which strips of layers would tell most of how an artist's layers lie over one another on a paper, and how much surer
layers are after them.

No mark of one layer tells how much of it misses by chance and how well wax holds on wax. Of many strips that could be
made, those are taken which leave the least doubt of what the others look like (a greedy design by the mean variance of
predictions, Fedorov 1972; from memory).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.stats.qmc import Halton

from tidy_tinder.core.difference.local import local_metric, radius
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.collection_fit.overlap import LEARNED, beside_overlap, kept_in_doubt
from tidy_tinder.core.layering.fitting.evidence import READING_SD
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import StackPrediction, predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]

PENCILS_IN_ONE = 3
"""How many pencils lie in a strip, all heavy: a tooth must be full for wax to have to hold on wax (decision 0056)."""

# How many strips are compared, but for those among them that have one pencil twice. Of 300 those that are chosen tell
# no more (decision 0056).
_COMPARED = 56
# A strip is worth its making where bands of all those compared shrink by this share of what they are now, and all that
# are chosen where they shrink by that share together: who has read three is not asked for more for a tenth of a ΔE.
_WORTH, _WORTH_TOGETHER = 0.005, 0.02


@dataclass(frozen=True)
class TellingStrip:
    """A strip to be made and measured. layers: by the keys of their pencils, the lowest first; band_after: the median
    ΔE00 within which such stacks will lie, nine times of ten, when this strip and those before it are measured.
    """

    layers: tuple[Layer[int], ...]
    band_after: float


@dataclass(frozen=True)
class TellingStrips:
    """Strips, those first that tell most. band: the median ΔE00 within which such stacks lie now; 0 where there are not
    pencils enough for one.
    """

    band: float
    strips: tuple[TellingStrip, ...]


def telling_strips(pencils: Mapping[int, PencilFit], paper: PaperFit, count: int = 3) -> TellingStrips:
    """Up to `count` strips of three heavy pencils each, no pencil in two of them; fewer where there are not enough
    pencils or where further ones would tell next to nothing, as where strips were measured before.

    Raises OutOfRangeError for fewer than one.
    """
    if count < 1:
        raise OutOfRangeError(f"At least one strip is asked for, not {count}.")
    drawn = _drawn(sorted(pencils))
    if not drawn:
        return TellingStrips(0.0, ())
    told = predict_stacks([[Layer(pencils[key], Pressure.HEAVY) for key in keys] for keys in drawn], paper)
    design = _Design(told, paper)
    taken: list[int] = []
    bands = [design.band(taken)]
    while len(taken) < count:
        used = {key for i in taken for key in drawn[i]}
        free = [i for i, keys in enumerate(drawn) if used.isdisjoint(keys)]
        if not free:
            break
        taken.append(min(free, key=lambda i: design.doubt([*taken, i])))
        bands.append(design.band(taken))
        if bands[-2] - bands[-1] < _WORTH * bands[0]:
            taken.pop()
            break
    if bands[0] - bands[len(taken)] < _WORTH_TOGETHER * bands[0]:
        taken.clear()
    laid = (tuple(Layer(key, Pressure.HEAVY) for key in drawn[i]) for i in taken)
    return TellingStrips(bands[0], tuple(map(TellingStrip, laid, bands[1:])))


class _Design:
    """What measuring some of these strips would leave in doubt of all of them."""

    def __init__(self, told: StackPrediction, paper: PaperFit) -> None:
        self._told = told
        self._now = paper.covariance[np.ix_(LEARNED, LEARNED)]
        slopes = told.by_overlap
        beside = beside_overlap(told, paper, READING_SD)
        self._tells = slopes.swapaxes(-1, -2) @ np.linalg.solve(beside, slopes)
        # What a unit of variance of either, or of both together, makes of the variance of all strips in ΔE00².
        self._matters = (slopes.swapaxes(-1, -2) @ local_metric(told.lab) @ slopes).mean(axis=0)

    def doubt(self, taken: Sequence[int]) -> float:
        """The mean variance of all strips in ΔE00² by how layers lie over one another, when these are measured."""
        return float(np.trace(self._left(taken) @ self._matters))

    def band(self, taken: Sequence[int]) -> float:
        """The median ΔE00 within which the strips lie then, nine times of ten."""
        slopes = self._told.by_overlap
        gone = slopes @ (self._now - self._left(taken)) @ slopes.swapaxes(-1, -2)
        return float(np.median(radius(self._told.covariance - gone, self._told.lab)))

    def _left(self, taken: Sequence[int]) -> _Array:
        """Covariance (2, 2) of what is learned of overlap, when these are measured; never under what stays open."""
        if not taken:
            return self._now
        left = np.linalg.inv(np.linalg.inv(self._now) + self._tells[list(taken)].sum(axis=0))
        return kept_in_doubt(left)


def _drawn(keys: Sequence[int]) -> list[tuple[int, ...]]:
    """Strips that could be made, spread evenly over all (Halton 1960; from memory), each of different pencils."""
    if len(keys) < PENCILS_IN_ONE:
        return []
    places = (len(keys) * Halton(PENCILS_IN_ONE, scramble=False).random(_COMPARED)).astype(int)
    drawn = dict.fromkeys(tuple(keys[i] for i in row) for row in places.tolist())
    return [strip for strip in drawn if len(set(strip)) == PENCILS_IN_ONE]
