"""What station 2 sends and gets."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from tidy_tinder.core.vocabulary import (
    Finish,
    Ground,
    MarkPressure,
    Pressure,
)
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.swatches.session_plan import Which
from tidy_tinder.services.swatches.sessions import Outcome
from tidy_tinder.storage.models import ItemState
from tidy_tinder.web.shared.base import Id, LabTriple, Layers, Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, LampsOut, PatchOut


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


class RangeNameOut(Schema):
    """A column of the board."""

    id: int
    name: str


class BoardOut(Schema):
    """Papers × ranges."""

    ranges: list[RangeNameOut]
    rows: list[BoardRowOut]
    swatches: int


class SessionIn(Schema):
    """What a session is to read."""

    paper_id: Id
    which: Which
    pressures: list[MarkPressure] = Field(max_length=3)
    over_black: bool = False
    only_missing: bool = True
    set_id: Id | None = None
    range_id: Id | None = None
    colour_ids: list[Id] = Field(default_factory=list, max_length=5000)
    layers: Layers = 1
    finish: Finish = Finish.DRY
    burnisher_id: Id | None = None
    average_of: Literal[1, 3] = 1
    twice: bool = False
    few_over_black: bool = False
    layered: bool = False


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


class SessionsOut(Schema):
    """All sessions, the newest first."""

    sessions: list[SessionCardOut]


class ItemOut(Out):
    """One mark of a session; reading is the waiting or the stored one."""

    id: int
    colour: ColourOut
    pressure: Pressure
    layers: int
    over: Ground
    state: ItemState
    readings: int
    doubt: str
    reading: PatchOut | None


class SessionOut(Out):
    """A session with all its marks in order."""

    card: SessionCardOut
    finish: Finish
    average_of: int
    items: list[ItemOut]


class SessionCountOut(Out):
    """How many marks it would have, of how many kinds of mark two makings were measured so far, of how many pencils a
    mark over black, and of how many one of several layers on its paper. takes_layers: whether that takes as many as
    would be laid.
    """

    marks: int
    made_twice: int
    over_black: int
    layered: int
    takes_layers: bool


class ReadItemOut(Out):
    """What a reading did: stored, more, doubt, waiting or skipped; and the mark as it stands now."""

    item: ItemOut
    outcome: Outcome
    change: ChangeOut | None


class TypedIn(Schema):
    """A mark whose Lab is typed in."""

    colour_id: Id
    paper_id: Id
    pressure: MarkPressure
    lab: LabTriple
    layers: Layers = 1
    finish: Finish = Finish.DRY
    over: Ground = Ground.PAPER
    burnisher_id: Id | None = None
    instrument: str = Field(default="", max_length=120)
    note: str = Field(default="", max_length=2000)


class NoteIn(Schema):
    """A note on a swatch; revision is the one that was looked at."""

    note: str = Field(max_length=2000)
    revision: Id


class BesideIn(Schema):
    """One mark to be laid beside others."""

    colour_id: Id
    paper_id: Id
    pressure: MarkPressure


class BesidesIn(Schema):
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
    trust: Trust
    difference: DifferenceOut | None
    lamps: LampsOut | None


class LaidsOut(Schema):
    """The marks in the order asked."""

    laid: list[LaidOut]
