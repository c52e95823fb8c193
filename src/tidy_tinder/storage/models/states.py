"""States that only the tables know."""

from __future__ import annotations

from enum import StrEnum


class SessionState(StrEnum):
    """Of a swatching session."""

    OPEN = "open"
    CLOSED = "closed"


class ItemState(StrEnum):
    """Of a mark in a session."""

    WAITING = "waiting"
    READ = "read"
    SKIPPED = "skipped"


class CallState(StrEnum):
    """Of a call: read surely, still to be settled, settled by the artist, or no colour at all."""

    READ = "read"
    UNSETTLED = "unsettled"
    SETTLED = "settled"
    DISMISSED = "dismissed"


class JobState(StrEnum):
    """Of a going over of the whole collection."""

    RUNNING = "running"
    DONE = "done"
    CANCELLED = "cancelled"
