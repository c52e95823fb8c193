"""What a colour's page, its kin and “What is this?” send and get."""

from __future__ import annotations

from datetime import date

from pydantic import Field

from tidy_tinder.core.vocabulary import Finish, Ground, MarkPressure, Pressure, Source
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.web.shared.base import Id, Ids, LabTriple, Out, Schema
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, MarkOut, PatchOut
from tidy_tinder.web.shared.offers import OpacityTestOut, StandinsOut
from tidy_tinder.web.tidy.schemas import PencilOut


class PaperMarkOut(Out):
    """A colour's mark on one paper."""

    paper_id: int
    paper_name: str
    mark: MarkOut


class CalledByOut(Out):
    """A recipe that calls the colour, in which steps."""

    recipe_id: int
    title: str
    steps: list[int]


class PaperOpacityOut(Out):
    """The opacity test on one paper; by_photo: one of its marks at least was measured by photo."""

    paper_name: str
    pressure: Pressure
    layers: int
    test: OpacityTestOut
    by_photo: bool


class ChartOut(Out):
    """What the chart says, and the revision to correct it against."""

    lab: LabTriple | None
    chart_source: str
    revision: int


class ColourPageOut(Out):
    """What the panel says of one colour."""

    colour: ColourOut
    chart: ChartOut
    owning: Owning
    in_tray: bool
    pencils: list[PencilOut]
    mark: MarkOut
    patch: PatchOut | None
    shown_as: str
    value: float | None
    papers: list[PaperMarkOut]
    nearest: StandinsOut
    called_by: list[CalledByOut]
    sister_ids: Ids
    opacity: list[PaperOpacityOut]


class RelationOut(Out):
    """Another colour and how it differs from this one."""

    colour: ColourOut
    owning: Owning
    mark: MarkOut
    words: str
    difference: DifferenceOut | None


class TwinOut(Out):
    """A near twin: where the two were compared, and where they part most."""

    relation: RelationOut
    compared: str
    parts: str
    parting: DifferenceOut
    kinds: int


class SwatchRowOut(Out):
    """A swatch."""

    id: int
    revision: int
    paper_id: int
    pressure: Pressure
    layers: int
    finish: Finish
    over: Ground
    has_spectrum: bool
    source: Source
    instrument: str
    averaged_of: int
    doubt: float | None = Field(description="standard deviation of its Lab, where it was read from a photo")
    made_on: date
    note: str


class PastSwatchOut(Out):
    """A swatch in the history; counts: it stands for its kind of mark."""

    row: SwatchRowOut
    paper_name: str
    burnisher: str
    colour: PatchOut
    counts: bool


class KinOut(Out):
    """Whose relative a colour is, and its history."""

    twins: list[TwinOut]
    family: list[RelationOut]
    neighbours: list[RelationOut]
    sisters: list[RelationOut]
    history: list[PastSwatchOut]


class WhatIn(Schema):
    """A measured mark, one layer, dry, on a paper."""

    lab: LabTriple
    paper: Id
    pressure: MarkPressure


class SuspectOut(Out):
    """One colour that the mark may be."""

    colour: ColourOut
    owning: Owning
    share: float
    looks: PatchOut
    difference: DifferenceOut
    band: float | None


class IdentifiedOut(Out):
    """The likely colours, owned first."""

    seen: PatchOut
    paper_name: str
    pressure: Pressure
    here: list[SuspectOut]
    by_chart: list[SuspectOut]
    none_share: float
    alike: list[str]
    searched: int
