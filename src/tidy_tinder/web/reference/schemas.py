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
from tidy_tinder.core.vocabulary import LARGEST_DRAWING_MM, MOST_PENCILS, SMALLEST_DRAWING_MM, Role
from tidy_tinder.services.reference.answering import PickWish
from tidy_tinder.services.reference.picks import MOST_PICKS
from tidy_tinder.services.reference.printing import FINEST_GRID_MM, MOST_FIELDS
from tidy_tinder.services.reference.view import VIEW_SIDE
from tidy_tinder.storage.models import PictureState
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Asked, Id, LabTriple, Out, Schema
from tidy_tinder.web.shared.drawn import DifferenceOut, PatchOut
from tidy_tinder.web.shared.offers import CoatIn, CoatOut
from tidy_tinder.web.shared.paths import PaperQuery

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
"""A place along a side of the picture, from 0 to 1."""


class ReferencePath(Schema):
    """The number of a reference."""

    reference_id: Id


class PickPath(Schema):
    """The number of a pick."""

    pick_id: Id


class RemoveQuery(Asked):
    """Whether she knows what came of the picture and removes it all the same."""

    sure: bool = False


class ReferenceForm(Asked):
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
    """A picture in the list; state null and a message where its file is gone; came_of: what was made of it, for which
    removing it is asked about.
    """

    id: int
    name: str
    state: PictureState | None
    message: str
    width: int
    height: int
    picks: int
    came_of: list[str]


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


class ViewQuery(Asked):
    """How the picture is looked at. zones: borders in L*, rising; wide_mm, high_mm: of the drawing, over which a grid
    is laid: every so many mm, so many columns and rows, or in sections of about 29 cm²; sections: whether the drawing's
    own are drawn; marked: the number of a pick.
    """

    side: int = Field(default=VIEW_SIDE, ge=64, le=VIEW_SIDE)
    grey: bool = False
    squint: float | None = Field(default=None, ge=LEAST_SHARE, le=MOST_SHARE, allow_inf_nan=False)
    zones: list[float] | None = Field(default=None, max_length=MOST_ZONES - 1)
    warm_cool: bool = False
    upside_down: bool = False
    wide_mm: float | None = Field(default=None, ge=SMALLEST_DRAWING_MM, le=LARGEST_DRAWING_MM, allow_inf_nan=False)
    high_mm: float | None = Field(default=None, ge=SMALLEST_DRAWING_MM, le=LARGEST_DRAWING_MM, allow_inf_nan=False)
    every_mm: float | None = Field(default=None, ge=FINEST_GRID_MM, le=LARGEST_DRAWING_MM, allow_inf_nan=False)
    columns: int | None = Field(default=None, ge=1, le=MOST_FIELDS)
    rows: int | None = Field(default=None, ge=1, le=MOST_FIELDS)
    sections: bool = False
    marked: int | None = Field(default=None, ge=1, le=100_000)

    def view(self) -> View:
        """As the core takes it."""
        grid = self._grid()
        zones = tuple(self.zones) if self.zones else None
        return View(self.grey, self.squint, zones, self.warm_cool, self.upside_down, grid)

    def _grid(self) -> tuple[float, float] | None:
        if self.wide_mm is None or self.high_mm is None:
            return None
        if self.columns is not None and self.rows is not None:
            return self.columns, self.rows
        if self.every_mm is not None:
            return self.wide_mm / self.every_mm, self.high_mm / self.every_mm
        sections = section_grid(self.wide_mm, self.high_mm)
        return sections.columns, sections.rows


class ZonesQuery(PaperQuery):
    """How many zones, and how their borders are laid; borders: where the artist has dragged them; on which paper."""

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
    """A value zone: its borders in L*, its mean, its share of the picture, its Munsell value; how many of the pencils
    at hand have a mark of such a lightness, and the nearest.
    """

    low: float
    high: float
    mean: PatchOut
    share: float
    value: float
    reached_by: int
    nearest: list[str]


class ZonesOut(Schema):
    """The value zones of a picture, from dark to light."""

    zones: list[ZoneShareOut]


class LoupeQuery(Asked):
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


class WishQuery(PaperQuery):
    """The paper, what closest means, what the pencil must do, whether the picture's range is laid into what the paper
    reaches.
    """

    closest: Closest = Closest.OVERALL
    role: Role | None = None
    mapped: bool = False

    def wish(self) -> PickWish:
        """As the services take it."""
        return PickWish(self.closest, self.role or "", mapped=self.mapped)


class WayIn(Schema):
    """The layers that are used for a pick, the lowest first; none: whatever is nearest."""

    laid: list[CoatIn] = Field(max_length=MOST_PENCILS + 1)


class PickAnswerOut(Out):
    """One way to lay a pick; the lower pencil first."""

    laid: list[CoatOut]
    said: str
    offered: PatchOut
    difference: DifferenceOut
    ranked_by: float
    expected: float
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
    chosen: int | None = Field(description="the place in the offers of the way that was chosen for the pick")


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
