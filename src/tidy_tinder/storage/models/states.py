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


class PhotoState(StrEnum):
    """Of a photo of a printed page: on its way to being read, read, not readable, or stopped by the artist."""

    WAITING = "waiting"
    READING = "reading"
    READ = "read"
    REFUSED = "refused"
    STOPPED = "stopped"


class DrawingState(StrEnum):
    """Of a drawing: worked on, or put away with all that belongs to it."""

    AT_WORK = "at work"
    ARCHIVED = "archived"


class PictureState(StrEnum):
    """Of a reference's file: on its way to being opened, ready to be looked at, or no picture that can be."""

    WAITING = "waiting"
    OPENING = "opening"
    READY = "ready"
    REFUSED = "refused"


class SectionKind(StrEnum):
    """How a drawing is parted into sections: equal fields, or by the shapes of a picture."""

    GRID = "grid"
    SHAPES = "shapes"


class SectionState(StrEnum):
    """Of a section of a drawing, as far as its layers are; whether it dries is told by its `Drying`."""

    TO_DO = "to do"
    BASE = "base"
    BUILDING = "building"
    BLENDED = "blended"
    DONE = "done"


class DryingState(StrEnum):
    """Of what was wetted: still wet; dry when the artist said so; dry some time before; not to be learned from."""

    WET = "wet"
    DRY = "dry"
    DRY_BEFORE = "dry before"
    DROPPED = "dropped"
