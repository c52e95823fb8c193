"""What station 1 sends and gets."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import AliasChoices, BaseModel, Field

from tidy_tinder.web.drawn import (
    ChangeOut,
    ColourOut,
    DifferenceOut,
    LabTriple,
    MarkOut,
    OpacityTestOut,
    Out,
    PatchOut,
    StandinsOut,
    Word,
)
from tidy_tinder.web.endpoint import MAX_ID

Ids = list[int]
_TEXT = 120


class PaperQuery(BaseModel):
    """The paper at hand."""

    paper: int = Field(ge=1, le=MAX_ID)


class ColourQuery(PaperQuery):
    """The paper at hand and what closest means."""

    closest: str = Field(default="overall", pattern="^(overall|value|hue)$")


class ColourPath(BaseModel):
    """The number of a colour."""

    colour_id: int = Field(ge=1, le=MAX_ID)


class PencilPath(BaseModel):
    """The number of a pencil."""

    pencil_id: int = Field(ge=1, le=MAX_ID)


class RangePath(BaseModel):
    """The number of a range."""

    range_id: int = Field(ge=1, le=MAX_ID)


class SetPath(BaseModel):
    """The number of a boxed set."""

    set_id: int = Field(ge=1, le=MAX_ID)


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


class PlaceOut(Out):
    """Where a pencil stands."""

    tin: str
    slot: int | None


class ShelfColourOut(Out):
    """One colour on a shelf."""

    id: int = Field(validation_alias=AliasChoices("id", "colour_id"))
    owning: Word
    places: list[PlaceOut]
    with_me: bool
    card: ColourCardOut


class SetOut(Out):
    """A boxed set and how many of its colours are owned."""

    id: int
    name: str
    colours: int
    owned: int


class ShelfOut(Out):
    """One range in chart order."""

    range_id: int
    maker: str
    name: str
    feel: str
    new_length_mm: int
    holds_point: bool | None
    water_soluble: bool | None
    revision: int
    owned: int
    colours: list[ShelfColourOut]
    sets: list[SetOut]


class ShelvesOut(BaseModel):
    """All ranges."""

    shelves: list[ShelfOut]


class TickIn(BaseModel):
    """Typed codes of one range."""

    range_id: int = Field(ge=1, le=MAX_ID)
    text: str = Field(min_length=1, max_length=4000)
    owned: bool = True


class TickedOut(BaseModel):
    """What ticking did; unknown names what is not on that chart."""

    change: ChangeOut | None
    newly: int
    already: int
    unknown: list[str]


class OwnedIn(BaseModel):
    """Colours to own, or to own no more."""

    colour_ids: Ids = Field(min_length=1, max_length=5000)
    owned: bool


class PencilsIn(BaseModel):
    """What happens to the pencils of some colours; tin is for “move”."""

    colour_ids: Ids = Field(min_length=1, max_length=5000)
    act: Literal["lost", "found", "used up", "move"]
    tin: str = Field(default="", max_length=60)


class PencilOut(Out):
    """One owned stick; set_name is "" where it was bought singly."""

    id: int
    revision: int
    tin: str
    slot: int | None
    length_mm: int | None
    state: str
    stamp_readable: bool
    notes: str
    set_name: str = ""


class PencilIn(BaseModel):
    """One stick, said anew; revision is the one that was looked at."""

    revision: int = Field(ge=1, le=MAX_ID)
    tin: str = Field(max_length=60)
    slot: int | None = Field(default=None, ge=0, le=9999)
    length_mm: int | None = Field(default=None, ge=0, le=400)
    state: Literal["in_use", "spare", "lost", "used_up"]
    stamp_readable: bool
    notes: str = Field(default="", max_length=2000)


class TinOut(Out):
    """A place."""

    name: str
    pencils: int
    stubs: int
    lost: int
    travels: bool


class TinsOut(BaseModel):
    """All places."""

    tins: list[TinOut]


class TravelIn(BaseModel):
    """A tin that is taken along, or not."""

    tin: str = Field(max_length=60)
    along: bool


class PaperMarkOut(Out):
    """A colour's mark on one paper."""

    paper_id: int
    paper_name: str
    mark: MarkOut


class CalledByOut(Out):
    """A recipe that calls the colour, in which steps."""

    recipe_id: int
    title: str
    steps: list[int]


class PaperOpacityOut(Out):
    """The opacity test on one paper."""

    paper_name: str
    pressure: str
    layers: int
    test: OpacityTestOut


class ChartOut(Out):
    """What the chart says, and the revision to correct it against."""

    lab: LabTriple | None
    chart_source: str
    revision: int


class ColourPageOut(BaseModel):
    """What the panel says of one colour."""

    colour: ColourOut
    chart: ChartOut
    owning: str
    in_tray: bool
    pencils: list[PencilOut]
    mark: MarkOut
    patch: PatchOut | None
    shown_as: str
    value: float | None
    papers: list[PaperMarkOut]
    nearest: StandinsOut
    called_by: list[CalledByOut]
    sister_ids: Ids
    opacity: list[PaperOpacityOut]


class RelationOut(Out):
    """Another colour and how it differs from this one."""

    colour: ColourOut
    owning: Word
    mark: MarkOut
    words: str
    difference: DifferenceOut | None


class TwinOut(Out):
    """A near twin: where the two were compared, and where they part most."""

    relation: RelationOut
    compared: str
    parts: str
    parting: DifferenceOut
    kinds: int


class SwatchRowOut(Out):
    """A swatch."""

    id: int
    revision: int
    paper_id: int
    pressure: str
    layers: int
    finish: str
    over: str
    has_spectrum: bool
    source: str
    instrument: str
    averaged_of: int
    made_on: date
    note: str


class PastSwatchOut(Out):
    """A swatch in the history; counts: it stands for its kind of mark."""

    row: SwatchRowOut
    paper_name: str
    burnisher: str
    colour: PatchOut
    counts: bool


class KinOut(Out):
    """Whose relative a colour is, and its history."""

    twins: list[TwinOut]
    family: list[RelationOut]
    neighbours: list[RelationOut]
    sisters: list[RelationOut]
    history: list[PastSwatchOut]


class RangeIn(BaseModel):
    """A range, said anew; revision is the one that was looked at (for a change only)."""

    maker: str = Field(default="", max_length=_TEXT)
    name: str = Field(min_length=1, max_length=_TEXT)
    feel: str = Field(default="", max_length=300)
    new_length_mm: int = Field(default=175, ge=20, le=400)
    holds_point: bool | None = None
    water_soluble: bool | None = None
    revision: int = Field(default=1, ge=1, le=MAX_ID)


class ChartIn(BaseModel):
    """What a chart says of a colour; revision is the one that was looked at (for a correction only)."""

    code: str = Field(min_length=1, max_length=_TEXT)
    name: str = Field(min_length=1, max_length=_TEXT)
    lab: LabTriple | None = None
    opacity: Literal["transparent", "semi", "opaque", ""] = ""
    lightfastness: str = Field(default="", max_length=_TEXT)
    effect: Literal["ordinary", "metallic", "neon", "pearl"] = "ordinary"
    revision: int = Field(default=1, ge=1, le=MAX_ID)


class SetIn(BaseModel):
    """A boxed set as typed codes."""

    name: str = Field(min_length=1, max_length=_TEXT)
    codes: str = Field(min_length=1, max_length=4000)


class AddedOut(BaseModel):
    """The number of what was added, and the change."""

    id: int
    change: ChangeOut | None


class PastedIn(BaseModel):
    """A list of codes or names."""

    text: str = Field(max_length=20_000)


class PastedLineOut(BaseModel):
    """One piece of it: what it means, or can mean and why that is not settled."""

    text: str
    colours: list[ColourOut]
    problem: str


class PastedOut(BaseModel):
    """All pieces."""

    lines: list[PastedLineOut]


class WhatIn(BaseModel):
    """A measured mark, one layer, dry, on a paper."""

    lab: LabTriple
    paper: int = Field(ge=1, le=MAX_ID)
    pressure: Literal["light", "medium", "heavy"]


class SuspectOut(Out):
    """One colour that the mark may be."""

    colour: ColourOut
    owning: Word
    share: float
    looks: PatchOut
    difference: DifferenceOut
    band: float | None


class IdentifiedOut(Out):
    """The likely colours, owned first."""

    seen: PatchOut
    paper_name: str
    pressure: str
    here: list[SuspectOut]
    by_chart: list[SuspectOut]
    none_share: float
    alike: list[str]
    searched: int
