"""A chart written from a pasted list: range, colours, set and owned pencils, in one change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import fold, fold_code
from tidy_tinder.core.reflectance.colorimetry import lab_from_hex
from tidy_tinder.core.vocabulary import Effect
from tidy_tinder.formats.chart_list.reading import read_chart_list
from tidy_tinder.formats.chart_list.written import WrittenChart, WrittenColour, WrittenLine
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.tidy.ownership import own_these
from tidy_tinder.storage.models import BoxedSet, Colour, ColourRange, SetColour


class Standing(StrEnum):
    """What becomes of a written colour."""

    NEW = "new"
    HERE = "here already"
    LEFT = "left out"


@dataclass(frozen=True)
class ListToWrite:
    """A pasted list, and of what it is one. set_name: the box whose colours these are, "" for none; own: whether each
    of them is owned.
    """

    text: str
    maker: str
    range_name: str
    set_name: str = ""
    own: bool = True


@dataclass(frozen=True)
class PlacedColour:
    """A written colour beside the chart that is here; problem says why one is left out."""

    colour: WrittenColour
    standing: Standing
    problem: str = ""


@dataclass(frozen=True)
class PlacedLine:
    """A line with its colours, each beside the chart that is here."""

    line: WrittenLine
    colours: tuple[PlacedColour, ...]

    @property
    def left(self) -> bool:
        """Whether something of it is not taken and should be looked at."""
        return bool(self.line.problem) or any(one.standing is Standing.LEFT for one in self.colours)


@dataclass(frozen=True)
class ChartPreview:
    """What writing a list would do. range_here: there is a range of that name, which it adds to."""

    reading: WrittenChart
    lines: tuple[PlacedLine, ...]
    range_here: bool

    @property
    def colours(self) -> tuple[PlacedColour, ...]:
        """All colours that would be taken."""
        return tuple(c for line in self.lines for c in line.colours if c.standing is not Standing.LEFT)


@dataclass(frozen=True)
class ChartWritten:
    """What was done. left: the lines that were not taken, as they were written, to be mended and written again."""

    range_id: int
    colours: int
    new: int
    left: str
    change: Changed | None


def preview_written(collection: Collection, wanted: ListToWrite) -> ChartPreview:
    """What a list says and what writing it would do; nothing is changed."""
    with collection() as session:
        return _place(session, wanted.text, _range_called(session, wanted))


def write_chart(collection: Collection, wanted: ListToWrite) -> ChartWritten:
    """Write a list: its range, where there is none, the colours that are new, its set, a pencil each where owned.

    What could not be read or is another colour on this chart is handed back. Raises RefusedError for a range without
    a name, and where nothing can be taken.
    """
    if not wanted.range_name.strip():
        raise RefusedError("Say which range these colours are of: its name stands on the tin.")
    with writing(collection, "Chart written") as session:
        line = _range_called(session, wanted)
        seen = _place(session, wanted.text, line)
        if not seen.colours:
            raise RefusedError("No colour could be read from this list. Write a code and a name on each line.")
        line = line or _new_range(session, wanted)
        numbers = _write_colours(session, line, seen.colours)
        boxed = _fill_set(session, line, wanted.set_name, numbers) if wanted.set_name.strip() else None
        session.flush()
        if wanted.own:
            counts = {numbers[fold_code(one.colour.code)]: one.colour.count for one in seen.colours}
            own_these(session, counts, boxed)
        relabel(session, f"{line.name}: {len(seen.colours)} colours written")
        made = changed(session)
        new = sum(one.standing is Standing.NEW for one in seen.colours)
        left = "\n".join(one.line.text for one in seen.lines if one.left)
        return ChartWritten(line.id, len(seen.colours), new, left, made if made.rows else None)


def _range_called(session: Session, wanted: ListToWrite) -> ColourRange | None:
    name = (fold(wanted.maker), fold(wanted.range_name))
    ranges = session.scalars(select(ColourRange).order_by(ColourRange.position))
    return next((line for line in ranges if (fold(line.maker), fold(line.name)) == name), None)


def _place(session: Session, text: str, line: ColourRange | None) -> ChartPreview:
    """Every written colour beside the chart that is here."""
    here: dict[str, Colour] = {}
    if line is not None:
        here = {fold_code(c.code): c for c in session.scalars(select(Colour).where(Colour.range_id == line.id))}
    reading = read_chart_list(text, may_number=not here)
    lines = tuple(PlacedLine(one, tuple(_beside(c, here) for c in one.colours)) for one in reading.lines)
    return ChartPreview(reading, lines, line is not None)


def _beside(colour: WrittenColour, here: dict[str, Colour]) -> PlacedColour:
    if colour.problem:
        return PlacedColour(colour, Standing.LEFT, colour.problem)
    known = here.get(fold_code(colour.code))
    if known is None:
        return PlacedColour(colour, Standing.NEW)
    if fold(known.name) == fold(colour.name):
        return PlacedColour(colour, Standing.HERE)
    return PlacedColour(colour, Standing.LEFT, f"The code {colour.code} is {known.name} on this chart already.")


def _new_range(session: Session, wanted: ListToWrite) -> ColourRange:
    last = session.scalar(select(func.max(ColourRange.position)))
    name, maker = " ".join(wanted.range_name.split()), " ".join(wanted.maker.split())
    line = ColourRange(maker=maker, name=name, position=0 if last is None else last + 1)
    session.add(line)
    session.flush()
    return line


def _write_colours(session: Session, line: ColourRange, placed: Sequence[PlacedColour]) -> dict[str, int]:
    """The number of each colour by its folded code; those that are new go to the end of the chart, in their order."""
    last = session.scalar(select(func.max(Colour.position)).where(Colour.range_id == line.id))
    position = -1 if last is None else last
    for one in placed:
        if one.standing is Standing.NEW:
            position += 1
            session.add(Colour(range_id=line.id, position=position, **_values(one.colour)))
    session.flush()
    charted = session.execute(select(Colour.code, Colour.id).where(Colour.range_id == line.id)).all()
    numbers = {fold_code(code): number for code, number in charted}
    return {code: numbers[code] for code in (fold_code(one.colour.code) for one in placed)}


def _values(colour: WrittenColour) -> dict[str, object]:
    values: dict[str, object] = {
        "code": colour.code, "name": colour.name, "opacity": colour.opacity, "lightfastness": colour.lightfastness,
        "effect": colour.effect or Effect.ORDINARY,
    }  # fmt: skip
    if colour.hex:
        L, a, b = (round(float(v), 4) for v in lab_from_hex(colour.hex))
        values |= {"lab_L": L, "lab_a": a, "lab_b": b, "chart_source": "sRGB hex"}
    return values


def _fill_set(session: Session, line: ColourRange, name: str, numbers: dict[str, int]) -> int:
    """The set of this name with these colours in it; one that is there gets what it lacks."""
    name = " ".join(name.split())
    boxed = session.scalar(select(BoxedSet).where(BoxedSet.range_id == line.id, BoxedSet.name == name))
    if boxed is None:
        boxed = BoxedSet(range_id=line.id, name=name)
        session.add(boxed)
        session.flush()
    inside = set(session.scalars(select(SetColour.colour_id).where(SetColour.set_id == boxed.id)))
    session.add_all(SetColour(set_id=boxed.id, colour_id=i) for i in numbers.values() if i not in inside)
    return boxed.id
