"""What station 2 sends and gets."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from tidy_tinder.web.drawn import ChangeOut, ColourOut, DifferenceOut, LabTriple, LampsOut, Out, PatchOut
from tidy_tinder.web.endpoint import MAX_ID

Id = Annotated[int, Field(ge=1, le=MAX_ID)]
Pressure = Literal["light", "medium", "heavy"]


class SessionPath(BaseModel):
    """The number of a session."""

    session_id: Id


class ItemPath(BaseModel):
    """The number of a mark in a session."""

    item_id: Id


class SwatchPath(BaseModel):
    """The number of a swatch."""

    swatch_id: Id


class BoardCellOut(Out):
    """One range on one paper: owned colours, those measured, predicted well and poorly at light, medium, heavy;
    others measured; marks missing.
    """

    range_id: int
    owned: int
    measured: list[int]
    well: list[int]
    poorly: list[int]
    others_measured: int
    missing: int


class BoardRowOut(Out):
    """One paper."""

    paper_id: int
    name: str
    kind: str
    colour: PatchOut
    cells: list[BoardCellOut]


class RangeNameOut(BaseModel):
    """A column of the board."""

    id: int
    name: str


class BoardOut(BaseModel):
    """Papers × ranges."""

    ranges: list[RangeNameOut]
    rows: list[BoardRowOut]
    swatches: int


class SessionIn(BaseModel):
    """What a session is to read."""

    paper_id: Id
    which: Literal["owned", "tray", "set", "chosen"]
    pressures: list[Pressure] = Field(max_length=3)
    over_black: bool = False
    only_missing: bool = True
    set_id: Id | None = None
    range_id: Id | None = None
    colour_ids: list[Id] = Field(default_factory=list, max_length=5000)
    layers: int = Field(default=1, ge=1, le=12)
    finish: Literal["dry", "burnished", "solvent", "wet"] = "dry"
    burnisher_id: Id | None = None
    average_of: Literal[1, 3] = 1


class SessionCardOut(Out):
    """A session in the list."""

    id: int
    title: str
    paper_id: int
    paper_name: str
    started_on: str
    marks: int
    read: int
    skipped: int
    closed: bool


class SessionsOut(BaseModel):
    """All sessions, the newest first."""

    sessions: list[SessionCardOut]


class ItemOut(Out):
    """One mark of a session; reading is the waiting or the stored one."""

    id: int
    colour: ColourOut
    pressure: str
    over: str
    state: str
    readings: int
    doubt: str
    reading: PatchOut | None


class SessionOut(Out):
    """A session with all its marks in order."""

    card: SessionCardOut
    layers: int
    finish: str
    average_of: int
    items: list[ItemOut]


class SessionCountOut(BaseModel):
    """How many marks it would have."""

    marks: int


class SessionBegunOut(BaseModel):
    """The number of the new session."""

    id: int
    change: ChangeOut | None


class ReadItemOut(Out):
    """What a reading did: stored, more, doubt, waiting or skipped; and the mark as it stands now."""

    item: ItemOut
    outcome: str
    change: ChangeOut | None


class TypedIn(BaseModel):
    """A mark whose Lab is typed in."""

    colour_id: Id
    paper_id: Id
    pressure: Pressure
    lab: LabTriple
    layers: int = Field(default=1, ge=1, le=12)
    finish: Literal["dry", "burnished", "solvent", "wet"] = "dry"
    over: Literal["paper", "black"] = "paper"
    burnisher_id: Id | None = None
    instrument: str = Field(default="", max_length=120)
    note: str = Field(default="", max_length=2000)


class NoteIn(BaseModel):
    """A note on a swatch; revision is the one that was looked at."""

    note: str = Field(max_length=2000)
    revision: Id


class SwatchAddedOut(BaseModel):
    """The number of the new swatch."""

    id: int
    change: ChangeOut | None


class BesideIn(BaseModel):
    """One mark to be laid beside others."""

    colour_id: Id
    paper_id: Id
    pressure: Pressure


class BesidesIn(BaseModel):
    """Two to six marks."""

    marks: list[BesideIn] = Field(min_length=2, max_length=6)


class LaidOut(Out):
    """One mark of a comparison; patch is null where nothing is known; difference is from the first laid one; band is
    given where it is predicted.
    """

    colour: ColourOut
    paper_name: str
    patch: PatchOut | None
    band: float | None
    difference: DifferenceOut | None
    lamps: LampsOut | None


class LaidsOut(BaseModel):
    """The marks in the order asked."""

    laid: list[LaidOut]
