"""What whoever mends the program must know of a fault: versions, sizes and times, and nothing of what is in them."""

from __future__ import annotations

import platform
import sqlite3
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.exchange.backup import CollectionFiles
from tidy_tinder.services.journal import now
from tidy_tinder.storage.layout import NEWEST_LAYOUT
from tidy_tinder.storage.models import Base

# What most faults have to do with.
_PACKAGES = ("flask", "waitress", "sqlalchemy", "pydantic", "numpy", "scipy", "opencv-python-headless", "pillow")


@dataclass(frozen=True)
class AnswerTimes:
    """One kind of question: how often it was asked since the start, the median and the longest of the last answers in
    milliseconds, and how often it was refused or failed.
    """

    question: str
    asked: int
    median_ms: float
    longest_ms: float
    refused: int
    failed: int


@dataclass(frozen=True)
class Diagnosis:
    """Everything that goes into the file. rows: of each table; bytes: of the database, its log and the pictures."""

    made_at: datetime
    program: str
    layout: str
    python: str
    system: str
    sqlite: str
    packages: dict[str, str]
    rows: dict[str, int]
    bytes: dict[str, int]
    pictures: int
    answers: tuple[AnswerTimes, ...]


def diagnose(
    collection: Collection, files: CollectionFiles, program: str, answers: Sequence[AnswerTimes]
) -> Diagnosis:  # fmt: skip
    """Look at program and collection; nothing that the artist wrote, named or measured is in it, and no path."""
    with collection() as session:
        rows = _rows(session)
    pictures = [path for path in files.pictures.rglob("*") if path.is_file()]
    log = files.database.with_name(files.database.name + "-wal")
    return Diagnosis(
        now(), program, NEWEST_LAYOUT, sys.version.split()[0], f"{platform.system()} {platform.machine()}",
        sqlite3.sqlite_version, {name: _version(name) for name in _PACKAGES}, rows,
        {"database": _bytes(files.database), "log": _bytes(log), "pictures": sum(map(_bytes, pictures))},
        len(pictures), tuple(answers),
    )  # fmt: skip


def _rows(session: Session) -> dict[str, int]:
    tables = Base.metadata.sorted_tables
    return {str(table.name): session.scalar(select(func.count()).select_from(table)) or 0 for table in tables}


def _version(package: str) -> str:
    try:
        return version(package)
    except PackageNotFoundError:
        return "not there"


def _bytes(path: Path) -> int:
    try:
        return path.stat().st_size
    except OSError:
        return 0
