"""What recipes send and get."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import Field, field_validator

from tidy_tinder.core.vocabulary import (
    Finish,
    Pressure,
    SaidPressure,
    SaidPurpose,
    SaidRole,
    StepKind,
)
from tidy_tinder.formats.recipe_reading import Span
from tidy_tinder.formats.recipe_text import LONGEST_LINE, LONGEST_TEXT
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.recipes.view import Answer
from tidy_tinder.web.shared.base import Id, Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut
from tidy_tinder.web.shared.drawn import ColourOut, MarkOut
from tidy_tinder.web.shared.offers import (
    CoatIn,
    LayeredOfferOut,
    OfferOut,
)


class TextIn(Schema):
    """A recipe as it was written; title "" takes the text's own; reference_id: the picture whose picks it is."""

    text: str = Field(max_length=2 * LONGEST_TEXT)
    title: str = Field(default="", max_length=200)
    reference_id: Id | None = None


class CardOut(Out):
    """A recipe in the list."""

    id: int
    title: str
    calls: int
    owned: int
    stand_ins: int
    open: int
    unsettled: int
    to_look_through: int


class CalledOut(Out):
    """A colour that a recipe calls for, with its mark."""

    colour: ColourOut
    mark: MarkOut
    owning: Owning
    at_hand: bool


class ListedRecipeOut(CardOut):
    """A recipe in the list, with its drawing and the colours that it calls for, light to dark."""

    drawing: str
    called: list[CalledOut]


class CardsOut(Schema):
    """All recipes."""

    recipes: list[ListedRecipeOut]


class CallOut(Out):
    """One call on a paper."""

    id: int
    revision: int
    as_written: str
    start: int
    answer: Answer
    colour: ColourOut | None
    other: ColourOut | None
    owning: Owning
    elsewhere: bool
    mark: MarkOut | None
    pressure: SaidPressure
    compared_at: Pressure
    layers: int
    role: SaidRole
    problem: str
    candidates: list[ColourOut]
    chosen: OfferOut | None
    layered: LayeredOfferOut | None
    working: bool
    locked: bool
    excluded: list[ColourOut]


class WordsAtOut(Schema):
    """Where words stand in a line: from start up to end."""

    start: int
    end: int


class StepOut(Out):
    """One line of a recipe; left: where words stand that were read as nothing and may name a colour."""

    id: int
    revision: int
    kind: StepKind
    number: int | None
    area: str
    text: str
    pressure: SaidPressure
    layers: int
    finish: Finish
    purpose: SaidPurpose
    waits: bool
    said_purpose: SaidPurpose
    said_waits: bool
    to_look_through: bool
    left: list[WordsAtOut]
    calls: list[CallOut]

    @field_validator("left", mode="before")
    @classmethod
    def _places(cls, spans: Sequence[Span]) -> list[WordsAtOut]:
        return words_at(spans)


class RecipeOut(Out):
    """A recipe on a paper."""

    id: int
    revision: int
    title: str
    source_text: str
    edited: bool
    steps: list[StepOut]
    card: CardOut


class ReadCallOut(Schema):
    """A call as it would be read; start and end say where the words, or the letter or code in their stead, stand."""

    as_written: str
    start: int
    end: int
    colour: ColourOut | None
    other: ColourOut | None
    candidates: list[ColourOut]
    problem: str
    pressure: SaidPressure
    layers: int


class ReadStepOut(Schema):
    """A line as it would be read; ranges are those that it names, where it says nothing else; left: words that may name
    a colour and were not read.
    """

    kind: StepKind
    text: str
    left: list[WordsAtOut]
    calls: list[ReadCallOut]
    ranges: list[str]


class ReadingOut(Schema):
    """How a text would be read; nothing is kept."""

    title: str
    ranges: list[str]
    steps: list[ReadStepOut]


class SavedOut(Schema):
    """The recipe's number and the change."""

    recipe_id: int
    change: ChangeOut | None


class LookedThroughIn(Schema):
    """A line names no more colours. revision: of the line that was looked at; as_note: it is no step at all."""

    revision: Id
    as_note: bool = False


class WordsIn(Schema):
    """Words of a line that name a colour; start: where they stand, null for where they do first."""

    words: str = Field(min_length=1, max_length=LONGEST_LINE)
    start: int | None = Field(default=None, ge=0, le=LONGEST_LINE)


class SettleIn(Schema):
    """The colour that is meant; null says that it is no colour. revision: of the call that was looked at."""

    colour_id: Id | None
    revision: Id


class ChoiceIn(Schema):
    """The pencil that stands in on a paper; null leaves the call open again.

    laid: its layers, and of one over it, where it is not simply laid as the call asks; the lower first.
    """

    paper_id: Id
    colour_id: Id | None
    laid: list[CoatIn] = Field(default=[], max_length=2)


def words_at(spans: Sequence[Span]) -> list[WordsAtOut]:
    """Places of words as they are sent."""
    return [WordsAtOut(start=start, end=end) for start, end in spans]
