"""Strips in the light: begun, read half by half on a day, noted, ended, removed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.fading.classes import WOOLS
from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.sheet.judging import CellState
from tidy_tinder.core.vocabulary import MARK_PRESSURES, FadeHalf, FadePlace, MarkPressure, Source
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import existing
from tidy_tinder.services.collection.paper import find_paper, root_name
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.fading.results import note_results
from tidy_tinder.services.journal import Changed, changed, now, relabel, writing
from tidy_tinder.services.photos.store import photo_called, reading_of
from tidy_tinder.services.reader import ReaderLink
from tidy_tinder.services.sheets.store import sheet_called
from tidy_tinder.storage.models import FadeLook, FadeMark, FadeReading, FadeStrip, PhotoState, SheetPlace
from tidy_tinder.storage.models.fading import MOST_LIGHT_HOURS

_MOST_STRIPS, _MOST_MARKS, _LONGEST_NAME = 200, 60, 60


@dataclass(frozen=True)
class StripAs:
    """A strip as it is begun: its marks are colours at pressures."""

    name: str
    paper_id: int
    place: FadePlace
    begun_on: date
    marks: tuple[tuple[int, MarkPressure], ...]


def begin_strip(collection: Collection, said: StripAs) -> tuple[int, Changed]:
    """Lay a strip into the light. Raises NotFoundError, RefusedError for what cannot be."""
    name = " ".join(said.name.split())
    marks = tuple(dict.fromkeys(said.marks))
    if not name or len(name) > _LONGEST_NAME:
        raise RefusedError(f"Call the strip something, in at most {_LONGEST_NAME} letters.")
    if not 1 <= len(marks) <= _MOST_MARKS:
        raise RefusedError(f"A strip holds 1 to {_MOST_MARKS} marks. Choose the pencils that are on it.")
    _refuse_future(said.begun_on)
    with writing(collection, "Fade test begun") as session:
        find_paper(session, said.paper_id)
        existing(session, [colour for colour, _ in marks])
        names = set(session.scalars(select(FadeStrip.name)))
        if name in names:
            raise RefusedError(f"There is a strip “{name}” already. Call this one something else.")
        if len(names) >= _MOST_STRIPS:
            raise RefusedError(f"There are {_MOST_STRIPS} strips. Remove one that is over first.")
        strip = FadeStrip(name=name, paper_id=said.paper_id, place=said.place, begun_on=said.begun_on)
        session.add(strip)
        session.flush()
        for position, (colour, pressure) in enumerate(marks):
            session.add(FadeMark(strip_id=strip.id, colour_id=colour, pressure=pressure, position=position))
        relabel(session, f"Fade test “{name}” begun")
        return strip.id, changed(session)


def read_half(
    collection: Collection, link: ReaderLink, mark_id: int, half: FadeHalf, read_on: date, lab: LabTriple | None
) -> Changed:  # fmt: skip
    """Keep how one half of a mark looks on a day; a second reading of a day takes the first one's place.

    lab: as it was typed in, None to read it with the colour reader. Raises NotFoundError, RefusedError, ReaderError.
    """
    _refuse_future(read_on)
    with collection() as session:
        _check_day(_strip_of(session, mark_id), read_on)
        if lab is None:
            _lay_under(session, link, mark_id, half, read_on)
    source = Source.TYPED if lab is not None else Source.READER
    if lab is not None:
        check_lab(np.array(lab), "The colour of this half")
    else:
        L, a, b = (float(v) for v in link.read()[0].lab)
        lab = (min(max(L, 0.0), 100.0), a, b)
    with writing(collection, "Fade test read") as session:
        strip, mark = _strip_of(session, mark_id), session.get_one(FadeMark, mark_id)
        _keep(session, _look(session, strip, read_on), mark, half, lab, source, None)
        note_results(session, [mark.colour_id])
        relabel(session, f"“{strip.name}” read")
        return changed(session)


def read_from_photo(collection: Collection, strip_id: int, photo_id: int, half: FadeHalf, read_on: date) -> Changed:
    """Take from a photo of a printed sheet every mark that is on this strip too, as that half of it.

    Raises NotFoundError, RefusedError where the photo is not read, or has none of the marks.
    """
    _refuse_future(read_on)
    with writing(collection, "Fade test read from a photo") as session:
        strip, photo = find_strip(session, strip_id), photo_called(session, photo_id)
        _check_day(strip, read_on)
        if sheet_called(session, photo.sheet_id).paper_id != strip.paper_id:
            raise RefusedError("This photo shows a sheet of another paper than the strip’s.")
        reading = reading_of(session, photo_id)
        if reading.state != PhotoState.READ or reading.found is None:
            raise RefusedError("This photo is not read yet.")
        places = session.scalars(
            # A strip's marks are of one layer; a pencil may stand on the page in several layers, too.
            select(SheetPlace).where(
                SheetPlace.sheet_id == photo.sheet_id, SheetPlace.page == reading.page, SheetPlace.layers == 1
            )
        )
        cells = {cell["index"]: cell for cell in reading.found["cells"]}
        zones = {
            (place.colour_id, pressure): cells[place.cell]["zones"][pressure.value]
            for place in places
            for pressure in MARK_PRESSURES
            if place.cell in cells and cells[place.cell]["state"] not in (CellState.EMPTY, CellState.LEFT_OUT)
        }
        look, read = _look(session, strip, read_on), []
        for mark in marks_of(session, strip_id):
            if (zone := zones.get((mark.colour_id, mark.pressure))) is not None:
                L, a, b = zone["lab"]
                _keep(session, look, mark, half, (min(max(L, 0.0), 100.0), a, b), Source.PHOTO, zone["sd"])
                read.append(mark.colour_id)
        if not read:
            raise RefusedError("None of the strip’s marks is on this photo: a pencil of it, at its pressure.")
        note_results(session, read)
        relabel(session, f"{len(read)} of “{strip.name}” read from a photo")
        return changed(session)


def note_light(
    collection: Collection, strip_id: int, read_on: date, light_hours: float | None, wool: int | None
) -> Changed | None:  # fmt: skip
    """Note of a day the hours of light so far, and the highest blue wool that has faded.

    Raises NotFoundError, RefusedError.
    """
    if light_hours is not None and not 0 <= light_hours <= MOST_LIGHT_HOURS:
        raise RefusedError(f"Hours of light are between 0 and {MOST_LIGHT_HOURS}.")
    if wool is not None and not 1 <= wool <= WOOLS:
        raise RefusedError(f"Blue wools are numbered from 1 to {WOOLS}.")
    _refuse_future(read_on)
    with writing(collection, "Light noted") as session:
        strip = find_strip(session, strip_id)
        _check_day(strip, read_on)
        look = _look(session, strip, read_on)
        look.light_hours, look.wool = light_hours, wool
        note_results(session, [mark.colour_id for mark in marks_of(session, strip_id)])
        relabel(session, f"Light on “{strip.name}” noted")
        made = changed(session)
        return made if made.rows else None


def end_strip(collection: Collection, strip_id: int, over: bool) -> Changed | None:
    """Take a strip out of the light, or lay it back: nobody is reminded of one that is over. Raises NotFoundError."""
    with writing(collection, "Fade test") as session:
        strip = find_strip(session, strip_id)
        strip.over = over
        relabel(session, f"“{strip.name}” {'taken out of the light' if over else 'back in the light'}")
        made = changed(session)
        return made if made.rows else None


def remove_strip(collection: Collection, strip_id: int) -> Changed:
    """Remove a strip with all its readings, and what they have shown; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Fade test removed") as session:
        strip = find_strip(session, strip_id)
        marks, looks = marks_of(session, strip_id), looks_of(session, strip_id)
        for reading in session.scalars(select(FadeReading).where(FadeReading.look_id.in_([one.id for one in looks]))):
            session.delete(reading)
        session.flush()
        for row in (*marks, *looks):
            session.delete(row)
        session.flush()
        session.delete(strip)
        note_results(session, [mark.colour_id for mark in marks])
        relabel(session, f"Fade test “{strip.name}” removed")
        return changed(session)


def find_strip(session: Session, strip_id: int) -> FadeStrip:
    """A strip by its number. Raises NotFoundError."""
    strip = session.get(FadeStrip, strip_id)
    if strip is None:
        raise NotFoundError(f"There is no fade test number {strip_id}. It may have been removed in another window.")
    return strip


def marks_of(session: Session, strip_id: int) -> Sequence[FadeMark]:
    """The marks of a strip, in order."""
    mine = select(FadeMark).where(FadeMark.strip_id == strip_id)
    return session.scalars(mine.order_by(FadeMark.position, FadeMark.id)).all()


def looks_of(session: Session, strip_id: int) -> Sequence[FadeLook]:
    """The days on which a strip was read, in order."""
    return session.scalars(select(FadeLook).where(FadeLook.strip_id == strip_id).order_by(FadeLook.read_on)).all()


def _strip_of(session: Session, mark_id: int) -> FadeStrip:
    mark = session.get(FadeMark, mark_id)
    if mark is None:
        raise NotFoundError(f"There is no mark number {mark_id} on a strip. It may have been removed.")
    return find_strip(session, mark.strip_id)


def _look(session: Session, strip: FadeStrip, read_on: date) -> FadeLook:
    """The day of a strip; made where it is not there yet."""
    mine = select(FadeLook).where(FadeLook.strip_id == strip.id, FadeLook.read_on == read_on)
    look = session.scalars(mine).one_or_none()
    if look is None:
        look = FadeLook(strip_id=strip.id, read_on=read_on)
        session.add(look)
        session.flush()
    return look


def _keep(
    session: Session, look: FadeLook, mark: FadeMark, half: FadeHalf, lab: LabTriple, source: Source,
    doubt: float | None,
) -> None:  # fmt: skip
    mine = select(FadeReading).where(
        FadeReading.look_id == look.id, FadeReading.mark_id == mark.id, FadeReading.half == half
    )
    reading = session.scalars(mine).one_or_none()
    if reading is None:
        reading = FadeReading(look_id=look.id, mark_id=mark.id, half=half)
        session.add(reading)
    reading.lab_L, reading.lab_a, reading.lab_b = lab
    reading.source, reading.doubt = source, doubt


def _lay_under(session: Session, link: ReaderLink, mark_id: int, half: FadeHalf, read_on: date) -> None:
    """While it follows, the simulated reader finds this half under it, after the light of so many days."""
    if not (link.simulated and link.follows):
        return
    mark = session.get_one(FadeMark, mark_id)
    strip = find_strip(session, mark.strip_id)
    paper, row = find_paper(session, strip.paper_id), existing(session, [mark.colour_id])[mark.colour_id]
    key = f"{row.range_name} {row.code}"
    days = (read_on - strip.begun_on).days if half is FadeHalf.OPEN else 0
    link.place(
        f"the {half} half of {key} on “{strip.name}”", root_name(session, paper), [(key, mark.pressure)],
        making=mark.id, light=[strip.place.value, days],
    )  # fmt: skip


def _check_day(strip: FadeStrip, read_on: date) -> None:
    if read_on < strip.begun_on:
        raise RefusedError(
            f"“{strip.name}” was laid into the light on {strip.begun_on.isoformat()}: no earlier day can be read."
        )


def _refuse_future(day: date) -> None:
    # Whoever lives far east of Greenwich is a day ahead of it.
    if day > now().date() + timedelta(days=1):
        raise RefusedError("This day is still to come.")
