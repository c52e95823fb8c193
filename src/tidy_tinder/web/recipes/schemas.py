"""What recipes send and get."""

from __future__ import annotations

from pydantic import BaseModel, Field

from tidy_tinder.formats.recipe_text import LONGEST_TEXT
from tidy_tinder.web.collection.schemas import MAX_ID
from tidy_tinder.web.drawn import ChangeOut, CoatIn, ColourOut, LayeredOfferOut, MarkOut, OfferOut


class RecipePath(BaseModel):
    """The number of a recipe."""

    recipe_id: int = Field(ge=1, le=MAX_ID)


class CallPath(BaseModel):
    """The number of a call."""

    call_id: int = Field(ge=1, le=MAX_ID)


class TextIn(BaseModel):
    """A recipe as it was written; title "" takes the text's own."""

    text: str = Field(max_length=2 * LONGEST_TEXT)
    title: str = Field(default="", max_length=200)


class CardOut(BaseModel):
    """A recipe in the list."""

    id: int
    title: str
    calls: int
    owned: int
    stand_ins: int
    open: int
    unsettled: int


class CardsOut(BaseModel):
    """All recipes."""

    recipes: list[CardOut]


class CallOut(BaseModel):
    """One call on a paper."""

    id: int
    as_written: str
    start: int
    answer: str
    colour: ColourOut | None
    owning: str
    elsewhere: bool
    mark: MarkOut | None
    pressure: str
    compared_at: str
    layers: int
    role: str
    problem: str
    candidates: list[ColourOut]
    chosen: OfferOut | None
    layered: LayeredOfferOut | None
    working: bool


class StepOut(BaseModel):
    """One line of a recipe."""

    id: int
    kind: str
    number: int | None
    area: str
    text: str
    pressure: str
    layers: int
    finish: str
    calls: list[CallOut]


class RecipeOut(BaseModel):
    """A recipe on a paper."""

    id: int
    title: str
    source_text: str
    steps: list[StepOut]
    card: CardOut


class ReadCallOut(BaseModel):
    """A call as it would be read."""

    as_written: str
    start: int
    colour: ColourOut | None
    candidates: list[ColourOut]
    problem: str
    pressure: str
    layers: int


class ReadStepOut(BaseModel):
    """A line as it would be read."""

    kind: str
    text: str
    calls: list[ReadCallOut]


class ReadingOut(BaseModel):
    """How a text would be read; nothing is kept."""

    title: str
    ranges: list[str]
    steps: list[ReadStepOut]


class SavedOut(BaseModel):
    """The recipe's number and the change."""

    recipe_id: int
    change: ChangeOut | None


class SettleIn(BaseModel):
    """The colour that is meant; null says that it is no colour."""

    colour_id: int | None = Field(ge=1, le=MAX_ID)


class ChoiceIn(BaseModel):
    """The pencil that stands in on a paper; null leaves the call open again.

    laid: its layers, and of one over it, where it is not simply laid as the call asks; the lower first.
    """

    paper_id: int = Field(ge=1, le=MAX_ID)
    colour_id: int | None = Field(ge=1, le=MAX_ID)
    laid: list[CoatIn] = Field(default=[], max_length=2)
