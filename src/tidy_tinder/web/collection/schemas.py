"""What the shell sends and gets."""

from __future__ import annotations

from datetime import datetime

from pydantic import AliasChoices, Field

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.names.finding import Match
from tidy_tinder.core.vocabulary import Lead, Tooth
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.context import Context
from tidy_tinder.web.shared.base import Asked, Id, Out, Schema
from tidy_tinder.web.shared.drawn import ColourCardOut, PatchOut
from tidy_tinder.web.shared.paths import PaperQuery


class PaperOut(Out):
    """A paper with its own colour."""

    id: int
    name: str
    kind: str
    tooth: Tooth
    colour: PatchOut


class PastChangeOut(Out):
    """A change that was made; undone says that it was taken back, undoing that it took one back."""

    id: int = Field(validation_alias=AliasChoices("id", "change_id"))
    label: str
    rows: int
    made_at: datetime
    undone: bool
    undoing: bool


class ChangesOut(Schema):
    """The newest changes first."""

    changes: list[PastChangeOut]


class DrawingAtHandOut(Out):
    """The drawing that the context follows; its size in mm."""

    id: int
    name: str
    width_mm: float
    height_mm: float


class ContextOut(Out):
    """What holds everywhere; newest is what was done last, last is what undo would take back."""

    version: int
    demo: bool = False
    last: PastChangeOut | None
    newest: PastChangeOut | None
    papers: list[PaperOut]
    paper_id: int
    closest: Closest
    drawing: DrawingAtHandOut | None
    drawings: int
    owned: int
    charted: int
    recipes: int
    waiting_marks: int
    stub_mm: int
    rest_minutes: int
    listed: int
    waiting_photos: int
    strips_due: int
    leads: Lead
    travel: list[str]
    with_me: bool


def context_out(now: Context, demo: bool) -> ContextOut:
    """A context as it is sent; demo: whether the collection is served as the demo."""
    said = ContextOut.model_validate(now)
    said.demo = demo
    return said


class SettingsIn(Schema):
    """What to change; what is left out stays."""

    paper_id: Id | None = None
    closest: Closest | None = None
    leads: Lead | None = None
    stub_mm: int | None = Field(default=None, ge=5, le=150)
    rest_minutes: int | None = Field(default=None, ge=0, le=240)
    with_me: bool | None = None


class HexQuery(Asked):
    """A colour as a screen has it."""

    hex: str = Field(max_length=40, description="Six hexadecimal digits, with or without #")


class FindQuery(PaperQuery):
    """What is typed into the finder, and the paper whose marks are shown."""

    q: str = Field(max_length=200)


class HitOut(Out):
    """A colour that may be meant: its mark on the paper, and how it is owned."""

    card: ColourCardOut
    owning: Owning


class FoundOut(Out):
    """What it can mean: by code and name, and by value, chroma and hue where each word is a colour word (look).

    message says so where a code and a name do not belong together.
    """

    match: Match
    message: str
    hits: list[HitOut]
    by_look: list[HitOut]
    look: list[str]


class AboutOut(Schema):
    """The program's version, where the collection lies, and where it is copied to before it is restored or upgraded."""

    version: str
    collection: str
    backups: str


class RestoredOut(Schema):
    """What was restored; safety_copy is where the collection before it is kept."""

    made_at: str
    pictures: int
    safety_copy: str
