"""Opening the database: pragmas, transactions, migration to the newest layout."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sqlalchemy import Connection, Engine, create_engine, event, text
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import NullPool

from tidy_tinder.storage.errors import DatabaseTooNewError, NotADatabaseError

if TYPE_CHECKING:
    from alembic.config import Config

SessionFactory = sessionmaker[Session]

# The newest layout that this program knows; a test holds it against the migrations. It saves loading
# Alembic (a quarter of a second) at every start that has nothing to migrate.
NEWEST_LAYOUT = "0005"

# Execution option under which a transaction takes the write lock at its start.
WRITER = {"tidy_tinder_writer": True}

# How long a writer waits for another one before it gives up.
_BUSY_TIMEOUT_MS = 8000


def open_database(path: Path) -> SessionFactory:
    """Open (and create or migrate) the database at `path`; returns the factory of its sessions.

    Raises DatabaseTooNewError where a newer program wrote the file, NotADatabaseError where it is
    something else.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    try:
        migrate(path)
    except (DatabaseError, sqlite3.DatabaseError) as problem:
        if "file is not a database" in str(problem):
            raise NotADatabaseError(
                f"{path} holds something else than a Tidy Tinder collection. Choose another folder with --data."
            ) from problem
        raise
    return sessionmaker(make_engine(path), expire_on_commit=False)


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
        "synchronous=NORMAL",
    ):
        connection.execute(f"PRAGMA {pragma}")


def _on_begin(connection: Connection) -> None:
    writer = connection.get_execution_options().get("tidy_tinder_writer", False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if writer else "BEGIN")


def migration_config(path: Path) -> Config:
    """Alembic's configuration for the database at `path`."""
    from alembic.config import Config  # noqa: PLC0415 -- heavy, and only needed to migrate

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["database"] = path
    return config


def migrate(path: Path, target: str = "head") -> None:
    """Bring the database at `path` to the layout `target`, creating it where there is none.

    Runs with foreign keys off, on an engine of its own: with them on, a table that is made anew would take
    its children with it. They are checked at the end. Raises DatabaseTooNewError.
    """
    layout = layout_of(path)
    if layout == NEWEST_LAYOUT and target == "head":
        return
    from alembic import command  # noqa: PLC0415 -- heavy, and only needed to migrate
    from alembic.script import ScriptDirectory  # noqa: PLC0415

    config = migration_config(path)
    known = {script.revision for script in ScriptDirectory.from_config(config).walk_revisions()}
    if layout is not None and layout not in known:
        raise DatabaseTooNewError(
            f"{path} was last used by a newer Tidy Tinder (layout {layout}). Start that version, or choose "
            "another folder with --data; nothing was changed."
        )
    engine = create_engine(f"sqlite:///{path}", poolclass=NullPool)
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, target)
        connection.commit()
        broken = connection.execute(text("PRAGMA foreign_key_check")).fetchall()
        if broken:
            raise NotADatabaseError(f"{path}: rows refer to others that are not there: {broken[:3]}.")


def layout_of(path: Path) -> str | None:
    """The layout in which the file is; None for no file or an empty one."""
    if not path.exists() or path.stat().st_size == 0:
        return None
    connection = sqlite3.connect(path)
    try:
        known = connection.execute("SELECT name FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if known else None
    finally:
        connection.close()
    return str(row[0]) if row else None
