"""Swatching sessions: a list of marks read one after another, left and taken up again, doubted where needed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.swatching.averaging import Average, average_readings
from tidy_tinder.core.vocabulary import Finish, Ground, Pressure, Source
from tidy_tinder.devices.colour_reader import ReaderInfo
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id, colour_row
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.reader import MarkUnder, ReaderLink, instrument_words, place_for_session
from tidy_tinder.services.swatches.doubts import doubt_in_words
from tidy_tinder.services.swatches.store import MadeMark, Measurement, store_swatch
from tidy_tinder.storage.models import Colour, ItemState, Paper, SessionItem, SessionState, Swatch, SwatchSession
from tidy_tinder.storage.queries.colours import ColourRow


@dataclass(frozen=True)
class ItemView:
    """One mark of a session. doubt: why its last reading waits; reading: that reading, or the stored one."""

    id: int
    colour: ColourRow
    pressure: Pressure
    layers: int
    over: Ground
    state: ItemState
    readings: int
    doubt: str
    reading: Patch | None


@dataclass(frozen=True)
class SessionCard:
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


@dataclass(frozen=True)
class SessionView:
    """A session with all its marks in order."""

    card: SessionCard
    finish: Finish
    average_of: int
    items: tuple[ItemView, ...]


class Outcome(StrEnum):
    """What came of a wish about one mark: a swatch, one reading of an average, a doubt, or no reading."""

    STORED = "stored"
    MORE = "more"
    DOUBT = "doubt"
    WAITING = "waiting"
    SKIPPED = "skipped"


@dataclass(frozen=True)
class ReadItem:
    """What was done about a mark: as it stands now, and the change where a swatch was stored."""

    item: ItemView
    outcome: Outcome
    change: Changed | None


def session_cards(collection: Collection) -> tuple[SessionCard, ...]:
    """All sessions, the newest first."""
    with collection() as session:
        rows = session.scalars(select(SwatchSession).order_by(SwatchSession.id.desc())).all()
        counted = select(SessionItem.session_id, SessionItem.state, func.count()).group_by(
            SessionItem.session_id, SessionItem.state
        )
        counts: dict[int, dict[ItemState, int]] = {}
        for session_id, state, count in session.execute(counted).all():
            counts.setdefault(session_id, {})[state] = count
        names = {p.id: p.name for p in session.scalars(select(Paper))}
        return tuple(_card(row, names[row.paper_id], counts.get(row.id, {})) for row in rows)


def open_session(collection: Collection, session_id: int) -> SessionView:
    """A session with all its marks. Raises NotFoundError."""
    with collection() as session:
        row = _session(session, session_id)
        items = session.scalars(
            select(SessionItem).where(SessionItem.session_id == session_id).order_by(SessionItem.position)
        ).all()
        colours = chart_by_id(session)
        ids = [i.swatch_id for i in items if i.swatch_id]
        swatches = session.execute(
            select(Swatch.id, Swatch.lab_L, Swatch.lab_a, Swatch.lab_b).where(Swatch.id.in_(ids))
        ).all()
        stored = {i: (L, a, b) for i, L, a, b in swatches}
        counts = {state: sum(i.state == state for i in items) for state in ItemState}
        card = _card(row, find_paper(session, row.paper_id).name, counts)
        views = tuple(_view(row, i, colours[i.colour_id], stored) for i in items)
        return SessionView(card, row.finish, row.average_of, views)


def read_item(collection: Collection, link: ReaderLink, item_id: int) -> ReadItem:
    """Read one mark of a session and keep it at once.

    A reading that cannot be right waits for the artist (outcome “doubt”): see accept_item, reread_item.
    Raises NotFoundError, and a ReaderError where nothing was read; nothing is stored then.
    """
    with collection() as session:
        item = _item(session, item_id)
        row = _session(session, item.session_id)
        place_for_session(session, link, _under(row, item))
    reading, info = link.read()
    values = [round(float(v), 5) for v in reading.reflectance]
    with writing(collection, "Reading") as session:
        item = _item(session, item_id)
        row = _session(session, item.session_id)
        # A new reading of a mark that was read or doubted begins anew.
        begun = item.readings if item.state == ItemState.WAITING and not item.doubt else []
        item.readings, item.doubt = [*begun, values], ""
        if len(item.readings) < row.average_of:
            relabel(session, f"{_name(session, item)}: reading {len(item.readings)} of {row.average_of}")
            return _done(session, item, Outcome.MORE, None)
        average = average_readings([np.asarray(r) for r in item.readings])
        item.doubt = doubt_in_words(Scene.on(session, row.paper_id), row, item, average)
        if item.doubt:
            item.state = ItemState.WAITING
            relabel(session, f"{_name(session, item)}: reading doubted")
            return _done(session, item, Outcome.DOUBT, None)
        _store(session, row, item, average, info)
        return _done(session, item, Outcome.STORED, changed(session))


def accept_item(collection: Collection, link: ReaderLink, item_id: int) -> ReadItem:
    """Keep a doubted reading all the same. Raises NotFoundError, RefusedError where none waits."""
    info = link.info or ReaderInfo("colour reader", "", 0.0, simulated=False)
    with writing(collection, "Reading kept") as session:
        item = _item(session, item_id)
        if not item.doubt:
            raise RefusedError("No doubted reading waits there.")
        average = average_readings([np.asarray(r) for r in item.readings])
        _store(session, _session(session, item.session_id), item, average, info)
        return _done(session, item, Outcome.STORED, changed(session))


def reread_item(collection: Collection, item_id: int) -> ReadItem:
    """Drop the readings that wait, and read the mark anew; a swatch stored before stays in the history."""
    with writing(collection, "Mark to be read again") as session:
        item = _item(session, item_id)
        item.readings, item.doubt, item.state = [], "", ItemState.WAITING
        relabel(session, f"{_name(session, item)} to be read again")
        return _done(session, item, Outcome.WAITING, changed(session))


def skip_item(collection: Collection, item_id: int) -> ReadItem:
    """Leave a mark out of this session. Raises NotFoundError."""
    with writing(collection, "Mark left out") as session:
        item = _item(session, item_id)
        item.state, item.readings, item.doubt = ItemState.SKIPPED, [], ""
        relabel(session, f"{_name(session, item)} left out")
        return _done(session, item, Outcome.SKIPPED, changed(session))


def close_session(collection: Collection, session_id: int) -> Changed | None:
    """Say that a session is done, whatever is left of it; undo opens it again. Raises NotFoundError."""
    with writing(collection, "Session closed") as session:
        row = _session(session, session_id)
        row.state = SessionState.CLOSED
        relabel(session, f"Session closed: {row.title}")
        made = changed(session)
        return made if made.rows else None


def _store(session: Session, row: SwatchSession, item: SessionItem, average: Average, info: ReaderInfo) -> None:
    """Make a swatch of the readings; the mark is read."""
    L, a, b = (round(float(v), 3) for v in average.lab)
    swatch = store_swatch(
        session,
        MadeMark(
            item.colour_id, row.paper_id, item.pressure, item.layers_in(row), row.finish, item.over, row.burnisher_id
        ),
        Measurement(
            (L, a, b), Source.READER, instrument_words(info), [round(float(v), 5) for v in average.reflectance],
            info.aperture_mm or None, average.count,
        ),
    )  # fmt: skip
    item.swatch_id, item.state, item.readings, item.doubt = swatch.id, ItemState.READ, [], ""
    relabel(session, f"{_name(session, item)} read")


def _done(session: Session, item: SessionItem, outcome: Outcome, change: Changed | None) -> ReadItem:
    session.flush()
    colour = colour_row(session, item.colour_id)
    swatch = session.get(Swatch, item.swatch_id) if item.swatch_id else None
    stored = {swatch.id: (swatch.lab_L, swatch.lab_a, swatch.lab_b)} if swatch else {}
    # Another relabelling may have come after the change was looked at.
    made = changed(session) if change is not None else None
    return ReadItem(_view(_session(session, item.session_id), item, colour, stored), outcome, made)


def _view(
    row: SwatchSession, item: SessionItem, colour: ColourRow, stored: Mapping[int, tuple[float, float, float]]
) -> ItemView:
    reading = None
    if item.readings:
        reading = patch(average_readings([np.asarray(r) for r in item.readings]).lab)
    elif item.swatch_id is not None and item.swatch_id in stored:
        reading = patch(stored[item.swatch_id])
    return ItemView(
        item.id, colour, item.pressure, item.layers_in(row), item.over, item.state, len(item.readings), item.doubt,
        reading,
    )  # fmt: skip


def _card(row: SwatchSession, paper_name: str, counts: Mapping[ItemState, int]) -> SessionCard:
    return SessionCard(
        row.id, row.title, row.paper_id, paper_name, row.started_on.isoformat(), sum(counts.values()),
        counts.get(ItemState.READ, 0), counts.get(ItemState.SKIPPED, 0), row.state == SessionState.CLOSED,
    )  # fmt: skip


def _under(row: SwatchSession, item: SessionItem) -> MarkUnder:
    return MarkUnder(
        item.colour_id, row.paper_id, item.pressure, item.layers_in(row), row.finish, row.burnisher_id,
        item.over == Ground.BLACK, row.id,
    )  # fmt: skip


def _name(session: Session, item: SessionItem) -> str:
    colour = session.get_one(Colour, item.colour_id)
    layers = f" in {item.layers} layers" if item.layers else ""
    over = " over black" if item.over == Ground.BLACK else ""
    return f"{colour.code} {colour.name} {item.pressure}{layers}{over}"


def _session(session: Session, session_id: int) -> SwatchSession:
    row = session.get(SwatchSession, session_id)
    if row is None:
        raise NotFoundError(f"There is no session number {session_id}. It may have been taken back.")
    return row


def _item(session: Session, item_id: int) -> SessionItem:
    item = session.get(SessionItem, item_id)
    if item is None:
        raise NotFoundError(f"There is no mark number {item_id} in a session. It may have been taken back.")
    return item
