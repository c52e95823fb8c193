"""What the log of a drawing sends and gets. Times are UTC."""

from __future__ import annotations

from datetime import UTC, datetime

from pydantic import Field

from tidy_tinder.core.vocabulary import MOST_LAYERS, LogKind, SaidPressure
from tidy_tinder.services.bench.log import EntryAs, NewEntry
from tidy_tinder.web.shared.base import Asked, Id, Moment, MomentIn, Out, Schema, SectionId
from tidy_tinder.web.shared.drawn import ColourOut

_LONGEST_NOTE, _LONGEST_KEY, _MOST_AT_ONCE = 500, 64, 2000


def _utc(at: datetime) -> datetime:
    """As the services take it: UTC, without its zone."""
    return at.astimezone(UTC).replace(tzinfo=None) if at.tzinfo is not None else at


def _utc_if_any(at: datetime | None) -> datetime | None:
    """The same; None for a time so far away that it has no UTC: a clock that is wrong keeps no line from being kept."""
    try:
        return _utc(at) if at is not None else None
    except OverflowError:
        return None


class EntryPath(Schema):
    """The number of a line of the log."""

    entry_id: Id


class EntryOut(Out):
    """A line of the log."""

    id: int
    revision: int
    made_at: Moment
    kind: LogKind
    colour: ColourOut | None
    instead_of: ColourOut | None
    area: str
    step_id: int | None
    section_id: int
    call_id: int | None
    pressure: SaidPressure
    layers: int
    note: str


class EntryIn(Schema):
    """A line for the log; null for step, section and time: those at hand."""

    key: str = Field(min_length=1, max_length=_LONGEST_KEY)
    kind: LogKind = LogKind.PENCIL
    colour_id: Id | None = None
    instead_of_id: Id | None = None
    step_id: Id | None = None
    section_id: SectionId | None = None
    call_id: Id | None = None
    pressure: SaidPressure = ""
    layers: int = Field(default=0, ge=0, le=MOST_LAYERS)
    note: str = Field(default="", max_length=_LONGEST_NOTE)
    at: datetime | None = None

    def said(self) -> NewEntry:
        """As the service takes it."""
        return NewEntry(
            self.key, self.kind, self.colour_id, self.instead_of_id, self.step_id, self.section_id, self.call_id,
            self.pressure, self.layers, self.note, _utc_if_any(self.at),
        )  # fmt: skip


class EntriesIn(Schema):
    """Lines for the log in the order in which they were done."""

    entries: list[EntryIn] = Field(min_length=1, max_length=_MOST_AT_ONCE)


class EntryEditIn(Schema):
    """A line of the log said anew, with the revision that was looked at."""

    revision: Id
    pressure: SaidPressure = ""
    layers: int = Field(default=0, ge=0, le=MOST_LAYERS)
    area: str = Field(default="", max_length=200)
    note: str = Field(default="", max_length=_LONGEST_NOTE)
    step_id: Id | None = None
    section_id: SectionId = 0
    instead_of_id: Id | None = None
    made_at: MomentIn

    def said(self) -> EntryAs:
        """As the service takes it."""
        return EntryAs(
            self.pressure, self.layers, self.area, self.note, self.step_id, self.section_id, self.instead_of_id,
            _utc(self.made_at),
        )  # fmt: skip


class UntickIn(Schema):
    """The call whose last layer is taken back, and where."""

    call_id: Id
    section_id: SectionId = 0


class PencilCalledQuery(Asked):
    """A code, a name, or # and a place in the tray."""

    q: str = Field(max_length=200)


class PencilCalledOut(Schema):
    """The pencil that is surely meant, null where it is not sure, and all that may be."""

    sure: int | None
    found: list[ColourOut]


class LogOut(Schema):
    """The whole log of a drawing, the newest first."""

    entries: list[EntryOut]
