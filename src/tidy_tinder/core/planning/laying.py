"""Laying the likeliest columns of a passage, and those round the best of them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.expected import expected_difference
from tidy_tinder.core.difference.priorities import weighted_difference
from tidy_tinder.core.planning.columns import Columns
from tidy_tinder.core.planning.doubt import Doubts
from tidy_tinder.core.planning.question import AskedPassage
from tidy_tinder.core.planning.shifts import difference_cost, likely_columns, shifts_of
from tidy_tinder.core.planning.stacking import Stacking, Ways, chosen
from tidy_tinder.core.planning.within import Within
from tidy_tinder.core.quantities import DeltaE, Lab

_Array = NDArray[np.float64]

# The likeliest columns that are laid, those laid round the best of them, rounds of that, and columns that are kept.
# After the prototype of the design; more are kept, so that what is best is mostly found before the proof (0046).
_LAID, _ROUND_THE_BEST, _ROUNDS, _KEPT = 120, 60, 3, 60
# Columns round which others are looked for.
_BEST = 6


class Laid:
    """The columns of a passage that were laid, each once: ways, states, and the least that each can cost.

    first: ways (calls,) that are laid and kept whatever they cost, if the paper takes them.
    """

    def __init__(self, passage: AskedPassage, stacking: Stacking, first: Ways | None = None) -> None:
        self._passage, self._stacking = passage, stacking
        self._shifts = shifts_of(passage, stacking)
        self._within = Within(passage, stacking.question.free)
        self._room = stacking.question.room_for(passage)
        self._doubts = Doubts(passage, stacking, self._shifts)
        calls = len(passage.calls)
        self._ways: Ways = np.zeros((0, calls), dtype=np.int64)
        self._states: Lab = np.zeros((0, calls, 3))
        self._least: _Array = np.zeros(0)
        self._doubt: _Array = np.zeros((0, 3, 3))
        self._banded: DeltaE = np.zeros(0)
        self._there: set[tuple[int, ...]] = set()
        self._passes = [np.array([way.passes for way in call.ways]) for call in passage.calls]
        if first is not None:
            self._lay(first[None][self._fits(first[None])])
        self._first = len(self._ways)

    def look(self) -> Laid:
        """Lay what is likely, then what is round the best, as long as that finds a better one."""
        closest = self._stacking.question.closest
        self._lay(likely_columns(self._passage, self._shifts, self._within, closest, self._room)[:_LAID])
        for _ in range(_ROUNDS):
            before = float(self._least.min())
            self._look_round()
            if float(self._least.min()) >= before:
                break
        return self

    def columns(self, dearest: float = -np.inf, at_least: bool = False) -> Columns:
        """The cheapest columns, the one that was laid first, and all that may cost less than `dearest`.

        at_least: with the least that each can cost, which is known at once, instead of what it costs (`priced`).
        """
        order = np.argsort(self._least, kind="stable")
        kept = np.union1d(order[:_KEPT], np.flatnonzero(self._least < dearest))
        kept = np.union1d(kept, np.arange(self._first))
        cut = np.setdiff1d(order, kept)
        ways, states = self._ways[kept], self._states[kept]
        band = self._doubts.band(self._doubt[kept]) if at_least else self._bands(kept)
        cost, expected = self._priced(ways, states, band)
        by_cost = np.argsort(cost, kind="stable")
        free = self._stacking.question.free
        pencils = (frozenset(p for way in chosen(self._passage, ways[i]) for p in way.pencils) for i in by_cost)
        return Columns(
            self._passage, self._shifts.asked, ways[by_cost], states[by_cost], cost[by_cost], band[by_cost],
            expected[by_cost], tuple(taken - free for taken in pencils),
            float(self._least[cut].min()) if len(cut) else np.inf, len(self._ways),
        )  # fmt: skip

    def priced(self, columns: Columns) -> Columns:
        """The same columns with what they cost, the paper's doubts among it."""
        rows = {tuple(row): at for at, row in enumerate(self._ways.tolist())}
        band = self._bands(np.array([rows[tuple(row)] for row in columns.ways.tolist()], dtype=np.int64))
        cost, expected = self._priced(columns.ways, columns.states, band)
        return replace(columns, cost=cost, band=band, expected=expected)

    def _bands(self, kept: NDArray[np.int64]) -> DeltaE:
        """The bands of some columns with the doubts of the paper, each worked out once."""
        fresh = kept[np.isnan(self._banded[kept])]
        if fresh.size:
            by_paper = self._doubts.by_paper(self._ways[fresh], self._states[fresh])
            self._banded[fresh] = self._doubts.band(self._doubt[fresh] + by_paper)
        return self._banded[kept]

    def _priced(self, ways: Ways, states: Lab, band: DeltaE) -> tuple[_Array, DeltaE]:
        """What columns cost (C,) with these bands, and how far each is expected to be from what is asked for."""
        asked, closest = self._shifts.asked, self._stacking.question.closest
        plain = np.asarray(weighted_difference(asked[-1], states[:, -1], closest))
        expected = expected_difference(plain, band)
        return difference_cost(asked, states, closest) - plain + expected + self._within.cost(ways), expected

    def _lay(self, ways: Ways) -> None:
        """Lay those that were not laid yet."""
        rows = np.array([row for row in dict.fromkeys(map(tuple, ways.tolist())) if row not in self._there])
        if not rows.size:
            return
        self._there.update(map(tuple, rows.tolist()))
        states = self._stacking.laid(self._passage, rows)
        self._ways = np.concatenate([self._ways, rows])
        self._states = np.concatenate([self._states, states])
        doubt = self._doubts.without_paper(rows, states)
        self._doubt = np.concatenate([self._doubt, doubt])
        self._banded = np.concatenate([self._banded, np.full(len(rows), np.nan)])
        least = self._priced(rows, states, self._doubts.band(doubt))[0]
        self._least = np.concatenate([self._least, least])

    def _look_round(self) -> None:
        """Exchange one way at a time round the best columns, and lay the likeliest of what that gives."""
        ways, guesses = [], []
        for at in np.argsort(self._least, kind="stable")[:_BEST]:
            for call, shifts in enumerate(self._shifts.by_call):
                others = np.tile(self._ways[at], (len(shifts), 1))
                others[:, call] = np.arange(len(shifts))
                ways.append(others)
                # What the column truly is, moved by what the exchange moves alone.
                guesses.append(self._states[at] + shifts - shifts[self._ways[at, call]])
        every, guessed = np.concatenate(ways), np.concatenate(guesses)
        fresh = self._fits(every) & np.array([tuple(row) not in self._there for row in every.tolist()])
        every, guessed = every[fresh], guessed[fresh]
        closest = self._stacking.question.closest
        cost = difference_cost(self._shifts.asked, guessed, closest) + self._within.cost(every)
        self._lay(every[np.argsort(cost, kind="stable")[:_ROUND_THE_BEST]])

    def _fits(self, ways: Ways) -> NDArray[np.bool_]:
        """Whether the paper takes the layers of columns."""
        passes = sum((self._passes[call][ways[:, call]] for call in range(ways.shape[1])), np.zeros(len(ways)))
        return np.asarray(passes <= self._room)
