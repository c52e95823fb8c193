"""What fade tests send and get. Changes are ΔE*ab (CIE 1976), with CIEDE2000 beside it."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from tidy_tinder.core.fading.classes import WOOLS, FadeClass
from tidy_tinder.core.vocabulary import FadeHalf, FadePlace, MarkPressure, Pressure
from tidy_tinder.services.fading.store import StripAs
from tidy_tinder.storage.models.fading import MOST_LIGHT_HOURS
from tidy_tinder.web.shared.base import Id, LabTriple, Out, Schema
from tidy_tinder.web.shared.drawn import ColourOut, PatchOut

_MOST_MARKS = 60


class FadeStripPath(Schema):
    """The number of a strip."""

    strip_id: Id


class FadeMarkPath(Schema):
    """The number of a mark on a strip."""

    mark_id: Id


class FadeMarkIn(Schema):
    """A mark that is made on a strip."""

    colour: Id
    pressure: MarkPressure = Pressure.HEAVY


class FadeStripIn(Schema):
    """A strip that is laid into the light."""

    name: str = Field(max_length=200)
    paper_id: Id
    place: FadePlace
    begun_on: date
    marks: Annotated[list[FadeMarkIn], Field(max_length=_MOST_MARKS)]

    def said(self) -> StripAs:
        """As the services take it."""
        marks = tuple((one.colour, one.pressure) for one in self.marks)
        return StripAs(self.name, self.paper_id, self.place, self.begun_on, marks)


class HalfIn(Schema):
    """One half of a mark on a day. lab: as it is typed in; without it the colour reader reads it."""

    half: FadeHalf
    read_on: date
    lab: LabTriple | None = None


class FromPhotoIn(Schema):
    """Read one half of all marks from a photo of a sheet."""

    photo_id: Id
    half: FadeHalf
    read_on: date


class LightIn(Schema):
    """The light until a day: hours, and the highest blue wool that has faded."""

    read_on: date
    light_hours: float | None = Field(default=None, ge=0.0, le=MOST_LIGHT_HOURS, allow_inf_nan=False)
    wool: int | None = Field(default=None, ge=1, le=WOOLS)


class OverIn(Schema):
    """Whether a strip is taken out of the light."""

    over: bool


class FadeChangeOut(Out):
    """How far a colour has come, nine of ten between low and high, and the classes that it may mean."""

    delta_e_ab: float
    low: float
    high: float
    delta_e_2000: float
    classes: list[FadeClass]


class SeenDayOut(Out):
    """A mark on a day."""

    read_on: date
    change: FadeChangeOut
    by_first: bool
    from_beginning: bool
    hours: float | None
    wool: int | None


class FadedMarkOut(Out):
    """A mark of a strip: as it was read last, its days, and what it is held to show."""

    id: int
    colour: ColourOut
    pressure: Pressure
    open: PatchOut | None
    covered: PatchOut | None
    seen: list[SeenDayOut]
    held: list[FadeClass]


class HalfReadOut(Out):
    """A half that was read."""

    mark_id: int
    half: FadeHalf


class LookOut(Out):
    """A day on which a strip was read."""

    read_on: date
    halves: list[HalfReadOut]
    light_hours: float | None
    wool: int | None


class FadeStripOut(Out):
    """A strip in the light."""

    id: int
    name: str
    paper: str
    place: FadePlace
    begun_on: date
    over: bool
    days: int
    due: date | None
    is_due: bool
    marks: list[FadedMarkOut]
    looks: list[LookOut]


class FadeStripsOut(Schema):
    """All strips."""

    strips: list[FadeStripOut]


class SheetPhotoOut(Out):
    """A photo of a sheet that a strip can be read from."""

    id: int
    name: str
    added_on: date


class FadeStripPageOut(Schema):
    """A strip with what it takes to read it. limits: the largest ΔE*ab of classes I to IV."""

    strip: FadeStripOut
    photos: list[SheetPhotoOut]
    limits: list[float]
