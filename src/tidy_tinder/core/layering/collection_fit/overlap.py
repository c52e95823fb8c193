"""How layers lie over one another, learned from measured stacks: how much of each misses by chance, and how well wax
holds on wax.

Where a hand rides over a tooth alike each time, one layer leaves open what the layers before did; where it does not,
each covers some of what they missed. And where the tooth is full, one core slides off and another takes hold. No
single mark tells, and artists and papers differ: what an artist's strips show beside what was expected of them is laid
to these two, as far as it answers to them (Gauss–Newton steps of a linear Gaussian model; all strips together, so that
their order does not matter).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.fitting.paper_unknowns import CHANCE, HELD
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, StackPrediction, predict_stacks
from tidy_tinder.core.quantities import Lab, check_lab

_Array = NDArray[np.float64]

LEARNED = [CHANCE, HELD]
"""Places of what is learned among a paper's unknowns."""

_ROUNDS = 3
# What strips of the same pencils differ from the model by they share in part: it counts for so many times its variance.
_SHARED = 4.0
# Beyond so many standard deviations a strip is believed less and less.
_KNEE = 3.0
# However many strips there are, one more may differ by so much in either: hands and papers are not of one kind.
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


def learn_overlap(seen: Sequence[SeenStack], papers: Mapping[int, PaperFit]) -> dict[int, PaperFit]:
    """Papers with what misses by chance and what wax holds on wax as the stacks of all of them tell it together.

    Raises OutOfRangeError for an unknown pressure or paper, a Lab that is no colour or a noise that is none, ShapeError
    for a stack without a layer.
    """
    if not seen:
        return dict(papers)
    for one in seen:
        check_measured(one.lab, one.noise)
        if one.paper not in papers:
            raise OutOfRangeError(f"A stack lies on paper {one.paper}, which is not among the papers.")
    before = {key: paper.unknowns[LEARNED] for key, paper in papers.items()}
    variance = np.max([paper.covariance[LEARNED, LEARNED] for paper in papers.values()], axis=0)
    moved: _Array = np.zeros(len(LEARNED))
    for _ in range(_ROUNDS):
        at = {key: _with(paper, before[key] + moved, np.diag(variance)) for key, paper in papers.items()}
        moved, left = _step(seen, at, moved, variance)
    moved = np.round(moved / _ROUNDED_TO) * _ROUNDED_TO
    return {key: _with(paper, before[key] + moved, kept_in_doubt(left)) for key, paper in papers.items()}


def check_measured(lab: Lab, noise: float) -> None:
    """Raises OutOfRangeError where a strip's Lab or its noise in ΔE*ab cannot be, ShapeError for another shape."""
    check_lab(lab, "The Lab of a strip")
    if not 0.0 < noise < np.inf:
        raise OutOfRangeError(f"A reading has some noise, in ΔE*ab: it is {noise}.")


def _step(
    seen: Sequence[SeenStack], papers: Mapping[int, PaperFit], moved: _Array, variance: _Array
) -> tuple[_Array, _Array]:
    """How far (2,) all stacks move what is learned, and its covariance (2, 2), by their slopes on papers that have
    been `moved` so far from where its prior `variance` (2,) lies.
    """
    told, to = np.diag(1.0 / variance), np.zeros(len(LEARNED))
    for one in seen:
        slopes, missed, doubt = _look(one, papers[one.paper])
        weight = np.linalg.solve(doubt, slopes)
        told = told + slopes.T @ weight
        to = to + weight.T @ (missed + slopes @ moved)
    return np.asarray(np.linalg.solve(told, to), np.float64), np.asarray(np.linalg.inv(told), np.float64)


def _look(seen: SeenStack, paper: PaperFit) -> tuple[_Array, _Array, _Array]:
    """Slopes (3, 2) of a stack's Lab by what is learned, what it misses (3,), and the other doubts (3, 3)."""
    told = predict_stacks([seen.layers], paper)
    slopes, doubt = told.by_overlap[0], beside_overlap(told, paper, seen.noise)[0]
    missed = seen.lab - told.lab[0]
    whole = doubt + slopes @ paper.covariance[np.ix_(LEARNED, LEARNED)] @ slopes.T
    away = float(np.sqrt(missed @ np.linalg.solve(whole, missed)))
    return slopes, missed, doubt * max(1.0, away / _KNEE) ** 2


def beside_overlap(told: StackPrediction, paper: PaperFit, noise: float) -> _Array:
    """Covariance (N, 3, 3) of all else that measured stacks may differ by, as learning of overlap weighs it; noise: of
    a reading, in ΔE*ab.
    """
    slopes = told.by_overlap
    by_overlap = slopes @ paper.covariance[np.ix_(LEARNED, LEARNED)] @ slopes.swapaxes(-1, -2)
    return np.asarray(_SHARED * (told.covariance - by_overlap) + noise**2 * np.eye(3))


def kept_in_doubt(covariance: _Array) -> _Array:
    """A covariance (2, 2) raised, where it must be, to what always stays open of either."""
    lacking = np.sqrt(np.maximum(_LEFT_OPEN**2 / np.diag(covariance), 1.0))
    return np.asarray(covariance * np.outer(lacking, lacking))


def _with(paper: PaperFit, learned: _Array, covariance: _Array) -> PaperFit:
    """A paper with other values of these two and another doubt of them, which no other of its unknowns has part in."""
    unknowns, whole = paper.unknowns.copy(), paper.covariance.copy()
    unknowns[LEARNED] = learned
    whole[LEARNED, :] = whole[:, LEARNED] = 0.0
    whole[np.ix_(LEARNED, LEARNED)] = covariance
    return replace(paper, unknowns=unknowns, covariance=whole)
