"""Times that come from outside: those that can be meant, with their zone."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime

# Before the first nobody kept a log in this program; near the year 9999 a time has no UTC that Python can hold.
_FIRST = datetime.fromisoformat("2000-01-01T00:00:00+00:00")
_LAST = datetime.fromisoformat("2200-01-01T00:00:00+00:00")


def believed(at: datetime) -> datetime:
    """The same time, which has a zone. Raises ValueError outside the years that can be meant."""
    if not _FIRST <= at <= _LAST:
        raise ValueError(f"a time lies between {_FIRST:%Y-%m-%d} and {_LAST:%Y-%m-%d}")
    return at


Moment = Annotated[AwareDatetime, AfterValidator(believed)]
"""A time of a file."""
