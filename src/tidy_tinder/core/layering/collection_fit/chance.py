"""How much of a layer misses by chance, learned from measured stacks.

Where a hand rides over a tooth alike each time, one layer leaves open what the layers before did; where it does not,
each covers some of what they missed. No single mark tells, and artists and papers differ: what an artist's strips show
beside what was expected of them is laid to this one share, as far as it answers to it (Gauss–Newton steps of a linear
Gaussian model; all strips together, so that their order does not matter).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.prediction.marks import CHANCE, PaperFit
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.quantities import Lab

_Array = NDArray[np.float64]

_ROUNDS = 3
# What strips of the same pencils differ from the model by they share in part: it counts for so many times its variance.
_SHARED = 4.0
# Beyond so many standard deviations a strip is believed less and less.
_KNEE = 3.0
# However many strips there are, one more may differ by so much: hands and papers are not of one kind.
_LEFT_OPEN = 0.3
# Told apart no more finely than this, so that one strip more leaves what was mixed on a paper mostly as it was.
_ROUNDED_TO = 0.1


@dataclass(frozen=True)
class SeenStack:
    """A measured stack: fitted layers, the lowest first, the paper by its key, Lab (3,), its noise in ΔE*ab."""

    layers: tuple[FittedLayer, ...]
    paper: int
    lab: Lab
    noise: float


def learn_chance(seen: Sequence[SeenStack], papers: Mapping[int, PaperFit]) -> dict[int, PaperFit]:
    """Papers with the share of a layer that misses by chance as the stacks of all of them tell it together.

    Raises OutOfRangeError for an unknown pressure, ShapeError for a stack without a layer.
    """
    if not seen:
        return dict(papers)
    before = {key: float(paper.unknowns[CHANCE]) for key, paper in papers.items()}
    variance = max(float(paper.covariance[CHANCE, CHANCE]) for paper in papers.values())
    moved, left = 0.0, variance
    for _ in range(_ROUNDS):
        told, to = 1.0 / variance, 0.0
        at = {key: _with_chance(paper, before[key] + moved, variance) for key, paper in papers.items()}
        for one in seen:
            slope, missed, doubt = _look(one, at[one.paper])
            weight = np.linalg.solve(doubt, slope)
            told += float(weight @ slope)
            to += float(weight @ (missed + slope * moved))
        moved, left = to / told, max(1.0 / told, _LEFT_OPEN**2)
    moved = float(np.round(moved / _ROUNDED_TO) * _ROUNDED_TO)
    return {key: _with_chance(paper, before[key] + moved, left) for key, paper in papers.items()}


def _look(seen: SeenStack, paper: PaperFit) -> tuple[_Array, _Array, _Array]:
    """Slope (3,) of a stack's Lab by the logit of the share, what it misses (3,), and the other doubts (3, 3)."""
    told = predict_stacks([seen.layers], paper)
    slope = told.by_chance[0]
    doubt = _SHARED * (told.covariance[0] - np.outer(slope, slope) * paper.covariance[CHANCE, CHANCE])
    doubt = doubt + seen.noise**2 * np.eye(3)
    missed = seen.lab - told.lab[0]
    away = float(np.sqrt(missed @ np.linalg.solve(doubt + np.outer(slope, slope), missed)))
    return slope, missed, doubt * max(1.0, away / _KNEE) ** 2


def _with_chance(paper: PaperFit, logit: float, variance: float) -> PaperFit:
    """A paper with another share and another doubt of it, which no other of its unknowns has part in."""
    unknowns, covariance = paper.unknowns.copy(), paper.covariance.copy()
    unknowns[CHANCE] = logit
    covariance[CHANCE, :] = covariance[:, CHANCE] = 0.0
    covariance[CHANCE, CHANCE] = variance
    return replace(paper, unknowns=unknowns, covariance=covariance)
