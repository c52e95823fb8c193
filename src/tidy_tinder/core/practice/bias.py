"""Where an eye is biased: by how much colours of a region look lighter, or warmer, than they are.

A logistic fit of Bradley–Terry form (R. A. Bradley, M. E. Terry, Biometrika 39 (1952) 324): the first of two is said to
be lighter the more often, the more its L* and its region's bias exceed those of the second.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.practice.threshold import LAST

_Array = NDArray[np.float64]

# Before anything is answered a bias is held to be nothing, within so many L*, and the eye's own spread to be about
# five, within a factor of two (ours).
_BIAS_SD, _SPREAD, _SPREAD_SD = 5.0, 5.0, 0.7
_SPREADS = 15
_ROUNDS = 30
# Said from this many standard deviations on, and not for less than an eye would see.
_SURE, _LEAST = 2.0, 1.5
_MISTAKES = 3


@dataclass(frozen=True)
class Judged:
    """Two that were compared. first, second: their regions; by: L* (or temperature) of the first less the second; said:
    whether the first was said to be lighter (or warmer).
    """

    first: str
    second: str
    by: float
    said: bool


@dataclass(frozen=True)
class Bias:
    """by: so much lighter (or warmer) a region looks than it is, beside the others; sd: how far that may be off;
    answers: about it; mistakes: wrong ones that speak for it, less those that speak against it.
    """

    by: float
    sd: float
    answers: int
    mistakes: int

    @property
    def is_sure(self) -> bool:
        """Whether it is told: neither chance nor too small to see, and borne out by mistakes.

        Without them the fit alone would blame what is always asked as the lighter one, such as yellows.
        """
        return self.mistakes >= _MISTAKES and abs(self.by) >= max(_SURE * self.sd, _LEAST)


def bias_by_region(answers: Sequence[Judged]) -> Mapping[str, Bias]:
    """The bias of each region that was asked about; of the newest answers."""
    kept = answers[-LAST:]
    names = sorted({name for one in kept for name in (one.first, one.second)})
    if not names:
        return {}
    place = {name: i for i, name in enumerate(names)}
    design = np.zeros((len(kept), len(names)))
    for row, one in enumerate(kept):
        design[row, place[one.first]] += 1.0
        design[row, place[one.second]] -= 1.0
    by = np.array([one.by for one in kept])
    sign = np.array([1.0 if one.said else -1.0 for one in kept])
    spreads = _SPREAD * np.exp(np.linspace(-2.0, 2.0, _SPREADS) * _SPREAD_SD)
    fits = [_fit(design, by, sign, float(spread)) for spread in spreads]
    evidence = np.array([fit[2] for fit in fits]) - 0.5 * (np.log(spreads / _SPREAD) / _SPREAD_SD) ** 2
    weights = np.exp(evidence - evidence.max())
    weights /= weights.sum()
    count = np.abs(design).sum(axis=0)
    beside = _beside_the_others(count)
    means = np.stack([beside @ fit[0] for fit in fits])
    mean = weights @ means
    variance = weights @ (np.stack([np.diag(beside @ fit[1] @ beside.T) for fit in fits]) + (means - mean) ** 2)
    # A region is mistaken for lighter where it is said to be though it is darker, and for darker the other way round.
    lighter = design.T @ (sign * (sign != np.sign(by)))
    return {
        name: Bias(
            float(mean[i]), float(variance[i] ** 0.5), int(count[i]), round(float(lighter[i] * np.sign(mean[i])))
        )
        for name, i in place.items()
    }  # fmt: skip


def _beside_the_others(count: _Array) -> _Array:
    """What takes biases (R,) to each less the mean of the others (R, R), by how often those were asked about.

    Answers about two colours tell of differences only: by how much all look lighter nobody can say.
    """
    others = np.tile(count, (len(count), 1))
    np.fill_diagonal(others, 0.0)
    return np.asarray(np.eye(len(count)) - others / np.maximum(others.sum(axis=1, keepdims=True), 1.0))


def _fit(design: _Array, by: _Array, sign: _Array, spread: float) -> tuple[_Array, _Array, float]:
    """Biases (R,) of greatest posterior for one spread of the eye, their covariance, and the log evidence (Laplace)."""
    from scipy.special import expit, log_expit  # noqa: PLC0415 -- loaded when somebody practises

    wide = design.shape[1]
    bias, precision = np.zeros(wide), np.eye(wide) / _BIAS_SD**2
    hessian = precision
    for _ in range(_ROUNDS):
        share = expit(-sign * (by + design @ bias) / spread)
        gradient = design.T @ (sign * share) / spread - bias / _BIAS_SD**2
        hessian = design.T @ (design * (share * (1.0 - share))[:, None]) / spread**2 + precision
        step = np.linalg.solve(hessian, gradient)
        bias = bias + step
        if float(np.abs(step).max()) < 1e-6:
            break
    likely = float(log_expit(sign * (by + design @ bias) / spread).sum())
    evidence = likely - 0.5 * float(bias @ bias) / _BIAS_SD**2 - 0.5 * float(np.linalg.slogdet(hessian)[1])
    return bias, np.asarray(np.linalg.inv(hessian), dtype=np.float64), evidence
