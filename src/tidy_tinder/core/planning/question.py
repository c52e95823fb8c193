"""What a plan is asked: the passages of a recipe, their calls in order, and the ways in which each can be laid."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab


@dataclass(frozen=True, eq=False)
class Way:
    """One way to lay a call: the layers, the lowest first, and their Lab (3,) by themselves on the paper."""

    layers: tuple[Layer[int], ...]
    alone: Lab

    @cached_property
    def pencils(self) -> frozenset[int]:
        """The pencils that it takes."""
        return frozenset(one.pencil for one in self.layers)

    @cached_property
    def passes(self) -> int:
        """How many layers it puts down."""
        return sum(one.layers for one in self.layers)


@dataclass(frozen=True, eq=False)
class PlannedCall:
    """One call: the layer that it asks for and its Lab (3,) by itself, and the ways to lay it.

    key: the caller's identity of it. settled: it is laid in its only way, because its pencil is at hand or because the
    artist has decided.
    """

    key: int
    asked: Layer[int]
    mark: Lab
    ways: tuple[Way, ...]
    settled: bool = False


@dataclass(frozen=True, eq=False)
class AskedPassage:
    """The calls of one area in the order in which they go down; solvent: it dissolves all of it in the end."""

    key: int
    calls: tuple[PlannedCall, ...]
    solvent: bool = False


@dataclass(frozen=True, eq=False)
class Question:
    """All that a plan rests on. most_layers: what the paper takes.

    Raises OutOfRangeError for a passage without a call, a call without a way, and a settled call with several.
    """

    passages: tuple[AskedPassage, ...]
    pencils: Mapping[int, PencilFit]
    paper: PaperFit
    closest: Closest
    most_layers: int

    def __post_init__(self) -> None:
        for passage in self.passages:
            if not passage.calls:
                raise OutOfRangeError("A passage has at least one call.")
            if any(not call.ways or (call.settled and len(call.ways) > 1) for call in passage.calls):
                raise OutOfRangeError("A call has at least one way to be laid, a settled one exactly one.")

    @cached_property
    def free(self) -> frozenset[int]:
        """Pencils that lie on the table anyway, because a settled call takes them."""
        return frozenset(
            pencil
            for passage in self.passages
            for call in passage.calls
            if call.settled
            for pencil in call.ways[0].pencils
        )

    def room_for(self, passage: AskedPassage) -> int:
        """The layers that a passage may have: what the paper takes, or the fewest possible where even they are more."""
        return max(self.most_layers, sum(min(way.passes for way in call.ways) for call in passage.calls))


def marks_of(passage: AskedPassage) -> Lab:
    """What each call asks for by itself (calls, 3)."""
    return np.stack([call.mark for call in passage.calls])
