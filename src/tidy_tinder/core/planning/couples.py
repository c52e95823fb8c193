"""What two passages of a plan cost beside each other: order of values, colours that fall together, shared pencils."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.planning.columns import Columns
from tidy_tinder.core.planning.objective import (
    collapse_cost,
    order_cost,
    order_need,
    share_of,
    sharing_cost,
    sharing_price,
)
from tidy_tinder.core.planning.question import Way

_Array = NDArray[np.float64]
Choice = NDArray[np.int64]
"""Which column each passage takes, (passages,)."""


@dataclass(frozen=True, eq=False)
class SharedPencils:
    """One call of either passage that ask for different colours: by pencil that both may take, how much of each column
    of the one (P,) and of the other (Q,) is that pencil in that call; price: what it costs that all of both is.
    """

    price: float
    p: Mapping[int, _Array]
    q: Mapping[int, _Array]

    def only(self, p: Choice, q: Choice) -> SharedPencils:
        """Some columns of either."""
        return SharedPencils(
            self.price, {k: share[p] for k, share in self.p.items()}, {k: share[q] for k, share in self.q.items()}
        )


@dataclass(frozen=True, eq=False)
class Couple:
    """Two passages with P and Q columns. total: all that each two columns cost beside each other (P, Q); need: by how
    much L* of the first must stay over that of the second, signed (0: no order is kept); collapse (P, Q).
    """

    total: _Array
    need: float
    collapse: _Array
    shared: tuple[SharedPencils, ...]

    def only(self, p: Choice, q: Choice) -> Couple:
        """Some columns of either."""
        rows = np.ix_(p, q)
        return Couple(self.total[rows], self.need, self.collapse[rows], tuple(s.only(p, q) for s in self.shared))


def couple_of(p: Columns, q: Columns) -> Couple:
    """What the columns of two passages cost beside each other."""
    asked = (p.asked[-1], q.asked[-1])
    need = order_need(float(asked[0][0]), float(asked[1][0]))
    collapse = collapse_cost(asked, p.finished, q.finished)
    total = order_cost(need, p.finished[:, 0], q.finished[:, 0]) + collapse
    shared = []
    for i, one in enumerate(p.passage.calls):
        for j, other in enumerate(q.passage.calls):
            price = 0.0 if one.settled and other.settled else sharing_price(one, other)
            both = _pencils(one.ways) & _pencils(other.ways)
            if price > 0.0 and both:
                cost = sharing_cost(price, one.ways, other.ways)[np.ix_(p.ways[:, i], q.ways[:, j])]
                if cost.any():
                    total = total + cost
                    shared.append(SharedPencils(price, _shares(p, i, one.ways, both), _shares(q, j, other.ways, both)))
    return Couple(total, need, collapse, tuple(shared))


def _pencils(ways: Sequence[Way]) -> frozenset[int]:
    return frozenset(pencil for way in ways for pencil in way.pencils)


def _shares(columns: Columns, call: int, ways: Sequence[Way], pencils: frozenset[int]) -> dict[int, _Array]:
    """By pencil, how much of each column it is in one call."""
    by_way = {k: np.array([share_of(way) * (k in way.pencils) for way in ways]) for k in sorted(pencils)}
    return {k: shares[columns.ways[:, call]] for k, shares in by_way.items()}
