"""The light on a photographed drawing told by the bare paper round it, and taken out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.value_check.corners import Flat
from tidy_tinder.core.reference.value_check.refusal import CannotCheckError, Gate
from tidy_tinder.core.reference.working import Light
from tidy_tinder.core.reflectance.colorimetry import lab_to_linear_rgb

_Array = NDArray[np.float64]

# The design's gates: so much of the ring must follow one smooth light, and so closely (in ln light).
_LEAST_INLIERS, _MOST_SCATTER = 0.85, 0.06
# So far from the field, in ln light, a place of the ring is no bare paper in that light.
_INLIER = 0.1
# Tukey's biweight: 4.685 standard deviations keep 95 % of the efficiency (Beaton, Tukey 1974; from memory).
_TUKEY = 4.685
_ROUNDS = 12
# Clipped: the sensor was full.
_FULL = 0.985
# Too dark to tell anything of.
_LEAST_LIGHT = 0.004
_POINTS = 6000
# Half the side of a tapped patch, as a share of the photo's width.
_PATCH = 0.008


@dataclass(frozen=True, eq=False)
class Evened:
    """light: (h, w, 3) linear light of the picture alone as under even light, the paper being its own colour; inliers:
    share of the ring that follows the light; scatter: how closely; clipped: share of the ring that is full.
    """

    light: Light
    inliers: float
    scatter: float
    clipped: float


def even_light(flat: Flat, paper: Lab) -> Evened:
    """Take the light out, as the ring of bare paper tells it: a robust quadratic of ln light in x and y.

    paper: its Lab (3,). Raises CannotCheckError where the ring is no bare paper, or lies in two lights.
    """
    high, wide = flat.light.shape[:2]
    y, x = np.mgrid[0:high, 0:wide]
    ring = flat.seen.copy()
    r = flat.ring
    # The corner taps are a pixel or three off: what touches the picture is left out.
    ring[r - r // 4 : high - (r - r // 4), r - r // 4 : wide - (r - r // 4)] = False
    at = np.flatnonzero(ring)
    if len(at) < high:
        raise CannotCheckError("There is no bare paper round the picture in this photo: leave a margin.", Gate.PAPER)
    at = at[:: max(1, len(at) // _POINTS)]
    terms = _terms(x.ravel()[at] / wide, y.ravel()[at] / high)
    seen = flat.light.reshape(-1, 3)[at].astype(np.float64)
    if float(np.median(seen)) < _LEAST_LIGHT:
        raise CannotCheckError("This photo is too dark to tell anything of. Photograph it in more light.", Gate.RING)
    logs = np.log(np.maximum(seen, _LEAST_LIGHT / 4))
    fields, off = zip(*(_robust(terms, logs[:, c]) for c in range(3)), strict=True)
    inlying = np.all([np.abs(o) < _INLIER for o in off], axis=0)
    scatter = max(1.4826 * float(np.median(np.abs(o - np.median(o)))) for o in off)
    if scatter > _MOST_SCATTER:
        raise CannotCheckError(
            "Tap the corners of the picture, not of the paper: what lies round them is no bare paper.", Gate.PAPER
        )
    if float(inlying.mean()) < _LEAST_INLIERS:
        raise CannotCheckError(
            "A shadow or a wrong corner: tap the corners again, or photograph it in even light.", Gate.RING
        )
    lit = np.stack(
        [np.exp(_terms(x.ravel() / wide, y.ravel() / high) @ f).reshape(high, wide) for f in fields], axis=-1
    )
    white = lab_to_linear_rgb(np.asarray(paper, dtype=np.float64))
    even = (flat.light / lit * white).astype(np.float32)
    return Evened(
        even[r : high - r, r : wide - r], float(inlying.mean()), scatter, float((seen > _FULL).any(axis=1).mean())
    )


def even_by_patch(flat: Flat, photo: Light, patch: tuple[float, float], paper: Lab) -> Evened:
    """The same where the picture is drawn to the edge: the light of one bare patch is taken for the light everywhere.

    patch: its x and y in pixels of the photo; paper: its Lab (3,). Raises CannotCheckError where the patch is not one
    even piece of paper.
    """
    reach = max(2, round(_PATCH * photo.shape[1]))
    x, y = round(patch[0]), round(patch[1])
    piece = photo[max(y - reach, 0) : y + reach + 1, max(x - reach, 0) : x + reach + 1].reshape(-1, 3)
    if len(piece) < reach * reach or float(np.median(piece)) < _LEAST_LIGHT:
        raise CannotCheckError("Tap a piece of bare paper within the photo, where it lies in the light.", Gate.PAPER)
    lit = np.median(piece, axis=0)
    scatter = 1.4826 * float(np.max(np.median(np.abs(np.log(np.maximum(piece, _LEAST_LIGHT / 4) / lit)), axis=0)))
    if scatter > _MOST_SCATTER:
        raise CannotCheckError("What was tapped is no bare paper: tap a place where nothing is drawn.", Gate.PAPER)
    even = (flat.picture / lit * lab_to_linear_rgb(np.asarray(paper, dtype=np.float64))).astype(np.float32)
    return Evened(even, 1.0, scatter, float((piece > _FULL).any(axis=1).mean()))


def _terms(x: _Array, y: _Array) -> _Array:
    return np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=-1)


def _robust(terms: _Array, values: _Array) -> tuple[_Array, _Array]:
    """Least squares with Tukey's biweight: the coefficients, and what is left (N,)."""
    weights: _Array = np.ones(len(values))
    fitted: _Array = np.zeros(terms.shape[1])
    for _ in range(_ROUNDS):
        root = np.sqrt(weights)
        fitted = np.asarray(np.linalg.lstsq(terms * root[:, None], values * root, rcond=None)[0], dtype=np.float64)
        off = values - terms @ fitted
        scale = max(1.4826 * float(np.median(np.abs(off))), 1e-4)
        weights = np.maximum(1.0 - (off / (_TUKEY * scale)) ** 2, 0.0) ** 2
    return fitted, values - terms @ fitted
