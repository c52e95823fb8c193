"""What the shell sends and gets."""

from __future__ import annotations

from datetime import datetime

from pydantic import AliasChoices, BaseModel, Field

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.names.finding import Match
from tidy_tinder.core.vocabulary import (
    Lead,
    Tooth,
)
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Id, Out
from tidy_tinder.web.shared.drawn import ColourOut, PatchOut


class PaperOut(Out):
    """A paper with its own colour."""

    id: int
    name: str
    kind: str
    tooth: Tooth
    colour: PatchOut


class PastChangeOut(Out):
    """A change that was made; undone says that it was taken back."""

    id: int = Field(validation_alias=AliasChoices("id", "change_id"))
    label: str
    rows: int
    made_at: datetime
    undone: bool


class ChangesOut(BaseModel):
    """The newest changes first."""

    changes: list[PastChangeOut]


class ContextOut(Out):
    """What holds everywhere; last is what undo would take back."""

    version: int
    demo: bool = False
    last: PastChangeOut | None
    papers: list[PaperOut]
    paper_id: int
    closest: Closest
    owned: int
    charted: int
    recipes: int
    waiting_marks: int
    stub_mm: int
    leads: Lead
    travel: list[str]
    with_me: bool


class SettingsIn(BaseModel):
    """What to change; what is left out stays."""

    paper_id: Id | None = None
    closest: Closest | None = None
    leads: Lead | None = None
    stub_mm: int | None = Field(default=None, ge=5, le=150)
    with_me: bool | None = None


class FindQuery(BaseModel):
    """What is typed into the finder."""

    q: str = Field(max_length=200)


class FoundOut(BaseModel):
    """What it can mean; message says so where a code and a name do not belong together."""

    match: Match
    message: str
    hits: list[ColourOut]


class RestoreForm(BaseModel):
    """A backup, as the browser sends it."""

    file: UploadedFile


class RestoredOut(BaseModel):
    """What was restored; safety_copy is where the collection before it is kept."""

    made_at: str
    pictures: int
    safety_copy: str
