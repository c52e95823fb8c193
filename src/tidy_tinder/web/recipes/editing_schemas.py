"""What editing recipes and their versions send and get."""

from __future__ import annotations

from datetime import datetime

from pydantic import Field

from tidy_tinder.core.vocabulary import MarkPressure, SaidPurpose, StepKind
from tidy_tinder.formats.recipe_text import LONGEST_LINE
from tidy_tinder.services.recipes.editing import MOST_LINES
from tidy_tinder.web.shared.base import Asked, Id, Layers, Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut
from tidy_tinder.web.shared.paths import RecipePath


class LineIn(Schema):
    """A line as it shall be; id: of the step that it is, null for a new one; copy_of: of the step that it doubles."""

    text: str = Field(max_length=2 * LONGEST_LINE)
    kind: StepKind = StepKind.STEP
    id: Id | None = None
    copy_of: Id | None = None
    purpose: SaidPurpose | None = None
    waits: bool | None = None


class LinesIn(Schema):
    """All lines of a recipe in their order; revision: of the recipe when it was opened."""

    revision: Id
    title: str = Field(max_length=400)
    lines: list[LineIn] = Field(max_length=2 * MOST_LINES)


class WrittenOut(Out):
    """The recipe's revision, the steps that its lines are, and the change, if anything changed."""

    revision: int
    step_ids: list[int]
    change: ChangeOut | None


class LayCallIn(Schema):
    """How a recipe asks for a call."""

    pressure: MarkPressure
    layers: Layers


class RecipeVersionIn(Schema):
    """What a version is called; "" for nothing."""

    name: str = Field(default="", max_length=200)


class RecipeVersionPath(RecipePath):
    """The number of a recipe and of one of its versions."""

    version_id: Id


class CompareQuery(Asked):
    """The version that is compared with; none for the recipe as it is now."""

    beside: Id | None = None


class RecipeVersionOut(Out):
    """A version that is kept."""

    id: int
    name: str
    kept_at: datetime
    steps: int
    calls: int


class RecipeVersionsOut(Schema):
    """The versions of a recipe, the newest first."""

    versions: list[RecipeVersionOut]


class LineSeenOut(Out):
    """A line of a version with its calls in words."""

    kind: StepKind
    text: str
    calls: list[str]


class ComparedLineOut(Out):
    """A line before and after; null where one does not have it."""

    before: LineSeenOut | None
    after: LineSeenOut | None
    same: bool


class ComparedOut(Schema):
    """Two versions line by line."""

    lines: list[ComparedLineOut]


class RecipeVersionKeptOut(Schema):
    """The version's number and the change."""

    version_id: int
    change: ChangeOut | None
