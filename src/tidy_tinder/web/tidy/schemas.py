"""What the shelves, pencils, places and charts of station 1 send and get."""

from __future__ import annotations

from typing import Literal

from pydantic import AliasChoices, Field

from tidy_tinder.core.vocabulary import (
    LONGEST_PENCIL_MM,
    SHORTEST_NEW_PENCIL_MM,
    Effect,
    PencilState,
    PrintedOpacity,
)
from tidy_tinder.formats.owned_list import LONGEST_LIST
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.web.shared.base import Id, Ids, LabTriple, Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut
from tidy_tinder.web.shared.drawn import ColourCardOut, ColourOut

_TEXT = 120


class PlaceOut(Out):
    """Where a pencil stands."""

    tin: str
    slot: int | None


class ShelfColourOut(Out):
    """One colour on a shelf."""

    id: int = Field(validation_alias=AliasChoices("id", "colour_id"))
    owning: Owning
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


class ShelvesOut(Schema):
    """All ranges."""

    shelves: list[ShelfOut]


class TickIn(Schema):
    """Typed codes of one range."""

    range_id: Id
    text: str = Field(min_length=1, max_length=4000)
    owned: bool = True


class TickedOut(Schema):
    """What ticking did; unknown names what is not on that chart."""

    change: ChangeOut | None
    newly: int
    already: int
    unknown: list[str]


class OwnedIn(Schema):
    """Colours to own, or to own no more; one that is named several times is owned so many times."""

    colour_ids: Ids = Field(min_length=1, max_length=5000)
    owned: bool


class PencilsIn(Schema):
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
    state: PencilState
    stamp_readable: bool
    notes: str
    set_name: str = ""


class PencilIn(Schema):
    """One stick, said anew; revision is the one that was looked at."""

    revision: Id
    tin: str = Field(max_length=60)
    slot: int | None = Field(default=None, ge=0, le=9999)
    length_mm: int | None = Field(default=None, ge=0, le=LONGEST_PENCIL_MM)
    state: PencilState
    stamp_readable: bool
    notes: str = Field(default="", max_length=2000)


class TinOut(Out):
    """A place."""

    name: str
    pencils: int
    stubs: int
    lost: int
    travels: bool


class TinsOut(Schema):
    """All places."""

    tins: list[TinOut]


class TravelIn(Schema):
    """A tin that is taken along, or not."""

    tin: str = Field(max_length=60)
    along: bool


class RangeIn(Schema):
    """A range, said anew; revision is the one that was looked at (for a change only)."""

    maker: str = Field(default="", max_length=_TEXT)
    name: str = Field(min_length=1, max_length=_TEXT)
    feel: str = Field(default="", max_length=300)
    new_length_mm: int = Field(default=175, ge=SHORTEST_NEW_PENCIL_MM, le=LONGEST_PENCIL_MM)
    holds_point: bool | None = None
    water_soluble: bool | None = None
    revision: Id = 1


class ChartIn(Schema):
    """What a chart says of a colour; revision is the one that was looked at (for a correction only)."""

    code: str = Field(min_length=1, max_length=_TEXT)
    name: str = Field(min_length=1, max_length=_TEXT)
    lab: LabTriple | None = None
    opacity: PrintedOpacity = ""
    lightfastness: str = Field(default="", max_length=_TEXT)
    effect: Effect = Effect.ORDINARY
    revision: Id = 1


class SetIn(Schema):
    """A boxed set as typed codes."""

    name: str = Field(min_length=1, max_length=_TEXT)
    codes: str = Field(min_length=1, max_length=4000)


class PastedIn(Schema):
    """A list of codes or names."""

    text: str = Field(max_length=LONGEST_LIST)


class PastedLineOut(Schema):
    """One piece of it: what it means (several colours for a span), or can mean and why that is not settled."""

    text: str
    colours: list[ColourOut]
    count: int = Field(description="How many pencils of each")
    problem: str


class PastedOut(Schema):
    """All pieces."""

    lines: list[PastedLineOut]
