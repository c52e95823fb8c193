"""What the artist set: one row a name, read with a default; set by a wish, one change each."""

from __future__ import annotations

import json

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import Lead
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, writing
from tidy_tinder.storage.models import Setting

# A rest after fifty minutes is a rule of the trade (common practice, no source), until the artist sets her own.
_REST_MINUTES = 50


def read_setting(session: Session, name: str, default: str = "") -> str:
    """The value that was set, or the default."""
    value = session.scalar(select(Setting.value).where(Setting.name == name))
    return default if value is None else value


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


def set_leads(collection: Collection, leads: str) -> Changed:
    """Let codes or names lead in every list. Raises RefusedError for another word."""
    if leads not in tuple(Lead):
        raise RefusedError(f"“{leads}” is none of code, name.")
    with writing(collection, f"{leads.capitalize()}s first", kind="setting") as session:
        write_setting(session, "leads", leads)
        return changed(session)


def set_stub(collection: Collection, millimetres: int) -> Changed:
    """Call pencils shorter than this stubs. Raises RefusedError for a length that makes no sense."""
    if not 5 <= millimetres <= 150:
        raise RefusedError(f"A stub is shorter than 5 to 150 mm, not {millimetres}.")
    with writing(collection, f"Stubs below {millimetres} mm", kind="setting") as session:
        write_setting(session, "stub_mm", str(millimetres))
        return changed(session)


def rest_after(session: Session) -> int:
    """Minutes at the bench after which a rest for hand and eyes is proposed; 0 for never."""
    return int(read_setting(session, "rest_minutes", str(_REST_MINUTES)))


def set_rest(collection: Collection, minutes: int) -> Changed:
    """Propose a rest after so many minutes at the bench, or, for 0, never. Raises RefusedError for what is no time."""
    if minutes != 0 and not 5 <= minutes <= 240:
        raise RefusedError(f"A rest comes after 5 to 240 minutes, or never (0), not after {minutes}.")
    with writing(
        collection, f"A rest after {minutes} min" if minutes else "No rest proposed", kind="setting"
    ) as session:
        write_setting(session, "rest_minutes", str(minutes))
        return changed(session)
