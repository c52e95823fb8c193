"""Sheets and frames: what is to be printed, and the pages as they are drawn."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator

from tidy_tinder.core.sheet.layout import LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount
from tidy_tinder.services.sheets.plan import For, Order, SheetPlan
from tidy_tinder.web.shared.base import Asked, Id, LabTriple, Out, Schema

Box = list[float]
"""x, y, width, height in mm from the upper left corner."""


class SheetIn(Schema):
    """What is to be printed; set_id for a set."""

    paper_id: Id
    kind: LayoutKind = LayoutKind.SHEET
    size: PageSize = PageSize.A4
    cells: Literal[60, 90, 120] = 90
    which: For = For.OWNED
    set_id: Id | None = None
    order: Order = Order.CHART
    layered: bool = Field(default=False, description="a few pencils have one place more, for marks of several layers")

    def plan(self) -> SheetPlan:
        """The same, for the services."""
        return SheetPlan(
            self.paper_id, self.kind, self.size, CellCount(self.cells), self.which, self.set_id, self.order,
            self.layered,
        )  # fmt: skip


class PracticeQuery(Asked):
    """The size of the pages."""

    size: PageSize = PageSize.A4


class CardQuery(SheetIn, Asked):
    """Which pencils a palette card is for: as for a sheet."""


class SheetCountOut(Schema):
    """What a sheet would hold."""

    pencils: int
    pages: int
    in_layers: int = Field(description="of these, those that have a place for marks of several layers, too")
    known_in_layers: int = Field(description="pencils of which such a mark is measured on the paper")
    takes_layers: bool = Field(description="whether the paper takes as many layers")


class RampStepOut(Schema):
    """A step of a grey ramp as a reader measured it; black: in per cent."""

    black: int = Field(ge=0, le=100)
    lab: LabTriple


class SheetCardOut(Out):
    """A sheet that was made."""

    id: int
    title: str
    token: str
    kind: LayoutKind
    size: PageSize
    pages: int
    pencils: int
    paper_id: int
    paper_name: str
    made_on: str
    ramp: list[RampStepOut]

    @field_validator("ramp", mode="before")
    @classmethod
    def _as_steps(cls, ramp: tuple[tuple[int, tuple[float, float, float]], ...]) -> list[RampStepOut]:
        return [RampStepOut(black=step, lab=list(lab)) for step, lab in ramp]


class RampIn(Schema):
    """The steps of a ramp as they were measured; none to forget them."""

    steps: list[RampStepOut] = Field(max_length=6)


class SheetsOut(Schema):
    """All of them, the newest first."""

    sheets: list[SheetCardOut]


class PageZoneOut(Schema):
    """A part of a cell."""

    box: Box


class PageCellOut(Schema):
    """A cell with its label; code and name are "" where no pencil has it. layers: of each of its marks."""

    index: int
    label: Box
    zones: list[PageZoneOut]
    bar: Box | None
    bare: bool
    code: str = ""
    name: str = ""
    layers: int = 1


class PageMarkerOut(Schema):
    """A marker."""

    number: int
    box: Box


class PageRampOut(Schema):
    """A step of the grey ramp."""

    black: float
    box: Box


class SheetPageOut(Schema):
    """One page, in mm."""

    page: int
    page_mm: list[float]
    markers: list[PageMarkerOut]
    cells: list[PageCellOut]
    dots: list[list[float]]
    dot_mm: float
    ramp: list[PageRampOut]
    windows: list[Box]
    code: Box
    texts: list[Box] = Field(description="free places between the markers")


class SheetOut(Schema):
    """A sheet with its pages."""

    card: SheetCardOut
    pages: list[SheetPageOut]
