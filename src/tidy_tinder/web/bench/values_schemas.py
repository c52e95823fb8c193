"""What the value check sends and gets."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tidy_tinder.core.reference.squint import LEAST_SHARE, MOST_SHARE
from tidy_tinder.services.bench.simulated import Condition
from tidy_tinder.services.bench.values import Way
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Asked, Id, Moment, Out, Schema


class CheckPath(Schema):
    """The number of a check."""

    check_id: Id


Share = Annotated[float, Field(ge=-1.0, le=2.0, allow_inf_nan=False)]
"""A place in a photo, from 0 to 1 of its width or height; a corner may lie a little outside."""


class CheckIn(Schema):
    """Check a photo that waits. corners: of the picture in the upright photo: top left, top right, bottom right, bottom
    left; overrule: go on where it looks unlike; patch: bare paper in the photo, where the picture has no margin.
    """

    photo_id: Id
    reference_id: Id
    corners: Annotated[list[tuple[Share, Share]], Field(min_length=4, max_length=4)]
    overrule: bool = False
    patch: tuple[Share, Share] | None = None


class DrawingPhotoForm(Asked):
    """A photo of the drawing as the browser sends it."""

    file: UploadedFile


class DrawingPhotoPath(Schema):
    """The number of a photo of a drawing."""

    photo_id: Id


class CornersQuery(Asked):
    """Which picture the photo is to be laid on."""

    reference_id: Id


class DrawingPhotoOut(Out):
    """A photo that waits for its check."""

    id: int
    name: str
    sent_at: Moment


class DrawingPhotosOut(Schema):
    """The photos of a drawing that wait, the newest first."""

    photos: list[DrawingPhotoOut]


class CornersOut(Schema):
    """The corners of the picture as they were found, to be looked at; None where they were not."""

    corners: list[tuple[float, float]] | None


class SimulatedDrawingIn(Schema):
    """What the demo's camera is to photograph. mended: some planted faults put right; finished: all of it drawn."""

    reference_id: Id
    condition: Condition
    mended: bool = False
    finished: bool = False


class CheckPictureQuery(Asked):
    """grey: as values; squint: blurred by this share of the width."""

    grey: bool = False
    squint: float | None = Field(default=None, ge=LEAST_SHARE, le=MOST_SHARE, allow_inf_nan=False)


class RegionOut(Out):
    """A region that should go darker or lighter; off: L* by which it is too light (above 0) or too dark."""

    way: Way
    off: float
    steps: float
    share: float
    x: float
    y: float
    outline: list[list[float]]


class RungOut(Out):
    """How much of picture and drawing lies at one step of value."""

    value: int
    picture: float
    drawing: float


class CheckOut(Out):
    """A check of values."""

    id: int
    reference_id: int
    made_at: Moment
    name: str
    words: list[str]
    regions: list[RegionOut]
    darkest: float
    darkest_asked: float
    ladder: list[RungOut]
    not_drawn: float
    cannot_tell: float
    mended: int | None
    before: int


class ChecksOut(Schema):
    """The checks of a drawing, the newest first."""

    checks: list[CheckOut]
