"""A pick: the colour that most of a small disc of a picture has, and how far the disc varies about it.

A mean of the disc would be no colour of the picture where the disc lies over an edge. The mode is: it is climbed to
from the median of the disc's middle by mean shift (Comaniciu and Meer 2002), in place and in Lab at once.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.quantities import Lab, as_lab

# A disc of fewer pixels across holds too few to tell a colour from its noise.
LEAST_RADIUS, MOST_RADIUS = 3.0, 400.0
WELL_RADIUS = 6.0
# Where the climb begins: the median within this share of the radius.
_INNER = 0.35
_STEPS = 12
# Widths of the kernels: in place as a share of the radius, in Lab.
_SPACE, _COLOUR = 0.5, 8.0
# What lies within two kernel widths of a mode belongs to it.
_NEAR = 2.0 * _COLOUR
# Below this share near the mode, or with another colour on this share, two colours meet (the share is ours).
_FEWEST_NEAR, _OTHER_FROM = 0.40, 0.25
# Two modes closer than this are one colour with texture: plainly different is from ΔE00 5 on.
_APART = 5.0

Weights = NDArray[np.float64]


# Nine of ten of a cloud in three dimensions lie within so many of its root mean squares (χ², three degrees: 6.25).
_NINE_OF_TEN = (6.251 / 3.0) ** 0.5


def band_of_spread(spread: float) -> float:
    """The ΔE00 within which nine of ten lie, of a pick with this spread (root mean square ΔE00)."""
    return _NINE_OF_TEN * spread


@dataclass(frozen=True, eq=False)
class Picked:
    """lab: (3,), the mode; spread: weighted rms ΔE00 of the disc about it; near: share of the disc that belongs to it;
    other, other_share: the second colour of the disc and its share, where it has one; pixels: how many were looked at;
    small: the disc is too small to be sure of.
    """

    lab: Lab
    spread: float
    near: float
    other: Lab | None
    other_share: float
    pixels: int
    small: bool

    @property
    def two_meet(self) -> bool:
        """Whether the loupe lies over a border of two colours."""
        return self.other is not None or self.near < _FEWEST_NEAR


def pick(window: Lab, centre: tuple[float, float], radius: float) -> Picked:
    """The colour of a disc in a window of a picture.

    window: (h, w, 3) Lab; centre: x and y in its pixels, where 0 is the middle of the first; radius: in its pixels.
    Raises ShapeError for another shape, OutOfRangeError for a radius that is none or a disc outside the window.
    """
    lab = as_lab(window, "window")
    if lab.ndim != 3:
        raise ShapeError(f"A window of a picture is (h, w, 3), not {lab.shape}.")
    if not LEAST_RADIUS <= radius <= MOST_RADIUS:
        raise OutOfRangeError(f"The loupe looks at {LEAST_RADIUS:.0f} to {MOST_RADIUS:.0f} pixels round its middle.")
    away = _away(lab.shape[0], lab.shape[1], centre)
    inside = away <= radius
    if not bool(inside.any()):
        raise OutOfRangeError("The loupe lies outside the picture.")
    disc, away = lab[inside], away[inside]
    in_place = np.exp(-0.5 * (away / (_SPACE * radius)) ** 2)
    mode = _mode(disc, in_place, _start(disc, away, radius))
    near = np.linalg.norm(disc - mode, axis=-1) <= _NEAR
    weight = in_place * _likeness(disc, mode)
    spread = float(np.sqrt(np.average(delta_e_2000(disc, mode) ** 2, weights=weight)))
    other, other_share = _other(disc, ~near, mode)
    return Picked(mode, spread, float(near.mean()), other, other_share, len(disc), radius < WELL_RADIUS)


def _away(height: int, width: int, centre: tuple[float, float]) -> NDArray[np.float64]:
    x, y = centre
    return np.asarray(np.hypot(np.arange(width)[None, :] - x, np.arange(height)[:, None] - y))


def _start(disc: Lab, away: NDArray[np.float64], radius: float) -> Lab:
    """The median of what lies in the middle; at the picture's rim, of what lies nearest to it."""
    inner = away <= max(_INNER * radius, float(away.min()) + 1.0)
    return np.asarray(np.median(disc[inner], axis=0))


def _mode(disc: Lab, in_place: Weights, start: Lab) -> Lab:
    """Where the mean shift comes to rest."""
    mode = start
    for _ in range(_STEPS):
        mode = np.average(disc, axis=0, weights=in_place * _likeness(disc, mode) + 1e-12)
    return np.asarray(mode)


def _likeness(disc: Lab, mode: Lab) -> Weights:
    squared = ((disc - mode) ** 2).sum(axis=-1)
    return np.asarray(np.exp(-0.5 * squared / _COLOUR**2))


def _other(disc: Lab, rest: NDArray[np.bool_], mode: Lab) -> tuple[Lab | None, float]:
    """A second colour that a good part of the disc has: specks of many colours are none."""
    if float(rest.mean()) < _OTHER_FROM:
        return None, 0.0
    left = disc[rest]
    second = _mode(left, np.ones(len(left)), np.median(left, axis=0))
    share = float((np.linalg.norm(left - second, axis=-1) <= _NEAR).sum() / len(disc))
    if share < _OTHER_FROM or float(delta_e_2000(second, mode)) < _APART:
        return None, 0.0
    return second, share
