"""What a plan costs, in ΔE00: how far the finished passages part, what is kept between them, and the pencils it takes.

The weights are ours. One evaluator serves the first answer, the proof and what is shown: all that couples passages is
a matrix for each two of them, a column of the one against a column of the other.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.planning.question import PlannedCall, Way
from tidy_tinder.core.quantities import Lab

_Array = NDArray[np.float64]

# A state in between counts so much of a finished one: else layers would cancel each other's errors.
STATE = 0.25
# A call laid with two pencils is more work than with one.
PAIR = 0.3
# Each pencil that is taken out for this recipe alone.
PENCIL = 0.15
# Colours whose asked L* part by so much keep their order, by this much at most or half of what was asked, in L*.
ORDERED, KEPT_APART = 4.0, 2.0
# Colours that were asked for so far apart (ΔE00) must not fall closer than that; each ΔE00 less costs so much.
DISTINCT, NOT_CLOSER, COLLAPSE = 3.5, 2.0, 1.5
# One pencil for two calls costs so much for each ΔE00 by which they part beyond what is close, up to a limit.
SHARING, CLOSE_CALLS, FAR_CALLS = 0.1, 2.0, 20.0


def order_need(asked_p: float, asked_q: float) -> float:
    """By how much L* of p must stay over that of q: signed, 0 where they part by too little to be kept in order."""
    gap = asked_p - asked_q
    return float(np.sign(gap) * min(KEPT_APART, 0.5 * abs(gap))) if abs(gap) >= ORDERED else 0.0


def order_cost(need: float, p: _Array, q: _Array) -> _Array:
    """What it costs (P, Q) that L* p (P,) and q (Q,) do not keep the order that is needed."""
    if need == 0.0:
        return np.zeros((len(p), len(q)))
    return np.asarray(np.maximum(abs(need) - np.sign(need) * (p[:, None] - q[None, :]), 0.0))


def collapse_cost(asked: tuple[Lab, Lab], p: Lab, q: Lab) -> _Array:
    """What it costs (P, Q) that colours p (P, 3) and q (Q, 3) come too close, where those asked for were apart."""
    if float(delta_e_2000(asked[0], asked[1])) < DISTINCT:
        return np.zeros((len(p), len(q)))
    return np.asarray(COLLAPSE * np.maximum(NOT_CLOSER - delta_e_2000(p[:, None], q[None]), 0.0))


def sharing_price(one: PlannedCall, other: PlannedCall) -> float:
    """What it costs that one pencil by itself serves two calls; nothing where both ask for the same pencil."""
    if one.asked.pencil == other.asked.pencil:
        return 0.0
    apart = float(delta_e_2000(one.mark, other.mark))
    return SHARING * max(min(apart, FAR_CALLS) - CLOSE_CALLS, 0.0)


def share_of(way: Way) -> float:
    """How much of a way each of its pencils is: all of it, or half."""
    return 1.0 / len(way.pencils)


def sharing_cost(price: float, one: Sequence[Way], other: Sequence[Way]) -> _Array:
    """What it costs (A, B) that two ways take the same pencil: all for a single one, half beside a pair, none for two
    pairs.
    """
    cost = np.zeros((len(one), len(other)))
    if price == 0.0:
        return cost
    for i, a in enumerate(one):
        for j, b in enumerate(other):
            if a.pencils & b.pencils:
                cost[i, j] = price * max(share_of(a) + share_of(b) - 1.0, 0.0)
    return cost


@dataclass(frozen=True)
class Cost:
    """A plan's cost with its parts, all in ΔE00: of the passages by themselves, of what is lost between them (order,
    colours that fall together, pencils that serve two calls), of the pencils taken out.
    """

    passages: float
    between: float
    pencils: float

    @property
    def total(self) -> float:
        """The sum, which a plan makes as small as it can."""
        return self.passages + self.between + self.pencils
