"""Every write's before and after, row revisions, the collection's version, and undo.

`writing` is the only way in which the services change the database: it takes the write lock, lets the
service work with the ORM, records each row's before and after, raises its revision, and commits all of
it or nothing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, date, datetime
from itertools import groupby
from typing import Any

from sqlalchemy import ColumnElement, Table, delete, event, func, insert, inspect, select, text, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, aliased

from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError, TwoVersions
from tidy_tinder.storage.engine import WRITER
from tidy_tinder.storage.models import JournalChange, Journaled, JournalEntry, Paper

Row = dict[str, Any]
_UNDO = "Undo: "
# The kind of change that makes a collection what it begins as.
BEGINNING = "beginning"
# Rows that are taken back with one question to the database, which takes no more parameters than some thousands.
_AT_ONCE = 500


@dataclass(frozen=True)
class Changed:
    """A change that was made: its number (for undo), what it did in words, and how many rows it touched."""

    change_id: int
    label: str
    rows: int


class _Recorder:
    """Collects before and after of every journaled row that a session flushes."""

    def __init__(self, session: Session) -> None:
        self.entries: list[tuple[str, int, Row | None, Row | None]] = []
        self._pending: list[tuple[Journaled, Row | None]] = []
        event.listen(session, "before_flush", self._before)
        event.listen(session, "after_flush", self._after)

    def _before(self, session: Session, _context: Any, _instances: Any) -> None:
        self._pending = [(row, None) for row in session.new if isinstance(row, Journaled)]
        for row in session.dirty:
            if isinstance(row, Journaled) and session.is_modified(row):
                before = _stored(row)
                row.revision = before["revision"] + 1
                self._pending.append((row, before))
        for row in session.deleted:
            if isinstance(row, Journaled):
                self.entries.append((row.__tablename__, row.id, _plain(_stored(row)), None))

    def _after(self, _session: Session, _context: Any) -> None:
        for row, before in self._pending:
            now = _plain({name: getattr(row, name) for name in _columns(row)})
            self.entries.append((row.__tablename__, row.id, _plain(before) if before else None, now))
        self._pending = []


def now() -> datetime:
    """The time, UTC, as the database holds it: without its zone."""
    return datetime.now(UTC).replace(tzinfo=None)


@contextmanager
def writing(
    open_session: Callable[[], Session], label: str, kind: str = "collection", undoes: int | None = None
) -> Iterator[Session]:
    """A transaction that is journaled as one change, with one undo.

    The change's number stands in `session.info["change_id"]`. Where nothing was written, no change is kept.
    """
    with open_session() as session:
        session.connection(execution_options=WRITER)
        change = JournalChange(made_at=datetime.now(UTC), label=label, kind=kind, undoes_id=undoes)
        session.add(change)
        session.flush()
        recorder = _Recorder(session)
        session.info["change_id"] = change.id
        session.info["journal_change"] = change
        session.info["recorder"] = recorder
        yield session
        session.flush()
        if not recorder.entries:
            session.rollback()
            return
        rows = [
            {"change_id": change.id, "position": i, "table_name": t, "row_id": r, "before": b, "after": a}
            for i, (t, r, b, a) in enumerate(recorder.entries)
        ]
        session.execute(insert(JournalEntry), rows)
        session.commit()


@contextmanager
def unjournaled(open_session: Callable[[], Session]) -> Iterator[Session]:
    """A transaction on what is neither journaled nor undone, such as a clock: all of it or nothing."""
    with open_session() as session:
        session.connection(execution_options=WRITER)
        yield session
        session.commit()


def changed(session: Session) -> Changed:
    """What the change of this `writing` session is called and how many rows it touched so far."""
    session.flush()
    change: JournalChange = session.info["journal_change"]
    return Changed(change.id, change.label, len(session.info["recorder"].entries))


def add_many(session: Session, kind: type[Journaled], rows: Sequence[Row]) -> list[int]:
    """Add rows of one kind, each with the same columns, to the change of this `writing` session; their numbers, in
    order. What an ORM does for each row takes minutes for a hundred thousand, with the write lock held.
    """
    session.flush()
    if not rows:
        return []
    table = _table(kind)
    # A number is never given twice, also where its row is gone (AUTOINCREMENT).
    newest = session.scalar(text("SELECT seq FROM sqlite_sequence WHERE name = :name"), {"name": table.name}) or 0
    numbers = list(range(newest + 1, newest + 1 + len(rows)))
    session.execute(insert(table), [{"id": number, **row} for number, row in zip(numbers, rows, strict=True)])
    made = session.execute(select(table).where(table.c.id > newest).order_by(table.c.id)).mappings()
    session.info["recorder"].entries += [(table.name, row["id"], None, _plain(dict(row))) for row in made]
    return numbers


def relabel(session: Session, label: str) -> None:
    """Give the change of this `writing` session its final words, once they are known."""
    session.info["journal_change"].label = label


def collection_version(session: Session) -> int:
    """Number of the newest change to the collection; 0 for a new one. The key of everything cached."""
    newest = select(func.max(JournalChange.id)).where(JournalChange.kind != "setting")
    return session.scalar(newest) or 0


def as_beginning(session: Session) -> None:
    """Let all changes so far be what the collection begins with, which is not undone."""
    session.execute(update(JournalChange).where(JournalChange.kind == "collection").values(kind=BEGINNING))


def tables_version(session: Session, tables: Sequence[str]) -> int:
    """Number of the newest change to any of these tables; the key of what is computed from them alone.

    One page asks for it a dozen times: within one reading, which sees nothing of what others write, it is read once.
    """
    if "recorder" in session.info:
        return _newest_change(session, tables)
    known = _versions_in_this_reading(session)
    key = tuple(tables)
    if key not in known:
        known[key] = _newest_change(session, tables)
    return known[key]


def _versions_in_this_reading(session: Session) -> dict[tuple[str, ...], int]:
    session.connection()  # begins the reading where it is not begun yet
    transaction, read = session.info.get("versions", (None, {}))
    known: dict[tuple[str, ...], int] = read if transaction is session.get_transaction() else {}
    session.info["versions"] = (session.get_transaction(), known)
    return known


def _newest_change(session: Session, tables: Sequence[str]) -> int:
    newest = select(func.max(JournalEntry.change_id)).where(JournalEntry.table_name.in_(tables))
    return session.scalar(newest) or 0


def writes_to(session: Session, tables: Sequence[str]) -> bool:
    """Whether this session has changed any of these tables; what it sees is then of no version yet."""
    recorder = session.info.get("recorder")
    if recorder is None:
        return False
    session.flush()
    return any(table in tables for table, _, _, _ in recorder.entries)


@dataclass(frozen=True)
class PastChange:
    """A change of the collection as it is remembered. undone: it was taken back since; undoing: it took one back."""

    change_id: int
    label: str
    rows: int
    made_at: datetime
    undone: bool
    undoing: bool


def past_changes(session: Session, limit: int = 50) -> tuple[PastChange, ...]:
    """The newest changes to the collection, the newest first."""
    return _past(session, limit=limit)


def undoable(session: Session) -> PastChange | None:
    """The change that undo would take back: the newest that is no undoing and was not undone."""
    undoing = aliased(JournalChange)
    undone = select(undoing.id).where(undoing.undoes_id == JournalChange.id).exists()
    return next(iter(_past(session, JournalChange.undoes_id.is_(None), ~undone, limit=1)), None)


def _past(session: Session, *conditions: ColumnElement[bool], limit: int) -> tuple[PastChange, ...]:
    """The newest changes of the collection for which these conditions hold."""
    undoing = aliased(JournalChange)
    rows = (
        select(func.count(JournalEntry.id)).where(JournalEntry.change_id == JournalChange.id).scalar_subquery()
    )  # fmt: skip
    query = (
        select(JournalChange.id, JournalChange.label, rows, JournalChange.made_at, undoing.id, JournalChange.undoes_id)
        .outerjoin(undoing, undoing.undoes_id == JournalChange.id)
        .where(JournalChange.kind == "collection", *conditions)
        .order_by(JournalChange.id.desc())
        .limit(limit)
    )
    return tuple(
        PastChange(id_, label, count, made_at.replace(tzinfo=UTC), undone is not None, undoes is not None)
        for id_, label, count, made_at, undone, undoes in session.execute(query).all()
    )


def revise(row: Journaled, revision: int, changes: Row, what: str) -> None:
    """Change a row that somebody looked at: refused if it has been changed since then.

    Raises ChangedMeanwhileError with both versions of every field that differs.
    """
    if row.revision != revision:
        differing = tuple(
            TwoVersions(name, _said(value), _said(getattr(row, name)))
            for name, value in changes.items()
            if getattr(row, name) != value
        )
        raise ChangedMeanwhileError(
            f"{what} has been changed in another window since you opened it. Look at both and decide.",
            differing,
            row.revision,
        )
    for name, value in changes.items():
        setattr(row, name, value)


def _said(value: object) -> str:
    """A value as both versions show it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else str(value)


def undo(open_session: Callable[[], Session], change_id: int) -> Changed:
    """Take back one change, whole. The undoing is a change itself.

    Raises NotFoundError for an unknown change, RefusedError where it was taken back already,
    ChangedMeanwhileError where a row has been changed since: nothing is taken back then.
    """
    with open_session() as session:
        change = session.get(JournalChange, change_id)
        if change is None:
            raise NotFoundError(f"There is no change number {change_id} to take back.")
        label = change.label
        if change.kind == BEGINNING:
            raise RefusedError(f"“{label}” is what this collection began with, and stays.")
        if session.scalar(select(JournalChange.id).where(JournalChange.undoes_id == change_id)):
            raise RefusedError(f"“{label}” was already taken back.")
    try:
        with writing(open_session, f"{_UNDO}{label}", undoes=change_id) as session:
            entries = session.scalars(
                select(JournalEntry).where(JournalEntry.change_id == change_id).order_by(JournalEntry.position.desc())
            ).all()
            for added, some in groupby(entries, lambda entry: entry.table_name if entry.before is None else None):
                if added is not None:
                    _take_away(session, added, list(some), label)
                else:
                    for entry in some:
                        _put_back(session, entry, label)
            if session.scalar(select(Paper.id).limit(1)) is None:
                raise RefusedError(
                    f"“{label}” was not taken back: a collection always has a paper, and this is its last."
                )
            return changed(session)
    except IntegrityError:
        # A row that the change made is what a later one rests on, or the other way round.
        raise ChangedMeanwhileError(
            f"“{label}” was not taken back: something that was changed since rests on it. Take back the later change "
            "first."
        ) from None


def _take_away(session: Session, table_name: str, entries: Sequence[JournalEntry], label: str) -> None:
    """Remove rows of one table that the change added, if they still are what it made of them: many at once, since one
    by one those of a large catalogue take minutes.
    """
    table = _table(_models()[table_name])
    session.flush()
    for start in range(0, len(entries), _AT_ONCE):
        some = entries[start : start + _AT_ONCE]
        mine = table.c.id.in_([entry.row_id for entry in some])
        there = {row["id"]: dict(row) for row in session.execute(select(table).where(mine)).mappings()}
        for entry in some:
            _check_unchanged(entry, there.get(entry.row_id), label)
        session.execute(delete(table).where(mine))
        session.info["recorder"].entries += [(table_name, e.row_id, _plain(there[e.row_id]), None) for e in some]
    for row in [row for row in session if isinstance(row, Journaled) and row.__tablename__ == table_name]:
        session.expunge(row)


def _check_unchanged(entry: JournalEntry, row: Row | None, label: str) -> None:
    beside = _models()[entry.table_name].SETTINGS
    if _content(None if row is None else _plain(row), beside) != _content(entry.after, beside):
        raise ChangedMeanwhileError(
            f"“{label}” was not taken back: {entry.table_name.replace('_', ' ')} {entry.row_id} has been changed "
            "since. Take back the later change first."
        )


def _put_back(session: Session, entry: JournalEntry, label: str) -> None:
    """Bring one row that was changed or removed back to what it was, if it still is what the change made of it."""
    assert entry.before is not None, "what was added is taken away"
    model = _models()[entry.table_name]
    row = session.get(model, entry.row_id)
    _check_unchanged(entry, None if row is None else {name: getattr(row, name) for name in _columns(row)}, label)
    if row is None:
        restored = model(**_typed(model, entry.before))
        restored.revision += 1
        session.add(restored)
    else:
        for name, value in _typed(model, entry.before).items():
            if name not in {"id", "revision", *model.SETTINGS}:
                setattr(row, name, value)
    session.flush()


def _table(kind: type[Journaled]) -> Table:
    table = kind.__table__
    assert isinstance(table, Table), "every journaled class is of one table"
    return table


def _models() -> dict[str, type[Journaled]]:
    """Every journaled table's class by its name."""
    return {model.__tablename__: model for model in Journaled.__subclasses__()}


def _columns(row: Journaled) -> list[str]:
    return [attribute.key for attribute in inspect(type(row)).column_attrs]


def _stored(row: Journaled) -> Row:
    """The row as the database still has it, from the ORM's own history of each column."""
    state = inspect(row)
    return {name: _old(state.attrs[name].history, getattr(row, name)) for name in _columns(row)}


def _old(history: Any, current: Any) -> Any:
    return history.deleted[0] if history.deleted else current


def _plain(row: Row) -> Row:
    """The row with what JSON can hold."""
    return {k: v.isoformat() if isinstance(v, date) else v for k, v in row.items()}


def _content(row: Row | None, beside: frozenset[str]) -> Row | None:
    """The row without its revision, and without what settings change of it: what the artist would call the same."""
    return None if row is None else {k: v for k, v in row.items() if k != "revision" and k not in beside}


def _typed(model: type[Journaled], row: Row) -> Row:
    """A plain row as the ORM wants it: dates and times are such again."""
    columns = inspect(model).columns
    return {k: _moment(columns[k].type.python_type, v) if isinstance(v, str) else v for k, v in row.items()}


def _moment(kind: type[Any], value: str) -> Any:
    return kind.fromisoformat(value) if issubclass(kind, date) else value
