"""What papers send and get."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.core.vocabulary import (
    MOST_PAPER_LAYERS,
    Tooth,
)
from tidy_tinder.web.shared.base import Id, LabTriple, Out, Schema
from tidy_tinder.web.shared.drawn import PatchOut


class PaperSaidOut(Out):
    """All that is said of a paper."""

    name: str
    mill: str
    kind: str
    lab: LabTriple
    tooth: Tooth
    most_layers: int
    absorbent: bool
    stands_solvent: bool
    notes: str


class PaperPageOut(Out):
    """A paper with how much was swatched on it."""

    id: int
    revision: int
    said: PaperSaidOut
    colour: PatchOut
    swatches: int
    colours: int
    copied_from: str


class PapersOut(Schema):
    """All papers in order."""

    papers: list[PaperPageOut]


class PaperIn(Schema):
    """A paper, said anew; revision is the one that was looked at (for a change only)."""

    name: str = Field(min_length=1, max_length=120)
    mill: str = Field(default="", max_length=120)
    kind: str = Field(default="", max_length=200)
    lab: LabTriple
    tooth: Tooth
    most_layers: int = Field(ge=1, le=MOST_PAPER_LAYERS)
    absorbent: bool = False
    stands_solvent: bool = True
    notes: str = Field(default="", max_length=2000)
    revision: Id = 1


class PaperReadOut(Schema):
    """The own colour of a paper as the reader saw it; nothing is stored yet."""

    lab: LabTriple
    colour: PatchOut
