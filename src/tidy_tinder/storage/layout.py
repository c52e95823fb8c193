"""The layout of a database file: which it has, and how it is brought to another one."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sqlalchemy import create_engine, event, text
from sqlalchemy.pool import NullPool

from tidy_tinder.storage.errors import DatabaseTooNewError, NotADatabaseError

if TYPE_CHECKING:
    from alembic.config import Config

# The newest layout that this program knows; a test holds it against the migrations. It saves loading
# Alembic (a quarter of a second) at every start that has nothing to migrate.
NEWEST_LAYOUT = "0018"


def migration_config(path: Path) -> Config:
    """Alembic's configuration for the database at `path`."""
    from alembic.config import Config  # noqa: PLC0415 -- heavy, and only needed to migrate

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["database"] = path
    return config


def migrate(path: Path, target: str = "head") -> None:
    """Bring the file at `path`, which nobody else has open, to the layout `target`, creating it where there is none.

    All of it is one transaction. It runs with foreign keys off, on an engine of its own: with them on, a table that is
    made anew would take its children with it. They are checked at the end. Raises DatabaseTooNewError,
    NotADatabaseError.
    """
    layout = layout_of(path)
    if layout == NEWEST_LAYOUT and target == "head":
        return
    from alembic import command  # noqa: PLC0415 -- heavy, and only needed to migrate

    if layout is not None and layout not in known_layouts(path):
        raise DatabaseTooNewError(
            f"{path} was last used by a newer Tidy Tinder (layout {layout}). Start that version, or choose "
            "another folder with --data; nothing was changed."
        )
    config = migration_config(path)
    engine = create_engine(f"sqlite:///{path}", poolclass=NullPool)
    event.listen(engine, "connect", _begin_ourselves)
    event.listen(engine, "begin", lambda connection: connection.exec_driver_sql("BEGIN IMMEDIATE"))
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, target)
        broken = connection.execute(text("PRAGMA foreign_key_check")).fetchall()
        if broken:
            raise NotADatabaseError(f"{path}: rows refer to others that are not there: {broken[:3]}.")
        connection.commit()


def _begin_ourselves(connection: sqlite3.Connection, _record: Any) -> None:
    # The driver's own late BEGIN would leave each CREATE TABLE outside of it, to be found half done after a kill.
    connection.isolation_level = None


def known_layouts(path: Path) -> set[str]:
    """The layouts that this program can bring to the newest one."""
    from alembic.script import ScriptDirectory  # noqa: PLC0415 -- heavy, and only needed to migrate

    return {script.revision for script in ScriptDirectory.from_config(migration_config(path)).walk_revisions()}


def layout_of(path: Path) -> str | None:
    """The layout in which the file is; None for no file, an empty one, or one that says none."""
    if not path.exists() or path.stat().st_size == 0:
        return None
    with closing(sqlite3.connect(path)) as connection:
        known = connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if known else None
    return str(row[0]) if row else None
