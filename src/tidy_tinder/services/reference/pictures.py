"""Working copies of references, and the one file that the loupe looks into: decoded once, kept for a while."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from tidy_tinder.core.reflectance.camera_space import CameraSpace
from tidy_tinder.formats.picture.kinds import REFERENCE
from tidy_tinder.services.background.runtime import collection_of
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.reference.store import picture_of
from tidy_tinder.storage.models import PictureState, ReferencePicture

if TYPE_CHECKING:
    from tidy_tinder.core.reference.working import WorkingPicture


def working_picture(session: Session, reference_id: int) -> WorkingPicture:
    """The working copy. Raises NotFoundError where its file is gone, RefusedError where it is not opened."""
    picture = opened_picture(session, reference_id)
    kept: WorkingPicture = collection_of(session).pictures.of(reference_id, lambda: _working(picture))
    return kept


def file_pixels(session: Session, reference_id: int) -> tuple[NDArray[np.uint8], CameraSpace]:
    """The file itself, upright, for the loupe: the working copy where that is as large. Raises as `working_picture`."""
    picture = opened_picture(session, reference_id)
    working = working_picture(session, reference_id)
    if working.pixels.shape[:2] == (picture.height, picture.width):
        return working.pixels, working.space
    pixels: NDArray[np.uint8] = collection_of(session).files.of(reference_id, lambda: _whole(picture))
    return pixels, working.space


def opened_picture(session: Session, reference_id: int) -> ReferencePicture:
    """The row of a picture that is open. Raises NotFoundError, RefusedError with the reason why it is not."""
    picture = picture_of(session, reference_id)
    if picture.state is PictureState.REFUSED:
        raise RefusedError(picture.message)
    if picture.state is not PictureState.READY:
        raise RefusedError("This picture is still being opened. It takes a few seconds.")
    return picture


def _working(picture: ReferencePicture) -> WorkingPicture:
    assert picture.working is not None, "a picture that is ready has its copy"
    return unpacked(picture.working, CameraSpace(np.array(picture.curve), np.array(picture.matrix), picture.profile))


def unpacked(png: bytes, space: CameraSpace) -> WorkingPicture:
    """A picture that was packed as PNG by us; space: what its numbers stand for."""
    import cv2  # noqa: PLC0415 -- loaded when a picture is seen

    from tidy_tinder.core.reference.working import WorkingPicture  # noqa: PLC0415 -- the same

    coded = cv2.imdecode(np.frombuffer(png, dtype=np.uint8), cv2.IMREAD_COLOR)
    assert coded is not None, "it is a PNG of ours"
    return WorkingPicture(np.asarray(cv2.cvtColor(coded, cv2.COLOR_BGR2RGB), dtype=np.uint8), space)


def _whole(picture: ReferencePicture) -> NDArray[np.uint8]:
    """Decoded here: another process has opened this very file within its limits before."""
    from tidy_tinder.formats.picture.decoding import decode_picture  # noqa: PLC0415 -- loaded for the loupe

    return decode_picture(picture.content, REFERENCE).pixels
