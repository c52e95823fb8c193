"""What the shell sends and gets."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import AliasChoices, BaseModel, Field

from tidy_tinder.web.drawn import ColourOut, MadeOut, Out, PatchOut
from tidy_tinder.web.endpoint import MAX_ID, UploadedFile

__all__ = ["MAX_ID", "MadeOut"]


class PaperOut(Out):
    """A paper with its own colour."""

    id: int
    name: str
    kind: str
    tooth: str
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
    closest: str
    owned: int
    charted: int
    recipes: int
    waiting_marks: int
    stub_mm: int
    leads: str
    travel: list[str]
    with_me: bool


class SettingsIn(BaseModel):
    """What to change; what is left out stays."""

    paper_id: int | None = Field(default=None, ge=1, le=MAX_ID)
    closest: Literal["overall", "value", "hue"] | None = None
    leads: Literal["code", "name"] | None = None
    stub_mm: int | None = Field(default=None, ge=5, le=150)
    with_me: bool | None = None


class FindQuery(BaseModel):
    """What is typed into the finder."""

    q: str = Field(max_length=200)


class FoundOut(BaseModel):
    """What it can mean; message says so where a code and a name do not belong together."""

    match: str
    message: str
    hits: list[ColourOut]


class ChangePath(BaseModel):
    """The number of a change."""

    change_id: int = Field(ge=1, le=MAX_ID)


class RestoreForm(BaseModel):
    """A backup, as the browser sends it."""

    file: UploadedFile


class RestoredOut(BaseModel):
    """What was restored; safety_copy is where the collection before it is kept."""

    made_at: str
    pictures: int
    safety_copy: str
