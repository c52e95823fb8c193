"""Photos as they are shown: in the list of a sheet, and one by one with all its cells."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.sheet.judging import CellState, Flag
from tidy_tinder.core.sheet.knowledge import Guide
from tidy_tinder.core.sheet.layout import Box, Layout
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Ground, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.photos.over_black import told_over_black
from tidy_tinder.services.photos.store import photo_called, reading_of
from tidy_tinder.services.photos.taking import measured_by_reader
from tidy_tinder.services.photos.words import FLAG_WORDS, GUIDE_ADVICE, GUIDE_WORDS, STEP_WORDS
from tidy_tinder.services.sheets.store import sheet_called
from tidy_tinder.services.sheets.view import layout_on
from tidy_tinder.storage.models import Paper, Photo, PhotoReading, PhotoState, Sheet, SheetPlace
from tidy_tinder.storage.queries.colours import ColourRow

# A frame's bare windows that part so far from the paper of the sheet are another paper's.
_OTHER_PAPER = 5.0


@dataclass(frozen=True)
class PhotoCard:
    """A photo in the list. step: what is being done; message: why it is refused; of its pencils: clean, doubtful, empty
    and left out, and those that were taken.
    """

    id: int
    name: str
    state: PhotoState
    step: str
    message: str
    page: int | None
    pencils: int
    clean: int
    doubtful: int
    empty: int
    taken: int


@dataclass(frozen=True)
class PhotoZone:
    """One mark as it was read. spread: ΔE00 within which it lies with 90 %; off: ΔE00 from what a reader measured."""

    pressure: Pressure
    colour: Patch
    spread: float
    off: float | None


@dataclass(frozen=True)
class PhotoCell:
    """One pencil's cell. layers: of each of its marks; box: in mm on the page; words: why it is doubtful; over_black:
    the heavy mark on the black bar, where it is told.
    """

    index: int
    colour_id: int
    code: str
    name: str
    layers: int
    box: Box
    state: CellState
    words: tuple[str, ...]
    zones: tuple[PhotoZone, ...]
    over_black: PhotoZone | None
    taken: bool
    can_be_taken: bool


@dataclass(frozen=True)
class PhotoView:
    """A photo with all that was read. remarks: what the picture as a whole leaves to be wished for."""

    card: PhotoCard
    sheet_id: int
    title: str
    paper_name: str
    page_mm: tuple[float, float]
    guide: str
    advice: str
    remarks: tuple[str, ...]
    cells: tuple[PhotoCell, ...]


def photo_cards(collection: Collection, sheet_id: int) -> tuple[PhotoCard, ...]:
    """The photos of a sheet, the newest first. Raises NotFoundError."""
    with collection() as session:
        sheet_called(session, sheet_id)
        rows = session.execute(
            select(Photo, PhotoReading)
            .join(PhotoReading, PhotoReading.photo_id == Photo.id)
            .where(Photo.sheet_id == sheet_id)
            .order_by(Photo.id.desc())
        ).all()
        return tuple(_card(session, photo, reading) for photo, reading in rows)


@dataclass(frozen=True)
class SentPhoto:
    """A photo as the phone that sent it sees it."""

    name: str
    under_way: bool
    words: str


def photos_called(collection: Collection, ids: Sequence[int]) -> tuple[SentPhoto, ...]:
    """How far these photos are, the newest first; those that were removed are left out."""
    with collection() as session:
        rows = session.execute(
            select(Photo, PhotoReading)
            .join(PhotoReading, PhotoReading.photo_id == Photo.id)
            .where(Photo.id.in_(ids))
            .order_by(Photo.id.desc())
        ).all()
        return tuple(_sent(_card(session, photo, reading)) for photo, reading in rows)


def _sent(card: PhotoCard) -> SentPhoto:
    match card.state:
        case PhotoState.READ:
            words = f"Page {card.page}: {card.clean} clean, {card.doubtful} to look at, on the computer."
        case PhotoState.REFUSED:
            words = card.message
        case PhotoState.STOPPED:
            words = "Stopped."
        case _:
            words = f"{card.step or 'Waits for its turn'} …"
    return SentPhoto(card.name, card.state in (PhotoState.WAITING, PhotoState.READING), words)


def photo_view(collection: Collection, photo_id: int) -> PhotoView:
    """A photo with its cells; none before it is read. Raises NotFoundError."""
    with collection() as session:
        photo, reading = photo_called(session, photo_id), reading_of(session, photo_id)
        sheet = sheet_called(session, photo.sheet_id)
        paper = session.get(Paper, sheet.paper_id)
        assert paper is not None  # a sheet keeps its paper
        found = reading.found if reading.state == PhotoState.READ else None
        layout = layout_on(sheet, reading.page or 1)
        guide = Guide(found["guide"]) if found else Guide.PAPER
        return PhotoView(
            _card(session, photo, reading), sheet.id, sheet.title, paper.name, layout.page_mm,
            GUIDE_WORDS[guide] if found else "", GUIDE_ADVICE[guide] if found else "",
            _remarks(found, sheet, paper) if found else (),
            tuple(_cells(session, photo, reading.page, sheet, layout, found["cells"])) if found else (),
        )  # fmt: skip


def flat_page(collection: Collection, photo_id: int) -> bytes:
    """The page made flat, as JPEG at 10 pixels a mm. Raises NotFoundError."""
    with collection() as session:
        photo_called(session, photo_id)
        flat = reading_of(session, photo_id).flat
    if flat is None:
        raise NotFoundError("This photo is not read, so there is no flat page of it.")
    return flat


def original(collection: Collection, photo_id: int) -> tuple[str, bytes]:
    """The file as it came, with its name. Raises NotFoundError."""
    with collection() as session:
        return photo_called(session, photo_id).name, reading_of(session, photo_id).content


def _card(session: Session, photo: Photo, reading: PhotoReading) -> PhotoCard:
    states: list[CellState] = []
    if reading.state == PhotoState.READ and reading.found is not None:
        placed = _places_on(session, photo.sheet_id, reading.page)
        states = [CellState(cell["state"]) for cell in reading.found["cells"] if cell["index"] in placed]
    return PhotoCard(
        photo.id, photo.name, reading.state, STEP_WORDS.get(reading.step, ""), reading.message, reading.page,
        len(states), states.count(CellState.CLEAN),
        states.count(CellState.DOUBTFUL) + states.count(CellState.LEFT_OUT), states.count(CellState.EMPTY),
        len(photo.taken),
    )  # fmt: skip


def _places_on(session: Session, sheet_id: int, page: int | None) -> dict[int, SheetPlace]:
    """What has each cell of a page."""
    places = session.scalars(select(SheetPlace).where(SheetPlace.sheet_id == sheet_id, SheetPlace.page == page))
    return {place.cell: place for place in places}


def _cells(
    session: Session,
    photo: Photo,
    page: int | None,
    sheet: Sheet,
    layout: Layout,
    cells: Sequence[Mapping[str, Any]],
) -> list[PhotoCell]:
    colours, placed = chart_by_id(session), _places_on(session, sheet.id, page)
    boxes = {cell.index: cell.box for cell in layout.cells}
    by_reader = measured_by_reader(session, sheet.paper_id)
    known = {(mark.colour_id, mark.layers) for mark in by_reader if mark.over is Ground.BLACK}
    return [
        _cell(cell, place, colours[place.colour_id], boxes[cell["index"]], cell["index"] in photo.taken, known)
        for cell in cells
        if (place := placed.get(cell["index"])) is not None
    ]


def _cell(
    cell: Mapping[str, Any], place: SheetPlace, colour: ColourRow, box: Box, taken: bool, known: Set[tuple[int, int]]
) -> PhotoCell:
    """known: colour and layers of what a reader has measured over black."""
    over_black = _over_black(cell, colour)
    to_take = over_black is not None and (place.colour_id, place.layers) not in known
    return PhotoCell(
        place.cell, place.colour_id, colour.code, colour.name, place.layers, box, CellState(cell["state"]),
        tuple(FLAG_WORDS[Flag(flag)] for flag in cell["flags"]), tuple(_zones(cell)), over_black, taken,
        _takable(cell, to_take),
    )  # fmt: skip


def _zones(cell: Mapping[str, Any]) -> list[PhotoZone]:
    return [
        PhotoZone(p, patch(cell["zones"][p.value]["lab"]), cell["zones"][p.value]["spread"], cell["off"].get(p.value))
        for p in MARK_PRESSURES
    ]


def _over_black(cell: Mapping[str, Any], colour: ColourRow) -> PhotoZone | None:
    bar = told_over_black(cell, colour.opacity)
    return None if bar is None else PhotoZone(Pressure.HEAVY, patch(bar["lab"]), bar["spread"], None)


def _takable(cell: Mapping[str, Any], tells_of_black: bool) -> bool:
    """Whether there is something to take: of a cell of which a reader has measured all else, its black bar alone."""
    if len(cell["off"]) == len(MARK_PRESSURES) and not tells_of_black:
        return False
    if cell["state"] == CellState.EMPTY:
        return Flag.WHITE_OR_EMPTY in cell["flags"]
    return bool(cell["state"] != CellState.LEFT_OUT)


def _remarks(found: Mapping[str, Any], sheet: Sheet, paper: Paper) -> tuple[str, ...]:
    said = [finding["advice"] for finding in found["quality"]["findings"]]
    if not found["code"]:
        said.append(f"Its code cannot be read. See that {sheet.token} stands on the page before you take anything.")
    if (seen := found["art_paper"]) is not None:
        off = float(delta_e_2000(np.array(seen["lab"]), np.array([paper.lab_L, paper.lab_a, paper.lab_b])))
        if off > max(_OTHER_PAPER, seen["spread"]):
            said.append(f"The paper in the bare windows looks otherwise than {paper.name}. Is it another one?")
    return tuple(said)
