"""Photos taken in, stopped, read again, removed."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from tidy_tinder.formats.picture.decoding import check_picture
from tidy_tinder.formats.picture.kinds import shown_name
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, writing
from tidy_tinder.services.sheets.store import sheet_called
from tidy_tinder.storage.engine import WRITER
from tidy_tinder.storage.models import Photo, PhotoReading, PhotoState

# Of one sheet; each is kept as it came, and a set has at most 31 pages.
_MOST_PHOTOS = 100


def add_photo(collection: Collection, sheet_id: int, name: str, content: bytes) -> tuple[int, Changed]:
    """Keep a photo of a sheet's page, to be read. Raises NotFoundError, RefusedError, UnreadableError."""
    check_picture(content)
    with writing(collection, "Photo added") as session:
        sheet = sheet_called(session, sheet_id)
        if len(session.scalars(select(Photo.id).where(Photo.sheet_id == sheet_id)).all()) >= _MOST_PHOTOS:
            raise RefusedError(f"A sheet keeps at most {_MOST_PHOTOS} photos. Remove those that are no longer needed.")
        photo = Photo(sheet_id=sheet.id, name=shown_name(name, "photo"), added_on=datetime.now(UTC).date(), taken=[])
        session.add(photo)
        session.flush()
        session.add(PhotoReading(photo_id=photo.id, content=content))
        return photo.id, changed(session)


def remove_photo(collection: Collection, photo_id: int) -> Changed:
    """Remove a photo with its original; what was taken from it stays. Undo brings it back until the program ends.

    Raises NotFoundError.
    """
    with writing(collection, "Photo removed") as session:
        session.delete(photo_called(session, photo_id))
        return changed(session)


def read_again(collection: Collection, photo_id: int) -> None:
    """Let a photo be read once more, with what is known by now. Raises NotFoundError, RefusedError."""
    with collection() as session:
        session.connection(execution_options=WRITER)
        photo_called(session, photo_id)
        reading = reading_of(session, photo_id)
        if reading.state in (PhotoState.WAITING, PhotoState.READING):
            raise RefusedError("This photo is being read already.")
        reading.state, reading.step, reading.message = PhotoState.WAITING, "", ""
        session.commit()


def mark_stopped(collection: Collection, photo_id: int) -> None:
    """The artist does not wait for a photo any more; one that is read stays read. Raises NotFoundError."""
    with collection() as session:
        session.connection(execution_options=WRITER)
        photo_called(session, photo_id)
        reading = reading_of(session, photo_id)
        if reading.state in (PhotoState.WAITING, PhotoState.READING):
            reading.state, reading.step = PhotoState.STOPPED, ""
        session.commit()


def take_up(collection: Collection) -> int:
    """When a program begins: what was being read waits again, what belongs to removed photos goes. How many wait."""
    with collection() as session:
        session.connection(execution_options=WRITER)
        session.execute(delete(PhotoReading).where(PhotoReading.photo_id.not_in(select(Photo.id))))
        for reading in session.scalars(select(PhotoReading).where(PhotoReading.state == PhotoState.READING)):
            reading.state, reading.step, reading.taken_up = PhotoState.WAITING, "", reading.taken_up + 1
        waiting = session.scalars(select(PhotoReading.photo_id).where(PhotoReading.state == PhotoState.WAITING)).all()
        session.commit()
        return len(waiting)


def photo_called(session: Session, photo_id: int) -> Photo:
    """The photo of this number; raises NotFoundError."""
    photo = session.get(Photo, photo_id)
    if photo is None:
        raise NotFoundError(f"There is no photo number {photo_id}. It may have been removed in another window.")
    return photo


def reading_of(session: Session, photo_id: int) -> PhotoReading:
    """What was read from a photo so far; raises NotFoundError where its picture is gone."""
    reading = session.get(PhotoReading, photo_id)
    if reading is None:
        raise NotFoundError("The picture of this photo is gone: it was removed before the program was started last.")
    return reading
