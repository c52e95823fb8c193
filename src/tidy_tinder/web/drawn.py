"""Schemas of what is drawn: marks, patches, colours, differences; and how services' results become them."""

from __future__ import annotations

from datetime import date
from enum import Enum
from typing import Annotated, Any, Literal

from pydantic import AliasChoices, BaseModel, BeforeValidator, ConfigDict, Field

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.names.finding import Entry
from tidy_tinder.services.collection.marks import Mark, Patch
from tidy_tinder.services.journal import Changed
from tidy_tinder.services.standins.mark_beside_mark import RankedOffer, RankedStandins
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.web.endpoint import MAX_ID

# A list, not a tuple: the types generated for the browser lose a tuple's length on the way.
LabTriple = Annotated[list[float], Field(min_length=3, max_length=3)]


def _word(value: Any) -> Any:
    return value.value if isinstance(value, Enum) else value


# An enum of the services, as the word that it stands for.
Word = Annotated[str, BeforeValidator(_word)]


class Out(BaseModel):
    """What goes out: made from a result of the services by its attributes, `Model.model_validate(result)`."""

    model_config = ConfigDict(from_attributes=True)


class PatchOut(Out):
    """A plain patch: Lab (D65, 2°), what the screen shows, its grey, and whether the screen can show it."""

    lab: LabTriple
    hex: str
    grey: str
    on_screen: bool


class ZoneOut(Out):
    """A third of a mark: grain mask in percent, film colour, and the mean Lab that they give; in grey too."""

    pressure: str
    trust: Word
    band: float | None = Field(description="where predicted: nine of ten lie within this ΔE00")
    lab: LabTriple
    mask: int
    film: str
    grey_mask: int
    grey_film: str
    on_screen: bool


class MarkOut(Out):
    """A mark on the paper at hand; trust is measured, predicted, chart or none: that of its first zone."""

    trust: Word
    rests_on: Word
    ground: str
    ground_grey: str
    zones: list[ZoneOut]


class ColourOut(Out):
    """One charted colour."""

    id: int
    maker: str
    range: str = Field(validation_alias=AliasChoices("range", "range_name"))
    code: str
    name: str
    opacity: str
    lightfastness: str
    effect: str


class ChangeOut(Out):
    """A change that was made; id is for undo."""

    id: int = Field(validation_alias=AliasChoices("id", "change_id"))
    label: str
    rows: int


class MadeOut(Out):
    """The change that was made, if anything changed."""

    change: ChangeOut | None


class DifferenceOut(Out):
    """Offered minus wanted."""

    delta_e: float = Field(description="CIEDE2000, plain 1:1:1")
    delta_L: float
    delta_C: float
    delta_H: float
    delta_value: float
    delta_temperature: float
    words: list[str]
    band: Word


class LampOut(Out):
    """The ΔE00 of two colours under one lamp."""

    lamp: Word
    delta_e: float


class LampsOut(Out):
    """How two measured spectra differ in daylight and under lamps; parts: a lamp shows them apart."""

    daylight: float
    lamps: list[LampOut]
    parts: bool


class OfferOut(Out):
    """One ranked stand-in."""

    colour: ColourOut
    owning: Word
    mark: MarkOut
    basis: Word
    wanted: PatchOut
    offered: PatchOut
    ranked_by: float
    difference: DifferenceOut
    plus_minus: float | None
    tie: bool
    lamps: LampsOut | None


class SeenOut(Out):
    """What layers or a mark look like: measured, or predicted with the ΔE00 within which nine of ten lie."""

    patch: PatchOut
    trust: Word
    band: float | None


class StripSeenOut(Out):
    """Layers by themselves as their strip was measured, beside the mark that is asked for."""

    strip: PatchOut
    difference: DifferenceOut
    asked_trust: Word


class TriedOut(Out):
    """What was said of layers that were tried before."""

    scrap_id: int
    verdict: list[str]
    note: str
    made_on: date


class CoatIn(BaseModel):
    """One pencil and how it is laid."""

    colour_id: int = Field(ge=1, le=MAX_ID)
    pressure: Literal["light", "medium", "heavy", "burnish"]
    layers: int = Field(ge=1, le=12)


class CoatOut(Out):
    """One pencil of a layered stand-in and how it is laid."""

    colour: ColourOut
    owning: Word
    pressure: str
    layers: int


class OpacityTestOut(Out):
    """Contrast ratio and class; opacity is null where the mark is too dark for the ratio to tell."""

    Y_over_white: float
    Y_over_black: float
    contrast_ratio: float
    opacity: Word | None


class LayeredOfferOut(Out):
    """A stand-in of one pencil or two layered ones, alone and in the passage; the lower pencil first."""

    laid: list[CoatOut]
    said: str
    alone: PatchOut
    alone_difference: DifferenceOut
    finished: PatchOut
    difference: DifferenceOut
    ranked_by: float
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


class StandinsOut(Out):
    """The stand-ins for one colour, nearest first, in two lists that are never mixed."""

    wanted: ColourOut
    paper_name: str
    pressure: str
    layers: int
    closest: str
    on_paper: list[OfferOut]
    by_chart: list[OfferOut]
    left_out: list[LeftOutOut]


def patch_out(patch: Patch) -> PatchOut:
    """A patch for the browser."""
    return PatchOut.model_validate(patch)


def mark_out(mark: Mark) -> MarkOut:
    """A mark for the browser."""
    return MarkOut.model_validate(mark)


def colour_out(row: ColourRow | Entry) -> ColourOut:
    """A colour for the browser; a resolver's entry has no more than its name."""
    if isinstance(row, Entry):
        return ColourOut(
            id=row.key, maker=row.maker, range=row.range_name, code=row.code, name=row.name, opacity="",
            lightfastness="", effect="ordinary",
        )  # fmt: skip
    return ColourOut.model_validate(row)


def change_out(change: Changed | None) -> ChangeOut | None:
    """A change for the browser; nothing where nothing changed."""
    return ChangeOut.model_validate(change) if change else None


def made_out(change: Changed | None) -> MadeOut:
    """What was made, for a route that has no more to tell."""
    return MadeOut(change=change_out(change))


def difference_out(d: Difference) -> DifferenceOut:
    """A difference for the browser."""
    return DifferenceOut.model_validate(d)


def offer_out(offer: RankedOffer) -> OfferOut:
    """A ranked stand-in for the browser."""
    return OfferOut.model_validate(offer)


def standins_out(ranked: RankedStandins) -> StandinsOut:
    """Both lists for the browser."""
    return StandinsOut(
        wanted=colour_out(ranked.wanted),
        paper_name=ranked.paper_name,
        pressure=ranked.pressure,
        layers=ranked.layers,
        closest=ranked.closest.value,
        on_paper=[offer_out(o) for o in ranked.on_paper],
        by_chart=[offer_out(o) for o in ranked.by_chart],
        left_out=[LeftOutOut(reason=reason.value, count=count) for reason, count in ranked.left_out.items()],
    )
