"""What checks look at: a recipe as it will be laid on a paper, step by step, with what each leaves."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Finish, Material, Pressure, PrintedOpacity, Purpose, Role, SaidPurpose, SaidRole


@dataclass(frozen=True, eq=False)
class CheckedCall:
    """One call as it will be laid. key: the caller's identity of it; colour, asked: what is asked for, and what
    that is called; name: what is laid, and for what where that is something else; layers: of it, the lowest first;
    masstone: Lab (3,) of the asked heavy mark on the paper; alone: of what is laid, by itself; after: of the
    passage after it, and room: the share of its tooth that is still free then. Each is None where it is not known.
    opacity, rated: of what is laid, the least of several, rated for light; "" where nobody says; own_test: by a fade
    test of the artist's own and not by the chart.
    """

    key: int
    colour: int
    name: str
    layers: tuple[Layer[int], ...]
    asked: str = ""
    role: SaidRole = ""
    masstone: Lab | None = None
    alone: Lab | None = None
    after: Lab | None = None
    room: float | None = None
    opacity: PrintedOpacity = ""
    rated: str = ""
    own_test: bool = False

    @property
    def passes(self) -> int:
        """How many layers it puts down."""
        return sum(one.layers for one in self.layers)

    @property
    def burnishes(self) -> bool:
        """Whether it rubs smooth what lies below."""
        return self.role == Role.BURNISHER or any(one.pressure == Pressure.BURNISH for one in self.layers)

    @property
    def heavy(self) -> bool:
        """Whether it is pressed hard."""
        return any(one.pressure == Pressure.HEAVY for one in self.layers)


@dataclass(frozen=True, eq=False)
class CheckedStep:
    """One step. number: as the artist counts it; waits: it is left to dry after it; materials: what it names;
    in_places: it does not go over all of its passage.
    """

    key: int
    number: int | None
    area: str
    purpose: SaidPurpose = ""
    finish: Finish = Finish.DRY
    waits: bool = False
    materials: frozenset[Material] = frozenset()
    in_places: bool = False
    calls: tuple[CheckedCall, ...] = ()

    @property
    def said(self) -> str:
        """How it is called in a sentence."""
        return f"step {self.number}" if self.number is not None else "a note"

    @property
    def dissolves(self) -> bool:
        """Whether solvent goes over it."""
        return self.finish == Finish.SOLVENT or Material.SOLVENT in self.materials

    @property
    def burnishes(self) -> bool:
        """Whether it rubs the passage smooth."""
        return (
            self.finish == Finish.BURNISHED or self.purpose == Purpose.BURNISH or any(c.burnishes for c in self.calls)
        )

    @property
    def glazes(self) -> bool:
        """Whether it is a glaze."""
        return self.purpose == Purpose.GLAZE or any(call.role == Role.GLAZE for call in self.calls)


@dataclass(frozen=True, eq=False)
class CheckedRecipe:
    """All that checks rest on. most_layers, stands_solvent: of the paper; for_sale, dark_first: of the drawing.

    darkest_wanted: L* of the darkest of the picture that it is drawn from; darkest_here: the pencil at hand that goes
    darkest on this paper, and the L* that it reaches. Each is None where there is none.
    """

    steps: tuple[CheckedStep, ...]
    most_layers: int
    stands_solvent: bool
    for_sale: bool = False
    dark_first: bool = False
    darkest_wanted: float | None = None
    darkest_here: tuple[str, float] | None = None

    @cached_property
    def passages(self) -> Mapping[str, tuple[CheckedStep, ...]]:
        """The steps of each area in order."""
        areas: dict[str, list[CheckedStep]] = {}
        for step in self.steps:
            areas.setdefault(step.area, []).append(step)
        return {area: tuple(steps) for area, steps in areas.items()}

    @property
    def calls(self) -> Iterator[tuple[CheckedStep, CheckedCall]]:
        """Every call with its step."""
        return ((step, call) for step in self.steps for call in step.calls)


def calls_of(steps: tuple[CheckedStep, ...]) -> list[tuple[CheckedStep, CheckedCall]]:
    """The calls of some steps with their steps, in order."""
    return [(step, call) for step in steps for call in step.calls]


def finished(steps: tuple[CheckedStep, ...]) -> Lab | None:
    """A passage when all of it is laid; None where that is not known."""
    laid = calls_of(steps)
    return laid[-1][1].after if laid else None
