"""What the bench sends and gets. Times are UTC."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tidy_tinder.core.bench.beside_plan import Use
from tidy_tinder.core.vocabulary import (
    Material,
    SaidPressure,
    SaidPurpose,
    StepState,
    Wetting,
)
from tidy_tinder.formats.recipe_text import LONGEST_TEXT
from tidy_tinder.services.bench.ending import TimeOf
from tidy_tinder.services.bench.place import PlaceAs
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.storage.models import DryingState, SectionState
from tidy_tinder.web.bench.log_schemas import EntryOut
from tidy_tinder.web.shared.base import MAX_ID, Asked, Id, Moment, Out, Schema, SectionId
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, MarkOut, SeenOut

_LONGEST_KEY = 64


class DryingPath(Schema):
    """The number of a timer."""

    drying_id: Id


class OwnTaskPath(Schema):
    """The number of an own line of the preparation."""

    own_id: Id


class RecipeToWorkOut(Out):
    """A recipe that can be worked along; here: it belongs to this drawing."""

    id: int
    title: str
    here: bool


class SectionAtBenchOut(Out):
    """A section as it stands; label: in the board."""

    id: int
    revision: int
    label: int
    name: str
    state: SectionState
    cm2: float
    minutes: float


class SectionBoardOut(Out):
    """The sections as a small map: labels row by row from the top."""

    columns: int
    rows: int
    labels: list[int]


class StepLineOut(Out):
    """A step in the list."""

    id: int
    number: int
    area: str
    text: str
    state: StepState
    done: int
    of: int


class LaidCoatOut(Out):
    """How a pencil is laid."""

    pressure: SaidPressure
    layers: int


class ToLayOut(Out):
    """A pencil of a step."""

    call_id: int
    layer: LaidCoatOut
    colour: ColourOut
    mark: MarkOut
    owning: Owning
    place: str
    ticked: int
    stands_in_for: ColourOut | None
    apart: DifferenceOut | None


class CautionAtStepOut(Out):
    """What is to be minded with one material."""

    material: Material
    words: str


class StepAtBenchOut(Out):
    """The step at hand."""

    id: int
    number: int
    of: int
    area: str
    text: str
    notes: list[str]
    purpose: SaidPurpose
    waits: bool
    state: StepState
    pencils: list[ToLayOut]
    missing: list[str]
    now: SeenOut | None
    after: SeenOut | None
    changes: DifferenceOut | None
    wetting: Wetting | None
    cautions: list[CautionAtStepOut]


class DryingOut(Out):
    """Something that dries; minutes: since it was wetted; low, high: nine of ten lie between; left: until it is as
    likely dry as not; likely: how likely it is dry by now, 0 to 1.
    """

    id: int
    section_id: int
    wetting: Wetting
    begun_at: Moment
    minutes: float
    low: float
    high: float
    answers: int
    left: float
    likely: float


class ClockOut(Out):
    """The clock of the sitting; not_counted: seconds that may be counted after all; rest: one is due."""

    sitting_id: int
    begun_at: Moment
    seconds: float
    running: bool
    not_counted: int
    rest: bool


class TaskOut(Out):
    """A line of the preparation; own: its number where the artist added it."""

    task: str
    words: str
    reason: str
    ticked: bool
    own: int | None


class BenchOut(Out):
    """The bench of a drawing."""

    drawing_id: int
    drawing: str
    paper_id: int
    paper: str
    version: int
    recipe_id: int | None
    recipes: list[RecipeToWorkOut]
    by_sections: bool
    section_id: int
    sections: list[SectionAtBenchOut]
    board: SectionBoardOut | None
    turn: int | None
    turn_minutes: float | None
    steps: list[StepLineOut]
    step: StepAtBenchOut | None
    missing: list[str]
    finished: bool
    wet_here: DryingOut | None
    dryings: list[DryingOut]
    clock: ClockOut | None
    sittings: int
    minutes: float
    preparation: list[TaskOut]
    log: list[EntryOut]
    log_count: int
    first: str


class PulseOut(Schema):
    """Whether anything changed, and the clock."""

    version: int
    clock: ClockOut | None


class PlaceIn(Schema):
    """Where to work from now on; null leaves it, a recipe of 0 is none."""

    recipe_id: Annotated[int, Field(ge=0, le=MAX_ID)] | None = None
    step_id: Id | None = None
    section_id: SectionId | None = None
    by_sections: bool | None = None

    def said(self) -> PlaceAs:
        """As the service takes it."""
        return PlaceAs(self.recipe_id, self.step_id, self.section_id, self.by_sections)


class StepIn(Schema):
    """What became of the step that was looked at."""

    step_id: Id
    state: StepState


class StepLookQuery(Asked):
    """Which step to look at, without going there."""

    step: Id


class LookedStepOut(Schema):
    """A step that is only looked at; null where it is gone."""

    step: StepAtBenchOut | None


class WetIn(Schema):
    """What was wetted with what; key: of the line in the log."""

    section_id: SectionId = 0
    wetting: Wetting
    key: str = Field(min_length=1, max_length=_LONGEST_KEY)


class DryIn(Schema):
    """What is said of a timer."""

    state: DryingState


class PreparationTickIn(Schema):
    """A line of the preparation, ticked or not."""

    task: str = Field(max_length=40)
    done: bool


class OwnTaskIn(Schema):
    """A line of the artist's own."""

    words: str = Field(max_length=400)


class UseLineOut(Out):
    """One pencil, planned and used; step: its number."""

    use: Use
    step: int | None
    planned: ColourOut | None
    planned_layers: int
    used: ColourOut | None
    used_layers: int


class TimeLineOut(Out):
    """Minutes in a sitting, at a step, or in a section; name "" where it was none of them, or is gone by now."""

    of: TimeOf
    name: str
    began: Moment | None
    minutes: float


class AsDoneOut(Out):
    """What was done, as a recipe that is not kept yet."""

    title: str
    text: str
    lines: list[UseLineOut]
    sittings: int
    minutes: float
    times: list[TimeLineOut]
    entries: int


class AsDoneIn(Schema):
    """The text as it is to be kept."""

    text: str = Field(max_length=2 * LONGEST_TEXT)
