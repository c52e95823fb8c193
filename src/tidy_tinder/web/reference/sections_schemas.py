"""What the sections of a drawing send and get."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.core.reference.sections import MOST_SECTIONS
from tidy_tinder.storage.models import SectionKind, SectionState
from tidy_tinder.web.shared.base import Id, Out, Schema


class SectionPath(Schema):
    """The number of a section."""

    section_id: Id


class SectionOut(Out):
    """One section; x, y: its middle, from 0 to 1 of the drawing."""

    id: int
    revision: int
    label: int
    name: str
    state: SectionState
    cm2: float
    x: float
    y: float


class SectionsOut(Out):
    """A drawing's sections in the order of work; kind null while it is not parted; version: another one for each
    parting.
    """

    kind: SectionKind | None
    reference_id: int | None
    version: int
    words: str
    sections: list[SectionOut]


class PartIn(Schema):
    """How to part a drawing; reference_id: by the shapes of this picture."""

    kind: SectionKind
    reference_id: Id | None = None


class SectionIn(Schema):
    """What a section is called and how far it is."""

    revision: Id
    name: str = Field(max_length=400)
    state: SectionState


class OrderIn(Schema):
    """All sections of a drawing in the order of work."""

    ids: list[Id] = Field(min_length=1, max_length=MOST_SECTIONS)
