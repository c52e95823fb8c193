"""Photos of printed sheets: the list, one with its cells, what is taken from it."""

from __future__ import annotations

from pydantic import Field, field_validator

from tidy_tinder.core.sheet.judging import CellState
from tidy_tinder.core.sheet.layout import Box
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.photos.simulated import Condition
from tidy_tinder.storage.models import PhotoState
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Asked, Id, Out, Schema
from tidy_tinder.web.shared.drawn import PatchOut


class PhotoPath(Schema):
    """The number of a photo."""

    photo_id: Id


class PhotoForm(Asked):
    """A photo as the browser sends it."""

    file: UploadedFile


class PhotoCardOut(Out):
    """A photo in the list of a sheet."""

    id: int
    name: str
    state: PhotoState
    step: str = Field(description="what is being done with it, in words")
    message: str = Field(description="why it is refused, and what to do")
    page: int | None
    pencils: int
    clean: int
    doubtful: int
    empty: int
    taken: int


class PhotosOut(Schema):
    """The photos of a sheet, the newest first."""

    photos: list[PhotoCardOut]


class PhotoZoneOut(Out):
    """One mark as it was read."""

    pressure: Pressure
    colour: PatchOut
    spread: float = Field(description="nine of ten lie within this ΔE00")
    off: float | None = Field(description="ΔE00 from what a colour reader measured")


class PhotoCellOut(Out):
    """One pencil's cell; layers: of each of its marks; box: x, y, width, height in mm on the page; over_black: the
    heavy mark on the black bar, where it is told.
    """

    index: int
    colour_id: int
    code: str
    name: str
    layers: int
    box: list[float]
    state: CellState
    words: list[str]
    zones: list[PhotoZoneOut]
    over_black: PhotoZoneOut | None
    taken: bool
    can_be_taken: bool

    @field_validator("box", mode="before")
    @classmethod
    def _as_list(cls, box: Box) -> list[float]:
        return [box.x, box.y, box.width, box.height]


class PhotoOut(Out):
    """A photo with all that was read from it."""

    card: PhotoCardOut
    sheet_id: int
    title: str
    paper_name: str
    page_mm: list[float]
    guide: str
    advice: str
    remarks: list[str]
    cells: list[PhotoCellOut]


class TakeIn(Schema):
    """The cells whose marks are taken."""

    cells: list[int] = Field(min_length=1, max_length=200)


class SimulatedPhotoIn(Schema):
    """What the simulated camera is to photograph, and under which conditions."""

    page: int = Field(ge=1, le=31)
    condition: Condition
    filled: int = Field(ge=0, le=100, default=100, description="how much of the page is coloured in, in per cent")
