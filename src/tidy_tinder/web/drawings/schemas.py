"""What the page of drawings sends and gets."""

from __future__ import annotations

from datetime import date

from pydantic import Field

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Blacks, WorkOrder
from tidy_tinder.services.drawings.store import LONGEST_NAME, DrawingAs
from tidy_tinder.storage.models import DrawingState
from tidy_tinder.web.shared.base import Id, Out, Schema
from tidy_tinder.web.shared.drawn import PatchOut

_LONGEST_NOTES = 4000


class DrawingPath(Schema):
    """The number of a drawing."""

    drawing_id: Id


class DrawingIn(Schema):
    """All that can be said of a drawing; sizes in mm."""

    name: str = Field(max_length=4 * LONGEST_NAME)
    paper_id: Id
    width_mm: float = Field(allow_inf_nan=False)
    height_mm: float = Field(allow_inf_nan=False)
    closest: Closest = Closest.OVERALL
    for_sale: bool = False
    black: Blacks = Blacks.ALLOWED
    solvent: bool = False
    work_order: WorkOrder = WorkOrder.LIGHT_TO_DARK
    notes: str = Field(default="", max_length=_LONGEST_NOTES)

    def said(self) -> DrawingAs:
        """As the service takes it."""
        return DrawingAs(**{name: getattr(self, name) for name in DrawingAs.__dataclass_fields__})


class DrawingEditIn(DrawingIn):
    """A drawing said anew, with the revision that was looked at."""

    revision: Id


class DrawingSaidOut(Out):
    """What is said of a drawing."""

    name: str
    paper_id: int
    width_mm: float
    height_mm: float
    closest: Closest
    for_sale: bool
    black: Blacks
    solvent: bool
    work_order: WorkOrder
    notes: str


class DrawingRecipeOut(Out):
    """A recipe that belongs to a drawing."""

    id: int
    title: str


class DrawingCardOut(Out):
    """A drawing as it is listed; references: their numbers, in order; tray: how many pencils lie in it."""

    id: int
    revision: int
    said: DrawingSaidOut
    paper_name: str
    paper: PatchOut
    state: DrawingState
    begun_on: date
    references: list[int]
    recipes: list[DrawingRecipeOut]
    tray: int
    at_hand: bool


class DrawingsOut(Schema):
    """All drawings, those at work first."""

    drawings: list[DrawingCardOut]


class AtHandIn(Schema):
    """The drawing that is worked on from now on; null for none."""

    drawing_id: Id | None


class AwayIn(Schema):
    """Whether a drawing is put away or taken out again."""

    away: bool
