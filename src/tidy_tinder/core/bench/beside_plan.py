"""What was planned beside what was used, pencil by pencil."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from tidy_tinder.core.bench.as_done import DoneLine
from tidy_tinder.core.vocabulary import LogKind


class Use(StrEnum):
    """How what was used stands to what was planned."""

    AS_PLANNED = "as planned"
    MORE = "more layers"
    FEWER = "fewer layers"
    INSTEAD = "instead"
    NOT_USED = "not used"
    ADDED = "added"


@dataclass(frozen=True)
class Planned:
    """A pencil that a step calls for, in so many layers; instead: pencils that were logged as used for it."""

    step: int
    pencil: int
    layers: int
    instead: tuple[int, ...] = ()


@dataclass(frozen=True)
class Beside:
    """One line: what was planned (None: nothing), what was used (None: nothing), and the layers of each."""

    use: Use
    step: int | None
    planned: int | None
    planned_layers: int
    used: int | None
    used_layers: int


def beside_plan(planned: Sequence[Planned], done: Sequence[DoneLine]) -> tuple[Beside, ...]:
    """Every planned pencil in its order with what became of it, then what was added, in the order of the log."""
    used = _used(done)
    lines = [_line(one, used) for one in planned]
    return (*lines, *(Beside(Use.ADDED, step, None, 0, pencil, layers) for (step, pencil), layers in used.items()))


def _used(done: Sequence[DoneLine]) -> dict[tuple[int | None, int], int]:
    """Layers by step and pencil, as far as they were logged."""
    used: dict[tuple[int | None, int], int] = {}
    for line in done:
        if line.kind is LogKind.PENCIL:
            for layer in line.layers:
                key = (line.step, layer.pencil)
                used[key] = used.get(key, 0) + layer.layers
    return used


def _line(one: Planned, used: dict[tuple[int | None, int], int]) -> Beside:
    """What became of one planned pencil; what is found is taken out of `used`."""
    layers = used.pop((one.step, one.pencil), 0)
    if layers:
        use = Use.AS_PLANNED if layers == one.layers else Use.MORE if layers > one.layers else Use.FEWER
        return Beside(use, one.step, one.pencil, one.layers, one.pencil, layers)
    for other in one.instead:
        layers = used.pop((one.step, other), 0)
        if layers:
            return Beside(Use.INSTEAD, one.step, one.pencil, one.layers, other, layers)
    return Beside(Use.NOT_USED, one.step, one.pencil, one.layers, None, 0)
