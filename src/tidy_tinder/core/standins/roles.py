"""What a stand-in must do beside its colour: the hard conditions of a call's role.

Common practice, no source; the lightness below which a burnisher would darken is ours.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Opacity, PrintedOpacity, Role, SaidRole

# A burnisher is pale: its heavy mark on white is at least this light (L*).
_PALE = 80.0
# A black is darker than this (L*) and no more vivid (C*), in its heavy mark on the paper at hand.
_BLACK_L, _BLACK_C = 32.0, 10.0


class Unfit(StrEnum):
    """Why a pencil cannot take a role, whatever its colour."""

    COVERS = "a glaze must let through what lies below, and it covers"
    SHINES_THROUGH = "a highlight over dark must cover, and it is transparent"
    DARK = "a burnisher must be pale, and it is not"
    BLUNT = "fine detail needs a core that holds its point, and this one does not"
    DISSOLVES = "nothing water-soluble may lie under a wet wash, and it dissolves"
    STAYS = "a wet wash needs a water-soluble pencil, and it is not"


class Water(StrEnum):
    """What water does to the layer that is asked for: nothing; it comes over it later; it is what water dissolves."""

    NONE = "none"
    OVER_IT = "over it"
    DISSOLVES_IT = "dissolves it"


@dataclass(frozen=True)
class Ability:
    """What a pencil can do: its class of cover ("" where none is known), Lab (3,) of its heavy mark on this paper,
    whether its range holds a point and dissolves in water (None where nobody has said so).
    """

    opacity: PrintedOpacity
    masstone: Lab | None
    holds_point: bool | None = None
    water_soluble: bool | None = None


def unfit_for(role: SaidRole, pencil: Ability, water: Water = Water.NONE) -> Unfit | None:
    """Why a pencil cannot take a role; None where it can, or where too little is known of it to refuse it."""
    pale = pencil.masstone is None or pencil.masstone[0] >= _PALE
    reasons = (
        (Unfit.DISSOLVES, water is Water.OVER_IT and pencil.water_soluble is True),
        (Unfit.STAYS, water is Water.DISSOLVES_IT and pencil.water_soluble is False),
        (Unfit.BLUNT, role == Role.DETAIL and pencil.holds_point is False),
        (Unfit.COVERS, role == Role.GLAZE and pencil.opacity == Opacity.OPAQUE),
        (Unfit.SHINES_THROUGH, role == Role.HIGHLIGHT and pencil.opacity == Opacity.TRANSPARENT),
        (Unfit.DARK, role == Role.BURNISHER and not pale),
    )
    return next((why for why, holds in reasons if holds), None)


def is_black(pencil: Ability) -> bool:
    """Whether those who avoid black would avoid it."""
    if pencil.masstone is None:
        return False
    L, a, b = pencil.masstone
    return bool(L < _BLACK_L and np.hypot(a, b) < _BLACK_C)
