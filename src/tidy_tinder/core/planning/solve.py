"""The best plan, proven: a mixed-integer linear program, solved by HiGHS through scipy.

min Σ cost·y + .15·Σ u + Σ s + Σ w + Σ t, one column of each passage, y binary, the rest as small as the rows let it:
* a pencil is taken where a column takes it: u_k ≥ Σ y over the columns of a passage that take it, for each passage;
* order of values: s ≥ need − (L_p − L_q), where L* is linear in y;
* one pencil for two calls: w ≥ price·(x_ik + x_jk − 1), x_ik the share of pencil k in call i, linear in y;
* colours that fall together: t ≥ Σ_d M_cd·y_qd − (max_d M_cd)·(1 − y_pc), for each column c, tight where both are
  chosen.
HiGHS: Q. Huangfu, J. A. J. Hall, “Parallelizing the dual revised simplex method”, Math. Prog. Comp. 10 (2018) 119.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.planning.couples import Choice, Couple, SharedPencils
from tidy_tinder.core.planning.evaluate import Plans

_Array = NDArray[np.float64]
_Places = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Solved:
    """What the program found: the plan (None where the time was up before any), that no plan costs less than `bound`,
    and whether the plan is proven to be the best.
    """

    choice: Choice | None
    bound: float
    proven: bool


def solve(plans: Plans, seconds: float) -> Solved:
    """The best plan of all that can be put together, or the best that was found in some seconds."""
    from scipy.optimize import Bounds, LinearConstraint, milp  # noqa: PLC0415 -- loaded when a plan is worked out

    program = _Program.of(plans)
    found = milp(
        np.array(program.objective),
        constraints=[LinearConstraint(program.rows(), np.array(program.low), np.array(program.high))],
        integrality=np.array(program.binary),
        bounds=Bounds(0.0, np.inf),
        options={"time_limit": seconds, "mip_rel_gap": 0.0},
    )
    choice = None if found.x is None else program.choice(found.x)
    bound = float(found.mip_dual_bound) if found.mip_dual_bound is not None else -np.inf
    return Solved(choice, bound, found.status == 0)


@dataclass
class _Program:
    """Variables and rows while they are written down; columns: where the columns of each passage stand."""

    columns: list[_Places] = field(default_factory=list)
    objective: list[float] = field(default_factory=list)
    binary: list[int] = field(default_factory=list)
    low: list[float] = field(default_factory=list)
    high: list[float] = field(default_factory=list)
    entries: list[tuple[_Places, _Array]] = field(default_factory=list)

    @classmethod
    def of(cls, plans: Plans) -> _Program:
        """The whole program."""
        program = cls()
        for each in plans.columns:
            places = program.more(each.cost, 1)
            program.columns.append(places)
            program.row([(places, np.ones(len(each)))], 1.0, 1.0)
        program.take_pencils(plans)
        for (p, q), couple in plans.couples.items():
            program.keep_order(plans, p, q, couple)
            program.keep_apart(p, q, couple.collapse)
            for shared in couple.shared:
                program.share(p, q, shared)
        return program

    def more(self, cost: Sequence[float] | _Array, binary: int = 0) -> _Places:
        """Further variables, at these costs."""
        first = len(self.objective)
        self.objective.extend(float(one) for one in cost)
        self.binary.extend([binary] * len(cost))
        return np.arange(first, len(self.objective))

    def row(self, parts: Sequence[tuple[_Places, _Array]], low: float, high: float = np.inf) -> None:
        """One row: what the parts sum up to lies between low and high."""
        self.entries.append((np.concatenate([at for at, _ in parts]), np.concatenate([value for _, value in parts])))
        self.low.append(low)
        self.high.append(high)

    def take_pencils(self, plans: Plans) -> None:
        """A pencil is taken where a column takes it."""
        taken = self.more([plans.price] * len(plans.keys))
        for places, takes in zip(self.columns, plans.takes, strict=True):
            for pencil in np.flatnonzero(takes.any(axis=0)):
                those = places[takes[:, pencil]]
                self.row([(taken[[pencil]], _ONE), (those, -np.ones(len(those)))], 0.0)

    def keep_order(self, plans: Plans, p: int, q: int, couple: Couple) -> None:
        """The lighter passage stays lighter."""
        if couple.need == 0.0:
            return
        sign = np.sign(couple.need)
        slack = self.more([1.0])
        L = [sign * plans.columns[each].finished[:, 0] for each in (p, q)]
        self.row([(slack, _ONE), (self.columns[p], L[0]), (self.columns[q], -L[1])], abs(couple.need))

    def keep_apart(self, p: int, q: int, collapse: _Array) -> None:
        """Colours that were asked for apart do not fall together."""
        if not collapse.any():
            return
        together = self.more([1.0])
        for one, other, matrix in ((p, q, collapse), (q, p, collapse.T)):
            for column in np.flatnonzero(matrix.any(axis=1)):
                most = float(matrix[column].max())
                chosen = (self.columns[one][[column]], np.array([-most]))
                self.row([(together, _ONE), (self.columns[other], -matrix[column]), chosen], -most)

    def share(self, p: int, q: int, shared: SharedPencils) -> None:
        """One pencil does not serve two calls for nothing."""
        twice = self.more([1.0])
        for pencil, left in shared.p.items():
            right = shared.q[pencil]
            if left.any() and right.any():
                at = [(self.columns[p], -shared.price * left), (self.columns[q], -shared.price * right)]
                self.row([(twice, _ONE), *at], -shared.price)

    def rows(self) -> Any:
        """All rows as a sparse matrix."""
        from scipy.sparse import csr_array  # noqa: PLC0415 -- the same

        ends = np.cumsum([0, *(len(places) for places, _ in self.entries)])
        places = np.concatenate([places for places, _ in self.entries])
        values = np.concatenate([values for _, values in self.entries])
        return csr_array((values, places, ends), shape=(len(self.entries), len(self.objective)))

    def choice(self, x: _Array) -> Choice:
        """The columns of a solution."""
        return np.array([int(np.argmax(x[places])) for places in self.columns], dtype=np.int64)


_ONE = np.ones(1)
