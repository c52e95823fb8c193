"""What would not be missed, and what to pack: ways of laying each call, and the pencils that they need."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np

from tidy_tinder.core.quantities import check_limit

Pencils: TypeAlias = set[int] | frozenset[int]
"""Pencils by their keys."""


@dataclass(frozen=True)
class Option:
    """A way to lay a call: its pencils, by their keys, and its expected ΔE00 with the price of a second layer."""

    pencils: tuple[int, ...]
    cost: float


@dataclass(frozen=True)
class Need:
    """A call with its ways, the nearest first. without: what it costs where none of them can be laid."""

    options: tuple[Option, ...]
    weight: float
    without: float

    def cost(self, kept: Pencils) -> float:
        """The least cost with these pencils."""
        return next((one.cost for one in self.options if kept.issuperset(one.pencils)), self.without)


@dataclass(frozen=True)
class Packed:
    """Pencils to take along; cost: what all calls cost with them, weighted; best: with all that are owned; proven:
    that no others of that number do better.
    """

    pencils: tuple[int, ...]
    cost: float
    best: float
    proven: bool


def total(needs: Sequence[Need], kept: Pencils) -> float:
    """What all calls cost with these pencils, weighted."""
    return sum(need.weight * need.cost(kept) for need in needs)


def missed_alone(needs: Sequence[Need], owned: Pencils) -> Mapping[int, float]:
    """By how much the calls would come out worse, weighted, without each pencil alone; 0 for what is not missed."""
    return _Going(needs, owned).missed


def can_go(needs: Sequence[Need], owned: Pencils, within: float) -> tuple[int, ...]:
    """Pencils that can go together, in the order of going, while the calls come out worse by no more than `within`
    in all: each time the one that is missed least.
    """
    going, worse = _Going(needs, owned), 0.0
    gone: list[int] = []
    while going.kept:
        least = going.least
        worse += going.missed[least]
        if worse > within:
            break
        going.leave(least)
        gone.append(least)
    return tuple(gone)


class _Going:
    """Pencils that are still there, and by how much each is missed: only calls that a pencil serves, or would serve if
    another went, are looked at again when it goes.
    """

    def __init__(self, needs: Sequence[Need], owned: Pencils) -> None:
        self._needs, self.kept = needs, set(owned)
        self.missed = dict.fromkeys(owned, 0.0)
        self._rests_on: list[frozenset[int]] = [frozenset()] * len(needs)
        self._adds: list[dict[int, float]] = [{} for _ in needs]
        for place in range(len(needs)):
            self._look(place)

    @property
    def least(self) -> int:
        """The pencil that is missed least."""
        return min(self.kept, key=lambda pencil: (self.missed[pencil], pencil))

    def leave(self, pencil: int) -> None:
        """Do without a pencil from now on."""
        self.kept.discard(pencil)
        for place, rests_on in enumerate(self._rests_on):
            if pencil in rests_on:
                self._look(place)
        del self.missed[pencil]

    def _look(self, place: int) -> None:
        """What one call adds to how much its pencils are missed."""
        for pencil, add in self._adds[place].items():
            self.missed[pencil] -= add
        need, adds, rests_on = self._needs[place], {}, set[int]()
        first = next((one for one in need.options if self.kept.issuperset(one.pencils)), None)
        if first is not None:
            rests_on.update(first.pencils)
            for pencil in first.pencils:
                left = self.kept - {pencil}
                other = next((one for one in need.options if left.issuperset(one.pencils)), None)
                adds[pencil] = need.weight * ((other.cost if other else need.without) - first.cost)
                rests_on.update(other.pencils if other else ())
        self._adds[place], self._rests_on[place] = adds, frozenset(rests_on)
        for pencil, add in adds.items():
            self.missed[pencil] += add


def pack(needs: Sequence[Need], owned: Pencils, count: int, seconds: float = 10.0) -> Packed:
    """The tin of `count` pencils with which the calls come out best; quicker where all of them fit.

    A mixed-integer program: z_co ≤ y_p for each pencil p of an option o, Σ_o z_co ≤ 1, Σ y ≤ count. Where the time is
    up, pencils are left out one by one, each time the one that is missed least.
    """
    check_limit(count)
    best = total(needs, owned)
    used = {pencil for need in needs for one in need.options if owned.issuperset(one.pencils) for pencil in one.pencils}
    if not used:
        return Packed((), best, best, True)
    found = _solve(needs, owned, count, seconds)
    by_leaving_out = _left(needs, used, count)
    chosen, proven = found if found is not None else (by_leaving_out, False)
    if total(needs, by_leaving_out) < total(needs, chosen) - 1e-9:
        chosen, proven = by_leaving_out, False
    # What nothing needs stays at home, one after the other: of two twins one is needed.
    taken = frozenset(chosen) - set(can_go(needs, chosen, within=1e-9))
    missed = missed_alone(needs, taken)
    return Packed(tuple(sorted(taken, key=lambda p: (-missed[p], p))), total(needs, taken), best, proven)


def _left(needs: Sequence[Need], used: Pencils, count: int) -> frozenset[int]:
    going = _Going(needs, used)
    while len(going.kept) > count:
        going.leave(going.least)
    return frozenset(going.kept)


def _solve(
    needs: Sequence[Need], owned: Pencils, count: int, seconds: float
) -> tuple[frozenset[int], bool] | None:  # fmt: skip
    from scipy.optimize import Bounds, LinearConstraint, milp  # noqa: PLC0415 -- loaded when a tin is packed
    from scipy.sparse import csr_array  # noqa: PLC0415 -- the same

    options = [
        (c, one)
        for c, need in enumerate(needs)
        for one in need.options
        if owned.issuperset(one.pencils) and one.cost < need.without
    ]
    pencils = sorted({pencil for _, one in options for pencil in one.pencils})
    place = {pencil: i for i, pencil in enumerate(pencils)}
    wide = len(pencils) + len(options)
    links = [(o, place[pencil]) for o, (_, one) in enumerate(options) for pencil in one.pencils]
    rows = np.arange(len(links))
    takes = csr_array(
        (
            np.r_[np.ones(len(links)), -np.ones(len(links))],
            (np.r_[rows, rows], np.array([len(pencils) + o for o, _ in links] + [p for _, p in links], dtype=int)),
        ),
        shape=(len(links), wide),
    )
    once = csr_array(
        (np.ones(len(options)), ([c for c, _ in options], len(pencils) + np.arange(len(options)))),
        shape=(len(needs), wide),
    )
    so_many = csr_array((np.ones(len(pencils)), (np.zeros(len(pencils), int), range(len(pencils)))), shape=(1, wide))
    saved = np.array([needs[c].weight * (needs[c].without - one.cost) for c, one in options])
    found = milp(
        np.r_[np.zeros(len(pencils)), -saved],
        constraints=[
            LinearConstraint(takes, -np.inf, 0.0), LinearConstraint(once, -np.inf, 1.0),
            LinearConstraint(so_many, -np.inf, count),
        ],
        integrality=np.r_[np.ones(len(pencils)), np.zeros(len(options))], bounds=Bounds(0.0, 1.0),
        options={"time_limit": seconds, "mip_rel_gap": 1e-6},
    )  # fmt: skip
    if found.x is None:
        return None
    return frozenset(pencils[i] for i in np.flatnonzero(found.x[: len(pencils)] > 0.5)), found.status == 0
