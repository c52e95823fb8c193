"""What a stand-in must do beside its colour: the hard conditions of a call's role (5-optics section 7).

Common practice, no source; the lightness below which a burnisher would darken is ours.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

import numpy as np

from tidy_tinder.core.quantities import Lab

# A burnisher is pale: its heavy mark on white is at least this light (L*).
_PALE = 80.0
# A black is darker than this (L*) and no more vivid (C*), in its heavy mark on the paper at hand.
_BLACK_L, _BLACK_C = 32.0, 10.0


class Unfit(Enum):
    """Why a pencil cannot take a role, whatever its colour."""

    COVERS = "a glaze must let through what lies below, and it covers"
    SHINES_THROUGH = "a highlight over dark must cover, and it is transparent"
    DARK = "a burnisher must be pale, and it is not"


@dataclass(frozen=True)
class Ability:
    """What a pencil can do: its class of cover ("" where none is known), Lab (3,) of its heavy mark on this paper."""

    opacity: str
    masstone: Lab | None


def unfit_for(role: str, pencil: Ability) -> Unfit | None:
    """Why a pencil cannot take a role; None where it can, or where too little is known of it to refuse it."""
    if role == "glaze" and pencil.opacity == "opaque":
        return Unfit.COVERS
    if role == "highlight" and pencil.opacity == "transparent":
        return Unfit.SHINES_THROUGH
    if role == "burnisher" and pencil.masstone is not None and pencil.masstone[0] < _PALE:
        return Unfit.DARK
    return None


def is_black(pencil: Ability) -> bool:
    """Whether those who avoid black would avoid it."""
    if pencil.masstone is None:
        return False
    L, a, b = pencil.masstone
    return bool(L < _BLACK_L and np.hypot(a, b) < _BLACK_C)
