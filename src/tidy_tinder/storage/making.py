"""A collection's file is made, or brought to a newer layout, beside its place, and put there whole or not at all.

Whatever ends the program meanwhile leaves what was there before, and a beginning beside it that the next start clears.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy.exc import SQLAlchemyError

from tidy_tinder.storage.errors import NotACollectionError, NotADatabaseError, NotUpgradedError
from tidy_tinder.storage.layout import NEWEST_LAYOUT, known_layouts, layout_of, migrate
from tidy_tinder.storage.places import backups_of
from tidy_tinder.storage.soundness import check_sound
from tidy_tinder.storage.trouble import plainly, trouble_in


def is_ready(path: Path) -> bool:
    """Whether there is a collection in the newest layout. Raises NotADatabaseError."""
    with _in_words(path):
        return layout_of(path) == NEWEST_LAYOUT


def make_ready(path: Path, fill: Callable[[Path], None] | None = None) -> None:
    """Make the collection at `path` where there is none, or bring it to the newest layout; nothing where it is.

    fill: puts into a new file what a collection begins with. Only one program may do this at a time; where another one
    has the file open, it must be in the newest layout. Raises DatabaseTooNewError, NotADatabaseError, NotUpgradedError.
    """
    if is_ready(path):
        return
    path.parent.mkdir(parents=True, exist_ok=True)
    with _in_words(path):
        layout = layout_of(path)
        if _holds_nothing(path) and (layout is None or layout in known_layouts(path)):
            _make(path, fill)
        elif layout is None:
            raise NotADatabaseError(
                f"{path} holds something else than a Tidy Tinder collection. Choose another folder with --data."
            )
        else:
            _upgrade(path)


def _make(path: Path, fill: Callable[[Path], None] | None) -> None:
    with _beside(path) as unfinished:
        migrate(unfinished)
        if fill is not None:
            fill(unfinished)
        _settle(unfinished)
        # What was half made goes, and the log of a file that is gone belongs to no other one.
        _remove(path)
        _exchange(unfinished, path)


def _upgrade(path: Path) -> None:
    """Upgrade a copy, check it, and put it in the place of the file, of which a copy is kept."""
    layout = layout_of(path)
    with _beside(path) as unfinished:
        with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(unfinished)) as copy:
            source.backup(copy)
            source.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        migrate(unfinished)
        _settle(unfinished)
        check_sound(unfinished)
        kept = backups_of(path) / f"layout-{layout}-{datetime.now(UTC):%Y-%m-%d-%H%M%S}.sqlite"
        kept.parent.mkdir(exist_ok=True)
        shutil.copyfile(path, kept)
        _remove_log(path)
        _exchange(unfinished, path)


@contextmanager
def _beside(path: Path) -> Iterator[Path]:
    """A file beside the place of the collection, empty at first, gone at the end."""
    unfinished = path.with_name(f"{path.name}.unfinished")
    _remove(unfinished)
    try:
        yield unfinished
    finally:
        _remove(unfinished)


def _remove(path: Path) -> None:
    path.unlink(missing_ok=True)
    _remove_log(path)


def _remove_log(path: Path) -> None:
    for ending in ("-wal", "-shm", "-journal"):
        path.with_name(path.name + ending).unlink(missing_ok=True)


def _settle(path: Path) -> None:
    """See to it that all is in the one file and on the disk."""
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        connection.execute("PRAGMA journal_mode=DELETE")
    with path.open("rb+") as file:
        os.fsync(file.fileno())


def _exchange(unfinished: Path, path: Path) -> None:
    unfinished.replace(path)
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def _holds_nothing(path: Path) -> bool:
    """Whether no table has a row: what an earlier version left when it was stopped while it made the collection."""
    if not path.exists():
        return True
    with closing(sqlite3.connect(path)) as connection:
        tables = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
        names = [name.replace('"', '""') for (name,) in tables.fetchall() if name != "alembic_version"]
        return not any(connection.execute(f'SELECT 1 FROM "{name}" LIMIT 1').fetchone() for name in names)


@contextmanager
def _in_words(path: Path) -> Iterator[None]:
    """What SQLite says of a file that is none of ours, or cannot be upgraded, in words."""
    try:
        yield
    except (SQLAlchemyError, sqlite3.Error, NotACollectionError) as problem:
        if (trouble := trouble_in(problem, path)) is not None:
            raise trouble from problem
        raise NotUpgradedError(
            f"{path} could not be brought to the layout of this version: {plainly(problem)}. It is as it was before. "
            "Restore a backup of it with “tidy-tinder restore”, or use the version that wrote it."
        ) from problem
