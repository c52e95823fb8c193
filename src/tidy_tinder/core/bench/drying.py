"""How long a wetted passage takes to dry here, learned from the times at which the artist said that it was.

Times are log-normal: ln t = m + slow·δ + ε. The median e^m, the factor e^δ of slow passes and the scatter of ε are
unknown; what is said of them is worked out on a grid, because most answers are bounds and not times: “dry” is said
when somebody looks, and a timer that runs says only “not yet”.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError

_Array = NDArray[np.float64]

# Before any answer: 8 minutes, within a factor of 1.8 for one standard deviation (the design's; common practice, no
# source), and the first passes on an absorbent paper half as long again, within a factor of 1.3.
USUAL_MINUTES, _USUAL_FACTOR = 8.0, 1.8
_SLOWER, _SLOWER_FACTOR = 1.5, 1.3
# One time after another on the same paper: about a third apart, within a factor of 1.7 (ours; no source).
_SCATTER, _SCATTER_FACTOR = 0.36, 1.7
# Who says “dry” has looked a moment later than it was: the time lies within so much before (ours).
_LOOKS_LATE = 0.12
# Shorter or longer ones tell of a mistaken tap or of a night, not of drying.
SHORTEST_MINUTES, LONGEST_MINUTES = 0.25, 24 * 60.0
_NEXT_TO_IMPOSSIBLE = 1e-6
# Nine of ten lie between these.
_LOW, _HIGH = 0.05, 0.95
_M = np.log(USUAL_MINUTES) + np.log(_USUAL_FACTOR) * np.linspace(-3.5, 3.5, 57)
_DELTA = np.log(_SLOWER) + np.log(_SLOWER_FACTOR) * np.linspace(-2.5, 2.5, 9)
_SIGMA = _SCATTER * _SCATTER_FACTOR ** np.linspace(-2.5, 2.5, 11)
_AXES = np.meshgrid(_M, _DELTA, _SIGMA, indexing="ij")


class Said(StrEnum):
    """What an answer says of a time: it was dry just then, it had been dry before, it was still wet."""

    DRY = "dry"
    DRY_BEFORE = "dry before"
    STILL_WET = "still wet"


@dataclass(frozen=True)
class Answer:
    """What the artist said so many minutes after wetting. slow: first passes on an absorbent paper."""

    minutes: float
    said: Said = Said.DRY
    slow: bool = False


@dataclass(frozen=True, eq=False)
class DryingTime:
    """How long it takes, in minutes: nine of ten lie between low and high. answers: those that it rests on.

    weights, medians, scatters (G,): what is thought of the median time (ln minutes) and of its scatter, for `dry_by`.
    """

    median: float
    low: float
    high: float
    answers: int
    weights: _Array
    medians: _Array
    scatters: _Array

    def dry_by(self, minutes: float) -> float:
        """How likely it is dry after so many minutes, 0 to 1."""
        if minutes <= 0.0:
            return 0.0
        return float(self.weights @ _cdf((math.log(minutes) - self.medians) / self.scatters))

    def left_after(self, minutes: float) -> float:
        """Minutes until it is as likely dry as not, for what is still wet after so many."""
        by_then = self.dry_by(minutes)
        return max(self.quantile(by_then + 0.5 * (1.0 - by_then)) - minutes, 0.0)

    def quantile(self, share: float) -> float:
        """Minutes within which this share, 0 to 1, is dry."""
        low, high = math.log(SHORTEST_MINUTES) - 5.0, math.log(LONGEST_MINUTES) + 5.0
        for _ in range(60):
            middle = 0.5 * (low + high)
            low, high = (middle, high) if self.dry_by(math.exp(middle)) < share else (low, middle)
        return math.exp(high)


def drying_time(answers: Sequence[Answer], slow: bool = False) -> DryingTime:
    """How long the next one takes on a paper with a finish, by what was said of earlier ones there.

    slow: whether it is one of the first passes on an absorbent paper. Answers beyond a day or under a quarter of a
    minute are left out. Raises OutOfRangeError for a time that is no number.
    """
    if not all(math.isfinite(one.minutes) for one in answers):
        raise OutOfRangeError("A drying time is a number of minutes.")
    counted = [one for one in answers if SHORTEST_MINUTES <= one.minutes <= LONGEST_MINUTES]
    weights = _thought(tuple(counted)).ravel()
    medians = (_AXES[0] + (_AXES[1] if slow else 0.0)).ravel()
    # What is next to impossible is left out of every question that follows.
    likely = weights > _NEXT_TO_IMPOSSIBLE * weights.max()
    weights = weights[likely] / weights[likely].sum()
    told = DryingTime(0.0, 0.0, 0.0, len(counted), weights, medians[likely], _AXES[2].ravel()[likely])
    median, low, high = (told.quantile(share) for share in (0.5, _LOW, _HIGH))
    return DryingTime(median, low, high, len(counted), told.weights, told.medians, told.scatters)


@lru_cache(maxsize=256)
def _thought(answers: tuple[Answer, ...]) -> _Array:
    """How likely each point of the grid is, after the answers."""
    m, delta, sigma = _AXES
    log_likely = -0.5 * (
        ((m - np.log(USUAL_MINUTES)) / np.log(_USUAL_FACTOR)) ** 2
        + ((delta - np.log(_SLOWER)) / np.log(_SLOWER_FACTOR)) ** 2
        + (np.log(sigma / _SCATTER) / np.log(_SCATTER_FACTOR)) ** 2
    )
    for one in answers:
        log_likely = log_likely + _log_likely(one, m + (delta if one.slow else 0.0), sigma)
    likely = np.exp(log_likely - log_likely.max())
    return np.asarray(likely / likely.sum())


def _log_likely(answer: Answer, median: _Array, sigma: _Array) -> _Array:
    """Of one answer where the times have this median (as ln) and scatter."""
    at = (math.log(answer.minutes) - median) / sigma
    if answer.said is Said.DRY_BEFORE:
        likely = _cdf(at)
    elif answer.said is Said.STILL_WET:
        likely = _cdf(-at)
    else:
        # It became dry somewhere in the stretch before she looked.
        likely = _cdf(at) - _cdf(at - _LOOKS_LATE / sigma)
    return np.asarray(np.log(np.maximum(likely, 1e-12)))


def _cdf(z: _Array) -> _Array:
    """The normal distribution's."""
    from scipy.special import ndtr  # noqa: PLC0415 -- loaded when something dries

    return np.asarray(ndtr(z), dtype=np.float64)
