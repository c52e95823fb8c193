"""Photos read one after another in the background; each can be stopped, and a program that ends is taken up."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure, Source
from tidy_tinder.formats.sheet_page import PrintedPage
from tidy_tinder.services.background.one_by_one import OneByOne
from tidy_tinder.services.background.other_process import OtherProcess
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.photos.apart import Answer, Question, read_apart
from tidy_tinder.services.photos.store import take_up
from tidy_tinder.services.sheets.view import pages_of
from tidy_tinder.storage.engine import WRITER
from tidy_tinder.storage.models import Paper, Photo, PhotoReading, PhotoState, Sheet, SheetPlace
from tidy_tinder.storage.queries.swatches import measured_marks

_FAILED = "Reading this photo failed. The reason stands in the window where the program was started."


class PhotoReader(OneByOne):
    """Reads the photos of one collection that wait, the first one first."""

    def __init__(self, collection: Collection) -> None:
        super().__init__(collection, "photos")

    def _take_up(self) -> int:
        return take_up(self._collection)

    def _next(self) -> int | None:
        with self._collection() as session:
            session.connection(execution_options=WRITER)
            waiting = select(PhotoReading).join(Photo, Photo.id == PhotoReading.photo_id)
            reading = session.scalars(
                waiting.where(PhotoReading.state == PhotoState.WAITING).order_by(PhotoReading.photo_id).limit(1)
            ).first()
            if reading is None:
                return None
            reading.state = PhotoState.READING
            session.commit()
            return reading.photo_id

    def _work(self, number: int, process: OtherProcess) -> None:
        question = _question(self._collection, number)
        if question is None:
            return
        answer = read_apart(process, question, lambda step: self._say(number, step))
        if answer is not None:
            self._keep(number, answer)

    def _failed(self, number: int) -> None:
        self._keep(number, Answer(refused=_FAILED))

    def _say(self, photo_id: int, step: str) -> None:
        with self._collection() as session:
            session.connection(execution_options=WRITER)
            reading = session.get(PhotoReading, photo_id)
            if reading is not None and reading.state == PhotoState.READING:
                reading.step = step
                session.commit()

    def _keep(self, photo_id: int, answer: Answer) -> None:
        with self._collection() as session:
            session.connection(execution_options=WRITER)
            reading = session.get(PhotoReading, photo_id)
            # Whoever stopped it meanwhile does not want to hear of it.
            if reading is None or reading.state != PhotoState.READING:
                return
            reading.step = ""
            if answer.refused:
                reading.state, reading.message = PhotoState.REFUSED, answer.refused
            else:
                reading.state, reading.message = PhotoState.READ, ""
                reading.page, reading.flat = answer.page, answer.flat
                reading.found = dict(answer.found or {})
            session.commit()


def _question(collection: Collection, photo_id: int) -> Question | None:
    """The photo, and what is known of the pages that it may show; None where it was removed just now."""
    with collection() as session:
        row = session.get(PhotoReading, photo_id)
        photo = session.get(Photo, photo_id)
        sheet = session.get(Sheet, photo.sheet_id) if photo is not None else None
        if row is None or sheet is None:
            return None
        return Question(row.content, [(page, _knowledge(session, sheet, page)) for page in pages_of(session, sheet)])


def _knowledge(session: Session, sheet: Sheet, page: PrintedPage) -> PageKnowledge:
    """The paper, the ramp if it was measured, and every mark of this page that a reader has measured on this paper."""
    paper = session.get(Paper, sheet.paper_id)
    assert paper is not None  # a sheet keeps its paper
    ramp = {int(percent) / 100: _triple(lab) for percent, lab in (sheet.ramp or {}).items()}
    return PageKnowledge((paper.lab_L, paper.lab_a, paper.lab_b), ramp, _by_reader(session, sheet, page))


def _by_reader(
    session: Session, sheet: Sheet, page: PrintedPage
) -> dict[tuple[int, Pressure], tuple[float, float, float]]:
    measured = measured_marks(session, sheet.paper_id)
    places = session.scalars(
        select(SheetPlace).where(SheetPlace.sheet_id == sheet.id, SheetPlace.page == page.page)
    ).all()
    return {
        (place.cell, pressure): mark.lab
        for place in places
        for pressure in MARK_PRESSURES
        if (mark := measured.get(place.colour_id, {}).get((pressure, place.layers))) is not None
        and mark.source == Source.READER
    }


def _triple(values: object) -> tuple[float, float, float]:
    L, a, b = (float(v) for v in values)  # type: ignore[attr-defined]  # three numbers of JSON
    return L, a, b
