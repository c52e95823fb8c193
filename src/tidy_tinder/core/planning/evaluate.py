"""The one evaluator of plans: a column for each passage, and what they cost together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.planning.columns import Columns
from tidy_tinder.core.planning.couples import Choice, Couple, couple_of
from tidy_tinder.core.planning.objective import PENCIL, Cost

_Array = NDArray[np.float64]


class Plans:
    """All plans that can be put together from the columns of some passages. price: what each pencil costs that does
    not lie on the table anyway.
    """

    def __init__(
        self,
        columns: Sequence[Columns],
        couples: Mapping[tuple[int, int], Couple] | None = None,
        price: float = PENCIL,
    ) -> None:
        self.columns, self.price = tuple(columns), price
        count = len(self.columns)
        found = (
            couples
            if couples is not None
            else {(p, q): couple_of(columns[p], columns[q]) for q in range(count) for p in range(q)}
        )
        self.couples = {both: couple for both, couple in found.items() if couple.total.any()}
        """For each two passages p < q that ever cost anything beside each other."""
        self.keys = tuple(sorted({pencil for each in columns for taken in each.pencils for pencil in taken}))
        place = {key: at for at, key in enumerate(self.keys)}
        self.takes = tuple(_taken(each, place) for each in columns)
        """For each passage which pencils (columns, pencils) its columns take."""

    def with_others(self, passage: int, choice: Choice) -> _Array:
        """What each column (C,) of a passage adds to a plan in which the others take what they do."""
        others = np.zeros(len(self.keys), dtype=bool)
        for p, takes in enumerate(self.takes):
            if p != passage:
                others |= takes[choice[p]]
        new = (self.takes[passage] & ~others).sum(axis=1)
        return np.asarray(self.columns[passage].cost + self._beside(passage, choice) + self.price * new)

    def cost(self, choice: Choice) -> Cost:
        """What a plan costs, with its parts."""
        own = sum(float(each.cost[at]) for each, at in zip(self.columns, choice, strict=True))
        between = sum(float(couple.total[choice[p], choice[q]]) for (p, q), couple in self.couples.items())
        taken = np.zeros(len(self.keys), dtype=bool)
        for takes, at in zip(self.takes, choice, strict=True):
            taken |= takes[at]
        return Cost(own, between, self.price * int(taken.sum()))

    def only(self, kept: Sequence[Choice]) -> Plans:
        """The plans that can be put together from some columns of each passage."""
        couples = {(p, q): couple.only(kept[p], kept[q]) for (p, q), couple in self.couples.items()}
        return Plans([each.only(those) for each, those in zip(self.columns, kept, strict=True)], couples, self.price)

    def without(self, passage: int) -> Plans:
        """The plans of all passages but one."""
        rest = [p for p in range(len(self.columns)) if p != passage]
        place = {p: at for at, p in enumerate(rest)}
        couples = {(place[p], place[q]): couple for (p, q), couple in self.couples.items() if passage not in (p, q)}
        return Plans([self.columns[p] for p in rest], couples, self.price)

    def _beside(self, passage: int, choice: Choice) -> _Array:
        """What each column (C,) of a passage costs beside what the others take."""
        total = np.zeros(len(self.columns[passage]))
        for (p, q), couple in self.couples.items():
            if p == passage:
                total += couple.total[:, choice[q]]
            elif q == passage:
                total += couple.total[choice[p]]
        return total


def _taken(columns: Columns, place: Mapping[int, int]) -> NDArray[np.bool_]:
    taken = np.zeros((len(columns), len(place)), dtype=bool)
    for at, pencils in enumerate(columns.pencils):
        taken[at, [place[pencil] for pencil in pencils]] = True
    return taken
