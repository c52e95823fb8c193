"""Reading charts, pencils and sets."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.fading.classes import FadeClass, held_classes, in_one_word, lasts, worst_of
from tidy_tinder.core.vocabulary import Effect, PencilState, PrintedOpacity
from tidy_tinder.storage.models import BoxedSet, Colour, ColourRange, FadeResult, Pencil, SetColour


@dataclass(frozen=True)
class ColourRow:
    """One charted colour with its range, in chart order. lightfastness: as the chart prints it; tested: what own fade
    tests have shown, "" without.
    """

    id: int
    range_id: int
    maker: str
    range_name: str
    code: str
    name: str
    lab: tuple[float, float, float] | None
    chart_source: str
    opacity: PrintedOpacity
    lightfastness: str
    effect: Effect
    revision: int
    holds_point: bool | None
    water_soluble: bool | None
    tested: str = ""

    @property
    def rated(self) -> str:
        """How it is rated for light: by an own fade test where there is a result, else as the chart prints it."""
        return self.tested or self.lightfastness

    @property
    def lasts(self) -> bool:
        """Whether it is held to last in the light."""
        return lasts(self.rated)


@dataclass(frozen=True)
class PencilRow:
    """One owned stick."""

    id: int
    colour_id: int
    set_id: int | None
    tin: str
    slot: int | None
    length_mm: int | None
    state: PencilState
    stamp_readable: bool
    notes: str
    revision: int

    @property
    def drawable(self) -> bool:
        """Whether it can be drawn with: neither lost nor used up."""
        return self.state in DRAWABLE_STATES


# A pencil in one of these states can be drawn with.
DRAWABLE_STATES = (PencilState.IN_USE, PencilState.SPARE)


def colour_rows(session: Session) -> list[ColourRow]:
    """All charted colours, by range and chart order."""
    columns = (
        Colour.id, Colour.range_id, ColourRange.maker, ColourRange.name, Colour.code, Colour.name,
        Colour.lab_L, Colour.lab_a, Colour.lab_b, Colour.chart_source, Colour.opacity, Colour.lightfastness,
        Colour.effect, Colour.revision, ColourRange.holds_point, ColourRange.water_soluble,
        FadeResult.read,
    )  # fmt: skip
    query = (
        select(*columns)
        .join(ColourRange, Colour.range_id == ColourRange.id)
        .outerjoin(FadeResult, FadeResult.colour_id == Colour.id)
        .order_by(ColourRange.position, ColourRange.id, Colour.position, Colour.id)
    )
    rows = []
    for row in session.execute(query).all():
        id_, range_id, maker, range_name, code, name, L, a, b, *rest, read = row
        lab = None if L is None or a is None or b is None else (L, a, b)
        colour = ColourRow(id_, range_id, maker, range_name, code, name, lab, *rest)
        rows.append(colour if read is None else replace(colour, tested=_tested(read, colour.lightfastness)))
    return rows


def _tested(read: Sequence[tuple[Sequence[str], int | None]], charted: str) -> str:
    """What own tests are held to have shown beside a chart, in one word."""
    held = [held_classes([FadeClass(one) for one in classes], wool, charted) for classes, wool in read]
    return in_one_word(worst_of(held))


def pencils_by_colour(session: Session) -> Mapping[int, Sequence[PencilRow]]:
    """Every owned stick, by colour."""
    query = select(
        Pencil.id, Pencil.colour_id, Pencil.set_id, Pencil.tin, Pencil.slot, Pencil.length_mm, Pencil.state,
        Pencil.stamp_readable, Pencil.notes, Pencil.revision,
    ).order_by(Pencil.id)  # fmt: skip
    by_colour: dict[int, list[PencilRow]] = defaultdict(list)
    for row in session.execute(query).all():
        by_colour[row[1]].append(PencilRow(*row))  # type: ignore[call-arg] # eleven columns: typed up to ten
    return by_colour


def drawable_colours(session: Session) -> set[int]:
    """The colours of which a pencil can be drawn with."""
    return set(session.scalars(select(Pencil.colour_id).where(Pencil.state.in_(DRAWABLE_STATES)).distinct()))


def set_contents(session: Session) -> list[tuple[int, int, str, list[int]]]:
    """Every boxed set: id, range id, name, ids of its colours."""
    names = session.execute(select(BoxedSet.id, BoxedSet.range_id, BoxedSet.name).order_by(BoxedSet.id)).all()
    contents: dict[int, list[int]] = defaultdict(list)
    for set_id, colour_id in session.execute(select(SetColour.set_id, SetColour.colour_id)).all():
        contents[set_id].append(colour_id)
    return [(row.id, row.range_id, row.name, contents[row.id]) for row in names]
