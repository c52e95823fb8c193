"""How much each way moves its passage by itself: a quick guess at what several exchanged together will do.

Shifts of Lab do not add up truly, but they put columns nearly in their right order, so that only the best need to be
laid.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.planning.objective import PENCIL, STATE
from tidy_tinder.core.planning.question import AskedPassage
from tidy_tinder.core.planning.stacking import Stacking, Ways
from tidy_tinder.core.planning.within import Within
from tidy_tinder.core.quantities import Lab

_Array = NDArray[np.float64]

# Columns that are followed from call to call.
_BEAM = 400


@dataclass(frozen=True, eq=False)
class Shifts:
    """Of one passage: how it looks as asked for, after each call (S, 3), and for each call how each of its ways, the
    only one exchanged, moves that (ways, S, 3).
    """

    asked: Lab
    by_call: tuple[_Array, ...]

    def guessed(self, ways: Ways) -> Lab:
        """How columns (C, calls) will look after each call (C, S, 3), about."""
        moved = np.zeros((len(ways), *self.asked.shape))
        for call, shifts in enumerate(self.by_call):
            moved += shifts[ways[:, call]]
        return self.asked + moved


def shifts_of(passage: AskedPassage, stacking: Stacking) -> Shifts:
    """Lay every way of every call, the others as asked for."""
    asked = stacking.asked(passage)
    stacks, sizes = [], []
    for at, call in enumerate(passage.calls):
        exchanged = [way for way in call.ways if way.layers != (call.asked,)]
        sizes.append([way.layers != (call.asked,) for way in call.ways])
        for way in exchanged:
            layers = [[one.asked] if i != at else way.layers for i, one in enumerate(passage.calls)]
            stacks.append(stacking.slots(layers))
    seen = iter(stacking.seen(stacks, passage) - asked)
    nothing = np.zeros_like(asked)
    return Shifts(asked, tuple(np.stack([next(seen) if moved else nothing for moved in size]) for size in sizes))


def difference_cost(asked: Lab, seen: Lab, closest: Closest) -> _Array:
    """What (C,) the colours of columns (C, S, 3) cost beside those asked for (S, 3): finished, and in between."""
    finished = np.asarray(weighted_difference(asked[-1], seen[:, -1], closest))
    between = STATE * delta_e_2000(asked[:-1], seen[:, :-1]).sum(axis=-1) if len(asked) > 1 else 0.0
    return np.asarray(finished + between)


def likely_columns(passage: AskedPassage, shifts: Shifts, within: Within, closest: Closest, room: int) -> Ways:
    """The columns that a beam over the calls finds likely, the likeliest first (≤ _BEAM, calls).

    room: layers that the passage may have; no column has more.
    """
    passes = [np.array([way.passes for way in call.ways]) for call in passage.calls]
    least = [int(each.min()) for each in passes]
    ways = np.zeros((1, 0), dtype=np.int64)
    moved, used = np.zeros((1, *shifts.asked.shape)), np.zeros(1, dtype=np.int64)
    for at, call in enumerate(passage.calls):
        count = len(call.ways)
        ways = np.concatenate([ways.repeat(count, axis=0), np.tile(np.arange(count), len(ways))[:, None]], axis=1)
        moved = (moved[:, None] + shifts.by_call[at][None]).reshape(-1, *shifts.asked.shape)
        used = (used[:, None] + passes[at][None]).ravel()
        fits = used + sum(least[at + 1 :]) <= room
        ways, moved, used = ways[fits], moved[fits], used[fits]
        cost = difference_cost(shifts.asked, shifts.asked + moved, closest) + within.cost(ways)
        cost += PENCIL * within.pencils(ways)
        best = np.argsort(cost, kind="stable")[:_BEAM]
        ways, moved, used = ways[best], moved[best], used[best]
    return ways
