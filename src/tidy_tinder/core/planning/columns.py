"""Columns: ways to lay all calls of one passage together, laid truly and priced; the best are kept."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.planning.question import AskedPassage
from tidy_tinder.core.planning.stacking import Ways
from tidy_tinder.core.quantities import DeltaE, Lab

_Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Columns:
    """The C columns of a passage that are kept, the cheapest first, with their workings.

    ways (C, S): the way of each call; states (C, S, 3): Lab after each call, beside those asked for, asked (S, 3);
    cost (C,): all that the column costs by itself; band (C,): the ΔE00 within which nine of ten lie of how it differs
    from what is asked; expected (C,): that difference as it is to be expected. pencils: of each column, those that do
    not lie on the table anyway. cut: no column that was laid and not kept costs less than this; tried: columns that
    were laid.
    """

    passage: AskedPassage
    asked: Lab
    ways: Ways
    states: Lab
    cost: _Array
    band: DeltaE
    expected: DeltaE
    pencils: tuple[frozenset[int], ...]
    cut: float
    tried: int

    def __len__(self) -> int:
        return len(self.ways)

    @property
    def finished(self) -> Lab:
        """Lab (C, 3) of the finished passages."""
        return self.states[:, -1]

    def only(self, kept: NDArray[np.int64]) -> Columns:
        """Some of the columns."""
        return Columns(
            self.passage, self.asked, self.ways[kept], self.states[kept], self.cost[kept], self.band[kept],
            self.expected[kept], tuple(self.pencils[int(i)] for i in kept), self.cut, self.tried,
        )  # fmt: skip
