"""Small questions for plans, in a world whose pencils were swatched: passages of a few calls, each with a few ways."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache

import numpy as np
from benchmarks.optics import HOME, KINDS, Readings, known_from
from benchmarks.worlds import random_world

from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.layering.collection_fit.survey import Survey
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.question import AskedPassage, PlannedCall, Question, Way
from tidy_tinder.core.planning.stacking import Ways
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES

PENCILS = 24


@cache
def small_world() -> tuple[Survey, PaperFit]:
    """Two dozen fitted pencils, and the paper on which they were swatched."""
    made = Readings(random_world(23, PENCILS), 23)
    known = known_from(made, HOME, 0, KINDS)[0]
    return known, known.papers[made.seen_paper(HOME).key]


def looks(stacks: Sequence[Sequence[Layer[int]]], solvent: bool = False) -> Lab:
    """What stacks look like (N, 3), by the prediction that serves everywhere else."""
    known, paper = small_world()
    fitted = [[one.of(known.pencils[one.pencil]) for one in layers] for layers in stacks]
    return predict_stacks(fitted, paper, solvent).lab


def ways_for(asked: Layer[int], rng: np.random.Generator, count: int) -> tuple[Way, ...]:
    """The nearest of some single pencils and pairs, other than the one that is asked for."""
    others = [int(i) for i in rng.permutation(PENCILS) if i != asked.pencil]
    coats = [Layer(0, pressure, layers) for pressure in MARK_PRESSURES for layers in (1, 2)]
    stacks = [(coat.of(i),) for i in others for coat in coats]
    for _ in range(60):
        below, above = (int(i) for i in rng.choice(others, 2, replace=False))
        stacks.append((coats[rng.integers(3)].of(below), coats[rng.integers(3)].of(above)))  # type: ignore[arg-type]
    labs = looks([(asked,), *stacks])
    near = np.argsort(weighted_difference(labs[0], labs[1:], Closest.OVERALL))[:count]
    return tuple(Way(stacks[i], labs[1 + i]) for i in near)


def small_question(
    seed: int, shape: Sequence[int], ways: int = 5, most_layers: int = 12, closest: Closest = Closest.OVERALL
) -> Question:  # fmt: skip
    """A question of as many passages as `shape` has numbers, each of so many open calls and perhaps a settled one."""
    rng = np.random.default_rng(seed)
    known, paper = small_world()
    passages, key = [], 0
    for number, calls in enumerate(shape):
        made = []
        for at in range(calls + int(rng.integers(2))):
            asked = Layer(int(rng.integers(PENCILS)), MARK_PRESSURES[rng.integers(3)], int(rng.integers(1, 3)))
            mark = looks([(asked,)])[0]
            settled = at == calls
            found = (Way((asked,), mark),) if settled else ways_for(asked, rng, ways)
            made.append(PlannedCall(key, asked, mark, found, settled))
            key += 1
        passages.append(AskedPassage(number, tuple(made), solvent=bool(rng.random() < 0.2)))
    return Question(tuple(passages), known.pencils, paper, closest, most_layers)


def nearest_alone(passage: AskedPassage) -> Ways:
    """Each call answered by itself: its ways come nearest first."""
    return np.zeros(len(passage.calls), dtype=np.int64)
