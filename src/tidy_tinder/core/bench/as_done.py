"""A log made into a recipe: lines by area and time, merged where the same pencils follow one another in each section.

Working section by section lays the same lines again and again; a line that comes again in another section is one line
of the recipe, and what differs in one section stands as a line of its own.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from tidy_tinder.core.vocabulary import LogKind, SaidPressure


@dataclass(frozen=True)
class Logged:
    """One entry of a log, in the order of time; pencils, steps and sections by the caller's numbers.

    pencil: None for what is no pencil; step: the step of a recipe that it was done along, None as one goes; section:
    None where the drawing has none; layers: 0 where nobody said.
    """

    kind: LogKind
    area: str
    pencil: int | None = None
    pressure: SaidPressure = ""
    layers: int = 0
    step: int | None = None
    section: int | None = None
    note: str = ""


@dataclass(frozen=True)
class DoneLayer:
    """Layers of one pencil as they were laid; layers: at least one, as far as was said."""

    pencil: int
    pressure: SaidPressure
    layers: int


@dataclass(frozen=True)
class DoneLine:
    """A line of what was done: pencils in their order, or something else that happened (kind, note). sections: where;
    step: the step of the recipe that all of it was done along.
    """

    area: str
    kind: LogKind
    layers: tuple[DoneLayer, ...]
    note: str
    sections: tuple[int, ...]
    step: int | None


@dataclass
class _Line:
    area: str
    kind: LogKind
    step: int | None
    layers: list[DoneLayer] = field(default_factory=list)
    note: str = ""
    sections: list[int] = field(default_factory=list)

    def alike(self, other: _Line) -> bool:
        """Whether the same was done: the same pencils as hard, however many layers, or the same other thing."""
        mine, theirs = ([(one.pencil, one.pressure) for one in each.layers] for each in (self, other))
        return (self.kind, self.step, self.note, mine) == (other.kind, other.step, other.note, theirs)

    def take(self, other: _Line) -> None:
        """The same again in another section; of layers the most that were laid anywhere."""
        self.layers = [
            DoneLayer(a.pencil, a.pressure, max(a.layers, b.layers))
            for a, b in zip(self.layers, other.layers, strict=True)
        ]
        self.sections += other.sections

    def lay(self, entry: Logged) -> None:
        """One entry more of a pencil: a layer of the one before, or the next pencil."""
        assert entry.pencil is not None, "an entry of a pencil has one"
        layer, last = DoneLayer(entry.pencil, entry.pressure, max(entry.layers, 1)), self.layers[-1:]
        if last and (last[0].pencil, last[0].pressure) == (layer.pencil, layer.pressure):
            self.layers[-1] = DoneLayer(layer.pencil, layer.pressure, last[0].layers + layer.layers)
        else:
            self.layers.append(layer)

    def done(self) -> DoneLine:
        return DoneLine(self.area, self.kind, tuple(self.layers), self.note, tuple(self.sections), self.step)


def done_lines(log: Iterable[Logged]) -> tuple[DoneLine, ...]:
    """The lines of a log: areas in the order in which they were begun, each in the order of time."""
    by_area: dict[str, dict[int | None, list[Logged]]] = {}
    for one in log:
        by_area.setdefault(one.area, {}).setdefault(one.section, []).append(one)
    return tuple(line.done() for sections in by_area.values() for line in _merged(sections.values()))


def _merged(sections: Iterable[Sequence[Logged]]) -> list[_Line]:
    """The lines of one area: those of the first section, and where a later one did something else, that in its turn."""
    merged: list[_Line] = []
    for entries in sections:
        at = 0
        for line in _lines(entries):
            same = next((i for i in range(at, len(merged)) if merged[i].alike(line)), None)
            if same is None:
                merged.insert(at, line)
                at += 1
            else:
                merged[same].take(line)
                at = same + 1
    return merged


def _lines(entries: Sequence[Logged]) -> list[_Line]:
    """The lines of one area in one section: pencils that follow one another along one step are one line."""
    lines: list[_Line] = []
    for one in entries:
        last = lines[-1] if lines else None
        if one.kind is not LogKind.PENCIL:
            lines.append(_Line(one.area, one.kind, one.step, note=one.note, sections=_section(one)))
        elif last is not None and (last.kind, last.step) == (LogKind.PENCIL, one.step):
            last.lay(one)
        else:
            lines.append(_Line(one.area, one.kind, one.step, sections=_section(one)))
            lines[-1].lay(one)
    return lines


def _section(entry: Logged) -> list[int]:
    return [] if entry.section is None else [entry.section]
