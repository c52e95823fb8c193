"""How sure it is that a plan is the best: what was proven, and of which plans.

Of the columns of a passage only the cheapest are kept. With V* the cost of the best plan and V₋ₚ the least that all
other passages can cost together, a plan with a column of p that was cut costs at least V₋ₚ and that column. Where this
is V* or more for each passage, nothing that was cut can help. The others may hold cut columns, too: V₋ₚ is the less of
the best plan of their kept columns, and of one cut column beside the cheapest of all the rest.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from tidy_tinder.core.planning.eliminate import alive
from tidy_tinder.core.planning.evaluate import Plans
from tidy_tinder.core.planning.search import cheapest_alone, search
from tidy_tinder.core.planning.solve import solve

_SAME = 1e-6
_SECONDS = 2.0


class Surety(StrEnum):
    """What is known of a plan."""

    QUICK = "a first answer, call by call"
    FOUND = "the best found so far"
    KEPT = "the best of those that were kept"
    PROVEN = "proven best of all that were looked at"


@dataclass(frozen=True)
class Certificate:
    """standing: what is known; value: what the plan costs; bound: no plan of the columns that were kept costs less;
    tried: ways to lay whole passages that were looked at.
    """

    standing: Surety
    value: float
    bound: float
    tried: int

    @property
    def gap(self) -> float:
        """By how much a better plan could be better, at most."""
        return max(self.value - self.bound, 0.0)


def dearest_that_helps(plans: Plans, value: float, go_on: Callable[[], bool]) -> list[float]:
    """For each passage the cost from which on no column can be in a plan that costs less than `value`.

    Where no column was cut below a quick bound of it, that bound is enough. go_on: asked before a bound is worked out
    at length; where it says no, the quick ones stand.
    """
    cheapest = [min(float(each.cost.min()), each.cut) for each in plans.columns]
    dearest = []
    for passage, columns in enumerate(plans.columns):
        least = sum(cheapest) - cheapest[passage]
        if columns.cut < value - least and go_on():
            least = max(least, min(_least_without(plans, passage), _least_with_another_cut(plans, cheapest, passage)))
        dearest.append(value - least - _SAME)
    return dearest


def _least_with_another_cut(plans: Plans, cheapest: Sequence[float], passage: int) -> float:
    """What all other passages cost, at least, where one of them takes a column that was cut."""
    rest = sum(cheapest) - cheapest[passage]
    return min((rest - cheapest[q] + each.cut for q, each in enumerate(plans.columns) if q != passage), default=np.inf)


def _least_without(plans: Plans, passage: int) -> float:
    """What the best plan of the kept columns of all other passages costs, at least."""
    rest = plans.without(passage)
    if not rest.columns:
        return 0.0
    found = search(rest, cheapest_alone(rest))
    fewer = rest.only(alive(rest, rest.cost(found).total))
    return solve(fewer, _SECONDS).bound
