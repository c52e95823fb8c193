"""A picture's range laid into what a paper reaches: one curve of lightness for all picks, so that their order stays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import Lab, as_lab

# The bent part of an end is this many times as wide as what the paper falls short there: the slope at the very end is
# then 1 - 2/3, so that steps among the darks stay steps (ours).
_WIDTH = 3.0


@dataclass(frozen=True)
class RangeMap:
    """From L* of the picture to L* on the paper. darkest, lightest: of the picture; reached_dark, reached_light: what
    the paper reaches. What is reached stays as it is.
    """

    darkest: float
    lightest: float
    reached_dark: float
    reached_light: float

    def lightness(self, L: ArrayLike) -> NDArray[np.float64]:
        """L* on the paper of L* in the picture; rises everywhere between darkest and lightest."""
        values = np.clip(np.asarray(L, dtype=np.float64), self.darkest, self.lightest)
        short_dark = max(0.0, self.reached_dark - self.darkest)
        short_light = max(0.0, self.lightest - self.reached_light)
        if _WIDTH * (short_dark + short_light) > self.lightest - self.darkest:
            share = (values - self.darkest) / (self.lightest - self.darkest)
            return np.asarray(self._low + share * (self._high - self._low))
        return np.asarray(
            _bend(values, self.darkest, short_dark) - _bend(-values, -self.lightest, short_light) - values
        )

    @property
    def bends(self) -> bool:
        """Whether anything of the picture lies beyond the paper."""
        return self.reached_dark > self.darkest or self.reached_light < self.lightest

    @property
    def _low(self) -> float:
        return max(self.darkest, self.reached_dark)

    @property
    def _high(self) -> float:
        return min(self.lightest, self.reached_light)

    def lab(self, lab: Lab) -> Lab:
        """Colours (…, 3) with their lightness laid into the range, hue and chroma as they are."""
        mapped = as_lab(lab).copy()
        mapped[..., 0] = self.lightness(mapped[..., 0])
        return mapped


def range_map(picture: Lab, darkest: float, lightest: float) -> RangeMap:
    """The map of colours (n, 3) of a picture into a paper's range of L*.

    Raises OutOfRangeError for no colour, or a paper whose darkest is not darker than its lightest.
    """
    L = as_lab(picture)[..., 0].ravel()
    if not len(L) or darkest >= lightest:
        raise OutOfRangeError("A range is laid from at least one colour into one that runs from dark to light.")
    low, high = float(L.min()), float(L.max())
    return RangeMap(low, max(high, low + 1e-6), darkest, lightest)


def _bend(L: NDArray[np.float64], end: float, short: float) -> NDArray[np.float64]:
    """Lifts the low end by `short`: a parabola that leaves the straight line smoothly at `_WIDTH` times as much."""
    if short == 0.0:
        return L
    into = np.maximum(end + _WIDTH * short - L, 0.0) / (_WIDTH * short)
    return L + short * into**2
