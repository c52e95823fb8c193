"""Many small robust least-squares problems at once: Levenberg–Marquardt with a soft-L1 loss, batched.

A problem is a function from parameters (N, P) to residuals (N, M) and their slopes (N, M, P). The first part of the
residuals is measured and robust; the rest are priors and are not. Sources: Levenberg (1944), Marquardt (1963); the
loss 2(√(1 + r²) − 1) as in Charbonnier et al. (1997), by iteratively reweighted squares. scipy solves one such
problem at a time and is the reference of the tests; docs/decisions/0011 has the measured times.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_Array = NDArray[np.float64]

Problem = Callable[[_Array], tuple[_Array, _Array]]

_MOST_STEPS = 40
_FIRST_DAMPING, _EASED, _RAISED = 1e-2, 0.2, 8.0
# A step that changes no parameter by more than this ends the search for its problem.
_SETTLED = 1e-4


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
    for _ in range(_MOST_STEPS):
        curvature, gradient = _normal(residuals, slopes, robust, knee)
        step = _step(curvature, gradient, damping)
        tried, tried_slopes = problem(at + step)
        tried_loss = _loss(tried, robust, knee)
        better = tried_loss <= loss
        at = np.where(better[:, None], at + step, at)
        residuals = np.where(better[:, None], tried, residuals)
        slopes = np.where(better[:, None, None], tried_slopes, slopes)
        loss = np.where(better, tried_loss, loss)
        damping = np.clip(np.where(better, damping * _EASED, damping * _RAISED), 1e-9, 1e9)
        if float(np.abs(step[better]).max(initial=0.0)) < _SETTLED and bool(np.all(better | (damping > 1e6))):
            break
    return Solved(at, _normal(residuals, slopes, robust, knee)[0], residuals)


def _weights(residuals: _Array, robust: int, knee: float) -> _Array:
    """What each squared residual counts: 1/√(1 + (r/knee)²) for the robust ones."""
    w = np.ones_like(residuals)
    w[:, :robust] = 1.0 / np.sqrt(1.0 + (residuals[:, :robust] / knee) ** 2)
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
