"""Fitting pencils to their swatches: what each is made of as far as its marks can tell, and how sure that is.

A pencil is nine cosine coefficients of ln k over the bands, ln s and ln h; each of its marks has its own load, which
an uneven hand makes. Maximum a posteriori with a robust loss on Lab, and Laplace's covariance round it. Priors and
loss are ours (docs/model.md).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.layering.fitting.evidence import Evidence, Kind, Packed, pack
from tidy_tinder.core.layering.fitting.least_squares import Problem, solve
from tidy_tinder.core.layering.optics.film import add_surface, strip_surface
from tidy_tinder.core.layering.optics.response import lab_of, response
from tidy_tinder.core.layering.optics.tooth import PencilModel, pencil_from_swatch, scattering_of
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import PrintedOpacity

_Array = NDArray[np.float64]

COSINES = 9
# Places of ln s and ln h among a pencil's unknowns; the cosine coefficients of ln k come first.
LN_S, LN_H = COSINES, COSINES + 1
UNKNOWNS = COSINES + 2

_PRIOR_K = np.array([-0.3, *[0.0] * (COSINES - 1)])
_PRIOR_K_SD = np.array([1.3, 0.9, 0.7, 0.45, 0.30, 0.20, 0.14, 0.10, 0.07])
_PRIOR_S_SD, _UNKNOWN_S_SD = 0.5, 0.9
_PRIOR_H_SD = 0.2
_HAND_SD = 0.15

_AT = (np.arange(BANDS.size) + 0.5) / BANDS.size
# (9, 31): cosines over the bands.
BASIS: _Array = np.cos(np.pi * np.arange(COSINES)[:, None] * _AT)


@dataclass(frozen=True)
class PencilFit:
    """A fitted pencil: unknowns (11,) and covariance (11, 11); fine (31,), what of ln k the cosines cannot hold.

    marks: how many it rests on; grounds: darkest and lightest L* of what they lie on. left: what each mark was off
    by, (kind, Lab as seen less Lab as fitted (3,), L* of its ground), the load of its making not counted.
    """

    unknowns: _Array
    covariance: _Array
    fine: _Array
    prior_s_sd: float
    marks: int
    grounds: tuple[float, float]
    left: tuple[tuple[Kind, _Array, float], ...] = ()

    @property
    def model(self) -> PencilModel:
        """The pencil at its most likely."""
        ln_k = self.unknowns[:COSINES] @ BASIS + self.fine
        scattering = np.full(BANDS.size, np.exp(self.unknowns[LN_S]))
        return PencilModel(np.exp(ln_k), scattering, float(np.exp(self.unknowns[LN_H])))


def fit_pencils(evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity]) -> tuple[PencilFit, ...]:
    """Fit pencils, each to its own marks (at least one) and the class of cover that its chart prints ("" for none).

    Raises ShapeError where a pencil has no mark or the two lists differ in length, OutOfRangeError for an unknown
    pressure.
    """
    if len(evidence) != len(opacities) or any(not marks for marks in evidence):
        raise ShapeError("Every pencil to be fitted needs at least one mark, and one class of cover (or “”).")
    if not evidence:
        return ()
    prior_s = np.log([scattering_of(o) for o in opacities])
    prior_s_sd = np.array([_PRIOR_S_SD if o else _UNKNOWN_S_SD for o in opacities])
    return _fitted(evidence, opacities, prior_s, prior_s_sd)


def _fitted(
    evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], prior_s: _Array, prior_s_sd: _Array
) -> tuple[PencilFit, ...]:
    """The fits, solved together from a rough start."""
    packed = pack(evidence)
    rough = np.stack([_rough_ln_k(marks, opacity) for marks, opacity in zip(evidence, opacities, strict=True)])
    coefficients = rough @ np.linalg.pinv(BASIS)
    fine = _fine(evidence, rough - coefficients @ BASIS)
    places = packed.weight.shape[1]
    start = np.zeros((len(evidence), UNKNOWNS + places))
    start[:, :COSINES], start[:, LN_S] = coefficients, prior_s
    problem = _problem(packed, fine, prior_s, prior_s_sd)
    solved = solve(problem, start, robust=3 * places)
    covariance = np.linalg.inv(solved.curvature)[:, :UNKNOWNS, :UNKNOWNS]
    grounds = _grounds(packed)
    left = _left(packed, evidence, solved.parameters, fine)
    return tuple(
        PencilFit(
            solved.parameters[i, :UNKNOWNS],
            covariance[i],
            fine[i],
            float(prior_s_sd[i]),
            len(evidence[i]),
            grounds[i],
            left[i],
        )
        for i in range(len(evidence))
    )


def _grounds(packed: Packed) -> list[tuple[float, float]]:
    """Darkest and lightest L* of the grounds that each pencil was seen on."""
    L = reflectance_to_lab(add_surface(packed.body))[..., 0]
    known = packed.weight > 0
    darkest = np.where(known, L, np.inf).min(axis=1)
    lightest = np.where(known, L, -np.inf).max(axis=1)
    return list(zip(darkest.tolist(), lightest.tolist(), strict=True))


def _left(
    packed: Packed, evidence: Sequence[Sequence[Evidence]], parameters: _Array, fine: _Array
) -> list[tuple[tuple[Kind, _Array, float], ...]]:
    """What the fitted pencils leave over of each mark."""
    no_load = np.broadcast_to(parameters[:, LN_H, None], packed.weight.shape)
    fitted = lab_of(packed.marks(parameters[:, :COSINES] @ BASIS + fine, parameters[:, LN_S], no_load))
    off = packed.lab - fitted
    L = reflectance_to_lab(add_surface(packed.body))[..., 0]
    return [
        tuple((one.kind, off[i, j], float(L[i, j])) for j, one in enumerate(marks)) for i, marks in enumerate(evidence)
    ]


def _fine(evidence: Sequence[Sequence[Evidence]], left: _Array) -> _Array:
    """What the cosines leave over, kept where a spectrum was measured."""
    measured = np.array([any(one.spectrum is not None for one in marks) for marks in evidence])
    return np.where(measured[:, None], left, 0.0)


def _rough_ln_k(marks: Sequence[Evidence], opacity: PrintedOpacity) -> _Array:
    """ln k (31,) from the heaviest mark alone, of those with a spectrum if there are any."""
    usable = [one for one in marks if one.spectrum is not None and not one.kind.over_black] or list(marks)
    best = max(usable, key=lambda one: (not one.kind.over_black, one.kind.layers * one.paper.load(one.kind.pressure)))
    total = best.spectrum if best.spectrum is not None else recover_reflectance(best.lab)
    pencil = pencil_from_swatch(strip_surface(total), best.paper, opacity, best.kind.pressure, best.kind.layers)
    return np.clip(np.log(pencil.absorption), -7.0, 4.0)


def _problem(packed: Packed, fine: _Array, prior_s: _Array, prior_s_sd: _Array) -> Problem:
    """Residuals of the marks (in their own noise) and of the priors, with slopes."""
    count, places = packed.weight.shape
    size = UNKNOWNS + places
    mean = np.zeros((count, size))
    mean[:, :COSINES], mean[:, LN_S] = _PRIOR_K, prior_s
    sd = np.full((count, size), _HAND_SD)
    sd[:, :COSINES], sd[:, LN_S], sd[:, LN_H] = _PRIOR_K_SD, prior_s_sd, _PRIOR_H_SD
    scale = (packed.weight / packed.noise)[..., None]
    own = np.arange(places)

    def problem(at: _Array) -> tuple[_Array, _Array]:
        ln_load = at[:, LN_H, None] + at[:, UNKNOWNS:]
        answer = response(packed.marks(at[:, :COSINES] @ BASIS + fine, at[:, LN_S], ln_load))
        slopes = np.zeros((count, places, 3, size))
        slopes[..., :COSINES] = answer.by_ln_k @ BASIS.T
        slopes[..., LN_S], slopes[..., LN_H] = answer.by_ln_s, answer.by_ln_offered
        slopes[:, own, :, UNKNOWNS + own] = answer.by_ln_offered.swapaxes(0, 1)
        seen = ((answer.lab - packed.lab) * scale).reshape(count, -1)
        seen_slopes = (slopes * scale[..., None]).reshape(count, -1, size)
        prior_slopes = np.zeros((count, size, size))
        prior_slopes[:, np.arange(size), np.arange(size)] = 1.0 / sd
        return (
            np.concatenate([seen, (at - mean) / sd], axis=1),
            np.concatenate([seen_slopes, prior_slopes], axis=1),
        )

    return problem
