"""What the tray sends and gets."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.tray import TrayView
from tidy_tinder.web.shared.base import Id, Out, Schema
from tidy_tinder.web.shared.drawn import ColourCardOut


class GapOut(Out):
    """A hole in the ladder of values, after which place of the tray."""

    after: int
    lighter: float
    darker: float


class TrayCardOut(Schema):
    """A colour in the tray."""

    card: ColourCardOut
    owning: Owning


class TrayOut(Schema):
    """The tray from light to dark, and the holes in it."""

    pulled: list[TrayCardOut]
    gaps: list[GapOut]


def tray_out(seen: TrayView) -> TrayOut:
    """A tray as it is sent."""
    pulled = [
        TrayCardOut(card=ColourCardOut.model_validate(card), owning=owning)
        for card, owning in zip(seen.cards, seen.owning, strict=True)
    ]
    return TrayOut(pulled=pulled, gaps=[GapOut.model_validate(gap) for gap in seen.gaps])


class TrayIn(Schema):
    """Colours, into the tray or out of it."""

    colour_ids: list[Id] = Field(min_length=1, max_length=500)
    into: bool
