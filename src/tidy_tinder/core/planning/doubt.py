"""How far off the difference between a planned passage and the one asked for may be.

What every doubt of a pencil moves the finished passage by is worked out once for each way, the other calls as asked
for; in a column these moves are taken together. Calls that are not exchanged lie in both passages alike and tell
nothing of their difference. The doubts of the paper move both, and what counts is how differently.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.layering.optics.shared_layers import Slots
from tidy_tinder.core.layering.optics.tooth import PencilModel
from tidy_tinder.core.layering.prediction.stacks import doubted_models, unshared_off_model
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.question import AskedPassage
from tidy_tinder.core.planning.shifts import Shifts
from tidy_tinder.core.planning.stacking import Stacking, Ways, chosen
from tidy_tinder.core.quantities import DeltaE, Lab

_Array = NDArray[np.float64]

# Principal axes of a pencil's doubt that are followed here: what the others add is small (docs/benchmarks.md, plans).
_AXES = 6


class Doubts:
    """The doubts of one passage's ways."""

    def __init__(self, passage: AskedPassage, stacking: Stacking, shifts: Shifts) -> None:
        self._passage, self._stacking, self._shifts = passage, stacking, shifts
        self._models: dict[int, list[PencilModel]] = {}
        self._moves = self._all_moves()

    def without_paper(self, ways: Ways, states: Lab) -> _Array:
        """Covariance (C, 3, 3) of how columns, laid as `states` (C, S, 3), differ from what is asked for: by the doubts
        of the pencils, and by what readings differ from the model.
        """
        layers = [[one for way in chosen(self._passage, row) for one in way.layers] for row in ways]
        asked = [call.asked for call in self._passage.calls]
        off = self._off([*layers, asked], np.vstack([states[:, -1], self._shifts.asked[-1]]))
        together = np.stack([self._together(row) for row in ways])
        # A passage that is laid as asked for is what it is, however that looks.
        as_asked = np.array([all(self._as_asked(at, int(way)) for at, way in enumerate(row)) for row in ways])
        return np.where(as_asked[:, None, None], 0.0, off[:-1] + off[-1] + together)

    def by_paper(self, ways: Ways, states: Lab) -> _Array:
        """The same (C, 3, 3) by the doubts of the paper, which move both; to be added."""
        moved = self._moved_by_paper(ways, states)
        return np.asarray(moved.swapaxes(-1, -2) @ moved)

    def _moved_by_paper(self, ways: Ways, states: Lab) -> _Array:
        """What a step along each axis of the paper's doubt moves the difference of columns by (C, axes, 3)."""
        apart = states[:, -1] - self._shifts.asked[-1]
        papers = self._stacking.on_doubted_papers
        moved = [p.laid(self._passage, ways)[:, -1] - p.asked(self._passage)[-1] - apart for p in papers]
        return np.stack(moved, axis=1)

    def band(self, covariance: _Array) -> DeltaE:
        """The ΔE00 (C,) within which nine of ten lie, of covariances (C, 3, 3)."""
        nothing = ~covariance.any(axis=(-1, -2))
        return np.where(nothing, 0.0, radius(covariance, self._shifts.asked[-1]))

    def _as_asked(self, call: int, way: int) -> bool:
        asked = self._passage.calls[call]
        return asked.ways[way].layers == (asked.asked,)

    def _together(self, row: Ways) -> _Array:
        """Covariance (3, 3) by which the doubts of a column and of what is asked in its place move the difference."""
        by_pencil: dict[int, _Array] = {}
        for call, way in enumerate(row):
            if self._as_asked(call, int(way)):
                continue
            for sign, which in ((1.0, int(way)), (-1.0, _ASKED)):
                for pencil, move in self._moves[call, which].items():
                    by_pencil[pencil] = by_pencil.get(pencil, 0.0) + sign * move
        return sum((move.T @ move for move in by_pencil.values()), np.zeros((3, 3)))

    def _all_moves(self) -> dict[tuple[int, int], dict[int, _Array]]:
        """By call and way (and as it is asked for), by pencil: what its doubts move the finished passage by."""
        wanted: list[tuple[int, int, int]] = []
        stacks: list[Slots] = []
        plain: list[Lab] = []
        for at, call in enumerate(self._passage.calls):
            exchanged = {i: way.layers for i, way in enumerate(call.ways) if not self._as_asked(at, i)}
            each = {_ASKED: (call.asked,), **exchanged} if exchanged else {}
            for way, layers in each.items():
                for pencil in dict.fromkeys(one.pencil for one in layers):
                    wanted.append((at, way, pencil))
                    stacks.extend(self._with_doubts(at, layers, pencil))
                    moved = 0.0 if way == _ASKED else self._shifts.by_call[at][way, -1]
                    plain.append(self._shifts.asked[-1] + moved)
        seen = self._stacking.seen(stacks, self._passage)[:, -1].reshape(len(wanted), _AXES, 3)
        moves: dict[tuple[int, int], dict[int, _Array]] = {}
        for (at, way, pencil), labs, still in zip(wanted, seen, plain, strict=True):
            moves.setdefault((at, way), {})[pencil] = labs - still
        return moves

    def _with_doubts(self, at: int, layers: Sequence[Layer[int]], pencil: int) -> list[Slots]:
        """The passage as asked for but one call, with one pencil of that call a step along each axis of its doubt."""
        if pencil not in self._models:
            question = self._stacking.question
            self._models[pencil] = doubted_models(question.pencils[pencil], question.paper, _AXES)
        rest = self._stacking.slots([call.asked] for call in self._passage.calls)
        return [
            [
                [one.of(model if one.pencil == pencil else self._stacking.model(one.pencil)) for one in layers]
                if i == at
                else slot
                for i, slot in enumerate(rest)
            ]
            for model in self._models[pencil]
        ]

    def _off(self, layers: Sequence[Sequence[Layer[int]]], labs: Lab) -> _Array:
        """Covariance (N, 3, 3) by which two readings of such passages differ from the model, each by itself."""
        question = self._stacking.question
        fitted = [[one.of(question.pencils[one.pencil]) for one in each] for each in layers]
        return unshared_off_model(labs, fitted, question.paper, self._passage.solvent)


_ASKED = -1
