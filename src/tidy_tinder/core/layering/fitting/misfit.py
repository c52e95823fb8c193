"""What the model leaves over of a pencil's marks, and how far that is to be expected again.

Two marks of one pencil miss the model alike where they are pressed alike on grounds alike, and less so the farther
apart these are: what was left over of those that were made tells that of another, and how surely (a Gaussian process,
as in Rasmussen, Williams, “Gaussian processes for machine learning”, 2006, ch. 2; the kernel is ours). Several makings
of one mark count as one that is better known, in whichever order they come.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]

# Standard deviation in ΔE*ab by which the model misses a mark, and the share of how far the mark is from its ground
# by which it does so more. Ours: with these nine of ten new readings are within bands (docs/benchmarks.md).
MISFIT_SD, STRENGTH_SHARE = 0.35, 0.018
# How alike two marks miss: 1/e for grounds so far apart in L*, this much for each step of pressure or layer.
_GROUNDS_APART, _STEP_APART = 30.0, 0.3
_STEPS = {pressure: step for step, pressure in enumerate(Pressure)}


@dataclass(frozen=True)
class LeftOver:
    """What a fitted pencil leaves over of one mark: its kind, Lab (3,) as seen less as fitted, L* of its ground, the
    noise of the reading and the misfit that is usual for such a mark, both standard deviations in ΔE*ab.
    """

    kind: Kind
    off: _Array
    ground: float
    noise: float
    misfit: float


@dataclass(frozen=True)
class Expected:
    """What is expected of N marks beside the model: Lab (N, 3) more than it says, and the share (N,) of the usual
    variance of their misfit that stays open, 0 to 1.
    """

    off: _Array
    open: _Array


def misfit_sd(lab: Lab, ground: Lab) -> _Array:
    """Standard deviation (…) in ΔE*ab by which the model misses marks that look like Lab (…, 3) on a ground (…, 3)."""
    return np.asarray(np.hypot(MISFIT_SD, STRENGTH_SHARE * np.linalg.norm(lab - ground, axis=-1)))


def expected_again(
    left: Sequence[Sequence[LeftOver]], kinds: Sequence[Kind], grounds: _Array, misfit: _Array
) -> Expected:
    """What is expected of marks of these kinds on grounds of L* (N,), whose misfit is usually so large (N,), each of a
    pencil of which so much was left over.
    """
    places = max((len(each) for each in left), default=0)
    if not places:
        return Expected(np.zeros((len(kinds), 3)), np.ones(len(kinds)))
    # Marks of one pencil come with the same left-overs.
    each = {id(one): one for one in left}
    rows = dict(zip(each, range(len(each)), strict=True))
    of = np.stack([_padded(one, places) for one in each.values()])[[rows[id(one)] for one in left]]
    steps, layers, L, doubt = of[..., 0], of[..., 1], of[..., 2], of[..., 3]
    own_steps = np.array([[_STEPS[kind.pressure], kind.layers] for kind in kinds], dtype=np.float64)
    among = _alike(steps[:, :, None] - steps[:, None], layers[:, :, None] - layers[:, None], L[:, :, None] - L[:, None])
    to = _alike(steps - own_steps[:, :1], layers - own_steps[:, 1:], L - grounds[:, None])
    to = to * (doubt < _NO_MARK)
    weights = np.linalg.solve(among + doubt[:, :, None] * np.eye(places), to[..., None])[..., 0]
    off = misfit[:, None] * (weights[:, None] @ of[..., 4:])[:, 0]
    return Expected(off, np.clip(1.0 - (weights * to).sum(axis=1), 0.0, 1.0))


# The variance of a place without a mark, beside which none counts.
_NO_MARK = 1e9


def _padded(left: Sequence[LeftOver], places: int) -> _Array:
    """(places, 7): step of pressure, layers, L* of the ground, variance of the reading and Lab left over, both in the
    misfit that is usual.
    """
    rows = np.zeros((places, 7))
    rows[:, 3] = _NO_MARK
    for i, one in enumerate(left):
        steps = _STEPS[one.kind.pressure], one.kind.layers
        rows[i] = (*steps, one.ground, (one.noise / one.misfit) ** 2, *(one.off / one.misfit))
    return rows


def _alike(steps: _Array, layers: _Array, grounds: _Array) -> _Array:
    """How alike marks miss the model that are so many steps of pressure, layers and L* of the ground apart, 0 to 1."""
    return np.asarray(np.exp(-np.abs(grounds) / _GROUNDS_APART) * _STEP_APART ** (np.abs(steps) + np.abs(layers)))
