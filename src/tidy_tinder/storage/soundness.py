"""Whether a file is a whole collection: its tables, its rows, what they refer to, and that it has a paper."""

from __future__ import annotations

import sqlite3
import tempfile
from contextlib import closing
from functools import cache
from pathlib import Path

from sqlalchemy import create_engine, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.pool import NullPool

from tidy_tinder.storage.errors import NotACollectionError
from tidy_tinder.storage.layout import migrate
from tidy_tinder.storage.models import Base
from tidy_tinder.storage.trouble import plainly

_Columns = frozenset[tuple[str, str, int, int]]


def check_integrity(path: Path) -> None:
    """Whether SQLite can read every page, and nothing in the file acts by itself. Raises NotACollectionError."""
    try:
        with closing(sqlite3.connect(path)) as connection:
            problem = str(connection.execute("PRAGMA integrity_check(1)").fetchone()[0])
            acting = connection.execute(
                "SELECT type, name FROM sqlite_master WHERE type IN ('trigger', 'view')"
            ).fetchone()
    except sqlite3.Error as error:
        problem, acting = str(error), None
    if problem != "ok":
        raise NotACollectionError(f"it is damaged: {problem}")
    if acting is not None:
        raise NotACollectionError(f"it holds a {acting[0]} ({acting[1]}), and a collection has none")


def check_sound(path: Path) -> None:
    """Check all of a file in the newest layout that nobody writes to. Raises NotACollectionError with what is wrong."""
    check_integrity(path)
    with closing(sqlite3.connect(path)) as connection:
        _check_tables(_tables(connection))
        broken = connection.execute("PRAGMA foreign_key_check").fetchone()
        if broken is not None:
            raise NotACollectionError(
                f"row {broken[1]} of {broken[0]} refers to a row of {broken[2]} that is not there"
            )
    _check_rows(path)


def check_has_paper(path: Path) -> None:
    """Whether a sound file has a paper. Raises NotACollectionError."""
    with closing(sqlite3.connect(path)) as connection:
        if connection.execute("SELECT 1 FROM paper LIMIT 1").fetchone() is None:
            raise NotACollectionError("it has no paper, and a collection always has one")


def _check_tables(found: dict[str, _Columns]) -> None:
    ours = _our_tables()
    for name in sorted(ours.keys() | found.keys()):
        if name not in found:
            raise NotACollectionError(f"the table {name} is missing")
        if name not in ours:
            raise NotACollectionError(f"it holds a table {name}, which a collection does not have")
        if found[name] != ours[name]:
            differing = sorted({column[0] for column in found[name] ^ ours[name]})
            raise NotACollectionError(f"the table {name} differs from a collection's in {', '.join(differing)}")


def _check_rows(path: Path) -> None:
    """Whether every row can be read as what it is."""
    engine = create_engine(f"sqlite:///{path}", poolclass=NullPool)
    with engine.connect() as connection:
        for table in Base.metadata.sorted_tables:
            try:
                for _ in connection.execution_options(yield_per=1000).execute(select(table)):
                    pass
            except (SQLAlchemyError, ValueError, TypeError, KeyError) as error:
                raise NotACollectionError(f"a row of {table.name} cannot be read ({plainly(error)})") from None


def _tables(connection: sqlite3.Connection) -> dict[str, _Columns]:
    """Every table's columns: name, type, whether they may be empty, place in the key."""
    names = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
    return {
        name: frozenset(
            (column, kind, needed, key)
            for _, column, kind, needed, _, key in connection.execute("SELECT * FROM pragma_table_info(?)", (name,))
        )
        for (name,) in names.fetchall()
    }


@cache
def _our_tables() -> dict[str, _Columns]:
    """The tables of a collection, as the migrations make them."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "new.sqlite"
        migrate(path)
        with closing(sqlite3.connect(path)) as connection:
            return _tables(connection)
