"""How sharp an eye is: the level at which three of four answers are right, from a logistic fit with its range.

Source of the form: F. A. Wichmann, N. J. Hill, “The psychometric function I”, Perception & Psychophysics 63 (2001)
1293: ψ = γ + (1 − γ − λ) F, with the share of chance γ and of slips λ. The fit is the whole posterior on a grid.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.practice.drills import Scale
from tidy_tinder.core.practice.staircase import TARGET

_Array = NDArray[np.float64]

LAST = 200
"""So many of the newest answers count: an eye is trained."""

# Slips of the finger and of attention; one in fifty (usual in the field; from memory).
_SLIPS = 0.02
# What is held likely before anything is answered, as standard deviations of logarithms (ours): the threshold lies
# within a factor of three of where the drill begins, less a little; from never to always takes about a factor of 5.
_THRESHOLD_SD, _SLOPE, _SLOPE_SD = 1.1, 0.30, 0.45
_GRID, _SLOPES = 121, 15


@dataclass(frozen=True)
class Threshold:
    """level: at which three of four are right (by chance or not); low, high: nine of ten lie between; answers: that it
    rests on.
    """

    level: float
    low: float
    high: float
    answers: int


def threshold_of(levels: ArrayLike, rights: ArrayLike, scale: Scale) -> Threshold:
    """The threshold from levels (N,) and whether each answer was right (N,), the oldest first; the last 200 count.

    Raises ShapeError, OutOfRangeError for a level that is not positive. Without answers: what is likely beforehand.
    """
    x, right = np.asarray(levels, dtype=np.float64), np.asarray(rights, dtype=np.bool_)
    if x.ndim != 1 or x.shape != right.shape:
        raise ShapeError(f"Levels and answers must be (N,) each, not {x.shape} and {right.shape}.")
    if not bool(np.all(x > 0.0)):
        raise OutOfRangeError("A level is more than nothing.")
    x, right = np.log(x[-LAST:]), right[-LAST:]
    likely = np.log(scale.begin / 2.0)
    thresholds = likely + np.linspace(-3.0, 3.0, _GRID) * _THRESHOLD_SD
    slopes = _SLOPE * np.exp(np.linspace(-2.5, 2.5, _SLOPES) * _SLOPE_SD)
    log_post = _prior(thresholds, likely, _THRESHOLD_SD)[:, None] + _prior(np.log(slopes), np.log(_SLOPE), _SLOPE_SD)
    share = right_share(x[:, None, None] - thresholds[:, None], slopes, scale.guess)
    log_post = log_post + np.log(np.where(right[:, None, None], share, 1.0 - share)).sum(axis=0)
    weights = np.exp(log_post - log_post.max()).sum(axis=1)
    below = np.cumsum(weights) / weights.sum()
    low, middle, high = (float(np.exp(np.interp(q, below, thresholds))) for q in (0.05, 0.5, 0.95))
    return Threshold(middle, low, high, len(x))


def right_share(above: _Array, slope: _Array, guess: float) -> _Array:
    """The share of right answers by how far the logarithm of the level lies above the threshold's: TARGET at 0."""
    wanted = (TARGET - guess) / (1.0 - guess - _SLIPS)
    shift = np.log(wanted / (1.0 - wanted))
    return np.asarray(guess + (1.0 - guess - _SLIPS) / (1.0 + np.exp(-(above / slope + shift))))


def _prior(values: _Array, middle: float, sd: float) -> _Array:
    return np.asarray(-0.5 * ((values - middle) / sd) ** 2)
