"""Passages laid truly: what each looks like after every call, in whichever ways its calls are laid."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any, TypeAlias, TypeVar

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.shared_layers import Slots, finished_on_each, states_of
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
        return self._labs([self.slots(way.layers for way in chosen(passage, row)) for row in ways], passage)

    def seen(self, passages: Sequence[Slots], passage: AskedPassage) -> Lab:
        """Passages with models of one's own, as the solvent of this passage leaves them (N, calls, 3)."""
        return self._labs(passages, passage)

    def bodies(self, passages: Sequence[Slots], passage: AskedPassage) -> Reflectance:
        """Body reflectance (N, 31) of the same after the last call only."""
        whole = [[[one for layers in slots for one in layers]] for slots in passages]
        return states_of(whole, self.question.paper.model, passage.solvent).body[:, -1]

    def _labs(self, passages: Sequence[Slots], passage: AskedPassage) -> Lab:
        if not passages:
            return np.zeros((0, len(passage.calls), 3))
        states = states_of(passages, self.question.paper.model, passage.solvent)
        labs = reflectance_to_lab(add_surface(states.body))
        # What solvent has dissolved is a mark no longer.
        dry = labs[:, :-1] if passage.solvent else labs
        alone = [
            (i, at, (self._pencil_of[id(one.pencil)], Kind(one.pressure, one.layers)))
            for i, slots in enumerate(passages)
            for at, one in enumerate(_alone(slots))
            if one is not None and at < dry.shape[1]
        ]
        self.add_beside(dry, alone)
        return labs

    def add_beside(self, labs: Lab, alone: Sequence[tuple[int, int, _Mark]]) -> None:
        """Add what is expected of each mark with nothing below or above it, at its place in labs (N, S, 3), beside the
        model, as whoever predicts that mark expects it.
        """
        new = {mark: (i, at) for i, at, mark in alone if mark not in self._beside}
        if new:
            rows, places = zip(*new.values(), strict=True)
            pencils, kinds = zip(*new, strict=True)
            fits = [self.question.pencils[pencil] for pencil in pencils]
            off = expected_beside(labs[rows, places], self.question.paper, fits, kinds).off
            self._beside.update(zip(new, off, strict=True))
        for i, at, mark in alone:
            labs[i, at] += self._beside[mark]


_Mark: TypeAlias = tuple[int, Kind]
"""A pencil, and the kind of its mark."""


def looks_on_each(on: Sequence[Stacking], stacks: Sequence[Sequence[Layer[int]]], solvent: bool) -> Lab:
    """How N stacks look (K, N, 3) on the paper of each of some stackings."""
    pencils = dict.fromkeys(one.pencil for layers in stacks for one in layers)
    papers = [(each.question.paper.model, {one: each.model(one) for one in pencils}) for each in on]
    labs = reflectance_to_lab(add_surface(finished_on_each(stacks, papers, solvent)))
    if not solvent:
        alone = [
            (i, 0, (layers[0].pencil, Kind(layers[0].pressure, layers[0].layers)))
            for i, layers in enumerate(stacks)
            if len(layers) == 1
        ]
        for each, seen in zip(on, labs, strict=True):
            each.add_beside(seen[:, None], alone)
    return labs


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
