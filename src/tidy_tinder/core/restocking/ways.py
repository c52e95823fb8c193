"""Ways to lay something on one paper, one pencil or two layered, and how near the best of them is expected to come."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.expected import expected_difference
from tidy_tinder.core.quantities import DeltaE, Lab
from tidy_tinder.core.restocking.spare import Option
from tidy_tinder.core.standins.pairs import PairTable

if TYPE_CHECKING:
    from scipy.spatial import cKDTree

_Array = NDArray[np.float64]
_Keys = NDArray[np.int64]

PRICE_OF_A_PAIR = 0.5
"""What two layered pencils must come nearer by, in ΔE00, to be worth the work of a second layer (the design's)."""
NONE = -1
"""The second pencil of a way that is one pencil."""
# Of all ways so many neighbours in Lab are looked at for one colour; among these the nearest by ΔE00 is found.
_NEIGHBOURS = 48
# For varied ways so many times as many are looked at, and so many times where these were too much alike.
_VARIED, _MORE_VARIED = 5, 12
# Colours looked up side by side: more than two would leave nothing for whoever asks meanwhile.
_AT_A_TIME = 2


@dataclass(frozen=True, eq=False)
class Ways:
    """Ways on one paper. first, second: keys of the pencils (M,), second `NONE` for one alone; lab (M, 3); band (M,):
    the ΔE00 within which nine of ten lie.
    """

    first: _Keys
    second: _Keys
    lab: Lab
    band: _Array

    def __len__(self) -> int:
        return len(self.first)

    @cached_property
    def tree(self) -> cKDTree:
        """Their Lab, to look the nearest up in; built in the quickest way, since it is asked once or twice."""
        from scipy.spatial import cKDTree  # noqa: PLC0415 -- loaded when something is to be bought

        return cKDTree(self.lab, leafsize=64, compact_nodes=False, balanced_tree=False)

    def rows(self, which: NDArray[np.bool_]) -> Ways:
        """Some of them."""
        at = np.flatnonzero(which)
        return Ways(self.first[at], self.second[at], self.lab.take(at, axis=0), self.band[at])

    def of_only(self, keys: Iterable[int]) -> Ways:
        """Those that use no other pencils."""
        mine = np.array(sorted(keys), dtype=np.int64)
        return self.rows(np.isin(self.first, mine) & (np.isin(self.second, mine) | (self.second == NONE)))


def singles_as_ways(keys: Iterable[int], lab: Lab, band: _Array) -> Ways:
    """Single pencils. lab (N, …, 3) and band (N, …): of each key's marks, in the order of the keys."""
    each = lab[0, ..., 0].size if len(lab) else 1
    first = np.repeat(np.fromiter(keys, dtype=np.int64), each)
    return Ways(first, np.full(len(first), NONE), lab.reshape(-1, 3), band.reshape(-1))


def each_alone(lab: Lab, band: _Array, wanted: Lab, doubt: _Array) -> DeltaE:
    """Expected ΔE00 (C, U) of the nearest mark of each of U pencils to each of C colours.

    lab (U, K, 3), band (U, K): of its marks; wanted (C, 3) with its band, doubt (C,).
    """
    if not len(wanted) or not len(lab):
        return np.zeros((len(wanted), len(lab)))
    apart = delta_e_2000(lab[None], np.asarray(wanted)[:, None, None])
    return np.asarray(expected_difference(apart, np.hypot(band[None], np.asarray(doubt)[:, None, None])).min(axis=-1))


def pairs_as_ways(table: PairTable, bands: Mapping[int, _Array]) -> Ways:
    """All pairs of a table. bands: by pencil, of its mark in each of the table's coats.

    The doubts of both pencils add up as independent ones do: both films are seen, and neither tells of the other.
    """
    keys, each = np.array(table.keys, dtype=np.int64), len(table.coats)
    by_key = np.array([bands[key] for key in table.keys]).reshape(len(keys), each)
    below, above = np.divmod(table.coat.astype(np.int64), each)
    band = np.hypot(by_key[table.lower, below], by_key[table.upper, above])
    return Ways(keys[table.lower], keys[table.upper], np.stack([table.L, table.a, table.b], axis=-1), band)


def joined(*ways: Ways) -> Ways:
    """All of several together."""
    return Ways(
        np.concatenate([one.first for one in ways]), np.concatenate([one.second for one in ways]),
        np.concatenate([one.lab for one in ways]), np.concatenate([one.band for one in ways]),
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Nearest:
    """For each of C colours its nearest ways, the nearest first. row (C, k): of the ways; cost (C, k): the expected
    ΔE00, with the price of a pair on two pencils; infinite where there are fewer.
    """

    row: _Keys
    cost: DeltaE

    @property
    def best(self) -> DeltaE:
        """The least cost of each colour (C,)."""
        return self.cost[:, 0]


def nearest_ways(ways: Ways, wanted: Lab, doubt: _Array, count: int = 1) -> Nearest:
    """The nearest `count` ways to each wanted Lab (C, 3), by expected ΔE00. doubt (C,): the band of what is wanted."""
    wanted = np.asarray(wanted, dtype=np.float64).reshape(-1, 3)
    if not len(ways) or not len(wanted):
        shape = (len(wanted), count)
        return Nearest(np.full(shape, NONE), np.full(shape, np.inf))
    near = min(max(_NEIGHBOURS, 3 * count // 2), len(ways))
    rows = ways.tree.query(wanted, near, workers=_AT_A_TIME)[1].reshape(len(wanted), near)
    cost = expected_difference(
        delta_e_2000(ways.lab[rows], wanted[:, None]), np.hypot(ways.band[rows], np.asarray(doubt)[:, None])
    )
    cost = cost + np.where(ways.second[rows] == NONE, 0.0, PRICE_OF_A_PAIR)
    order = np.argsort(cost, axis=1, kind="stable")[:, :count]
    rows, cost = np.take_along_axis(rows, order, axis=1), np.take_along_axis(cost, order, axis=1)
    missing = count - rows.shape[1]
    if missing > 0:
        rows = np.pad(rows, ((0, 0), (0, missing)), constant_values=NONE)
        cost = np.pad(cost, ((0, 0), (0, missing)), constant_values=np.inf)
    return Nearest(rows, cost)


def varied_ways(ways: Ways, wanted: Lab, doubt: _Array, count: int, most_of_one: int) -> list[list[Option]]:
    """For each wanted Lab (C, 3) up to `count` ways with their costs, the nearest first, of which no more than
    `most_of_one` need the same pencil: what is left when the best pencils are not there is among them.
    """
    wanted, doubt = np.reshape(wanted, (-1, 3)), np.asarray(doubt)
    kept = _varied_among(ways, wanted, doubt, count, most_of_one, _VARIED)
    if len(ways) > _VARIED * count:
        few = [i for i, some in enumerate(kept) if len(some) < count]
        more = _varied_among(ways, wanted[few], doubt[few], count, most_of_one, _MORE_VARIED)
        for i, some in zip(few, more, strict=True):
            kept[i] = some
    return kept


def _varied_among(
    ways: Ways, wanted: Lab, doubt: _Array, count: int, most_of_one: int, times: int
) -> list[list[Option]]:  # fmt: skip
    """Varied ways out of the nearest `times` as many."""
    if not len(ways):
        return [[] for _ in wanted]
    found = nearest_ways(ways, wanted, doubt, min(times * count, len(ways)))
    first, second = ways.first[found.row], ways.second[found.row]
    of_use = np.isfinite(found.cost) & _nearest_of_its_pencils(first, second)
    return [
        _varied(first[i, at].tolist(), second[i, at].tolist(), found.cost[i, at].tolist(), count, most_of_one)
        for i, at in enumerate(of_use)
    ]


def _nearest_of_its_pencils(first: _Keys, second: _Keys) -> NDArray[np.bool_]:
    """Which ways (C, k), the nearest first, are the nearest of their colour by the same pencils, in whatever order."""
    pencils = np.minimum(first, second) * (1 + max(int(first.max(initial=0)), int(second.max(initial=0))))
    pencils += np.maximum(first, second)
    order = np.argsort(pencils, axis=1, kind="stable")
    in_order = np.take_along_axis(pencils, order, axis=1)
    nearest = np.ones(pencils.shape, dtype=bool)
    np.put_along_axis(nearest, order[:, 1:], in_order[:, 1:] != in_order[:, :-1], axis=1)
    return nearest


def _varied(
    first: Sequence[int], second: Sequence[int], costs: Sequence[float], count: int, most_of_one: int
) -> list[Option]:  # fmt: skip
    """Of ways by different pencils, the nearest first, up to `count` of which no pencil is in more than so many."""
    kept: list[Option] = []
    of_one: dict[int, int] = {}
    for one, two, cost in zip(first, second, costs, strict=True):
        with_one, with_two = of_one.get(one, 0), of_one.get(two, 0)
        if max(with_one, with_two) >= most_of_one:
            continue
        of_one[one] = with_one + 1
        if two == NONE:
            kept.append(Option((one,), cost))
        else:
            of_one[two] = with_two + 1
            kept.append(Option((one, two), cost))
        if len(kept) == count:
            break
    return kept
