"""What stand-ins send and get; the offers themselves are shared, since a colour's page and a recipe show them too."""

from __future__ import annotations

from dataclasses import fields

from pydantic import Field

from tidy_tinder.core.vocabulary import (
    MarkPressure,
    Pressure,
)
from tidy_tinder.services.standins.layered import Layered, Wish
from tidy_tinder.web.shared.base import Layers, Out
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, PatchOut
from tidy_tinder.web.shared.offers import (
    CoatOut,
    LayeredOfferOut,
    LeftOutOut,
    OpacityTestOut,
)
from tidy_tinder.web.shared.paths import ColourQuery, PaperQuery


class StandinsQuery(ColourQuery):
    """The paper, what closest means, and how many of each list."""

    limit: int = Field(default=12, ge=1, le=100)


class LayeredQuery(ColourQuery):
    """The paper, what closest means, and what is left out: blacks, what fades or is unrated, other ranges."""

    no_black: bool = False
    lasting: bool = False
    ranges: list[int] = Field(default=[], max_length=200)
    again: bool = Field(default=False, description="try once more to mix the pairs, where that failed")

    @property
    def wish(self) -> Wish:
        """What is left out."""
        return Wish(self.no_black, self.lasting, tuple(self.ranges))


class ColourLayeredQuery(LayeredQuery):
    """The same, and how the colour would be laid."""

    pressure: MarkPressure = Pressure.HEAVY
    layers: Layers = 1


class NeutralisersQuery(PaperQuery):
    """The paper, and how hard the pencil is laid under the others."""

    pressure: MarkPressure = Pressure.MEDIUM
    again: bool = Field(default=False, description="try once more to mix the pairs, where that failed")


class PassageLayerOut(Out):
    """A layer below or above the call, as the recipe asks for it."""

    colour: ColourOut = Field(validation_alias="pencil")
    pressure: Pressure
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
    failed: bool
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
    failed: bool
    alone: PatchOut | None
    found: list[NeutralisedByOut]


def layered_out(layered: Layered) -> LayeredOut:
    """Layered stand-ins for the browser."""
    unfit = [LeftOutOut(reason=why.value, count=count) for why, count in layered.unfit.items()]
    values = {f.name: getattr(layered, f.name) for f in fields(layered)}
    return LayeredOut.model_validate({**values, "unfit": unfit}, from_attributes=True)
