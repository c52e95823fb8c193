"""What the model leaves over of a pencil's marks, and how far that is to be expected again.

Two marks of one pencil miss the model alike where they are pressed alike on grounds alike, and less so the farther
apart these are: what was left over of those that were made tells that of another, and how surely (a Gaussian process,
as in Rasmussen, Williams, “Gaussian processes for machine learning”, 2006, ch. 2; the kernel is ours). Several makings
of one mark count as one that is better known, in whichever order they come. On dark grounds marks are missed by more,
and pressures more alike: there a mark looks as its wax scatters, of which marks on white tell little.
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
# On a dark ground it misses a mark more, by what it takes the wax to scatter at each wavelength: both as above, for
# a ground of L* 0, less to none at L* 60; and how alike a step of pressure or layer apart (ours, decision 0059).
_DARK_SD, _DARK_SHARE, _LIGHT_ENOUGH, _DARK_STEP_APART = 1.5, 0.05, 60.0, 0.75
_STEPS = {pressure: step for step, pressure in enumerate(Pressure)}


@dataclass(frozen=True)
class LeftOver:
    """What a fitted pencil leaves over of one mark: its kind, Lab (3,) as seen less as fitted, L* of its ground, the
    noise of the reading and the misfits that are usual for such a mark (2,), standard deviations in ΔE*ab.
    """

    kind: Kind
    off: _Array
    ground: float
    noise: float
    misfit: _Array


@dataclass(frozen=True)
class Expected:
    """What is expected of N marks beside the model: Lab (N, 3) more than it says, and the share (N,) of the usual
    variance of their misfit that stays open, 0 to 1.
    """

    off: _Array
    open: _Array


def misfits(lab: Lab, ground: Lab) -> _Array:
    """Standard deviations (…, 2) in ΔE*ab by which the model misses marks that look like Lab (…, 3) on a ground that
    looks like Lab (…, 3): on whatever ground, and more on a dark one.
    """
    strength = np.linalg.norm(lab - ground, axis=-1)
    dark = np.clip(1.0 - np.asarray(ground)[..., 0] / _LIGHT_ENOUGH, 0.0, 1.0)
    return np.stack(
        [np.hypot(MISFIT_SD, STRENGTH_SHARE * strength), dark * np.hypot(_DARK_SD, _DARK_SHARE * strength)], axis=-1
    )


def misfit_sd(lab: Lab, ground: Lab) -> _Array:
    """Standard deviation (…) in ΔE*ab by which the model misses such marks, both together."""
    return np.asarray(np.linalg.norm(misfits(lab, ground), axis=-1))


def expected_again(
    left: Sequence[Sequence[LeftOver]], kinds: Sequence[Kind], grounds: _Array, usual: _Array
) -> Expected:
    """What is expected of marks of these kinds on grounds of L* (N,), whose misfits are usually so large (N, 2), each
    of a pencil of which so much was left over.
    """
    places = max((len(each) for each in left), default=0)
    if not places:
        return Expected(np.zeros((len(kinds), 3)), np.ones(len(kinds)))
    # Marks of one pencil come with the same left-overs.
    each = {id(one): one for one in left}
    rows = dict(zip(each, range(len(each)), strict=True))
    of = np.stack([_padded(one, places) for one in each.values()])[[rows[id(one)] for one in left]]
    steps, layers, L, noise, misfit = of[..., 0], of[..., 1], of[..., 2], of[..., 3], of[..., 4:6]
    own_steps = np.array([[_STEPS[kind.pressure], kind.layers] for kind in kinds], dtype=np.float64)
    apart = np.abs(steps[:, :, None] - steps[:, None]) + np.abs(layers[:, :, None] - layers[:, None])
    among = _shared(apart, L[:, :, None] - L[:, None], misfit[:, :, None] * misfit[:, None])
    apart = np.abs(steps - own_steps[:, :1]) + np.abs(layers - own_steps[:, 1:])
    to = _shared(apart, L - grounds[:, None], misfit * usual[:, None])
    weights = np.linalg.solve(among + noise[:, :, None] * np.eye(places), to[..., None])[..., 0]
    off = (weights[:, None] @ of[..., 6:])[:, 0]
    told = (weights * to).sum(axis=1) / (usual**2).sum(axis=-1)
    return Expected(off, np.clip(1.0 - told, 0.0, 1.0))


def _padded(left: Sequence[LeftOver], places: int) -> _Array:
    """(places, 9): step of pressure, layers, L* of the ground, variance of the reading, usual misfits, Lab left over. A
    place without a mark has no misfit, and tells nothing.
    """
    rows = np.zeros((places, 9))
    rows[:, 3] = 1.0
    for i, one in enumerate(left):
        rows[i] = (_STEPS[one.kind.pressure], one.kind.layers, one.ground, one.noise**2, *one.misfit, *one.off)
    return rows


def _shared(apart: _Array, grounds: _Array, products: _Array) -> _Array:
    """Covariance of what marks are missed by that are so many steps of pressure and layers, and of L* of the ground,
    apart; products (…, 2): of the misfits that are usual for either.
    """
    usual, dark = products[..., 0], products[..., 1]
    return np.asarray(
        usual * np.exp(-np.abs(grounds) / _GROUNDS_APART) * _STEP_APART**apart + dark * _DARK_STEP_APART**apart
    )
