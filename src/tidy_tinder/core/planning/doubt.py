"""How far off the difference between a planned passage and the one asked for may be.

What every doubt of a pencil moves the finished passage by is worked out once for each way, the other calls as asked
for; in a column these moves are taken together. Calls that are not exchanged lie in both passages alike and tell
nothing of their difference. The doubts of the paper move both, and what counts is how differently.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Sequence, Set
from dataclasses import replace
from itertools import islice
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.layering.optics.shared_layers import Slots
from tidy_tinder.core.layering.optics.stack_response import LayerResponse, layer_response
from tidy_tinder.core.layering.prediction.stacks import DOUBT_STEP, missed_alike, slopes_of_layer, unshared_off_model
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.question import AskedPassage
from tidy_tinder.core.planning.shifts import Shifts
from tidy_tinder.core.planning.stacking import Stacking, Ways, chosen, looks_on_each
from tidy_tinder.core.quantities import DeltaE, Lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES

_Array = NDArray[np.float64]
Layers: TypeAlias = tuple[Layer[int], ...]

# A direction of the paper's doubt that adds no more than this share to the least variance that a difference has is not
# followed: by it a band would be .1 % wider.
_COUNTS_NOT = 0.002


class Doubts:
    """The doubts of one passage's ways."""

    def __init__(self, passage: AskedPassage, stacking: Stacking, shifts: Shifts) -> None:
        self._passage, self._stacking, self._shifts = passage, stacking, shifts
        self._moves: dict[tuple[int, int], dict[int, _Array]] = {}
        self._asked = tuple(call.asked for call in passage.calls)
        self._work_out({(at, _ASKED) for at in range(len(passage.calls))})
        self._papers = stacking.kept(("papers", self._asked, passage.solvent), self._papers_that_count)

    def without_paper(self, ways: Ways, states: Lab) -> _Array:
        """Covariance (C, 3, 3) of how columns, laid as `states` (C, S, 3), differ from what is asked for: by the doubts
        of the pencils, and by what readings differ from the model.
        """
        laid = self._laid_as(ways)
        off = self._off([*laid, self._asked], np.vstack([states[:, -1], self._shifts.asked[-1]]))
        # What the model misses alike in every layer parts columns only where they have more of them.
        more = np.array([missed_alike(layers) for layers in laid]) - missed_alike(self._asked)
        alike = more[:, None, None] ** 2 * np.eye(3)
        self._work_out({(at, int(way)) for at in range(ways.shape[1]) for way in np.unique(ways[:, at])})
        together = np.stack([self._together(row) for row in ways])
        # A passage that is laid as asked for is what it is, however that looks.
        as_asked = np.array([all(self._as_asked(at, int(way)) for at, way in enumerate(row)) for row in ways])
        return np.where(as_asked[:, None, None], 0.0, off[:-1] + off[-1] + alike + together)

    def _papers_that_count(self) -> tuple[Stacking, ...]:
        """The doubted papers whose direction counts where a call is pressed otherwise, laid once more, or laid with
        another call's pencil. The axes move such passages much alike, so that fewer directions hold what they all do.
        What is smeared, the last axis, moves only pencils over others, as ways may be laid: it always counts.

        Which ways there are must not matter: a column costs the same beside whatever others.
        """
        asked = [call.asked for call in self._passage.calls]
        on_axes = self._stacking.on_doubted_papers[:-1]
        looks = looks_on_each((self._stacking, *on_axes), [asked, *_exchanged(asked)], self._passage.solvent)
        moved = looks[1:] - looks[0]
        apart = ((moved[:, 1:] - moved[:, :1]) / DOUBT_STEP).reshape(len(on_axes), -1)
        directions, lengths, by_passage = np.linalg.svd(apart, full_matrices=False)
        squares = ((lengths[:, None] * by_passage).reshape(len(lengths), -1, 3) ** 2).sum(axis=-1)
        off = self._off([asked], self._shifts.asked[-1][None])[0]
        counts = squares.max(axis=1) > _COUNTS_NOT * 2.0 * np.trace(off)
        following = directions.T[counts]
        smeared = np.append(np.zeros(len(on_axes)), 1.0)
        return self._stacking.on_papers_doubted(np.vstack([np.pad(following, ((0, 0), (0, 1))), smeared]))

    def by_paper(self, ways: Ways, states: Lab) -> _Array:
        """The same (C, 3, 3) by the doubts of the paper, which move both; to be added."""
        moved = self._moved_by_paper(ways, states)
        return np.asarray(moved.swapaxes(-1, -2) @ moved)

    def _moved_by_paper(self, ways: Ways, states: Lab) -> _Array:
        """What each direction of the paper's doubt moves the difference of columns by (C, directions, 3)."""
        looks = looks_on_each(self._papers, [self._asked, *self._laid_as(ways)], self._passage.solvent)
        moved = looks[:, 1:] - looks[:, :1] - (states[:, -1] - self._shifts.asked[-1])
        return np.asarray(moved.swapaxes(0, 1) / DOUBT_STEP)

    def band(self, covariance: _Array) -> DeltaE:
        """The ΔE00 (C,) within which nine of ten lie, of covariances (C, 3, 3)."""
        nothing = ~covariance.any(axis=(-1, -2))
        return np.where(nothing, 0.0, radius(covariance, self._shifts.asked[-1]))

    def _laid_as(self, ways: Ways) -> list[list[Layer[int]]]:
        """The layers of columns."""
        return [[one for way in chosen(self._passage, row) for one in way.layers] for row in ways]

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

    def _work_out(self, asked_for: Set[tuple[int, int]]) -> None:
        """By call and way (or as it is asked for), by pencil: what its doubts move the finished passage by.

        Each is worked out once for a question, whichever other ways stand beside it.
        """
        known: dict[Hashable, dict[int, _Array]] = self._stacking.kept("moves", dict)
        wanted: dict[Hashable, tuple[tuple[int, int], Layers]] = {}
        stacks: list[Slots] = []
        for at, way in sorted(asked_for - self._moves.keys()):
            call = self._passage.calls[at]
            layers = (call.asked,) if way == _ASKED else call.ways[way].layers
            key = (self._asked, self._passage.solvent, at, layers)
            if self._stays(at) if way == _ASKED else self._as_asked(at, way):
                self._moves[at, way] = {}
            elif key in known:
                self._moves[at, way] = known[key]
            else:
                wanted[key] = (at, way), layers
                stacks.extend(self._stepped(at, layers))
        if not wanted:
            return
        bodies = iter(self._stacking.bodies(stacks, self._passage))
        for over, (where, layers) in wanted.items():
            still, count = next(bodies), len(layers)
            by_step = np.stack(list(islice(bodies, _STEPS * count))).reshape(count, _STEPS, -1)
            self._moves[where] = known[over] = self._moved(layers, layer_response(np.tile(still, (count, 1)), by_step))

    def _moved(self, layers: Layers, response: LayerResponse) -> dict[int, _Array]:
        """By pencil, what a standard deviation along each axis of its doubt moves Lab by (14, 3), of a response to each
        of some layers.
        """
        slopes: dict[int, _Array] = {}
        for at, one in enumerate(layers):
            slopes[one.pencil] = slopes.get(one.pencil, 0.0) + slopes_of_layer(response.only(at), one.pressure)
        return {pencil: self._stacking.doubt(pencil) @ by.T for pencil, by in slopes.items()}

    def _stays(self, call: int) -> bool:
        """Whether a call is laid as it is asked for in each of its ways."""
        return all(self._as_asked(call, way) for way in range(len(self._passage.calls[call].ways)))

    def _stepped(self, at: int, layers: Layers) -> Iterator[Slots]:
        """The passage as asked for but one call, laid so; then with each of its layers stepped, each way."""
        rest = self._stacking.slots([call.asked] for call in self._passage.calls)
        own = [one.of(self._stacking.model(one.pencil)) for one in layers]
        yield [*rest[:at], own, *rest[at + 1 :]]
        for i, one in enumerate(layers):
            for model in self._stacking.stepped(one.pencil):
                yield [*rest[:at], [*own[:i], one.of(model), *own[i + 1 :]], *rest[at + 1 :]]

    def _off(self, layers: Sequence[Sequence[Layer[int]]], labs: Lab) -> _Array:
        """Covariance (N, 3, 3) by which two readings of such passages differ from the model, each by itself."""
        question = self._stacking.question
        fitted = [[one.of(question.pencils[one.pencil]) for one in each] for each in layers]
        return unshared_off_model(labs, fitted, question.paper, self._passage.solvent)


def _exchanged(asked: Sequence[Layer[int]]) -> list[list[Layer[int]]]:
    """A passage with one call pressed otherwise, laid once more, or laid with another call's pencil."""
    pencils = dict.fromkeys(one.pencil for one in asked)
    return [
        [*asked[:at], other, *asked[at + 1 :]]
        for at, own in enumerate(asked)
        for other in [
            *(replace(own, pressure=one) for one in MARK_PRESSURES if one != own.pressure),
            replace(own, layers=own.layers + 1),
            *(own.of(pencil) for pencil in pencils if pencil != own.pencil),
        ]
    ]


_ASKED = -1
# Ways in which a layer is stepped.
_STEPS = 3
