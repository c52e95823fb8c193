"""What stand-ins send and get; the result itself is in web/drawn.py, which a colour's page shows too."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.web.drawn import ColourOut, LayeredOfferOut, Out, PatchOut
from tidy_tinder.web.tidy.schemas import ColourQuery


class StandinsQuery(ColourQuery):
    """The paper, what closest means, and how many of each list."""

    limit: int = Field(default=12, ge=1, le=100)


class LayeredQuery(ColourQuery):
    """The paper, what closest means, and what is left out: blacks, what fades or is unrated, other ranges."""

    no_black: bool = False
    lasting: bool = False
    ranges: list[int] = Field(default=[], max_length=200)


class PassageLayerOut(Out):
    """A layer below or above the call, as the recipe asks for it."""

    colour: ColourOut
    pressure: str
    layers: int


class BeyondOut(Out):
    """One way in which the call is out of reach here, and the closest way to it."""

    words: str
    way: str


class LayeredOut(Out):
    """Stand-ins judged in the passage, nearest first; while pairs are mixed, done of total coats, and no offers yet."""

    ready: bool
    done: int
    total: int
    problem: str
    asked: PatchOut | None
    asked_after: list[PatchOut]
    below: list[PassageLayerOut]
    above: list[PassageLayerOut]
    left_out: int
    offers: list[LayeredOfferOut]
    beyond: list[BeyondOut]
