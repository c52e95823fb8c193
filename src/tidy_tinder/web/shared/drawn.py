"""Schemas of what is drawn: marks, patches, colours, differences; and how services' results become them."""

from __future__ import annotations

from pydantic import AliasChoices, Field

from tidy_tinder.core.difference.components import Band
from tidy_tinder.core.difference.lamps import Lamp
from tidy_tinder.core.names.finding import Entry
from tidy_tinder.core.vocabulary import Effect, Pressure, PrintedOpacity
from tidy_tinder.services.collection.marks import RestsOn
from tidy_tinder.services.collection.patches import Patch, Trust
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.web.shared.base import LabTriple, Out


class PatchOut(Out):
    """A plain patch: Lab (D65, 2°), what the screen shows, its grey, and whether the screen can show it."""

    lab: LabTriple
    hex: str
    grey: str
    on_screen: bool


class ZoneOut(Out):
    """A third of a mark: grain mask in percent, film colour, and the mean Lab that they give; in grey too."""

    pressure: Pressure
    trust: Trust
    band: float | None = Field(description="where predicted, or measured by photo: nine of ten lie within this ΔE00")
    lab: LabTriple
    mask: int
    film: str
    grey_mask: int
    grey_film: str
    on_screen: bool


class MarkOut(Out):
    """A mark on the paper at hand; trust is measured, predicted, chart or none: that of its first zone."""

    trust: Trust
    rests_on: RestsOn
    ground: str
    ground_grey: str
    zones: list[ZoneOut]


class ColourOut(Out):
    """One charted colour. lightfastness: as the chart prints it; tested: what own fade tests have shown, "" without."""

    id: int
    maker: str
    range: str = Field(validation_alias=AliasChoices("range", "range_name"))
    code: str
    name: str
    opacity: PrintedOpacity
    lightfastness: str
    tested: str
    effect: Effect


class DifferenceOut(Out):
    """Offered minus wanted."""

    delta_e: float = Field(description="CIEDE2000, plain 1:1:1")
    delta_L: float
    delta_C: float
    delta_H: float
    delta_value: float
    delta_temperature: float
    words: list[str]
    band: Band


class LampOut(Out):
    """The ΔE00 of two colours under one lamp."""

    lamp: Lamp
    delta_e: float


class LampsOut(Out):
    """How two measured spectra differ in daylight and under lamps; parts: a lamp shows them apart."""

    daylight: float
    lamps: list[LampOut]
    parts: bool


class SeenOut(Out):
    """What layers or a mark look like: measured, or predicted with the ΔE00 within which nine of ten lie."""

    patch: PatchOut
    trust: Trust
    band: float | None


class OrderOut(Out):
    """By what a colour is put in order."""

    value: float
    hue: float
    chroma: float
    temperature: float
    family: str


class ColourCardOut(Out):
    """What a colour is and looks like on the paper; order is null where no colour is known."""

    colour: ColourOut
    mark: MarkOut
    order: OrderOut | None


def patch_out(patch: Patch) -> PatchOut:
    """A patch for the browser."""
    return PatchOut.model_validate(patch)


def colour_out(row: ColourRow | Entry) -> ColourOut:
    """A colour for the browser; a resolver's entry has no more than its name."""
    if isinstance(row, Entry):
        return ColourOut(
            id=row.key, maker=row.maker, range=row.range_name, code=row.code, name=row.name, opacity="",
            lightfastness="", tested="", effect=Effect.ORDINARY,
        )  # fmt: skip
    return ColourOut.model_validate(row)
