"""Passages laid truly: what each looks like after every call, in whichever ways its calls are laid."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.shared_layers import Slots, states_of
from tidy_tinder.core.layering.optics.stack_response import stepped
from tidy_tinder.core.layering.optics.tooth import PencilModel
from tidy_tinder.core.layering.prediction.marks import expected_beside, pencil_on
from tidy_tinder.core.layering.prediction.stacks import axes_of, doubted_papers
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.question import AskedPassage, Question, Way
from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab

T = TypeVar("T")
Ways = NDArray[np.int64]
"""For each column the way of each call, (columns, calls)."""


class Stacking:
    """The pencils of one question as its paper has them, and passages laid with them."""

    def __init__(self, question: Question) -> None:
        self.question = question
        self._models: dict[int, PencilModel] = {}
        self._pencil_of: dict[int, int] = {}
        self._beside: dict[tuple[int, Kind], Lab] = {}
        self._kept: dict[Hashable, Any] = {}

    def kept(self, key: Hashable, work_out: Callable[[], T]) -> T:
        """What rests on this question alone, worked out once."""
        if key not in self._kept:
            self._kept[key] = work_out()
        found: T = self._kept[key]
        return found

    @cached_property
    def on_doubted_papers(self) -> tuple[Stacking, ...]:
        """The same on the paper as it would be DOUBT_STEP of a standard deviation along each axis of its doubt."""
        return self.on_papers_doubted()

    def on_papers_doubted(self, along: NDArray[np.float64] | None = None) -> tuple[Stacking, ...]:
        """The same along directions (K, axes) in these axes."""
        papers = doubted_papers(self.question.paper, along)
        return tuple(Stacking(replace(self.question, paper=paper)) for paper in papers)

    def model(self, pencil: int) -> PencilModel:
        """A pencil as the paper has it."""
        if pencil not in self._models:
            self._models[pencil] = pencil_on(self.question.pencils[pencil], self.question.paper)
            self._pencil_of[id(self._models[pencil])] = pencil
        return self._models[pencil]

    def stepped(self, pencil: int) -> tuple[PencilModel, ...]:
        """A pencil with a step in what it is made of, each way that tells a slope."""
        return self.kept(("stepped", pencil), lambda: stepped(self.model(pencil)))

    def doubt(self, pencil: int) -> NDArray[np.float64]:
        """The doubt of a pencil: a standard deviation along each axis (14, 14), one a row."""
        return self.kept(("doubt", pencil), lambda: axes_of(self.question.pencils[pencil].covariance))

    def slots(self, layers: Iterable[Sequence[Layer[int]]]) -> Slots:
        """Layers of each call with their models."""
        return [[one.of(self.model(one.pencil)) for one in each] for each in layers]

    def asked(self, passage: AskedPassage) -> Lab:
        """The passage as asked for, after each call (calls, 3)."""
        layers = tuple(call.asked for call in passage.calls)
        return self.kept(
            ("asked", layers, passage.solvent),
            lambda: np.array(self._labs([self.slots([one] for one in layers)], passage)[0]),
        )

    def laid(self, passage: AskedPassage, ways: Ways) -> Lab:
        """The passage after each call in each of some columns (columns, calls, 3)."""
        return self._labs(self._laid_as(passage, ways), passage)

    def apart(self, passage: AskedPassage, ways: Ways) -> Lab:
        """By how much the finished passage in each of some columns (columns, 3) differs from what is asked for."""
        asked = self.slots([call.asked] for call in passage.calls)
        labs = self._looks([asked, *self._laid_as(passage, ways)], passage)
        return np.asarray(labs[1:] - labs[0])

    def looks(self, passages: Iterable[Iterable[Sequence[Layer[int]]]], passage: AskedPassage) -> Lab:
        """Finished passages of layers of one's own (N, 3), as the solvent of this one leaves them."""
        return self._looks([self.slots(layers) for layers in passages], passage)

    def seen(self, passages: Sequence[Slots], passage: AskedPassage) -> Lab:
        """Passages with models of one's own, as the solvent of this passage leaves them (N, calls, 3)."""
        return self._labs(passages, passage)

    def bodies(self, passages: Sequence[Slots], passage: AskedPassage) -> Reflectance:
        """Body reflectance (N, 31) of the same after the last call only."""
        return states_of(_whole(passages), self.question.paper.model, passage.solvent).body[:, -1]

    def _looks(self, passages: Sequence[Slots], passage: AskedPassage) -> Lab:
        return np.asarray(self._labs(_whole(passages), passage)[:, -1])

    def _laid_as(self, passage: AskedPassage, ways: Ways) -> list[Slots]:
        return [self.slots(way.layers for way in chosen(passage, row)) for row in ways]

    def _labs(self, passages: Sequence[Slots], passage: AskedPassage) -> Lab:
        if not passages:
            return np.zeros((0, len(passage.calls), 3))
        states = states_of(passages, self.question.paper.model, passage.solvent)
        labs = reflectance_to_lab(add_surface(states.body))
        self._add_beside(labs[:, :-1] if passage.solvent else labs, passages)
        return labs

    def _add_beside(self, labs: Lab, passages: Sequence[Slots]) -> None:
        """Add what is expected of each mark with nothing below or above it beside the model, as whoever predicts that
        mark expects it.
        """
        alone = [
            (i, at, (self._pencil_of[id(one.pencil)], Kind(one.pressure, one.layers)))
            for i, slots in enumerate(passages)
            for at, one in enumerate(_alone(slots))
            if one is not None and at < labs.shape[1]
        ]
        new = {mark: (i, at) for i, at, mark in alone if mark not in self._beside}
        if new:
            rows, places = zip(*new.values(), strict=True)
            pencils, kinds = zip(*new, strict=True)
            fits = [self.question.pencils[pencil] for pencil in pencils]
            off = expected_beside(labs[rows, places], self.question.paper, fits, kinds).off
            self._beside.update(zip(new, off, strict=True))
        for i, at, mark in alone:
            labs[i, at] += self._beside[mark]


def _whole(passages: Sequence[Slots]) -> list[Slots]:
    """Each as one slot, for whoever does not ask how it looks on the way."""
    return [[[one for layers in slots for one in layers]] for slots in passages]


def _alone(slots: Slots) -> Iterator[Layer[PencilModel] | None]:
    """After each slot, the one layer that lies there, as long as there are no others."""
    so_far: list[Layer[PencilModel]] = []
    for layers in slots:
        so_far = [*so_far, *layers]
        if len(so_far) > 1:
            return
        yield so_far[0] if so_far else None


def chosen(passage: AskedPassage, row: Sequence[int] | Ways) -> list[Way]:
    """The ways of one column."""
    return [call.ways[int(way)] for call, way in zip(passage.calls, row, strict=True)]
