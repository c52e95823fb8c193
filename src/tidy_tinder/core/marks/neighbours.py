"""The neighbours of a colour: a step lighter, a step darker, a turn of hue to either side."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.components import Difference, chroma, difference, hue_difference
from tidy_tinder.core.marks.arranging import GREY_BELOW
from tidy_tinder.core.quantities import Lab

# A step of value is at least this much L*, and a turn of hue at least this much ΔH*: ours, about what is seen at
# a glance; a neighbour lies no farther than _FARTHEST of either.
_STEP = 4.0
_FARTHEST = 30.0
# What leaves the direction asked for counts more than going a bit farther in it.
_SIDEWAYS = 2.0


class Direction(StrEnum):
    """Where a neighbour lies."""

    LIGHTER = "lighter"
    DARKER = "darker"
    HUE_UP = "hue up"
    HUE_DOWN = "hue down"


@dataclass(frozen=True)
class Neighbour:
    """The nearest colour in one direction."""

    direction: Direction
    key: int
    difference: Difference


def neighbours(own: Lab, others: Mapping[int, Lab]) -> tuple[Neighbour, ...]:
    """At most one neighbour in each direction, among Labs (3,) by key, D65, 2°; a grey has none in hue."""
    if not others:
        return ()
    keys = list(others)
    labs = np.asarray([others[key] for key in keys])
    dL = labs[:, 0] - own[0]
    dC = chroma(labs) - chroma(own)
    dH = hue_difference(np.broadcast_to(own, labs.shape), labs)
    hued = float(chroma(own)) >= GREY_BELOW
    turn = dH if hued else np.zeros_like(dH)
    away = np.hypot(dC, dH) if hued else np.hypot(dC, np.hypot(labs[:, 1] - own[1], labs[:, 2] - own[2]))
    directions = [(Direction.LIGHTER, dL, away), (Direction.DARKER, -dL, away)]
    if hued:
        directions += [(Direction.HUE_UP, turn, np.hypot(dL, dC)), (Direction.HUE_DOWN, -turn, np.hypot(dL, dC))]
    nearest = []
    for direction, along, sideways in directions:
        at = _nearest(along, sideways)
        if at is not None:
            nearest.append(Neighbour(direction, keys[at], difference(own, labs[at])))
    return tuple(nearest)


def _nearest(along: NDArray[np.float64], sideways: NDArray[np.float64]) -> int | None:
    """The place of the least costly one that goes far enough the right way; None where none does."""
    fits = (along >= _STEP) & (along <= _FARTHEST) & (sideways <= _FARTHEST / 2)
    if not bool(fits.any()):
        return None
    cost = np.where(fits, along + _SIDEWAYS * sideways, np.inf)
    return int(np.argmin(cost))
