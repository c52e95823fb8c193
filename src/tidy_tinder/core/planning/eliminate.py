"""Dead ends: columns that no best plan can hold, found without trying the plans.

A column is dead where even the least that a plan with it can cost is more than a plan that is known, or where another
column of its passage is cheaper whatever the others take (R. F. Goldstein, “Efficient rotamer elimination applied to
protein side-chains and related spin glasses”, Biophys. J. 66 (1994) 1335: dead-end elimination).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.planning.couples import Choice
from tidy_tinder.core.planning.evaluate import Plans

_Array = NDArray[np.float64]

_ROUNDS = 6
# Columns that others are compared with, the cheapest of the passage: what rules a column out is cheap itself. With all
# of them it takes the square of their number, and finds little more.
_RULING = 24
_SAME = 1e-9


def alive(plans: Plans, known: float) -> list[Choice]:
    """For each passage the columns that may be in a plan that costs no more than `known`, in their order.

    A plan of that cost is among them, if there is one.
    """
    kept: list[Choice] = [np.arange(len(each)) for each in plans.columns]
    for _ in range(_ROUNDS):
        before = sum(map(len, kept))
        fewer = plans.only(kept)
        within = _within_bound(fewer, known)
        kept = [those[ok] for those, ok in zip(kept, within, strict=True)]
        fewer = plans.only(kept)
        kept = [those[_undominated(fewer, p)] for p, those in enumerate(kept)]
        if sum(map(len, kept)) == before:
            break
    return kept


def within_reach(plans: Plans, known: float) -> list[Choice]:
    """The same by the bound alone, which holds also where the costs of columns are only the least that they can be."""
    kept: list[Choice] = [np.arange(len(each)) for each in plans.columns]
    for _ in range(_ROUNDS):
        within = _within_bound(plans.only(kept), known)
        if all(ok.all() for ok in within):
            break
        kept = [those[ok] for those, ok in zip(kept, within, strict=True)]
    return kept


def _least_beside(plans: Plans, passage: int, other: int) -> _Array:
    """The least that another passage costs beside each column (C,) of this one, pencils left out."""
    own = plans.columns[other].cost
    couple = plans.couples.get((min(passage, other), max(passage, other)))
    if couple is None:
        return np.full(len(plans.columns[passage]), own.min())
    beside = couple.total if passage < other else couple.total.T
    return np.asarray((beside + own).min(axis=1))


def _within_bound(plans: Plans, known: float) -> list[NDArray[np.bool_]]:
    """Which columns may be in a plan that costs no more than what is known."""
    count = len(plans.columns)
    within = []
    for p in range(count):
        least = plans.columns[p].cost + plans.price * plans.takes[p].sum(axis=1)
        for q in range(count):
            if q != p:
                least = least + _least_beside(plans, p, q)
        within.append(least <= known + _SAME)
    return within


def _undominated(plans: Plans, passage: int) -> NDArray[np.bool_]:
    """Which columns of a passage are not dearer than one other of it, whatever the other passages take."""
    columns, takes = plans.columns[passage], plans.takes[passage]
    ruling = np.argsort(columns.cost, kind="stable")[:_RULING]
    # Going from a column to another may bring in pencils that the plan does not hold yet, and spare none.
    new = (~takes[:, None] & takes[ruling][None]).sum(axis=-1)
    gain = columns.cost[:, None] - columns.cost[ruling][None] - plans.price * new
    for (p, q), couple in plans.couples.items():
        if passage in (p, q):
            beside = couple.total if p == passage else couple.total.T
            gain += (beside[:, None] - beside[ruling][None]).min(axis=-1)
    dominated: NDArray[np.bool_] = gain > _SAME
    return np.asarray(~dominated.any(axis=1))
