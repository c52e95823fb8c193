"""Charts by hand: ranges, colours, sets added, corrected, removed; a removal that something hangs on is refused."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import fold_code
from tidy_tinder.core.names.spans import read_spans
from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.vocabulary import LONGEST_PENCIL_MM, SHORTEST_NEW_PENCIL_MM, Effect, Opacity, PrintedOpacity
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import charted_colours, colour_named, entry_of
from tidy_tinder.services.collection.held import refuse_if_held
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.storage.models import (
    BoxedSet,
    Choice,
    Colour,
    ColourRange,
    Exclusion,
    FadeMark,
    LogEntry,
    Pencil,
    Price,
    RecipeCall,
    Scrap,
    ScrapLayer,
    SessionItem,
    SetColour,
    SheetPlace,
    Swatch,
    SwatchSession,
    TrayPencil,
    Wanted,
)

# What keeps a colour from being removed: where it hangs, in words for one and for several.
_HOLDS = (
    (Pencil.colour_id, "pencil that you own", "pencils that you own"),
    (Swatch.colour_id, "swatch", "swatches"),
    (Swatch.burnisher_id, "swatch that was burnished with it", "swatches that were burnished with it"),
    (RecipeCall.colour_id, "call of a recipe", "calls of recipes"),
    (RecipeCall.other_colour_id, "call of a recipe as one of two", "calls of recipes as one of two"),
    (Choice.colour_id, "choice as a stand-in", "choices as a stand-in"),
    (Choice.over_colour_id, "choice as the upper of two layers", "choices as the upper of two layers"),
    (Exclusion.colour_id, "call whose plan leaves it out", "calls whose plans leave it out"),
    (Scrap.wanted_id, "strip that was tried for it", "strips that were tried for it"),
    (ScrapLayer.colour_id, "layer of a strip", "layers of strips"),
    (SessionItem.colour_id, "place in a swatching session", "places in swatching sessions"),
    (SheetPlace.colour_id, "place on a printed sheet", "places on printed sheets"),
    (SwatchSession.burnisher_id, "session that burnishes with it", "sessions that burnish with it"),
    (LogEntry.colour_id, "line of a drawing’s log", "lines of drawings’ logs"),
    (LogEntry.instead_of_id, "line of a log in its place", "lines of logs in its place"),
    (FadeMark.colour_id, "mark of a fade test", "marks of fade tests"),
    (Wanted.colour_id, "place on the list of what to buy", "places on the list of what to buy"),
)


@dataclass(frozen=True)
class RangeAs:
    """All that can be said of a range."""

    maker: str
    name: str
    feel: str
    new_length_mm: int
    holds_point: bool | None = None
    water_soluble: bool | None = None


@dataclass(frozen=True)
class ColourAs:
    """All that a chart says of a colour; lab D65, 2°, or None."""

    code: str
    name: str
    lab: LabTriple | None
    opacity: PrintedOpacity
    lightfastness: str
    effect: Effect


def add_range(collection: Collection, wanted: RangeAs) -> tuple[int, Changed]:
    """A new, empty range, after those that are there. Raises RefusedError for one that is there already."""
    with writing(collection, f"Range {wanted.name} added") as session:
        _check_range(session, wanted, None)
        last = session.scalar(select(func.max(ColourRange.position)))
        line = ColourRange(**asdict(wanted), position=0 if last is None else last + 1)
        session.add(line)
        session.flush()
        return line.id, changed(session)


def edit_range(collection: Collection, range_id: int, revision: int, wanted: RangeAs) -> Changed | None:
    """Say anew all of a range. Raises NotFoundError, RefusedError, ChangedMeanwhileError."""
    with writing(collection, f"Range {wanted.name} changed") as session:
        line = _range(session, range_id)
        _check_range(session, wanted, range_id)
        revise(line, revision, asdict(wanted), f"The range {line.name}")
        made = changed(session)
        return made if made.rows else None


def remove_range(collection: Collection, range_id: int) -> Changed:
    """Remove a range with its chart and sets; refused, with the reason, where anything hangs on a colour."""
    with writing(collection, "Range removed") as session:
        line = _range(session, range_id)
        relabel(session, f"Range {line.name} removed")
        colours = list(session.scalars(select(Colour).where(Colour.range_id == range_id)))
        refuse_if_held(session, _HOLDS, [c.id for c in colours], f"The range {line.name}")
        sets = list(session.scalars(select(BoxedSet).where(BoxedSet.range_id == range_id)))
        for boxed in sets:
            _delete_set(session, boxed)
        _delete_colours(session, colours)
        for price in session.scalars(select(Price).where(Price.range_id == range_id)):
            session.delete(price)
        session.flush()
        session.delete(line)
        return changed(session)


def add_colour(collection: Collection, range_id: int, wanted: ColourAs) -> tuple[int, Changed]:
    """A new colour at the end of a chart. Raises NotFoundError, RefusedError, OutOfRangeError for the Lab."""
    with writing(collection, "Colour added") as session:
        line = _range(session, range_id)
        values = _colour_values(session, range_id, wanted, None)
        last = session.scalar(select(func.max(Colour.position)).where(Colour.range_id == range_id))
        colour = Colour(range_id=range_id, position=0 if last is None else last + 1, **values)
        session.add(colour)
        session.flush()
        relabel(session, f"{line.name} {colour.code} {colour.name} added")
        return colour.id, changed(session)


def correct_colour(collection: Collection, colour_id: int, revision: int, wanted: ColourAs) -> Changed | None:
    """Say anew what the chart says of a colour. Raises NotFoundError, RefusedError, ChangedMeanwhileError."""
    with writing(collection, "Chart corrected") as session:
        colour = session.get(Colour, colour_id)
        if colour is None:
            raise NotFoundError(f"There is no colour number {colour_id}. It may have been removed in another window.")
        name = colour_named(session, colour_id)
        revise(colour, revision, _colour_values(session, colour.range_id, wanted, colour), f"The chart of {name}")
        relabel(session, f"Chart of {name} corrected")
        made = changed(session)
        return made if made.rows else None


def remove_colour(collection: Collection, colour_id: int) -> Changed:
    """Remove a colour from its chart; refused, with the reason, where anything hangs on it."""
    with writing(collection, "Colour removed") as session:
        name = colour_named(session, colour_id)
        refuse_if_held(session, _HOLDS, [colour_id], name)
        _delete_colours(session, [session.get_one(Colour, colour_id)])
        relabel(session, f"{name} removed from the chart")
        return changed(session)


def add_set(collection: Collection, range_id: int, name: str, codes: str) -> tuple[int, Changed]:
    """A boxed set from typed codes. Raises NotFoundError; RefusedError for codes that are not on the chart."""
    with writing(collection, f"Set {name} added") as session:
        line = _range(session, range_id)
        chart = [entry_of(row) for row in charted_colours(session) if row.range_id == range_id]
        reading = read_spans(codes, chart)
        if reading.unknown:
            raise RefusedError(f"Not on the chart of {line.name}: {', '.join(reading.unknown)}.")
        if not reading.keys or not name.strip():
            raise RefusedError("A set needs a name and at least one code, such as 101-112, 120.")
        if session.scalar(select(BoxedSet.id).where(BoxedSet.range_id == range_id, BoxedSet.name == name.strip())):
            raise RefusedError(f"{line.name} has a set called {name.strip()} already.")
        boxed = BoxedSet(range_id=range_id, name=name.strip())
        session.add(boxed)
        session.flush()
        session.add_all(SetColour(set_id=boxed.id, colour_id=i) for i in reading.keys)
        return boxed.id, changed(session)


def remove_set(collection: Collection, set_id: int) -> Changed:
    """Remove a boxed set; refused where pencils came from it. Raises NotFoundError, RefusedError."""
    with writing(collection, "Set removed") as session:
        boxed = session.get(BoxedSet, set_id)
        if boxed is None:
            raise NotFoundError(f"There is no set number {set_id}.")
        count = session.scalar(select(func.count(Pencil.id)).where(Pencil.set_id == set_id)) or 0
        if count:
            raise RefusedError(f"{count} of your pencils came from the set {boxed.name}, so it stays.")
        relabel(session, f"Set {boxed.name} removed")
        _delete_set(session, boxed)
        return changed(session)


def _range(session: Session, range_id: int) -> ColourRange:
    line = session.get(ColourRange, range_id)
    if line is None:
        raise NotFoundError(f"There is no range number {range_id}. It may have been removed in another window.")
    return line


def _check_range(session: Session, wanted: RangeAs, own_id: int | None) -> None:
    if not wanted.name.strip():
        raise RefusedError("A range needs a name.")
    if not SHORTEST_NEW_PENCIL_MM <= wanted.new_length_mm <= LONGEST_PENCIL_MM:
        raise RefusedError(
            f"A new pencil is {SHORTEST_NEW_PENCIL_MM} to {LONGEST_PENCIL_MM} mm long, not {wanted.new_length_mm}."
        )
    same = select(ColourRange.id).where(ColourRange.maker == wanted.maker, ColourRange.name == wanted.name)
    if session.scalar(same) not in (None, own_id):
        raise RefusedError(f"There is a range {wanted.maker} {wanted.name} already.".replace("  ", " "))


def _colour_values(session: Session, range_id: int, wanted: ColourAs, own: Colour | None) -> dict[str, object]:
    """The columns for what is wanted, checked."""
    code, name = " ".join(wanted.code.split()), " ".join(wanted.name.split())
    if not code or not name:
        raise RefusedError("A colour needs a code and a name.")
    if wanted.opacity not in (*Opacity, "") or wanted.effect not in tuple(Effect):
        raise RefusedError(f"Opacity is {', '.join(Opacity)} or blank; effect is {', '.join(Effect)}.")
    others = session.execute(select(Colour.id, Colour.code, Colour.name).where(Colour.range_id == range_id)).all()
    same = next((o for o in others if fold_code(o.code) == fold_code(code) and (own is None or o.id != own.id)), None)
    if same is not None:
        raise RefusedError(f"The code {code} is {same.name} on this chart already.")
    if wanted.lab is not None:
        check_lab(np.array(wanted.lab), "The chart's colour")
    L, a, b = wanted.lab if wanted.lab is not None else (None, None, None)
    unchanged = own is not None and (own.lab_L, own.lab_a, own.lab_b) == (L, a, b)
    source = own.chart_source if own is not None and unchanged else ("typed" if wanted.lab else "")
    return {
        "code": code, "name": name, "lab_L": L, "lab_a": a, "lab_b": b, "chart_source": source,
        "opacity": wanted.opacity, "lightfastness": " ".join(wanted.lightfastness.split()), "effect": wanted.effect,
    }  # fmt: skip


def _delete_colours(session: Session, colours: Sequence[Colour]) -> None:
    """Colours, their places in sets, and in the tray; children first, so that the journal has them."""
    ids = [c.id for c in colours]
    for place in session.scalars(select(SetColour).where(SetColour.colour_id.in_(ids))):
        session.delete(place)
    for pulled in session.scalars(select(TrayPencil).where(TrayPencil.colour_id.in_(ids))):
        session.delete(pulled)
    for price in session.scalars(select(Price).where(Price.colour_id.in_(ids))):
        session.delete(price)
    session.flush()
    for colour in colours:
        session.delete(colour)
    session.flush()


def _delete_set(session: Session, boxed: BoxedSet) -> None:
    for child in session.scalars(select(SetColour).where(SetColour.set_id == boxed.id)):
        session.delete(child)
    for price in session.scalars(select(Price).where(Price.set_id == boxed.id)):
        session.delete(price)
    session.flush()
    session.delete(boxed)
    session.flush()
