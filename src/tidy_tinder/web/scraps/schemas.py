"""What scraps send and get."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import Field

from tidy_tinder.core.vocabulary import (
    Finish,
    Pressure,
    Verdict,
)
from tidy_tinder.services.scraps.view import FieldKind
from tidy_tinder.web.shared.base import Id, LabTriple, Layers, Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, PatchOut, SeenOut
from tidy_tinder.web.shared.offers import (
    CoatIn,
    CoatOut,
)


class ScrapIn(Schema):
    """Layers to be tried, the lowest first, and the colour that they are to stand in for, if any."""

    paper_id: Id
    laid: list[CoatIn] = Field(min_length=1, max_length=4)
    finish: Literal[Finish.DRY, Finish.SOLVENT] = Finish.DRY
    wanted_id: Id | None = None
    wanted_pressure: Pressure = Pressure.HEAVY
    wanted_layers: Layers = 1


class VerdictIn(Schema):
    """What is said of a scrap; revision is the one that was looked at."""

    verdict: list[Verdict] = Field(max_length=8)
    note: str = Field(default="", max_length=2000)
    revision: Id


class StripIn(Schema):
    """A reading of one of the two orders: by the reader, or the Lab that is typed in (D65, 2°).

    keep: also where it is far from what is expected.
    """

    turned: bool
    lab: LabTriple | None = None
    keep: bool = False


class StripReadOut(Out):
    """A reading: kept, or doubted for a reason, and then not kept."""

    doubt: str
    reading: PatchOut
    change: ChangeOut | None


class StripFieldOut(Out):
    """One field of the strip; kind is alone, laid or turned."""

    kind: FieldKind
    laid: list[CoatOut]
    said: str
    seen: SeenOut | None


class WantedOut(Out):
    """The colour that a scrap stands in for, and its mark as far as it is known."""

    colour: ColourOut
    pressure: Pressure
    layers: int
    seen: SeenOut | None


class ScrapOut(Out):
    """A scrap with its strip."""

    id: int
    revision: int
    paper_id: int
    paper_name: str
    finish: Finish
    said: str
    wanted: WantedOut | None
    fields: list[StripFieldOut]
    apart: DifferenceOut | None
    verdict: list[Verdict]
    note: str
    made_on: date
    can_be_said: list[list[Verdict]] = Field(description="at most one of each group; with the first, nothing else")


class ScrapCardOut(Out):
    """A scrap in the list."""

    id: int
    said: str
    wanted: ColourOut | None
    verdict: list[Verdict]
    note: str
    made_on: date
    measured: PatchOut | None


class StripToMakeOut(Out):
    """A strip worth making. band_after: within what such layers will lie when it and those before it are read, null of
    burnished ones; scrap_id: where it is set out already.
    """

    laid: list[CoatOut]
    said: str
    band_after: float | None
    scrap_id: int | None


class TellingOut(Out):
    """Strips worth making on a paper, those first that tell most, and pencils to burnish there; none while the
    collection is being fitted.
    """

    ready: bool
    band: float
    strips: list[StripToMakeOut]
    burnished: list[StripToMakeOut]


class ScrapsOut(Schema):
    """What was tried on a paper, the newest first."""

    scraps: list[ScrapCardOut]
