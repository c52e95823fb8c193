"""A smooth reflectance with a given Lab: least slope squared of z, where R = ½(tanh z + 1).

The hyperbolic tangent keeps every band between 0 and 1 (LHTSS in Burns's comparison of such methods: S. A. Burns,
“Numerical methods for smoothest reflectance reconstruction”, Color Research & Application 45, 2020; cited from
memory). It is the total reflectance that is recovered; the surface is stripped after (`film.strip_surface`).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import BANDS, Reflectance, as_lab
from tidy_tinder.core.reflectance.colorimetry import lab_to_xyz, weights, xyz_to_lab

_Array = NDArray[np.float64]

_MOST_STEPS = 40
_LONGEST_STEP = 1.0
# Largest miss of X, Y or Z, where Y of the perfect white is 1, at which the search ends.
_REACHED = 1e-9
# A colour that is not reached to within so much (ΔE*ab) is beyond what reflects light.
_BEYOND = 1.0
# Least and greatest Y that a start can be made from.
_LEAST_Y, _MOST_Y = 1e-4, 1.0 - 1e-4


def recover_reflectance(lab: ArrayLike, nearest: bool = False) -> Reflectance:
    """The smoothest reflectance (…, 31) in (0, 1) whose Lab, D65, 2°, is `lab` (…, 3).

    nearest: a colour that no reflecting surface can have gets about the nearest that one can. Raises ShapeError;
    OutOfRangeError for values that are no numbers and, without `nearest`, for such a colour.
    """
    values = as_lab(lab)
    if not bool(np.all(np.isfinite(values))):
        raise OutOfRangeError("lab holds a value that is not a finite number.")
    flat = values.reshape(-1, 3)
    # The white is that of the weights, as in reflectance_to_lab, so that the way there and back is exact.
    white = weights().sum(axis=0)
    found = _newton(lab_to_xyz(flat, white=white))
    missed = np.linalg.norm(xyz_to_lab(found @ weights(), white=white) - flat, axis=-1)
    if not nearest and bool(np.any(missed > _BEYOND)):
        L, a, b = flat[int(np.argmax(missed))]
        raise OutOfRangeError(f"Lab {L:.1f}, {a:.1f}, {b:.1f} is no colour that a surface can have in daylight.")
    return found.reshape(*values.shape[:-1], BANDS.size)


def _newton(target: _Array) -> _Array:
    """Batched Newton on 31 unknowns z and 3 multipliers for XYZ (N, 3); returns R (N, 31).

    Each goes on until it has reached its own, whatever the others need: what is out of reach takes all steps.
    """
    W, D = weights(), _slope_matrix()
    count = target.shape[0]
    z = np.repeat(np.arctanh(2.0 * np.clip(target[:, 1:2], _LEAST_Y, _MOST_Y) - 1.0), BANDS.size, axis=1)
    multipliers = np.zeros((count, 3))
    going = np.arange(count)
    for _ in range(_MOST_STEPS):
        R, first, second = _logistic(z[going])
        miss = R @ W - target[going]
        pull = multipliers[going] @ W.T
        gradient = z[going] @ D + first * pull
        left = np.maximum(np.abs(miss).max(axis=1), np.abs(gradient).max(axis=1)) >= _REACHED
        if not bool(left.any()):
            break
        going = going[left]
        step = _solve(D, first[left], (second * pull)[left], W, gradient[left], miss[left])
        longest = np.abs(step[:, : BANDS.size]).max(axis=1, keepdims=True)
        step = step * np.minimum(1.0, _LONGEST_STEP / np.maximum(longest, 1e-12))
        z[going] += step[:, : BANDS.size]
        multipliers[going] += step[:, BANDS.size :]
    return _logistic(z)[0]


def _logistic(z: _Array) -> tuple[_Array, _Array, _Array]:
    """R = ½(tanh z + 1) and its first two derivatives."""
    t = np.tanh(z)
    first = 0.5 * (1.0 - t * t)
    return 0.5 * (t + 1.0), first, -2.0 * t * first


def _slope_matrix() -> _Array:
    """The gradient of Σ(z[i+1] − z[i])² is 2·z times this; the 2 goes into the multipliers."""
    D = 2.0 * np.eye(BANDS.size) - np.eye(BANDS.size, k=1) - np.eye(BANDS.size, k=-1)
    D[0, 0] = D[-1, -1] = 1.0
    return D


def _solve(D: _Array, first: _Array, curvature: _Array, W: _Array, gradient: _Array, miss: _Array) -> _Array:
    """The Newton step (N, 34) of the Lagrangian."""
    count, bands = first.shape
    system = np.zeros((count, bands + 3, bands + 3))
    system[:, :bands, :bands] = D
    system[:, np.arange(bands), np.arange(bands)] += curvature
    border = first[:, :, None] * W
    system[:, :bands, bands:] = border
    system[:, bands:, :bands] = border.transpose(0, 2, 1)
    right = -np.concatenate([gradient, miss], axis=1)[..., None]
    try:
        return np.asarray(np.linalg.solve(system, right)[..., 0])
    except np.linalg.LinAlgError:
        # A colour beyond the optimal ones makes its system singular in the end; least squares goes on where it can.
        singular = np.linalg.slogdet(system)[0] == 0
        step = np.empty_like(right)
        step[singular] = np.linalg.pinv(system[singular]) @ right[singular]
        step[~singular] = np.linalg.solve(system[~singular], right[~singular])
        return step[..., 0]
