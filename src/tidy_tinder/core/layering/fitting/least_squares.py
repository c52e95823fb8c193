"""Many small robust least-squares problems at once: Levenberg–Marquardt with a soft-L1 loss, batched.

A problem answers parameters (N, P) with residuals (N, M) and their slopes (N, M, P); those that have settled are
left alone. The first part of the
residuals is measured and robust; the rest are priors and are not. Sources: Levenberg (1944), Marquardt (1963); the
loss 2(√(1 + r²) − 1) as in Charbonnier et al. (1997), by iteratively reweighted squares. scipy solves one such
problem at a time and is the reference of the tests; docs/decisions/0011 has the measured times.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

_Array = NDArray[np.float64]


class Problem(Protocol):
    """N problems at once."""

    def __call__(self, at: _Array) -> tuple[_Array, _Array]:
        """Residuals (N, M) and slopes (N, M, P) at parameters (N, P)."""

    def some(self, which: NDArray[np.int64]) -> Problem:
        """Some of the problems."""


_MOST_STEPS = 40
_FIRST_DAMPING, _EASED, _RAISED = 1e-2, 0.2, 8.0
# A step that changes no parameter by more than this ends the search for its problem.
_SETTLED = 1e-4
# Damped so much, a step moves nothing more.
_STUCK = 1e6


@dataclass(frozen=True)
class Solved:
    """Parameters (N, P), the curvature (N, P, P) of half the loss there (its inverse is Laplace's covariance),
    residuals (N, M).
    """

    parameters: _Array
    curvature: _Array
    residuals: _Array


def solve(problem: Problem, start: _Array, robust: int, knee: float = 1.0) -> Solved:
    """The parameters (N, P) with the least loss for every one of N problems, from start (N, P).

    The first `robust` residuals are robust: beyond `knee` they count by their size instead of its square.
    """
    at = start.copy()
    residuals, slopes = problem(at)
    loss = _loss(residuals, robust, knee)
    damping = np.full(at.shape[0], _FIRST_DAMPING)
    going = np.arange(at.shape[0])
    here = problem
    for _ in range(_MOST_STEPS):
        curvature, gradient = _normal(residuals[going], slopes[going], robust, knee)
        step = _step(curvature, gradient, damping[going])
        tried, tried_slopes = here(at[going] + step)
        tried_loss = _loss(tried, robust, knee)
        better = tried_loss <= loss[going]
        taken = going[better]
        at[taken] += step[better]
        residuals[taken], slopes[taken], loss[taken] = tried[better], tried_slopes[better], tried_loss[better]
        damping[going] = np.clip(damping[going] * np.where(better, _EASED, _RAISED), 1e-9, 1e9)
        settled = np.where(better, np.abs(step).max(axis=1) < _SETTLED, damping[going] > _STUCK)
        if settled.any():
            going = going[~settled]
            if not going.size:
                break
            here = problem.some(going)
    return Solved(at, _normal(residuals, slopes, robust, knee)[0], residuals)


def robust_weights(residuals: _Array, knee: float = 1.0) -> _Array:
    """What each squared residual counts that is robust: 1/√(1 + (r/knee)²)."""
    return np.asarray(1.0 / np.sqrt(1.0 + (residuals / knee) ** 2))


def _weights(residuals: _Array, robust: int, knee: float) -> _Array:
    """What each squared residual counts, of which the first are robust."""
    w = np.ones_like(residuals)
    w[:, :robust] = robust_weights(residuals[:, :robust], knee)
    return w


def _loss(residuals: _Array, robust: int, knee: float) -> _Array:
    soft = 2.0 * knee * knee * (np.sqrt(1.0 + (residuals[:, :robust] / knee) ** 2) - 1.0)
    return np.asarray(soft.sum(axis=1) + (residuals[:, robust:] ** 2).sum(axis=1))


def _normal(residuals: _Array, slopes: _Array, robust: int, knee: float) -> tuple[_Array, _Array]:
    weighted = slopes * _weights(residuals, robust, knee)[..., None]
    return slopes.swapaxes(1, 2) @ weighted, (weighted.swapaxes(1, 2) @ residuals[..., None])[..., 0]


def _step(curvature: _Array, gradient: _Array, damping: _Array) -> _Array:
    """The damped step; the diagonal is raised in proportion, so that units do not matter."""
    system = curvature.copy()
    diagonal = np.arange(curvature.shape[1])
    system[:, diagonal, diagonal] *= 1.0 + damping[:, None]
    return np.asarray(-np.linalg.solve(system, gradient[..., None])[..., 0])
