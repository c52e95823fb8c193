"""What eye practice sends and gets."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from tidy_tinder.core.practice.drills import Drill
from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.web.shared.base import Asked, Out, Schema
from tidy_tinder.web.shared.drawn import ColourOut, PatchOut

_MOST_CHOICES = 6
_MOST_QUESTIONS = 10_000


class BeginRoundIn(Schema):
    """The kinds of a round; all where none is said."""

    drills: list[Drill] = Field(default_factory=list, max_length=len(Drill))


class AnswerIn(Schema):
    """An answer. number: of the question; choice: places among what is offered, in order."""

    number: int = Field(ge=1, le=_MOST_QUESTIONS)
    choice: Annotated[
        list[Annotated[int, Field(ge=0, lt=_MOST_CHOICES)]], Field(min_length=1, max_length=_MOST_CHOICES)
    ]


class CardPageQuery(Asked):
    """The page's size; card: which of many cards."""

    size: PageSize = PageSize.A4
    card: int = Field(default=1, ge=1, le=_MOST_QUESTIONS)


class AskedItemOut(Out):
    """A colour, or words, of a question."""

    patch: PatchOut | None
    trust: Trust
    band: float | None
    words: str
    colour: ColourOut | None


class QuestionOut(Out):
    """A question without its answer."""

    drill: Drill
    number: int
    words: str
    shown: list[AskedItemOut]
    choices: list[AskedItemOut]


class RoundOut(Out):
    """A round, and what can be asked."""

    paper: str
    can_ask: list[Drill]
    number: int
    of: int
    right: int
    question: QuestionOut | None


class ToldOut(Out):
    """What is told of an answer."""

    was_right: bool
    right: list[int]
    words: str
    shown: list[AskedItemOut]
    choices: list[AskedItemOut]


class ThresholdOut(Out):
    """How hard a question is of which three in four are right; nine of ten between low and high."""

    level: float
    low: float
    high: float
    answers: int


class WeekOut(Out):
    """How sharp the eye was by the end of a week."""

    begins: date
    threshold: ThresholdOut


class RegionThresholdOut(Out):
    """How sharp the eye is in a region of hue."""

    region: str
    threshold: ThresholdOut


class DrillProgressOut(Out):
    """A kind of question, and how it goes."""

    drill: Drill
    unit: str
    answers: int
    right: int
    threshold: ThresholdOut | None
    by_region: list[RegionThresholdOut]
    weeks: list[WeekOut]


class BiasOut(Out):
    """Where the eye is biased, in words."""

    region: str
    words: str
    by: float
    within: float
    answers: int


class ProgressOut(Out):
    """What all answers tell."""

    drills: list[DrillProgressOut]
    biases: list[BiasOut]
