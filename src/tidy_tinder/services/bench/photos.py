"""Photos of a drawing that wait for their check, from a file, a phone or the demo's camera; corners found in them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

import numpy as np
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.reference.views import coded_for_screen
from tidy_tinder.core.reflectance.camera_space import CameraSpace
from tidy_tinder.formats.picture.decoding import check_picture
from tidy_tinder.formats.picture.kinds import REFERENCE, shown_name
from tidy_tinder.services.background.other_process import OtherProcess
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, unjournaled, writing
from tidy_tinder.services.reference.apart import open_apart
from tidy_tinder.services.reference.pictures import unpacked
from tidy_tinder.services.reference.store import find_reference
from tidy_tinder.services.reference.view import adjusted_light, png_of
from tidy_tinder.storage.models import DrawingPhoto, DrawingPhotoPicture

if TYPE_CHECKING:
    from tidy_tinder.core.reference.working import Light

# Each keeps a picture of some megabytes.
_MOST_WAITING = 12
# As large as corners are tapped in; finding them looks at less.
_SHOWN = 1600
# Of the reference only its proportions are asked for.
_SMALL = 200


@dataclass(frozen=True)
class PhotoView:
    """A photo that waits."""

    id: int
    name: str
    sent_at: datetime


def add_drawing_photo(collection: Collection, drawing_id: int, name: str, content: bytes) -> tuple[int, Changed]:
    """Take a photo of a drawing in. It is opened in a process of its own, so that what is no picture, or too large,
    harms nothing here.

    Raises NotFoundError, RefusedError and UnreadableError with what is wrong with it.
    """
    check_picture(content, REFERENCE)
    with collection() as session:
        _check_room(session, drawing_id)
    opened = open_apart(OtherProcess(), content)
    if opened is None or opened.refused:
        raise RefusedError(opened.refused if opened else "The photo was not opened.")
    with writing(collection, "Photo of the drawing added") as session:
        drawing = find_drawing(session, drawing_id)
        _check_room(session, drawing_id)
        photo = DrawingPhoto(drawing_id=drawing_id, name=shown_name(name, "photo"), sent_at=now())
        session.add(photo)
        session.flush()
        session.add(
            DrawingPhotoPicture(
                photo_id=photo.id, working=opened.working, curve=list(opened.curve),
                matrix=[list(row) for row in opened.matrix], profile=opened.profile,
            )
        )  # fmt: skip
        relabel(session, f"Photo of “{drawing.name}” added")
        return photo.id, changed(session)


def waiting_photos(collection: Collection, drawing_id: int) -> tuple[PhotoView, ...]:
    """The photos of a drawing that wait, the newest first. Raises NotFoundError."""
    with collection() as session:
        find_drawing(session, drawing_id)
        return tuple(PhotoView(one.id, one.name, one.sent_at) for one in _waiting(session, drawing_id))


def remove_drawing_photo(collection: Collection, photo_id: int) -> Changed:
    """Do without a photo; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Photo of the drawing removed") as session:
        session.delete(find_photo(session, photo_id))
        return changed(session)


def picture_of_photo(collection: Collection, photo_id: int) -> bytes:
    """The photo, upright, as PNG, so large that corners can be tapped in it. Raises NotFoundError."""
    with collection() as session:
        light = photo_light(session, find_photo(session, photo_id), _SHOWN)
    return png_of(coded_for_screen(light))


def corners_in(collection: Collection, photo_id: int, reference_id: int) -> tuple[tuple[float, float], ...] | None:
    """The corners of the picture in a photo, from 0 to 1, to be offered; None where they are not found.

    Raises NotFoundError, RefusedError where the picture that it is drawn from is not open.
    """
    from tidy_tinder.core.reference.value_check.finding import find_picture  # noqa: PLC0415 -- loaded when it is asked

    with collection() as session:
        light = photo_light(session, find_photo(session, photo_id), _SHOWN)
        like = adjusted_light(session, find_reference(session, reference_id), _SMALL)
    found = find_picture(light, like.shape[0] / like.shape[1])
    return None if found is None else tuple((float(x), float(y)) for x, y in found)


def find_photo(session: Session, photo_id: int) -> DrawingPhoto:
    """The photo of this number; raises NotFoundError."""
    photo = session.get(DrawingPhoto, photo_id)
    if photo is None:
        raise NotFoundError(f"There is no photo number {photo_id}. It may have been removed in another window.")
    return photo


def photo_light(session: Session, photo: DrawingPhoto, longest: int | None = None) -> Light:
    """The light of a photo, (h, w, 3); longest: no larger than that. Raises NotFoundError where its picture is gone."""
    kept = session.get(DrawingPhotoPicture, photo.id)
    if kept is None:
        raise NotFoundError("The picture of this photo is gone. Take it again.")
    return unpacked(kept.working, CameraSpace(np.array(kept.curve), np.array(kept.matrix), kept.profile)).light(longest)


def forget_photos(collection: Collection) -> None:
    """Let go of the pictures of photos that were removed or checked before this start: undo has had its time."""
    with unjournaled(collection) as session:
        kept = select(DrawingPhoto.id)
        session.execute(delete(DrawingPhotoPicture).where(DrawingPhotoPicture.photo_id.not_in(kept)))


def _waiting(session: Session, drawing_id: int) -> Sequence[DrawingPhoto]:
    mine = select(DrawingPhoto).where(DrawingPhoto.drawing_id == drawing_id)
    return session.scalars(mine.order_by(DrawingPhoto.id.desc())).all()


def _check_room(session: Session, drawing_id: int) -> None:
    find_drawing(session, drawing_id)
    waiting = session.scalar(select(func.count(DrawingPhoto.id)).where(DrawingPhoto.drawing_id == drawing_id)) or 0
    if waiting >= _MOST_WAITING:
        raise RefusedError(f"{_MOST_WAITING} photos of this drawing wait already. Check or remove some of them first.")
