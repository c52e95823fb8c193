"""What scraps send and get."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from tidy_tinder.web.drawn import (
    ChangeOut,
    CoatIn,
    CoatOut,
    ColourOut,
    DifferenceOut,
    LabTriple,
    Out,
    PatchOut,
    SeenOut,
)
from tidy_tinder.web.endpoint import MAX_ID

_Pressure = Literal["light", "medium", "heavy", "burnish"]


class ScrapPath(BaseModel):
    """The number of a scrap."""

    scrap_id: int = Field(ge=1, le=MAX_ID)


class ScrapIn(BaseModel):
    """Layers to be tried, the lowest first, and the colour that they are to stand in for, if any."""

    paper_id: int = Field(ge=1, le=MAX_ID)
    laid: list[CoatIn] = Field(min_length=1, max_length=4)
    finish: Literal["dry", "solvent"] = "dry"
    wanted_id: int | None = Field(default=None, ge=1, le=MAX_ID)
    wanted_pressure: _Pressure = "heavy"
    wanted_layers: int = Field(default=1, ge=1, le=12)


class VerdictIn(BaseModel):
    """What is said of a scrap; revision is the one that was looked at."""

    verdict: list[Annotated[str, Field(max_length=20)]] = Field(max_length=8)
    note: str = Field(default="", max_length=2000)
    revision: int = Field(ge=1, le=MAX_ID)


class StripIn(BaseModel):
    """A reading of one of the two orders: by the reader, or the Lab that is typed in (D65, 2°).

    keep: also where it is far from what is expected.
    """

    turned: bool
    lab: LabTriple | None = None
    keep: bool = False


class BegunOut(BaseModel):
    """The number of the new scrap."""

    id: int
    change: ChangeOut | None


class StripReadOut(Out):
    """A reading: kept, or doubted for a reason, and then not kept."""

    doubt: str
    reading: PatchOut
    change: ChangeOut | None


class StripFieldOut(Out):
    """One field of the strip; kind is alone, laid or turned."""

    kind: str
    laid: list[CoatOut]
    said: str
    seen: SeenOut | None


class WantedOut(Out):
    """The colour that a scrap stands in for, and its mark as far as it is known."""

    colour: ColourOut
    pressure: str
    layers: int
    seen: SeenOut | None


class ScrapOut(Out):
    """A scrap with its strip."""

    id: int
    revision: int
    paper_id: int
    paper_name: str
    finish: str
    said: str
    wanted: WantedOut | None
    fields: list[StripFieldOut]
    apart: DifferenceOut | None
    verdict: list[str]
    note: str
    made_on: date
    can_be_said: list[list[str]] = Field(description="at most one of each group; with the first, nothing else")


class ScrapCardOut(Out):
    """A scrap in the list."""

    id: int
    said: str
    wanted: ColourOut | None
    verdict: list[str]
    note: str
    made_on: date
    measured: PatchOut | None


class ScrapsOut(BaseModel):
    """What was tried on a paper, the newest first."""

    scraps: list[ScrapCardOut]
