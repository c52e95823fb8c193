"""Swatching sessions: a list of marks read one after another, left and taken up again, doubted where needed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import Enum
from typing import Any

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.swatching.averaging import Average, average_readings
from tidy_tinder.core.swatching.identification import SPREAD_MEASURED, Candidate, identify
from tidy_tinder.core.swatching.plausibility import Doubt, Expected, doubts
from tidy_tinder.devices.colour_reader import ReaderInfo
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.marks import Patch, charted_colours, find_paper, known_marks, paper_lab, patch
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.reader import MarkUnder, ReaderLink, instrument_words, place_for_session
from tidy_tinder.storage.models import (
    FINISHES,
    PRESSURES,
    BoxedSet,
    Colour,
    Paper,
    SessionItem,
    Swatch,
    SwatchSession,
    TrayPencil,
)
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour, set_contents
from tidy_tinder.storage.queries.swatches import measured_marks, swatch_that_counts

MOST_MARKS = 2400
# A printed black bar as the reader sees it, L* about 23: what a mark over black lies on. Ours.
_BLACK_BAR = np.array([23.0, 0.0, 0.0])


class Which(Enum):
    """Which pencils a session is for."""

    OWNED = "owned"
    TRAY = "tray"
    SET = "set"
    CHOSEN = "chosen"


@dataclass(frozen=True)
class SessionPlan:
    """What a session is to read. only_missing leaves out marks that are measured already."""

    paper_id: int
    which: Which
    pressures: tuple[str, ...]
    over_black: bool = False
    only_missing: bool = True
    set_id: int | None = None
    range_id: int | None = None
    colour_ids: tuple[int, ...] = ()
    layers: int = 1
    finish: str = "dry"
    burnisher_id: int | None = None
    average_of: int = 1


@dataclass(frozen=True)
class ItemView:
    """One mark of a session. doubt: why its last reading waits; reading: that reading, or the stored one."""

    id: int
    colour: ColourRow
    pressure: str
    over: str
    state: str
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
    layers: int
    finish: str
    average_of: int
    items: tuple[ItemView, ...]


@dataclass(frozen=True)
class ReadItem:
    """What a reading did: the mark as it stands now, and the change where a swatch was stored.

    outcome: stored, more (of an average), or doubt.
    """

    item: ItemView
    outcome: str
    change: Changed | None


def start_session(collection: Collection, plan: SessionPlan) -> tuple[int, Changed]:
    """Begin a session. Raises NotFoundError; RefusedError where there is nothing to read or too much."""
    _check_plan(plan)
    with writing(collection, "Swatching session") as session:
        paper = find_paper(session, plan.paper_id)
        marks = _marks_to_read(session, paper, plan)
        if not marks:
            raise RefusedError("Nothing is left to read there: all of it is measured already, or no pencil is at hand.")
        if len(marks) > MOST_MARKS:
            raise RefusedError(f"That would be {len(marks)} marks; a session has at most {MOST_MARKS}. Take fewer.")
        title = f"{paper.name}, {len(marks)} marks"
        row = SwatchSession(
            title=title, paper_id=paper.id, layers=plan.layers, finish=plan.finish, burnisher_id=plan.burnisher_id,
            average_of=plan.average_of, started_on=datetime.now(UTC).date(),
        )  # fmt: skip
        session.add(row)
        session.flush()
        session.add_all(
            SessionItem(session_id=row.id, position=i, colour_id=colour, pressure=pressure, over=over)
            for i, (colour, pressure, over) in enumerate(marks)
        )
        relabel(session, f"Session begun: {title}")
        return row.id, changed(session)


def count_marks(collection: Collection, plan: SessionPlan) -> int:
    """How many marks a session would have; nothing is changed. Raises NotFoundError, RefusedError."""
    _check_plan(plan)
    with collection() as session:
        return len(_marks_to_read(session, find_paper(session, plan.paper_id), plan))


def session_cards(collection: Collection) -> tuple[SessionCard, ...]:
    """All sessions, the newest first."""
    with collection() as session:
        rows = session.scalars(select(SwatchSession).order_by(SwatchSession.id.desc())).all()
        counted = select(SessionItem.session_id, SessionItem.state, func.count()).group_by(
            SessionItem.session_id, SessionItem.state
        )
        counts: dict[int, dict[str, int]] = {}
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
        colours = {c.id: c for c in charted_colours(session)}
        ids = [i.swatch_id for i in items if i.swatch_id]
        swatches = session.execute(
            select(Swatch.id, Swatch.lab_L, Swatch.lab_a, Swatch.lab_b).where(Swatch.id.in_(ids))
        ).all()
        stored = {i: (L, a, b) for i, L, a, b in swatches}
        counts = {state: sum(i.state == state for i in items) for state in ("waiting", "read", "skipped")}
        card = _card(row, find_paper(session, row.paper_id).name, counts)
        views = tuple(_view(i, colours[i.colour_id], stored) for i in items)
        return SessionView(card, row.layers, row.finish, row.average_of, views)


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
        begun = item.readings if item.state == "waiting" and not item.doubt else []
        item.readings, item.doubt = [*begun, values], ""
        if len(item.readings) < row.average_of:
            relabel(session, f"{_name(session, item)}: reading {len(item.readings)} of {row.average_of}")
            return _done(session, item, "more", None)
        average = average_readings([np.asarray(r) for r in item.readings])
        item.doubt = _doubt_words(session, row, item, average)
        if item.doubt:
            item.state = "waiting"
            relabel(session, f"{_name(session, item)}: reading doubted")
            return _done(session, item, "doubt", None)
        _store(session, row, item, average, info)
        return _done(session, item, "stored", changed(session))


def accept_item(collection: Collection, link: ReaderLink, item_id: int) -> ReadItem:
    """Keep a doubted reading all the same. Raises NotFoundError, RefusedError where none waits."""
    info = link.state().info or ReaderInfo("colour reader", "", 0.0, simulated=False)
    with writing(collection, "Reading kept") as session:
        item = _item(session, item_id)
        if not item.doubt:
            raise RefusedError("No doubted reading waits there.")
        average = average_readings([np.asarray(r) for r in item.readings])
        _store(session, _session(session, item.session_id), item, average, info)
        return _done(session, item, "stored", changed(session))


def reread_item(collection: Collection, item_id: int) -> ReadItem:
    """Drop the readings that wait, and read the mark anew; a swatch stored before stays in the history."""
    with writing(collection, "Mark to be read again") as session:
        item = _item(session, item_id)
        item.readings, item.doubt, item.state = [], "", "waiting"
        relabel(session, f"{_name(session, item)} to be read again")
        return _done(session, item, "waiting", changed(session))


def skip_item(collection: Collection, item_id: int) -> ReadItem:
    """Leave a mark out of this session. Raises NotFoundError."""
    with writing(collection, "Mark left out") as session:
        item = _item(session, item_id)
        item.state, item.readings, item.doubt = "skipped", [], ""
        relabel(session, f"{_name(session, item)} left out")
        return _done(session, item, "skipped", changed(session))


def close_session(collection: Collection, session_id: int) -> Changed | None:
    """Say that a session is done, whatever is left of it; undo opens it again. Raises NotFoundError."""
    with writing(collection, "Session closed") as session:
        row = _session(session, session_id)
        row.state = "closed"
        relabel(session, f"Session closed: {row.title}")
        made = changed(session)
        return made if made.rows else None


def _check_plan(plan: SessionPlan) -> None:
    if not (plan.pressures or plan.over_black) or set(plan.pressures) - set(PRESSURES):
        raise RefusedError(f"Choose at least one of {', '.join(PRESSURES)}.")
    if plan.finish not in FINISHES:
        raise RefusedError(f"A finish is {', '.join(FINISHES)}.")
    if plan.finish == "burnished" and plan.burnisher_id is None:
        raise RefusedError("Say with which pencil the marks are burnished.")
    if plan.finish != "burnished" and plan.burnisher_id is not None:
        raise RefusedError("A burnisher is named only for burnished marks.")
    if plan.average_of not in (1, 3):
        raise RefusedError("A mark is read once, or three times for an average.")
    if not 1 <= plan.layers <= 12:
        raise RefusedError("A mark has 1 to 12 layers.")


def _marks_to_read(session: Session, paper: Paper, plan: SessionPlan) -> list[tuple[int, str, str]]:
    """(colour, pressure, over) in chart order: light, medium, heavy, and heavy over the black bar."""
    wanted = _wanted(session, plan)
    rows = [r for r in charted_colours(session) if r.id in wanted]
    if plan.range_id is not None:
        rows = [r for r in rows if r.range_id == plan.range_id]
    plain = plan.only_missing and plan.finish == "dry"
    here: Mapping[int, Mapping[tuple[str, int], Any]] = measured_marks(session, paper.id) if plain else {}
    black: Mapping[int, Mapping[tuple[str, int], Any]] = measured_marks(session, paper.id, "black") if plain else {}
    marks = []
    for row in rows:
        for pressure in (p for p in PRESSURES if p in plan.pressures):
            if (pressure, plan.layers) not in here.get(row.id, {}):
                marks.append((row.id, pressure, "paper"))
        if plan.over_black and ("heavy", plan.layers) not in black.get(row.id, {}):
            marks.append((row.id, "heavy", "black"))
    return marks


def _wanted(session: Session, plan: SessionPlan) -> set[int]:
    if plan.which is Which.TRAY:
        return set(session.scalars(select(TrayPencil.colour_id)))
    if plan.which is Which.CHOSEN:
        return set(plan.colour_ids)
    if plan.which is Which.SET:
        if plan.set_id is None or session.get(BoxedSet, plan.set_id) is None:
            raise NotFoundError(f"There is no set number {plan.set_id}.")
        return {i for set_id, _, _, ids in set_contents(session) if set_id == plan.set_id for i in ids}
    hand = at_hand_now(session)
    return {i for i, pencils in pencils_by_colour(session).items() if hand.has(pencils)}


def _doubt_words(session: Session, row: SwatchSession, item: SessionItem, average: Average) -> str:
    """Why the reading may be wrong, in words; "" where nothing speaks against it."""
    paper = find_paper(session, row.paper_id)
    known = known_marks(session, paper)
    colour = next(c for c in charted_colours(session) if c.id == item.colour_id)
    over_black = item.over == "black"
    heavy = known.get(item.colour_id, {}).get(("heavy", 1))
    chart = np.array(colour.lab) if colour.lab else None
    earlier = swatch_that_counts(
        session, item.colour_id, paper.id, item.pressure, row.layers, row.finish, item.over
    )  # fmt: skip
    expected = Expected(
        ground=_BLACK_BAR if over_black else np.array(paper_lab(paper)),
        full=None if over_black else (np.array(heavy.lab) if heavy else chart),
        earlier=np.array(earlier.lab) if earlier else None,
        heavy=item.pressure == "heavy",
        ordinary=colour.effect == "ordinary" and not over_black,
    )
    if over_black and expected.earlier is None:
        return ""  # a transparent mark over black may well look like the bare bar
    found = doubts(average.lab, expected)
    if not found:
        return ""
    first = found[0]
    if first.doubt is Doubt.BARE:
        return f"This looks like bare {paper.name} (ΔE {first.delta_e:.1f}). Does the reader stand on the mark?"
    if first.doubt is Doubt.EARLIER:
        said = f"It differs from the earlier swatch of {earlier.made_on} by ΔE {first.delta_e:.1f}." if earlier else ""
    else:
        said = f"It is ΔE {first.delta_e:.1f} away from anything that {colour.code} {colour.name} can be here."
    return f"{said}{_nearer(session, known, item, average)}"


def _nearer(
    session: Session, known: Mapping[int, Mapping[tuple[str, int], Any]], item: SessionItem, average: Average
) -> str:  # fmt: skip
    """Which other colour's mark here it looks like, if any."""
    kind = (item.pressure, 1)
    candidates = [Candidate(i, np.array(m[kind].lab), owned=True) for i, m in known.items() if kind in m]
    best = identify(average.lab, candidates, SPREAD_MEASURED).best
    if best is None or best.key == item.colour_id:
        return " Is the right pencil under the reader?"
    other = next(c for c in charted_colours(session) if c.id == best.key)
    return f" It looks like {other.range_name} {other.code} {other.name}: is the right pencil under the reader?"


def _store(session: Session, row: SwatchSession, item: SessionItem, average: Average, info: ReaderInfo) -> None:
    """Make a swatch of the readings; the mark is read."""
    L, a, b = (round(float(v), 3) for v in average.lab)
    swatch = Swatch(
        colour_id=item.colour_id, paper_id=row.paper_id, pressure=item.pressure, layers=row.layers, finish=row.finish,
        over=item.over, lab_L=L, lab_a=a, lab_b=b, spectrum=[round(float(v), 5) for v in average.reflectance],
        spectrum_white="D65, 2 degree", source="reader", instrument=instrument_words(info),
        aperture_mm=info.aperture_mm or None, averaged_of=average.count, burnisher_id=row.burnisher_id,
        made_on=datetime.now(UTC).date(),
    )  # fmt: skip
    session.add(swatch)
    session.flush()
    item.swatch_id, item.state, item.readings, item.doubt = swatch.id, "read", [], ""
    relabel(session, f"{_name(session, item)} read")


def _done(session: Session, item: SessionItem, outcome: str, change: Changed | None) -> ReadItem:
    session.flush()
    colour = next(c for c in charted_colours(session) if c.id == item.colour_id)
    swatch = session.get(Swatch, item.swatch_id) if item.swatch_id else None
    stored = {swatch.id: (swatch.lab_L, swatch.lab_a, swatch.lab_b)} if swatch else {}
    # Another relabelling may have come after the change was looked at.
    made = changed(session) if change is not None else None
    return ReadItem(_view(item, colour, stored), outcome, made)


def _view(item: SessionItem, colour: ColourRow, stored: Mapping[int, tuple[float, float, float]]) -> ItemView:
    reading = None
    if item.readings:
        reading = patch(average_readings([np.asarray(r) for r in item.readings]).lab)
    elif item.swatch_id is not None and item.swatch_id in stored:
        reading = patch(stored[item.swatch_id])
    return ItemView(item.id, colour, item.pressure, item.over, item.state, len(item.readings), item.doubt, reading)


def _card(row: SwatchSession, paper_name: str, counts: Mapping[str, int]) -> SessionCard:
    return SessionCard(
        row.id, row.title, row.paper_id, paper_name, row.started_on.isoformat(), sum(counts.values()),
        counts.get("read", 0), counts.get("skipped", 0), row.state == "closed",
    )  # fmt: skip


def _under(row: SwatchSession, item: SessionItem) -> MarkUnder:
    return MarkUnder(
        item.colour_id, row.paper_id, item.pressure, row.layers, row.finish, row.burnisher_id,
        item.over == "black", row.id,
    )  # fmt: skip


def _name(session: Session, item: SessionItem) -> str:
    colour = session.get_one(Colour, item.colour_id)
    over = " over black" if item.over == "black" else ""
    return f"{colour.code} {colour.name} {item.pressure}{over}"


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
