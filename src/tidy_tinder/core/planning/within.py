"""What a passage's own calls cost one another: their order, colours that fall together, one pencil for two, pairs."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.planning.objective import (
    PAIR,
    collapse_cost,
    order_cost,
    order_need,
    sharing_cost,
    sharing_price,
)
from tidy_tinder.core.planning.question import AskedPassage, PlannedCall
from tidy_tinder.core.planning.stacking import Ways

_Array = NDArray[np.float64]


class Within:
    """The costs inside one passage, worked out once for every two ways of every two of its calls."""

    def __init__(self, passage: AskedPassage, free: frozenset[int]) -> None:
        calls = passage.calls
        self._pairs = [np.array([PAIR * (len(way.pencils) > 1) for way in call.ways]) for call in calls]
        self._couples = {
            (i, j): _couple(calls[i], calls[j])
            for j in range(len(calls))
            for i in range(j)
            if not (calls[i].settled and calls[j].settled)
        }
        self._place = {
            pencil: at
            for at, pencil in enumerate(sorted({p for c in calls for way in c.ways for p in way.pencils} - free))
        }
        self._takes = [self._taken(call) for call in calls]

    def cost(self, ways: Ways) -> _Array:
        """What columns (C, k), of the first k calls, cost inside (C,)."""
        count = ways.shape[1]
        total = np.zeros(len(ways))
        for i in range(count):
            total += self._pairs[i][ways[:, i]]
        for (i, j), cost in self._couples.items():
            if j < count:
                total += cost[ways[:, i], ways[:, j]]
        return total

    def pencils(self, ways: Ways) -> NDArray[np.int64]:
        """How many pencils (C,) columns take that do not lie on the table anyway."""
        taken = np.zeros((len(ways), len(self._place)), dtype=bool)
        for i in range(ways.shape[1]):
            taken |= self._takes[i][ways[:, i]]
        return np.asarray(taken.sum(axis=1))

    def _taken(self, call: PlannedCall) -> NDArray[np.bool_]:
        """Which pencils (ways, pencils) each way takes."""
        taken = np.zeros((len(call.ways), len(self._place)), dtype=bool)
        for i, way in enumerate(call.ways):
            taken[i, [self._place[pencil] for pencil in way.pencils if pencil in self._place]] = True
        return taken


def _couple(one: PlannedCall, other: PlannedCall) -> _Array:
    """What it costs (ways, ways) how two calls are laid, each by itself on the paper."""
    p, q = (np.stack([way.alone for way in call.ways]) for call in (one, other))
    order = order_cost(order_need(one.mark[0], other.mark[0]), p[:, 0], q[:, 0])
    collapse = collapse_cost((one.mark, other.mark), p, q)
    return order + collapse + sharing_cost(sharing_price(one, other), one.ways, other.ways)
