"""What the tray sends and gets."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from tidy_tinder.web.drawn import Out
from tidy_tinder.web.endpoint import MAX_ID
from tidy_tinder.web.tidy.schemas import ColourCardOut


class GapOut(Out):
    """A hole in the ladder of values, after which place of the tray."""

    after: int
    lighter: float
    darker: float


class TrayCardOut(BaseModel):
    """A colour in the tray."""

    card: ColourCardOut
    owning: str


class TrayOut(BaseModel):
    """The tray from light to dark, and the holes in it."""

    pulled: list[TrayCardOut]
    gaps: list[GapOut]


class TrayIn(BaseModel):
    """Colours, into the tray or out of it."""

    colour_ids: list[Annotated[int, Field(ge=1, le=MAX_ID)]] = Field(min_length=1, max_length=500)
    into: bool
