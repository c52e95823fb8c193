"""Stand-ins judged where they will be used: exchanged inside the layers below and above, the finished passage compared.

Two marks that differ on bare paper can be the same under a glaze, and the other way round.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.difference.expected import expected_of
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.singles import BELIEVED

Layers = Sequence[FittedLayer]


@dataclass(frozen=True)
class Passage:
    """What lies below and above the layers that are exchanged, lowest first; whether solvent dissolves all of it."""

    below: tuple[FittedLayer, ...] = ()
    above: tuple[FittedLayer, ...] = ()
    solvent: bool = False

    def around(self, layers: Layers) -> tuple[FittedLayer, ...]:
        """The whole stack with these layers in the middle."""
        return (*self.below, *layers, *self.above)


@dataclass(frozen=True)
class InPassage:
    """A candidate in the passage: Lab (3,) of the passage finished with it, and after each of its deposits (n, 3).

    ranked_by: the difference by the meaning of closest, expected: as it is to be expected, doubts counted; plus_minus:
    how far the difference may be off (ΔE00, nine of ten); tie: it cannot be told from the nearest, which bears the mark
    too if it has company. room: share of the tooth that is left.
    """

    key: int
    finished: Lab
    after: Lab
    ranked_by: float
    expected: float
    difference: Difference
    plus_minus: float
    tie: bool
    room: float


@dataclass(frozen=True)
class PassageRanking:
    """The passage as asked for, finished (3,) and after each deposit (n, 3), and the candidates, nearest first.

    without: the finished passage with nothing in the place of what is asked for, None where nothing would be laid.
    """

    asked: Lab
    asked_after: Lab
    asked_room: float
    offers: tuple[InPassage, ...]
    without: Lab | None = None


def rank_in_passage(
    passage: Passage, asked: Layers, candidates: Mapping[int, Layers], paper: PaperFit, closest: Closest
) -> PassageRanking:
    """Exchange what is asked for each candidate and compare the finished passages: those come first whose difference
    is expected to be least, their doubts counted. Ties keep the order given.

    Raises OutOfRangeError for an unknown pressure, ShapeError where nothing at all is laid.
    """
    keys = list(candidates)
    exchanged = [one.pencil for layers in (asked, *candidates.values()) for one in layers]
    stacks = [passage.around(asked), *(passage.around(candidates[key]) for key in keys)]
    predicted = predict_stacks(stacks, paper, passage.solvent, exchanged)
    rest = passage.around(())
    without = predict_stacks([rest], paper, passage.solvent, ()).lab[0] if rest else None
    whole, exchanges = predicted.lab[0], predicted.lab[1:]
    figures = np.atleast_1d(weighted_difference(whole, exchanges, closest)) if keys else np.zeros(0)
    between = np.reshape([predicted.covariance_between(0, i + 1) for i in range(len(keys))], (-1, 3, 3))
    expected = expected_of(figures, exchanges - whole, between, exchanges)
    order = [int(i) for i in np.argsort(expected, kind="stable")]
    tied = [
        bool(figures[i] - figures[order[0]] < BELIEVED * predicted.radius_between(order[0] + 1, i + 1)) for i in order
    ]
    offers = tuple(
        InPassage(
            keys[i], exchanges[i], predicted.after[i + 1], float(figures[i]), float(expected[i]),
            difference(whole, exchanges[i]),
            predicted.radius_between(0, i + 1), tied[place] if place else any(tied[1:]), float(predicted.room[i + 1]),
        )
        for place, i in enumerate(order)
    )  # fmt: skip
    return PassageRanking(whole, predicted.after[0], float(predicted.room[0]), offers, without)
