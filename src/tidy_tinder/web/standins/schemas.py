"""What stand-ins send and get; the result itself is in web/drawn.py, which a colour's page shows too."""

from __future__ import annotations

from dataclasses import fields
from typing import Literal

from pydantic import Field

from tidy_tinder.services.standins.in_passage import Layered, Wish
from tidy_tinder.web.drawn import (
    CoatOut,
    ColourOut,
    DifferenceOut,
    LayeredOfferOut,
    LeftOutOut,
    OpacityTestOut,
    Out,
    PatchOut,
)
from tidy_tinder.web.tidy.schemas import ColourQuery, PaperQuery


class StandinsQuery(ColourQuery):
    """The paper, what closest means, and how many of each list."""

    limit: int = Field(default=12, ge=1, le=100)


class LayeredQuery(ColourQuery):
    """The paper, what closest means, and what is left out: blacks, what fades or is unrated, other ranges."""

    no_black: bool = False
    lasting: bool = False
    ranges: list[int] = Field(default=[], max_length=200)

    @property
    def wish(self) -> Wish:
        """What is left out."""
        return Wish(self.no_black, self.lasting, tuple(self.ranges))


class ColourLayeredQuery(LayeredQuery):
    """The same, and how the colour would be laid."""

    pressure: Literal["light", "medium", "heavy"] = "heavy"
    layers: int = Field(default=1, ge=1, le=12)


class NeutralisersQuery(PaperQuery):
    """The paper, and how hard the pencil is laid under the others."""

    pressure: Literal["light", "medium", "heavy"] = "medium"


class PassageLayerOut(Out):
    """A layer below or above the call, as the recipe asks for it."""

    colour: ColourOut
    pressure: str
    layers: int


class BeyondOut(Out):
    """One way in which the call is out of reach here, and the closest way to it."""

    words: str
    way: str


class WithoutOut(Out):
    """The finished passage with the call left out."""

    finished: PatchOut
    difference: DifferenceOut


class LayeredOut(Out):
    """Stand-ins judged in the passage, nearest first; while pairs are mixed, done of total coats, and no offers yet."""

    ready: bool
    done: int
    total: int
    problem: str
    asked: PatchOut | None
    asked_covers: OpacityTestOut | None
    asked_after: list[PatchOut]
    below: list[PassageLayerOut]
    above: list[PassageLayerOut]
    left_out: int
    unfit: list[LeftOutOut]
    offers: list[LayeredOfferOut]
    beyond: list[BeyondOut]
    without: WithoutOut | None


class NeutralisedByOut(Out):
    """A pencil over another: in words, what both give, and the share of chroma that is left."""

    over: CoatOut
    said: str
    result: PatchOut
    difference: DifferenceOut
    chroma_left: float


class NeutralisedOut(Out):
    """The neutralisers of a pencil, least chroma first; while pairs are mixed, done of total coats, and none yet."""

    ready: bool
    done: int
    total: int
    problem: str
    alone: PatchOut | None
    found: list[NeutralisedByOut]


def layered_out(found: Layered) -> LayeredOut:
    """Layered stand-ins for the browser."""
    unfit = [LeftOutOut(reason=why.value, count=count) for why, count in found.unfit.items()]
    values = {f.name: getattr(found, f.name) for f in fields(found)}
    return LayeredOut.model_validate({**values, "unfit": unfit}, from_attributes=True)
