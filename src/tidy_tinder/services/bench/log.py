"""The log of a drawing: what was really used, by one key each; written once, however often it is sent."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import MOST_LAYERS, LogKind, Pressure, SaidPressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.rows import bench_of, check_section, open_sitting, sections_in_order, stand
from tidy_tinder.services.collection.chart import catalogue_of, existing
from tidy_tinder.services.collection.scene import Stock
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, revise, writing
from tidy_tinder.services.tray import tray as shown_tray
from tidy_tinder.storage.models import WHOLE, LogEntry, RecipeStep
from tidy_tinder.storage.queries.colours import ColourRow

MOST_ENTRIES = 5000
"""Lines that the log of one drawing holds."""
_LONGEST_NOTE = 500
_LONGEST_KEY = 64
# A phone that was away sends what it kept; older than this it is told as from now, for its clock cannot be right.
_OLDEST_SENT = timedelta(days=7)


@dataclass(frozen=True)
class NewEntry:
    """What is to be logged. key: made by who sends it; at: when it was done, None for now; colour_id: the pencil where
    it is one; step_id, section_id: None where it is the one at hand.
    """

    key: str
    kind: LogKind = LogKind.PENCIL
    colour_id: int | None = None
    instead_of_id: int | None = None
    step_id: int | None = None
    section_id: int | None = None
    call_id: int | None = None
    pressure: SaidPressure = ""
    layers: int = 0
    note: str = ""
    at: datetime | None = None


@dataclass(frozen=True)
class EntryView:
    """A line of the log. step_id, call_id: along which it was done; they may be gone from the recipe by now."""

    id: int
    revision: int
    made_at: datetime
    kind: LogKind
    colour: ColourRow | None
    instead_of: ColourRow | None
    area: str
    step_id: int | None
    section_id: int
    call_id: int | None
    pressure: SaidPressure
    layers: int
    note: str


@dataclass(frozen=True)
class EntryAs:
    """All that can be said anew of a line."""

    pressure: SaidPressure
    layers: int
    area: str
    note: str
    step_id: int | None
    section_id: int
    instead_of_id: int | None
    made_at: datetime


def write_log(collection: Collection, drawing_id: int, entries: Sequence[NewEntry]) -> tuple[int, Changed | None]:
    """Write lines in the order in which they were done; those that are there already, by their key, are left as they
    are. How many were new, and the change. Raises NotFoundError, RefusedError; all are written, or none.
    """
    stand(collection, drawing_id)
    with writing(collection, "Logged") as session:
        drawing = find_drawing(session, drawing_id)
        known = set(session.scalars(select(LogEntry.key).where(LogEntry.key.in_([e.key for e in entries]))))
        new = [entry for i, entry in enumerate(entries) if entry.key not in known | {e.key for e in entries[:i]}]
        there = session.scalar(select(func.count(LogEntry.id)).where(LogEntry.drawing_id == drawing_id)) or 0
        if there + len(new) > MOST_ENTRIES:
            raise RefusedError(
                f"The log of a drawing holds {MOST_ENTRIES} lines. Keep what was done as a recipe first."
            )
        for entry in new:
            session.add(_row(session, drawing_id, entry))
        if not new:
            return 0, None
        words = _said(session, new[0]) if len(new) == 1 else f"{len(new)} lines"
        relabel(session, f"Logged: {words}, on “{drawing.name}”")
        return len(new), changed(session)


def correct_entry(collection: Collection, entry_id: int, revision: int, wanted: EntryAs) -> Changed | None:
    """Say a line anew, or move it. Raises NotFoundError, RefusedError, ChangedMeanwhileError with both versions."""
    with writing(collection, "Line of the log corrected") as session:
        entry = find_entry(session, entry_id)
        _check_said(wanted.pressure, wanted.layers, wanted.note)
        check_section(session, entry.drawing_id, wanted.section_id)
        if wanted.instead_of_id is not None:
            existing(session, [wanted.instead_of_id])
        revise(entry, revision, vars(wanted), "This line of the log")
        made = changed(session)
        return made if made.rows else None


def remove_entry(collection: Collection, entry_id: int) -> Changed:
    """Take a line out of the log; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Line taken out of the log") as session:
        session.delete(find_entry(session, entry_id))
        return changed(session)


def untick(collection: Collection, drawing_id: int, call_id: int, section_id: int) -> Changed | None:
    """Take back the last layer that was ticked for a call in a section. Does nothing where there is none."""
    with writing(collection, "Layer taken back") as session:
        ticked = select(LogEntry).where(
            LogEntry.drawing_id == drawing_id, LogEntry.call_id == call_id, LogEntry.section_id == section_id
        )
        last = session.scalars(ticked.order_by(LogEntry.made_at.desc(), LogEntry.id.desc())).first()
        if last is None:
            return None
        session.delete(last)
        return changed(session)


def pencil_called(collection: Collection, drawing_id: int, words: str) -> tuple[int | None, tuple[ColourRow, ...]]:
    """What a code, a name or the tray's number means at the bench: the pencil where it is sure, and all that it may be.

    The tray is counted as it is shown, from light to dark. Of several, those in the tray and then those that are owned
    come first; one of the tray alone is sure. Raises NotFoundError for an unknown drawing.
    """
    with collection() as session:
        drawing = find_drawing(session, drawing_id)
        stock, said = Stock(session), words.strip()
        tray = [card.colour.id for card in shown_tray(collection, drawing.paper_id).cards]
        if said.startswith("#") and said[1:].isascii() and said[1:].isdigit() and len(said) < 6:
            place = int(said[1:])
            sure = tray[place - 1] if 1 <= place <= len(tray) else None
            return sure, (stock.colours[sure],) if sure is not None else ()
        finding = catalogue_of(session).suggest(said)
        both = finding.conflict.by_code + finding.conflict.by_name if finding.conflict else ()
        found = list(dict.fromkeys(entry.key for entry in finding.hits or both))
        found.sort(key=lambda i: (i not in tray, i not in stock.at_hand))
        for near in ([i for i in found if i in tray], [i for i in found if i in stock.at_hand], found):
            if near:
                sure = near[0] if len(near) == 1 and (finding.certain or len(found) == 1) else None
                return sure, tuple(stock.colours[i] for i in found[:8])
        return None, ()


def whole_log(collection: Collection, drawing_id: int) -> tuple[EntryView, ...]:
    """All of a drawing's log, the newest first. Raises NotFoundError."""
    with collection() as session:
        find_drawing(session, drawing_id)
        return log_of(session, drawing_id)


def log_of(session: Session, drawing_id: int, limit: int | None = None) -> tuple[EntryView, ...]:
    """The log of a drawing, the newest first."""
    query = select(LogEntry).where(LogEntry.drawing_id == drawing_id)
    rows = session.scalars(query.order_by(LogEntry.made_at.desc(), LogEntry.id.desc()).limit(limit)).all()
    colours = Stock(session).colours
    return tuple(
        EntryView(
            row.id, row.revision, row.made_at, row.kind, colours.get(row.colour_id or 0),
            colours.get(row.instead_of_id or 0), row.area, row.step_id, row.section_id, row.call_id, row.pressure,
            row.layers, row.note,
        )
        for row in rows
    )  # fmt: skip


def find_entry(session: Session, entry_id: int) -> LogEntry:
    """The line; raises NotFoundError."""
    entry = session.get(LogEntry, entry_id)
    if entry is None:
        raise NotFoundError(f"There is no line number {entry_id} in the log. It may have been taken out meanwhile.")
    return entry


def _row(session: Session, drawing_id: int, entry: NewEntry) -> LogEntry:
    if not 1 <= len(entry.key) <= _LONGEST_KEY:
        raise RefusedError(f"A line is sent under a name of 1 to {_LONGEST_KEY} letters.")
    if (entry.kind is LogKind.PENCIL) != (entry.colour_id is not None):
        raise RefusedError("A line of the log is a pencil, or it is something else: say which pencil it was.")
    _check_said(entry.pressure, entry.layers, entry.note)
    existing(session, [i for i in (entry.colour_id, entry.instead_of_id) if i is not None])
    bench, sitting = bench_of(session, drawing_id), open_sitting(session, drawing_id)
    step_id = entry.step_id if entry.step_id is not None else bench.step_id if bench else None
    section_id = entry.section_id if entry.section_id is not None else bench.section_id if bench else WHOLE
    if section_id not in (WHOLE, *(section.id for section in sections_in_order(session, drawing_id))):
        section_id = WHOLE  # parted anew while the line was on its way: nothing that was written is refused for that
    step = session.get(RecipeStep, step_id) if step_id is not None else None
    return LogEntry(
        drawing_id=drawing_id, sitting_id=sitting.id if sitting else None, key=entry.key, made_at=_when(entry.at),
        kind=entry.kind, colour_id=entry.colour_id, instead_of_id=entry.instead_of_id,
        step_id=step.id if step else None, section_id=section_id, call_id=entry.call_id,
        area=step.area if step else "", pressure=entry.pressure, layers=entry.layers,
        note=" ".join(entry.note.split()),
    )  # fmt: skip


def _when(at: datetime | None) -> datetime:
    """When it was done: never in the future, nor longer ago than a phone keeps it."""
    here = now()
    return at if at is not None and here - _OLDEST_SENT <= at <= here else here


def _check_said(pressure: str, layers: int, note: str) -> None:
    if pressure not in ("", *Pressure):
        raise RefusedError(f"“{pressure}” is no pressure; it is {', '.join(Pressure)}.")
    if not 0 <= layers <= MOST_LAYERS:
        raise RefusedError(f"A pencil is laid in 1 to {MOST_LAYERS} layers, not {layers}.")
    if len(note) > _LONGEST_NOTE:
        raise RefusedError(f"A note has at most {_LONGEST_NOTE} letters, not {len(note)}.")


def _said(session: Session, entry: NewEntry) -> str:
    if entry.colour_id is None:
        return entry.note or str(entry.kind)
    colour = Stock(session).colour(entry.colour_id)
    return f"{colour.range_name} {colour.code}"
