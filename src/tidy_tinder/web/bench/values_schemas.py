"""What the value check sends and gets."""

from __future__ import annotations

import re

from pydantic import Field, field_validator

from tidy_tinder.core.reference.squint import LEAST_SHARE, MOST_SHARE
from tidy_tinder.services.bench.values import Way
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Id, Moment, Out, Schema

_PAIR = re.compile(r"-?\d{1,3}(?:\.\d{1,9})?,-?\d{1,3}(?:\.\d{1,9})?")


class CheckPath(Schema):
    """The number of a check."""

    check_id: Id


class CheckForm(Schema):
    """A photo of the drawing as the browser sends it. corners: four times “x,y” from 0 to 1 of the upright photo,
    parted by spaces: top left, top right, bottom right, bottom left of the picture; overrule: go on where it looks
    unlike.
    """

    file: UploadedFile
    reference_id: Id
    corners: str = Field(max_length=200)
    overrule: bool = False

    @field_validator("corners")
    @classmethod
    def _four(cls, said: str) -> str:
        parts = said.split()
        if len(parts) != 4 or not all(_PAIR.fullmatch(part) for part in parts):
            raise ValueError("four corners, each as x,y")
        return said

    def places(self) -> list[tuple[float, float]]:
        """The corners as numbers."""
        pairs = [part.split(",") for part in self.corners.split()]
        return [(float(x), float(y)) for x, y in pairs]


class CheckPictureQuery(Schema):
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
    not_drawn: float
    cannot_tell: float
    mended: int | None
    before: int


class ChecksOut(Schema):
    """The checks of a drawing, the newest first."""

    checks: list[CheckOut]
