"""Opening the database: pragmas and transactions."""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker

from tidy_tinder.storage.making import make_ready

_log = logging.getLogger(__name__)

SessionFactory = sessionmaker[Session]

# Execution option under which a transaction takes the write lock at its start.
WRITER = {"tidy_tinder_writer": True}

# How long a writer waits for another one before it gives up.
_BUSY_TIMEOUT_MS = 8000


def open_database(path: Path, fill: Callable[[Path], None] | None = None) -> SessionFactory:
    """Open the database at `path`, made or brought to the newest layout first; returns the factory of its sessions.

    fill: puts into a new file what it begins with. Raises what `make_ready` raises.
    """
    make_ready(path, fill)
    return sessionmaker(make_engine(path), expire_on_commit=False)


def check_point(engine: Engine, wait: bool = True) -> bool:
    """Bring all that was written into the one file, whose write-ahead log is empty then.

    Where the file is being read or cannot be written, the rest stays in the log, safe, for the next time. False where
    somebody reads or writes, so that it is worth another try. While it waits for readers it keeps out every writer:
    without `wait` it does not.
    """
    connection = engine.raw_connection()
    try:
        cursor = connection.cursor()
        if not wait:
            cursor.execute("PRAGMA busy_timeout=0")
        # Past SQLAlchemy's transactions: inside one there is nothing to bring in.
        busy, _in_log, _brought_in = cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
    except sqlite3.Error as problem:
        _log.warning("The write-ahead log could not be brought in: %s", problem)
        return True
    finally:
        with suppress(sqlite3.Error):
            connection.cursor().execute(f"PRAGMA busy_timeout={_BUSY_TIMEOUT_MS}")
        connection.close()
    return not busy


def make_engine(path: Path) -> Engine:
    """An engine whose transactions really are SQLite's, with foreign keys on."""
    engine = create_engine(f"sqlite:///{path}")
    event.listen(engine, "connect", _on_connect)
    event.listen(engine, "begin", _on_begin)
    return engine


def _on_connect(connection: sqlite3.Connection, _record: Any) -> None:
    connection.isolation_level = None  # the driver's own, late BEGIN off; SQLAlchemy begins below
    for pragma in (
        "journal_mode=WAL",
        "foreign_keys=1",
        f"busy_timeout={_BUSY_TIMEOUT_MS}",
    ):
        connection.execute(f"PRAGMA {pragma}")


def _on_begin(connection: Connection) -> None:
    writer = connection.get_execution_options().get("tidy_tinder_writer", False)
    # What the artist did is on the disk before it is answered, also where the power fails then; what is worked out from
    # it can be worked out again. Inside a transaction the setting would not count.
    connection.exec_driver_sql(f"PRAGMA synchronous={'FULL' if writer else 'NORMAL'}")
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writer else "BEGIN")
