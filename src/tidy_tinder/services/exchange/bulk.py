"""Bringing much in at once: sets, pencils with their places, swatches; each list one change."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import Finish, Ground, PencilState, Pressure, Source
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.journal import Changed, changed, writing
from tidy_tinder.services.swatches.store import MadeMark, Measurement, new_swatch
from tidy_tinder.services.tidy.pencils import NewPencil, store_pencils
from tidy_tinder.storage.models import BoxedSet, Colour, ColourRange, Paper, SetColour

K = TypeVar("K")
V = TypeVar("V")


@dataclass(frozen=True)
class NewSet:
    """A boxed set: range name, its own name, codes."""

    range_name: str
    name: str
    codes: tuple[str, ...]


@dataclass(frozen=True)
class NamedPencil:
    """An owned stick: colour by range and code, the set it came from ("" bought singly), place, length, state."""

    range_name: str
    code: str
    set_name: str
    tin: str
    slot: int
    length_mm: int
    state: PencilState
    stamp_readable: bool


@dataclass(frozen=True)
class NamedSwatch:
    """A measured mark: colour by range and code, paper by name, how it was made, Lab and spectrum (31)."""

    range_name: str
    code: str
    paper: str
    pressure: Pressure
    layers: int
    finish: Finish
    over: Ground
    lab: LabTriple
    spectrum: tuple[float, ...] | None
    source: Source
    instrument: str
    made_on: date


@dataclass(frozen=True)
class RangeFeel:
    """How a range feels, in words; whether it holds a point and dissolves in water (None where it is not said)."""

    feel: str
    holds_point: bool | None = None
    water_soluble: bool | None = None


def describe_ranges(collection: Collection, feels: Mapping[str, RangeFeel]) -> Changed:
    """Say how ranges feel, by range name. Raises NotFoundError."""
    with writing(collection, "Ranges described") as session:
        ranges = {row.name: row for row in session.scalars(select(ColourRange))}
        for name, feel in feels.items():
            line = _named(ranges, name, "range")
            line.feel, line.holds_point, line.water_soluble = feel.feel, feel.holds_point, feel.water_soluble
        return changed(session)


def add_sets(collection: Collection, sets: Sequence[NewSet]) -> Changed:
    """Add boxed sets. Raises NotFoundError for a range or code that is not charted."""
    with writing(collection, "Sets added") as session:
        ranges = {row.name: row for row in session.scalars(select(ColourRange))}
        colours = _colours(session)
        for new in sets:
            boxed = BoxedSet(range_id=_named(ranges, new.range_name, "range").id, name=new.name)
            session.add(boxed)
            session.flush()
            ids = [_named(colours, (new.range_name, code), "colour") for code in new.codes]
            session.add_all(SetColour(set_id=boxed.id, colour_id=i) for i in ids)
        return changed(session)


def add_pencils(collection: Collection, pencils: Sequence[NamedPencil]) -> Changed:
    """Add owned pencils with their places. Raises NotFoundError for a colour or set that is not there."""
    with writing(collection, "Pencils added") as session:
        colours = _colours(session)
        sets = {row.name: row.id for row in session.scalars(select(BoxedSet))}
        store_pencils(
            session,
            (
                NewPencil(
                    _named(colours, (new.range_name, new.code), "colour"),
                    _named(sets, new.set_name, "set") if new.set_name else None,
                    new.tin, new.slot, new.length_mm, new.state, new.stamp_readable,
                )
                for new in pencils
            ),
        )  # fmt: skip
        return changed(session)


def add_swatches(collection: Collection, swatches: Sequence[NamedSwatch]) -> Changed:
    """Add measured marks.

    Raises NotFoundError for a colour or paper that is not there, RefusedError and OutOfRangeError for what cannot be.
    """
    with writing(collection, "Swatches added") as session:
        colours = _colours(session)
        papers = {row.name: row.id for row in session.scalars(select(Paper))}
        for new in swatches:
            mark = MadeMark(
                _named(colours, (new.range_name, new.code), "colour"), _named(papers, new.paper, "paper"),
                new.pressure, new.layers, new.finish, new.over,
            )  # fmt: skip
            measured = Measurement(new.lab, new.source, new.instrument, new.spectrum, made_on=new.made_on)
            session.add(new_swatch(mark, measured))
        return changed(session)


def _colours(session: Session) -> dict[tuple[str, str], int]:
    """Ids of the charted colours by range name and code."""
    query = select(ColourRange.name, Colour.code, Colour.id).join(ColourRange, Colour.range_id == ColourRange.id)
    return {(name, code): colour_id for name, code, colour_id in session.execute(query).all()}


def _named(known: Mapping[K, V], key: K, what: str) -> V:
    """The entry, or an error that says what is not there."""
    if key not in known:
        raise NotFoundError(f"There is no {what} {key!r}.")
    return known[key]
