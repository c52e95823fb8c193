"""What the artist set: one row a name, read with a default."""

from __future__ import annotations

import json

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.storage.models import Setting


def read_setting(session: Session, name: str, default: str = "") -> str:
    """The value that was set, or the default."""
    found = session.scalar(select(Setting.value).where(Setting.name == name))
    return default if found is None else found


def write_setting(session: Session, name: str, value: str) -> None:
    """Set it, within the caller's transaction."""
    row = session.scalar(select(Setting).where(Setting.name == name))
    if row is None:
        session.add(Setting(name=name, value=value))
    else:
        row.value = value


def read_list(session: Session, name: str) -> tuple[str, ...]:
    """A setting that holds several words."""
    return tuple(str(item) for item in json.loads(read_setting(session, name, "[]")))


def write_list(session: Session, name: str, values: tuple[str, ...]) -> None:
    """Set several words."""
    write_setting(session, name, json.dumps(list(values), ensure_ascii=False))
