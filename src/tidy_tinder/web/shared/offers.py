"""Schemas of stand-ins: single ones ranked mark beside mark, and layered ones judged in the passage."""

from __future__ import annotations

from datetime import date

from pydantic import AliasPath, Field

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.standins.singles import Basis
from tidy_tinder.core.vocabulary import Opacity, Pressure, Verdict
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.standins.mark_beside_mark import RankedStandins
from tidy_tinder.web.shared.base import Id, Layers, Out, Schema
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, LampsOut, MarkOut, PatchOut


class OfferOut(Out):
    """One ranked stand-in."""

    colour: ColourOut
    owning: Owning
    mark: MarkOut
    basis: Basis
    wanted: PatchOut
    offered: PatchOut
    ranked_by: float
    difference: DifferenceOut
    expected: float
    plus_minus: float | None
    tie: bool
    lamps: LampsOut | None


class StripSeenOut(Out):
    """Layers by themselves as their strip was measured, beside the mark that is asked for."""

    strip: PatchOut
    difference: DifferenceOut
    asked_trust: Trust


class TriedOut(Out):
    """What was said of layers that were tried before."""

    scrap_id: int
    verdict: list[Verdict]
    note: str
    made_on: date


class CoatIn(Schema):
    """One pencil and how it is laid."""

    colour_id: Id
    pressure: Pressure
    layers: Layers

    @property
    def layer(self) -> Layer[int]:
        """The same as the core has it."""
        return Layer(self.colour_id, self.pressure, self.layers)


class CoatOut(Out):
    """One pencil of a layered stand-in and how it is laid."""

    colour: ColourOut = Field(validation_alias=AliasPath("pencil", "colour"))
    owning: Owning = Field(validation_alias=AliasPath("pencil", "owning"))
    pressure: Pressure
    layers: int


class OpacityTestOut(Out):
    """Contrast ratio and class; opacity is null where the mark is too dark for the ratio to tell."""

    Y_over_white: float
    Y_over_black: float
    contrast_ratio: float
    opacity: Opacity | None


class LayeredOfferOut(Out):
    """A stand-in of one pencil or two layered ones, alone and in the passage; the lower pencil first."""

    laid: list[CoatOut]
    said: str
    alone: PatchOut
    alone_difference: DifferenceOut
    finished: PatchOut
    difference: DifferenceOut
    ranked_by: float
    expected: float
    plus_minus: float
    tie: bool
    after: list[PatchOut]
    passes_left: int
    better: list[str]
    worse: list[str]
    covers: OpacityTestOut
    measured: StripSeenOut | None
    tried: TriedOut | None


class LeftOutOut(Out):
    """How many pencils were not ranked, and why."""

    reason: str
    count: int
    about_wanted: bool = False


class StandinsOut(Out):
    """The stand-ins for one colour, nearest first, in two lists that are never mixed."""

    wanted: ColourOut
    paper_name: str
    pressure: Pressure
    layers: int
    closest: Closest
    on_paper: list[OfferOut]
    by_chart: list[OfferOut]
    left_out: list[LeftOutOut]


def standins_out(ranked: RankedStandins) -> StandinsOut:
    """Both lists for the browser."""
    left_out = [
        LeftOutOut(reason=reason.value, count=count, about_wanted=reason.about_wanted)
        for reason, count in ranked.left_out.items()
    ]
    return StandinsOut.model_validate({**vars(ranked), "left_out": left_out}, from_attributes=True)
