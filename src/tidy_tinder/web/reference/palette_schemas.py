"""What the palette of a picture sends and gets."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.core.vocabulary import LARGEST_DRAWING_MM, WorkOrder
from tidy_tinder.services.reference.printing import FINEST_GRID_MM, MOST_FIELDS, GridWish
from tidy_tinder.web.reference.schemas import PickAnswerOut, WishQuery
from tidy_tinder.web.shared.base import Asked, Out, Schema
from tidy_tinder.web.shared.drawn import PatchOut


class PaletteRowOut(Out):
    """One pick: way null and a reason where it is open; places: where each layer's pencil stands."""

    pick_id: int
    number: int
    name: str
    called: str
    area: str
    wanted: PatchOut
    way: PickAnswerOut | None
    chosen: bool
    places: list[str]
    why_open: str


class PaletteOut(Out):
    """All picks in the drawing's order of work; while pairs are mixed, done of total."""

    ready: bool
    done: int
    total: int
    drawing: str
    picture: str
    paper_name: str
    order: WorkOrder
    mapped: bool
    rows: list[PaletteRowOut]


class CardPrintQuery(WishQuery):
    """As the palette is asked for, and the size of the pages."""

    size: PageSize = PageSize.A4


class PatchesQuery(Asked):
    """The size of the pages."""

    size: PageSize = PageSize.A4


class AtSizeQuery(PatchesQuery):
    """The grid's step in mm, or its columns and rows; none: the drawing's sections of about 29 cm²."""

    every_mm: float | None = Field(default=None, ge=FINEST_GRID_MM, le=LARGEST_DRAWING_MM, allow_inf_nan=False)
    columns: int | None = Field(default=None, ge=1, le=MOST_FIELDS)
    rows: int | None = Field(default=None, ge=1, le=MOST_FIELDS)

    def grid(self) -> GridWish:
        """As the services take it."""
        return GridWish(self.every_mm, self.columns, self.rows)


class RecipeTextOut(Schema):
    """A recipe in the words in which people write them."""

    text: str
