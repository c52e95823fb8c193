"""What the artist said of the columns of files, kept for the next file that is headed so."""

from __future__ import annotations

import json
from enum import StrEnum

from sqlalchemy.orm import Session

from tidy_tinder.formats.columns import Columns, folded
from tidy_tinder.services.collection.preferences import read_setting, write_setting

# The newest are kept; nobody has files of so many kinds.
_MOST_KEPT = 300


class Table(StrEnum):
    """A kind of table whose columns are remembered."""

    CATALOGUE = "catalogue"
    SWATCHES = "swatches"


def all_columns(session: Session, table: Table, said: Columns) -> Columns:
    """What was said before of the columns of such tables, and what is said now; by folded heading."""
    return {**_kept(session, table), **{folded(heading): field for heading, field in said.items()}}


def remember_columns(session: Session, table: Table, columns: Columns) -> None:
    """Keep what was said, within the caller's transaction."""
    if columns != _kept(session, table):
        newest = list(columns.items())[-_MOST_KEPT:]
        write_setting(session, _name(table), json.dumps(dict(newest), ensure_ascii=False))


def _kept(session: Session, table: Table) -> Columns:
    return {
        str(heading): str(field) for heading, field in json.loads(read_setting(session, _name(table), "{}")).items()
    }


def _name(table: Table) -> str:
    return f"columns of {table}"
