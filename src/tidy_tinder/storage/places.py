"""Where what belongs to a collection lies beside its database."""

from __future__ import annotations

from pathlib import Path


def backups_of(database: Path) -> Path:
    """The folder of the copies that are made before a collection is upgraded or restored."""
    return database.parent / "backups"
