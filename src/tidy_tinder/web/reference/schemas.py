"""What the station of references sends and gets."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, field_validator

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.reference.adjusting import LEAST_CONTRAST, MOST_CONTRAST, WHOLE, Adjustments
from tidy_tinder.core.reference.main_colours import FEWEST_COLOURS, MOST_COLOURS
from tidy_tinder.core.reference.picking import LEAST_RADIUS, MOST_RADIUS
from tidy_tinder.core.reference.sections import section_grid
from tidy_tinder.core.reference.squint import LEAST_SHARE, MOST_SHARE
from tidy_tinder.core.reference.views import View
from tidy_tinder.core.reference.zones import FEWEST_ZONES, MOST_ZONES, Steps
from tidy_tinder.core.vocabulary import LARGEST_DRAWING_MM, SMALLEST_DRAWING_MM
from tidy_tinder.services.reference.picks import MOST_PICKS
from tidy_tinder.services.reference.view import VIEW_SIDE
from tidy_tinder.storage.models import PictureState
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Id, LabTriple, Out, Schema
from tidy_tinder.web.shared.drawn import DifferenceOut, PatchOut
from tidy_tinder.web.shared.offers import CoatOut
from tidy_tinder.web.shared.paths import PaperQuery

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
"""A place along a side of the picture, from 0 to 1."""


class ReferencePath(Schema):
    """The number of a reference."""

    reference_id: Id


class PickPath(Schema):
    """The number of a pick."""

    pick_id: Id


class ReferenceForm(Schema):
    """A picture as the browser sends it."""

    file: UploadedFile


class StepsIn(Schema):
    """What is laid on a picture when it is shown. neutral: Lab of what was tapped as a grey, as the picture came;
    crop: left, top, right, bottom from 0 to 1 of the turned picture.
    """

    revision: Id
    neutral: LabTriple | None = None
    quarter_turns: int = Field(default=0, ge=0, le=3)
    mirrored: bool = False
    crop: list[Share] = Field(default=list(WHOLE), min_length=4, max_length=4)
    contrast: float = Field(default=1.0, ge=LEAST_CONTRAST, le=MOST_CONTRAST, allow_inf_nan=False)

    def steps(self) -> Adjustments:
        """As the core takes them."""
        neutral = None if self.neutral is None else (self.neutral[0], self.neutral[1], self.neutral[2])
        left, top, right, bottom = self.crop
        return Adjustments(neutral, self.quarter_turns, self.mirrored, (left, top, right, bottom), self.contrast)


class StepsOut(Out):
    """The steps as they are."""

    neutral: LabTriple | None
    quarter_turns: int
    mirrored: bool
    crop: list[float]
    contrast: float


class ReferenceCardOut(Out):
    """A picture in the list; state null and a message where its file is gone."""

    id: int
    name: str
    state: PictureState | None
    message: str
    width: int
    height: int
    picks: int


class ReferencesOut(Schema):
    """The pictures of a drawing."""

    references: list[ReferenceCardOut]


class PartingOut(Out):
    """The pick that one parts from least."""

    number: int
    difference: DifferenceOut


class PickOut(Out):
    """A pick; x, y: from 0 to 1 of the picture as it is shown, outside where it is cropped away."""

    id: int
    revision: int
    number: int
    name: str
    area: str
    x: float
    y: float
    radius: float
    found: bool
    colour: PatchOut
    came: LabTriple = Field(description="Lab in the picture as it came")
    spread: float
    share: float | None
    value: float
    described: str
    beware: list[str]
    nearest: PartingOut | None
    surround: PatchOut | None


class ReferenceOut(Out):
    """A picture with its steps and picks, from light to dark."""

    card: ReferenceCardOut
    revision: int
    drawing_id: int
    steps: StepsOut
    profile: str
    shown_width: int
    shown_height: int
    picks: list[PickOut]


class ViewQuery(Schema):
    """How the picture is looked at. zones: borders in L*, rising; wide_mm, high_mm: of the drawing whose sections are
    laid over it as a grid; marked: the number of a pick.
    """

    side: int = Field(default=VIEW_SIDE, ge=64, le=VIEW_SIDE)
    grey: bool = False
    squint: float | None = Field(default=None, ge=LEAST_SHARE, le=MOST_SHARE, allow_inf_nan=False)
    zones: list[float] | None = Field(default=None, max_length=MOST_ZONES - 1)
    warm_cool: bool = False
    upside_down: bool = False
    wide_mm: float | None = Field(default=None, ge=SMALLEST_DRAWING_MM, le=LARGEST_DRAWING_MM, allow_inf_nan=False)
    high_mm: float | None = Field(default=None, ge=SMALLEST_DRAWING_MM, le=LARGEST_DRAWING_MM, allow_inf_nan=False)
    marked: int | None = Field(default=None, ge=1, le=100_000)

    def view(self) -> View:
        """As the core takes it."""
        sections = None if self.wide_mm is None or self.high_mm is None else section_grid(self.wide_mm, self.high_mm)
        grid = None if sections is None else (sections.columns, sections.rows)
        zones = tuple(self.zones) if self.zones else None
        return View(self.grey, self.squint, zones, self.warm_cool, self.upside_down, grid)


class ZonesQuery(Schema):
    """How many zones, and how their borders are laid; borders: where the artist has dragged them."""

    count: int = Field(default=5, ge=FEWEST_ZONES, le=MOST_ZONES)
    steps: Steps = Steps.EVEN
    borders: list[float] | None = Field(default=None, min_length=FEWEST_ZONES - 1, max_length=MOST_ZONES - 1)

    @field_validator("borders")
    @classmethod
    def _finite(cls, borders: list[float] | None) -> list[float] | None:
        if borders is not None and not all(0 <= border <= 100 for border in borders):
            raise ValueError("A border between zones is an L* from 0 to 100.")
        return borders


class ZoneShareOut(Out):
    """A value zone: its borders in L*, its mean, its share of the picture, its Munsell value."""

    low: float
    high: float
    mean: PatchOut
    share: float
    value: float


class ZonesOut(Schema):
    """The value zones of a picture, from dark to light."""

    zones: list[ZoneShareOut]


class LoupeQuery(Schema):
    """Where the loupe lies in the picture as it is shown; radius: in pixels of the file."""

    x: Share
    y: Share
    radius: float = Field(ge=LEAST_RADIUS, le=MOST_RADIUS, allow_inf_nan=False)


class LookedOut(Schema):
    """What the loupe sees, as it is in the adjusted picture; came: as the picture came."""

    colour: PatchOut
    came: LabTriple
    spread: float
    near: float
    two_meet: bool
    other: PatchOut | None
    other_share: float
    pixels: int
    small: bool


class PickIn(LoupeQuery):
    """A place to be picked."""


class MainColoursIn(Schema):
    """How many main colours are looked for."""

    count: int = Field(ge=FEWEST_COLOURS, le=MOST_COLOURS)


class PickNameIn(Schema):
    """What a pick and its area are called."""

    revision: Id
    name: str = Field(max_length=400)
    area: str = Field(max_length=400)


class PicksIn(Schema):
    """Several picks of one picture."""

    ids: list[Id] = Field(min_length=1, max_length=MOST_PICKS)


class AnswersQuery(PaperQuery):
    """The paper, what closest means, whether the picture's range is laid into what the paper reaches."""

    closest: Closest = Closest.OVERALL
    mapped: bool = False


class PickAnswerOut(Out):
    """One way to lay a pick; the lower pencil first."""

    laid: list[CoatOut]
    said: str
    offered: PatchOut
    difference: DifferenceOut
    ranked_by: float
    plus_minus: float
    tie: bool


class WayOut(Out):
    """One way in which a pick is out of reach here, and the closest way to it."""

    words: str
    way: str


class AnswersOut(Out):
    """The ways to lay a pick, nearest first; while pairs are mixed, done of total, only single pencils."""

    ready: bool
    done: int
    total: int
    problem: str
    wanted: PatchOut
    mapped: bool
    offers: list[PickAnswerOut]
    beyond: list[WayOut]


class EndOut(Out):
    """One end of the picture's range beside the paper's, as Munsell values."""

    picture: float
    paper: float
    said: str
    reached: bool
    ways: list[str]


class ReachOut(Out):
    """How far the paper reaches the picks; while pairs are mixed, done of total."""

    ready: bool
    done: int
    total: int
    darkest: EndOut | None
    lightest: EndOut | None
