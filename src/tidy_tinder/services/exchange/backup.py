"""Backup and restore of the whole collection, while it is in use."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.storage.archive import Archive, check_archive, put_in_place, write_archive, write_json
from tidy_tinder.storage.places import backups_of


@dataclass(frozen=True)
class CollectionFiles:
    """Where a collection lies: its database, its pictures, and where safety copies go."""

    database: Path

    @property
    def pictures(self) -> Path:
        """The folder of pictures."""
        return self.database.parent / "pictures"

    @property
    def backups(self) -> Path:
        """The folder of safety copies."""
        return backups_of(self.database)


@dataclass(frozen=True)
class Restored:
    """What was restored, and where the collection that was there before is kept."""

    archive: Archive
    safety_copy: Path | None


def back_up(files: CollectionFiles, target: Path) -> Archive:
    """Write the whole collection into one file; it may be in use meanwhile."""
    return write_archive(files.database, files.pictures, target)


def write_as_json(files: CollectionFiles, target: Path) -> None:
    """Write all tables as JSON, which other programs read; it may be in use meanwhile. Raises TooLargeError."""
    write_json(files.database, target)


def restore(files: CollectionFiles, source: Path, opened: Collection | None = None) -> Restored:
    """Put a backup, or a collection as JSON, in the place of this one, having checked it whole.

    What was there is backed up first. opened: the collection, where it is in use. Raises BadBackupError or
    DatabaseTooNewError; nothing is changed then.
    """
    with tempfile.TemporaryDirectory() as folder:
        archive = check_archive(source, Path(folder))
        safety = None
        if files.database.exists():
            stamp = datetime.now(UTC).strftime("%Y-%m-%d-%H%M%S")
            safety = files.backups / f"before-restore-{stamp}.zip"
            write_archive(files.database, files.pictures, safety)
        put_in_place(Path(folder), files.database, files.pictures)
    if opened is not None:
        opened.exchanged()
    return Restored(archive, safety)
