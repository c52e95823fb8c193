"""A good plan at once: descent from one passage to the next, begun again from many near starts."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from tidy_tinder.core.planning.couples import Choice
from tidy_tinder.core.planning.evaluate import Plans

_ROUNDS = 40
# Columns of a passage that a start is forced into, the next best ones.
_FORCED = 4
_SAME = 1e-9


def cheapest_alone(plans: Plans) -> Choice:
    """The plan in which every passage takes what is cheapest by itself."""
    return np.array([int(np.argmin(each.cost)) for each in plans.columns], dtype=np.int64)


def descend(plans: Plans, choice: Choice, held: int | None = None) -> Choice:
    """Let each passage in turn take what is best beside the others, until none changes. held: one that does not."""
    choice = choice.copy()
    for _ in range(_ROUNDS):
        changed = False
        for passage in range(len(choice)):
            if passage == held:
                continue
            cost = plans.with_others(passage, choice)
            best = int(np.argmin(cost))
            if cost[best] < cost[choice[passage]] - _SAME:
                choice[passage], changed = best, True
        if not changed:
            break
    return choice


def search(plans: Plans, start: Choice, go_on: Callable[[], bool] = lambda: True) -> Choice:
    """A plan no dearer than the start: each passage is forced into each of its next best columns in turn, the others
    settle round it, and then it is let go. go_on: asked between starts; where it says no, the best so far is returned.
    """
    best = descend(plans, start)
    least = plans.cost(best).total
    improved = True
    while improved:
        improved = False
        for passage in range(len(best)):
            order = np.argsort(plans.with_others(passage, best), kind="stable")
            for column in order[: _FORCED + 1]:
                if not go_on():
                    return best
                if column == best[passage]:
                    continue
                forced = best.copy()
                forced[passage] = column
                found = descend(plans, descend(plans, forced, held=passage))
                cost = plans.cost(found).total
                if cost < least - _SAME:
                    best, least, improved = found, cost, True
    return best
