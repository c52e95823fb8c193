"""What was read from a photo taken into the collection: swatches like any others, with how far each may be off."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.sheet.judging import CellState, Flag
from tidy_tinder.core.sheet.knowledge import Guide
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Ground, Pressure, Source
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.photos.over_black import told_over_black
from tidy_tinder.services.photos.store import photo_called, reading_of
from tidy_tinder.services.photos.words import GUIDE_WORDS
from tidy_tinder.services.sheets.store import sheet_called
from tidy_tinder.services.swatches.store import MadeMark, Measurement, store_swatch
from tidy_tinder.storage.models import PhotoState, SheetPlace
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.storage.queries.swatches import measured_marks


def take_cells(collection: Collection, photo_id: int, indices: Sequence[int]) -> Changed:
    """Store the marks of these cells, over the black bar too. What a colour reader measured is left as it is.

    Raises NotFoundError, RefusedError.
    """
    with writing(collection, "Marks taken from a photo") as session:
        photo, reading = photo_called(session, photo_id), reading_of(session, photo_id)
        if reading.state != PhotoState.READ or reading.found is None:
            raise RefusedError("This photo is not read yet.")
        sheet = sheet_called(session, photo.sheet_id)
        places = session.scalars(
            select(SheetPlace).where(SheetPlace.sheet_id == sheet.id, SheetPlace.page == reading.page)
        )
        placed = {place.cell: place for place in places}
        cells = {cell["index"]: cell for cell in reading.found["cells"]}
        colours, known = chart_by_id(session), measured_by_reader(session, sheet.paper_id)
        instrument = f"photo, {GUIDE_WORDS[Guide(reading.found['guide'])]}"
        marks = 0
        for index in dict.fromkeys(indices):
            if index not in placed or index not in cells:
                raise NotFoundError(f"There is no pencil in place {index} of this page.")
            _check_can_be_taken(cells[index], index in photo.taken)
            for made, zone in _marks_of(cells[index], placed[index], sheet.paper_id, colours):
                if made not in known:
                    store_swatch(session, made, _measurement(zone, instrument))
                    marks += 1
        photo.taken = sorted({*photo.taken, *indices})
        relabel(session, f"{marks} {'mark' if marks == 1 else 'marks'} taken from a photo of page {reading.page}")
        return changed(session)


def measured_by_reader(session: Session, paper_id: int) -> frozenset[MadeMark]:
    """The dry marks on a paper, bare or over black, that a colour reader measured."""
    return frozenset(
        MadeMark(colour_id, paper_id, pressure, layers, over=over)
        for over in Ground
        for colour_id, marks in measured_marks(session, paper_id, over).items()
        for (pressure, layers), mark in marks.items()
        if mark.source == Source.READER
    )


def _marks_of(
    cell: Mapping[str, Any], place: SheetPlace, paper_id: int, colours: Mapping[int, ColourRow]
) -> list[tuple[MadeMark, Mapping[str, Any]]]:
    """The marks of one cell, each with what was read of it."""
    mark = MadeMark(place.colour_id, paper_id, Pressure.HEAVY, place.layers)
    marks = [(replace(mark, pressure=pressure), cell["zones"][pressure.value]) for pressure in MARK_PRESSURES]
    over_black = told_over_black(cell, colours[place.colour_id].opacity)
    return marks if over_black is None else [*marks, (replace(mark, over=Ground.BLACK), over_black)]


def _check_can_be_taken(cell: Mapping[str, Any], taken: bool) -> None:
    if taken:
        raise RefusedError("One of these is taken already. Undo that first, or remove its swatches.")
    asked = Flag.WHITE_OR_EMPTY in cell["flags"]
    if cell["state"] == CellState.LEFT_OUT:
        raise RefusedError("A lamp is mirrored in one of these. Photograph the page anew.")
    if cell["state"] == CellState.EMPTY and not asked:
        raise RefusedError("One of these is empty: there is nothing to take.")


def _measurement(zone: Mapping[str, Any], instrument: str) -> Measurement:
    L, a, b = zone["lab"]
    return Measurement((min(max(L, 0.0), 100.0), a, b), Source.PHOTO, instrument, doubt=zone["sd"])
