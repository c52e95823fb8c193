"""How far a paper and a collection reach at a hue, and what is asked for beyond it.

Ours: a hue is kept within 20°, and a colour is beyond reach where it is darker, lighter or more vivid than all that
can be laid at that hue by more than the eye forgives edge to edge.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.components import chroma, hue_angle
from tidy_tinder.core.quantities import Lab

# Hues within this angle count as the same; below this chroma a colour has no hue, and any grey will do.
_SAME_HUE, _GREY = 20.0, 8.0
# Of the chroma that is wanted this share must be there, for a dark or light to be one of that hue.
_KEPT = 0.5
# Vividness is compared among colours of about the same lightness.
_SAME_LIGHTNESS = 8.0
# Beyond by less than this is not beyond: steps of L* and of C*.
_FORGIVEN_L, _FORGIVEN_C = 2.0, 3.0


class Beyond(StrEnum):
    """In which way a colour is out of reach; the value is the word of the interface."""

    DARKER = "darker"
    LIGHTER = "lighter"
    MORE_VIVID = "more vivid"
    OF_ANOTHER_HUE = "of another hue"


@dataclass(frozen=True)
class Shortfall:
    """One way in which a colour is beyond reach: by how much (L*, C*, or ° of hue), and which colour comes nearest."""

    beyond: Beyond
    by: float
    nearest: int


@dataclass(frozen=True)
class Reach:
    """Places among the colours that were given: the darkest and the lightest at a hue, the most vivid at its
    lightness; None where there is none of that hue.
    """

    darkest: int | None
    lightest: int | None
    most_vivid: int | None


def reach_at(wanted: Lab, colours: Lab) -> Reach:
    """What of all `colours` (M, 3) is the darkest, the lightest and the most vivid at the hue of `wanted` (3,)."""
    like = _like(wanted, colours)
    level = like & (np.abs(colours[:, 0] - wanted[0]) <= _SAME_LIGHTNESS)
    return Reach(
        _first(colours[:, 0], like), _first(-colours[:, 0], like), _first(-np.asarray(chroma(colours)), level)
    )  # fmt: skip


def shortfalls(wanted: Lab, colours: Lab) -> tuple[Shortfall, ...]:
    """In which ways `wanted` (3,) lies beyond all of `colours` (M, 3); empty where it is within reach.

    A hue that none of them has comes alone.
    """
    reach = reach_at(wanted, colours)
    beyond = []
    if reach.darkest is not None and colours[reach.darkest, 0] - wanted[0] > _FORGIVEN_L:
        beyond.append(Shortfall(Beyond.DARKER, float(colours[reach.darkest, 0] - wanted[0]), reach.darkest))
    if reach.lightest is not None and wanted[0] - colours[reach.lightest, 0] > _FORGIVEN_L:
        beyond.append(Shortfall(Beyond.LIGHTER, float(wanted[0] - colours[reach.lightest, 0]), reach.lightest))
    if reach.most_vivid is not None:
        short = float(chroma(wanted)) - float(chroma(colours[reach.most_vivid]))
        if short > _FORGIVEN_C:
            beyond.append(Shortfall(Beyond.MORE_VIVID, short, reach.most_vivid))
    if reach == Reach(None, None, None) and len(colours):
        beyond.append(_none_of_the_hue(wanted, colours))
    return tuple(beyond)


def _none_of_the_hue(wanted: Lab, colours: Lab) -> Shortfall:
    """Where nothing has the hue with half of the chroma: the most vivid of that hue, or else what is turned least."""
    own, turned = np.asarray(chroma(colours)), _turned(wanted, colours)
    hued = own >= _GREY
    near = hued & (turned <= _SAME_HUE)
    if bool(near.any()):
        at = int(np.argmax(np.where(near, own, -np.inf)))
        return Shortfall(Beyond.MORE_VIVID, float(chroma(wanted)) - float(own[at]), at)
    at = int(np.argmin(np.where(hued, turned, np.inf))) if bool(hued.any()) else int(np.argmax(own))
    return Shortfall(Beyond.OF_ANOTHER_HUE, float(turned[at]), at)


def _turned(wanted: Lab, colours: Lab) -> NDArray[np.float64]:
    """By how many degrees each hue is turned from the wanted one."""
    return np.abs((np.asarray(hue_angle(colours)) - float(hue_angle(wanted)) + 180.0) % 360.0 - 180.0)


def _like(wanted: Lab, colours: Lab) -> NDArray[np.bool_]:
    """Which colours have the hue of the wanted one."""
    C = float(chroma(wanted))
    own = np.asarray(chroma(colours))
    if C < _GREY:
        return np.asarray(own < C + _GREY)
    return np.asarray((_turned(wanted, colours) <= _SAME_HUE) & (own >= _KEPT * C))


def _first(order: NDArray[np.float64], among: NDArray[np.bool_]) -> int | None:
    if not bool(among.any()):
        return None
    return int(np.argmin(np.where(among, order, np.inf)))
