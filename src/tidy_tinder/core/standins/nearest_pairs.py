"""The pairs nearest to a colour, searched exactly in the table of them all.

A question looks only at the pairs in a box that certainly holds the answer (`difference.box`), and at all of them where
no box can be drawn.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.box import Box, box_round
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.quantities import Lab, check_finite, check_limit
from tidy_tinder.core.standins.pairs import Pair, PairTable

_Array = NDArray[np.float64]
_Rows = NDArray[np.int64]

# The first bound of a search is the best among this many neighbours in Lab, for each answer that is wanted.
_NEIGHBOURS = 2
# Where the box that they draw holds more than so many for each of them, a nearer one is drawn.
_FEW = 4
# Rows of about the wanted lightness, and rows of any, that are looked at for that first bound.
_LEVEL, _SPREAD = 16_384, 512
# Room for the last digit where a bound is compared with itself.
_SLACK = 1e-9


@dataclass(frozen=True)
class NearPair:
    """A pair that was found, and its difference from what was wanted by the meaning of closest."""

    pair: Pair
    ranked_by: float


def nearest_pairs(
    table: PairTable,
    wanted: Lab,
    closest: Closest = Closest.OVERALL,
    limit: int = 20,
    below: NDArray[np.bool_] | None = None,
    above: NDArray[np.bool_] | None = None,
) -> Iterator[NearPair]:
    """The pairs nearest to a wanted Lab (3,), nearest first: exactly those that comparing all of them would give.

    They are found at once, and told one after the other. below, above: which pencils (N,), in the order of
    `table.keys`, may lie below and above; all by default. Equal differences keep the order of the table. Raises
    OutOfRangeError for a limit below 1 and a Lab that is no number.
    """
    check_limit(limit)
    check_finite(wanted, "The wanted Lab")
    rows = _certain(table, wanted, closest, limit, below, above)
    figures = _figures(table, rows, wanted, closest)
    if len(rows) > limit:
        among = figures <= np.partition(figures, limit - 1)[limit - 1]
        rows, figures = rows[among], figures[among]
    order = np.argsort(figures, kind="stable")[:limit]
    return (NearPair(table.pair(int(rows[i])), float(figures[i])) for i in order)


_Pencils = NDArray[np.bool_] | None


def _certain(
    table: PairTable, wanted: Lab, closest: Closest, limit: int, below: _Pencils, above: _Pencils
) -> _Rows:  # fmt: skip
    """Rows, in the table's order, among which the nearest certainly are."""
    at = int(np.searchsorted(table.L, wanted[0]))
    level = slice(max(at - _LEVEL // 2, 0), at + _LEVEL // 2)
    some = slice(0, None, max(len(table) // _SPREAD, 1))
    near = [_neighbours(table, rows, wanted, _NEIGHBOURS * limit, below, above) for rows in (level, some)]
    rows = np.unique(np.concatenate(near))
    if len(rows) < limit:
        return _allowed(table, np.arange(len(table)), below, above)
    box = _box_of(table, rows, wanted, closest, limit)
    start, end = np.searchsorted(table.L, [wanted[0] - box.lightness, wanted[0] + box.lightness])
    away = (table.a[start:end] - wanted[1]) ** 2 + (table.b[start:end] - wanted[2]) ** 2
    rows = _allowed(table, start + np.flatnonzero(away <= box.chroma**2), below, above)
    return _closed_in(table, rows, wanted, closest, limit)


def _box_of(table: PairTable, rows: _Rows, wanted: Lab, closest: Closest, limit: int) -> Box:
    """What certainly holds all that are as near as the nearest of these rows."""
    figures = _figures(table, rows, wanted, closest)
    return box_round(wanted, float(np.partition(figures, limit - 1)[limit - 1]) + _SLACK, closest)


def _closed_in(table: PairTable, rows: _Rows, wanted: Lab, closest: Closest, limit: int) -> _Rows:
    """Those of the rows that a box holds which is drawn by the nearest of them all, not of some."""
    kL, kC, kH = closest.factors
    count = _NEIGHBOURS * limit
    if len(rows) <= _FEW * count:
        return rows
    lightness = table.L[rows] - wanted[0]
    away = (table.a[rows] - wanted[1]) ** 2 + (table.b[rows] - wanted[2]) ** 2
    near = np.argpartition((lightness / kL) ** 2 + away / (kC * kH), count)[:count]
    box = _box_of(table, rows[near], wanted, closest, limit)
    return np.asarray(rows[(np.abs(lightness) <= box.lightness) & (away <= box.chroma**2)])


def _allowed(table: PairTable, rows: _Rows, below: _Pencils, above: _Pencils) -> _Rows:
    """Those of the rows whose pencils may lie where they do."""
    if below is not None:
        rows = rows[below[table.lower[rows]]]
    return rows if above is None else rows[above[table.upper[rows]]]


def _neighbours(
    table: PairTable, part: slice, wanted: Lab, count: int, below: _Pencils, above: _Pencils
) -> _Rows:  # fmt: skip
    """The rows of a part of the table that are nearest in plain Lab, of those allowed."""
    away = (table.L[part] - wanted[0]) ** 2 + (table.a[part] - wanted[1]) ** 2 + (table.b[part] - wanted[2]) ** 2
    if below is not None:
        away = np.where(below[table.lower[part]], away, np.inf)
    if above is not None:
        away = np.where(above[table.upper[part]], away, np.inf)
    near = np.argpartition(away, count)[:count] if len(away) > count else np.arange(len(away))
    near = near[np.isfinite(away[near])]
    return np.asarray((part.start or 0) + near * (part.step or 1))


def _figures(table: PairTable, rows: _Rows, wanted: Lab, closest: Closest) -> _Array:
    labs = np.stack([table.L[rows], table.a[rows], table.b[rows]], axis=-1)
    return weighted_difference(np.asarray(wanted, dtype=np.float64), labs, closest)
