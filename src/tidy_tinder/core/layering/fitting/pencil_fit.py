"""Fitting pencils to their swatches: what each is made of as far as its marks can tell, and how sure that is.

A pencil is nine cosine coefficients of ln k over the bands, ln s, ln of its softness and of how it answers to
pressure; in the load of each of its marks the hand slips. Maximum a posteriori with a robust loss on Lab, and Laplace's
covariance round it. Priors and loss are ours (docs/model.md).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.layering.fitting.evidence import (
    BASIS,
    COSINES,
    LN_ANSWER,
    LN_H,
    LN_S,
    UNKNOWNS,
    Evidence,
    Packed,
    pack,
)
from tidy_tinder.core.layering.fitting.hand import USUAL_HAND, Slips
from tidy_tinder.core.layering.fitting.least_squares import Solved, robust_weights, solve
from tidy_tinder.core.layering.fitting.misfit import LeftOver, misfit_sd, misfits
from tidy_tinder.core.layering.fitting.paper_unknowns import CHANCE, GRAIN, HELD, OVER, PAPER_UNKNOWNS
from tidy_tinder.core.layering.optics.film import add_surface, strip_surface
from tidy_tinder.core.layering.optics.response import lab_of, response
from tidy_tinder.core.layering.optics.tooth import FALLING, PencilModel, Swatch, pencils_from_swatches, scattering_of
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import Pressure, PrintedOpacity

_Array = NDArray[np.float64]

_PRIOR_K = np.array([-0.3, *[0.0] * (COSINES - 1)])
_PRIOR_K_SD = np.array([1.3, 0.9, 0.7, 0.45, 0.30, 0.20, 0.14, 0.10, 0.07])
_PRIOR_S_SD, _UNKNOWN_S_SD = 0.5, 0.9
_PRIOR_H_SD = 0.2
# Of the usual misfit of a mark this share is taken as noise: the rest a pencil's own unknowns take in. Ours: of .4, .7
# and 1 the best on worlds of two physics (docs/model.md).
_MISFIT_SHARE = 0.7
# Grounds whose L* are so near are one where it is asked what a pencil was seen on (ours).
_ALIKE = 5.0
# A mark that is known to so many ΔE*ab tells how it lies on its ground: a reader's, on whatever paper, and a typed one.
_SURE = 1.0
# How differently pencils answer to pressure: standard deviations of ln load beside a heavy one.
_PRIOR_ANSWER_SD = {Pressure.LIGHT: 0.08, Pressure.MEDIUM: 0.065, Pressure.BURNISH: 0.30}


@dataclass(frozen=True, eq=False)
class PencilFit:
    """A fitted pencil: unknowns (14,) and covariance (14, 14); fine (31,), what of ln k the cosines cannot hold.

    marks: how many it rests on; grounds: darkest and lightest L* of what they lie on. left: what is left over of each
    mark beside the slip of the hand in its making; slips: what is known of these. missed: the sum of squares by which
    its marks missed the model in their noise and usual misfit, and the degrees of freedom that the fit left them. Two
    fits that are alike are one. follows (14, 9): how far its unknowns follow those of the paper that it was fitted on
    first. erred_alike (14, 14): how much of the covariance there is because its marks err alike, as a camera's do.
    """

    unknowns: _Array
    covariance: _Array
    fine: _Array
    prior_s_sd: float
    marks: int
    grounds: tuple[float, float]
    left: tuple[LeftOver, ...] = ()
    slips: Slips | None = None
    missed: tuple[float, float] = (0.0, 0.0)
    follows: _Array = field(default_factory=lambda: np.zeros((UNKNOWNS, PAPER_UNKNOWNS)))
    erred_alike: _Array = field(default_factory=lambda: np.zeros((UNKNOWNS, UNKNOWNS)))

    @property
    def model(self) -> PencilModel:
        """The pencil at its most likely."""
        ln_k = self.unknowns[:COSINES] @ BASIS + self.fine
        factors = tuple((pressure, float(np.exp(self.unknowns[at]))) for pressure, at in LN_ANSWER.items())
        return PencilModel(
            np.exp(ln_k), np.exp(self.unknowns[LN_S]) * FALLING, float(np.exp(self.unknowns[LN_H])), factors
        )

    @cached_property
    def pull(self) -> _Array:
        """How far its unknowns (14,) follow a unit shift of the prior mean of ln s."""
        return np.asarray((self.covariance - self.erred_alike)[:, LN_S] / self.prior_s_sd**2)

    @cached_property
    def unsure_of_dark(self) -> tuple[float, float]:
        """How little is told by what it was seen as on its darkest ground: variance in ΔE*ab² of these marks, all
        together, beyond what is sure enough; and the darkest L* of the other grounds that it was seen on.
        """
        darkest = self.grounds[0]
        others = [one.ground for one in self.left if one.ground > darkest + _ALIKE]
        doubts = [one.noise**2 - _SURE**2 for one in self.left if one.ground <= darkest + _ALIKE]
        if not others or not doubts or min(doubts) <= 0.0:
            return 0.0, darkest
        return 1.0 / sum(1.0 / doubt for doubt in doubts), min(others)

    @cached_property
    def identity(self) -> bytes:
        """The same for two fits that are alike."""
        parts = (self.unknowns, self.covariance, self.fine, self.follows, self.erred_alike)
        return b"".join(np.ascontiguousarray(of).tobytes() for of in parts)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, PencilFit) and self.identity == other.identity

    def __hash__(self) -> int:
        return hash(self.identity)


def fit_pencils(
    evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], hand: float = USUAL_HAND
) -> tuple[PencilFit, ...]:
    """Fit pencils, each to its own marks (at least one) and the class of cover that its chart prints ("" for none).

    hand: standard deviation of ln load from making to making. Raises ShapeError where a pencil has no mark or the two
    lists differ in length, OutOfRangeError for an unknown pressure and a noise that is none.
    """
    if len(evidence) != len(opacities) or any(not marks for marks in evidence):
        raise ShapeError("Every pencil to be fitted needs at least one mark, and one class of cover (or “”).")
    if not hand > 0.0:
        raise OutOfRangeError(f"A hand varies by more than nothing, not by {hand}.")
    if not evidence:
        return ()
    evidence = [sorted(marks, key=_place) for marks in evidence]
    prior_s = np.log([scattering_of(o) for o in opacities])
    prior_s_sd = np.array([_PRIOR_S_SD if o else _UNKNOWN_S_SD for o in opacities])
    return _fitted(evidence, opacities, prior_s, prior_s_sd, hand)


def _place(one: Evidence) -> tuple[object, ...]:
    """The place of a mark among those of its pencil, whoever gives them in whichever order."""
    kind, paper = one.kind, one.paper
    return (
        kind.over_black, str(kind.pressure), kind.layers, paper.grain, float(paper.body.sum()), one.noise,
        tuple(np.asarray(one.lab).tolist()),
    )  # fmt: skip


def _fitted(
    evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], prior_s: _Array, prior_s_sd: _Array,
    hand: float,
) -> tuple[PencilFit, ...]:  # fmt: skip
    """The fits, solved together from a rough start."""
    packed = pack(evidence)
    rough = _rough_ln_k(evidence, opacities)
    coefficients = rough @ np.linalg.pinv(BASIS)
    fine = _fine(evidence, rough - coefficients @ BASIS)
    places = packed.weight.shape[1]
    start = np.zeros((len(evidence), UNKNOWNS + places))
    start[:, :COSINES], start[:, LN_S] = coefficients, prior_s
    problem = _Problem(packed, fine, prior_s, prior_s_sd, hand)
    solved = solve(problem, start, robust=3 * places)
    covariance = np.asarray(np.linalg.inv(solved.curvature), dtype=np.float64)
    grounds = _grounds(packed)
    left = _left(packed, evidence, solved.parameters, fine)
    missed, follows = problem.missed(solved, covariance), problem.follows(solved, covariance)
    alike = problem.erred_alike(solved, covariance)
    return tuple(
        PencilFit(
            solved.parameters[i, :UNKNOWNS], covariance[i, :UNKNOWNS, :UNKNOWNS] + alike[i], fine[i],
            float(prior_s_sd[i]), len(marks), grounds[i], left[i],
            _slips(solved.parameters[i], covariance[i], len(marks), hand),
            (float(missed[i, 0]), float(missed[i, 1])), follows[i], alike[i],
        )
        for i, marks in enumerate(evidence)
    )  # fmt: skip


def _slips(parameters: _Array, covariance: _Array, marks: int, hand: float) -> Slips:
    own = slice(UNKNOWNS, UNKNOWNS + marks)
    return Slips(parameters[own], covariance[own, own], hand)


def _grounds(packed: Packed) -> list[tuple[float, float]]:
    """Darkest and lightest L* of the grounds that each pencil was seen on."""
    L = reflectance_to_lab(add_surface(packed.body))[..., 0]
    known = packed.weight > 0
    darkest = np.where(known, L, np.inf).min(axis=1)
    lightest = np.where(known, L, -np.inf).max(axis=1)
    return list(zip(darkest.tolist(), lightest.tolist(), strict=True))


def _left(
    packed: Packed, evidence: Sequence[Sequence[Evidence]], parameters: _Array, fine: _Array
) -> list[tuple[LeftOver, ...]]:
    """What the fitted pencils leave over of each mark, its slip taken into account."""
    fitted = lab_of(packed.marks(parameters[:, :UNKNOWNS], fine, parameters[:, UNKNOWNS:]))
    off, grounds = packed.lab - fitted, reflectance_to_lab(add_surface(packed.body))
    usual = misfits(packed.lab, grounds)
    return [
        tuple(
            LeftOver(one.kind, off[i, j], float(grounds[i, j, 0]), one.noise, usual[i, j])
            for j, one in enumerate(marks)
        )
        for i, marks in enumerate(evidence)
    ]


def _fine(evidence: Sequence[Sequence[Evidence]], left: _Array) -> _Array:
    """What the cosines leave over, kept where a spectrum was measured."""
    measured = np.array([any(one.spectrum is not None for one in marks) for marks in evidence])
    return np.where(measured[:, None], left, 0.0)


def _rough_ln_k(evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity]) -> _Array:
    """ln k (N, 31), each from the heaviest mark alone, of those with a spectrum if there are any."""
    heaviest = [_heaviest(marks) for marks in evidence]
    # Only where none was measured: one by one, of thousands of marks this would take longer than all the rest.
    unmeasured = np.reshape([one.lab for one in heaviest if one.spectrum is None], (-1, 3))
    recovered = iter(recover_reflectance(unmeasured, nearest=True))
    spectra = [next(recovered) if one.spectrum is None else one.spectrum for one in heaviest]
    pencils = pencils_from_swatches([
        Swatch(strip_surface(spectrum), one.paper, opacity, one.kind.pressure, one.kind.layers)
        for one, spectrum, opacity in zip(heaviest, spectra, opacities, strict=True)
    ])  # fmt: skip
    return np.clip(np.log([pencil.absorption for pencil in pencils]), -7.0, 4.0)


def _heaviest(marks: Sequence[Evidence]) -> Evidence:
    usable = [one for one in marks if one.spectrum is not None and not one.kind.over_black] or list(marks)
    return max(usable, key=lambda one: (not one.kind.over_black, one.kind.layers * one.paper.load(one.kind.pressure)))


class _Problem:
    """Residuals of the marks (in their noise and the model's usual misfit) and of the priors, with slopes."""

    def __init__(self, packed: Packed, fine: _Array, prior_s: _Array, prior_s_sd: _Array, hand: float) -> None:
        count, places = packed.weight.shape
        self._packed, self._fine = packed, fine
        self._mean = np.zeros((count, UNKNOWNS + places))
        self._mean[:, :COSINES], self._mean[:, LN_S] = _PRIOR_K, prior_s
        self._sd = np.full((count, UNKNOWNS + places), hand)
        self._sd[:, :COSINES], self._sd[:, LN_S], self._sd[:, LN_H] = _PRIOR_K_SD, prior_s_sd, _PRIOR_H_SD
        for pressure, at in LN_ANSWER.items():
            self._sd[:, at] = _PRIOR_ANSWER_SD[pressure]
        misfit = misfit_sd(packed.lab, reflectance_to_lab(add_surface(packed.body)))
        self._scale = (packed.weight / np.hypot(packed.noise, _MISFIT_SHARE * misfit))[..., None]

    def some(self, which: NDArray[np.int64]) -> _Problem:
        """That of some of the pencils."""
        part = object.__new__(_Problem)
        part._packed, part._fine = self._packed.some(which), self._fine[which]
        part._mean, part._sd, part._scale = self._mean[which], self._sd[which], self._scale[which]
        return part

    def missed(self, solved: Solved, covariance: _Array) -> _Array:
        """By how much each pencil's marks miss (N, 2): the sum of squares, an outlier's at the knee of the loss and
        beyond by its size, and the degrees of freedom: three numbers a mark less what they told of the unknowns.
        """
        seen = solved.residuals[:, : 3 * self._packed.weight.shape[1]]
        squares = 2.0 * (np.sqrt(1.0 + seen**2) - 1.0)
        told = (1.0 - np.diagonal(covariance, axis1=1, axis2=2) / self._sd**2).sum(axis=1)
        return np.stack([squares.sum(axis=1), 3.0 * self._packed.weight.sum(axis=1) - told], axis=1)

    def follows(self, solved: Solved, covariance: _Array) -> _Array:
        """How far each pencil's unknowns (N, 14, 9) follow those of the paper at home: were it another, its marks there
        would be explained by another pencil. By the implicit function theorem −(JᵀWJ + P)⁻¹JᵀW(∂r/∂u), with residuals
        r, weights W and the precision P of the prior.
        """
        of, places = self._packed, self._packed.weight.shape[1]
        answer = response(of.marks(solved.parameters[:, :UNKNOWNS], self._fine, solved.parameters[:, UNKNOWNS:]))
        by_paper = answer.by_ln_offered[..., None] * of.loads[:, :, None, :]
        by_paper[..., GRAIN], by_paper[..., OVER] = answer.by_ln_grain, answer.by_ln_over
        by_paper[..., CHANCE], by_paper[..., HELD] = answer.by_logit_chance, answer.by_hold
        by_paper = by_paper * (self._scale * of.at_home[..., None])[..., None]
        residuals, slopes = (part[:, : 3 * places] for part in self(solved.parameters))
        weighted = slopes * robust_weights(residuals)[..., None]
        moved = weighted.swapaxes(1, 2) @ by_paper.reshape(len(residuals), 3 * places, PAPER_UNKNOWNS)
        return np.asarray(-(covariance @ moved)[:, :UNKNOWNS])

    def erred_alike(self, solved: Solved, covariance: _Array) -> _Array:
        """By how much more the unknowns (N, 14, 14) vary since marks err alike: C(BᵀB − Σbᵢᵀbᵢ)C with Laplace's
        covariance C, bᵢ the score of mark i were its shared part off by one standard deviation, B their sum: the
        sandwich of Huber (1967; from memory), the marks' own variances being in C already.
        """
        of, places = self._packed, self._packed.weight.shape[1]
        if not of.alike.any():
            return np.zeros((len(of.weight), UNKNOWNS, UNKNOWNS))
        residuals, slopes = (part[:, : 3 * places] for part in self(solved.parameters))
        scores = (slopes * robust_weights(residuals)[..., None]).reshape(*of.weight.shape, 3, -1)
        scores = scores * (of.alike * self._scale[..., 0])[..., None, None]
        together = scores.sum(axis=1)
        apart = scores.reshape(len(scores), 3 * places, -1)
        shared = together.swapaxes(1, 2) @ together - apart.swapaxes(1, 2) @ apart
        return np.asarray((covariance @ shared @ covariance)[:, :UNKNOWNS, :UNKNOWNS])

    def __call__(self, at: _Array) -> tuple[_Array, _Array]:
        """Residuals (N, M) and slopes (N, M, P) at parameters (N, P)."""
        (count, size), places = at.shape, self._packed.weight.shape[1]
        answer = response(self._packed.marks(at[:, :UNKNOWNS], self._fine, at[:, UNKNOWNS:]))
        slopes = np.zeros((count, places, 3, size))
        slopes[..., :COSINES] = answer.by_ln_k @ BASIS.T
        slopes[..., LN_S] = answer.by_ln_s
        slopes[..., LN_H:UNKNOWNS] = answer.by_ln_offered[..., None] * self._packed.answers[:, :, None, LN_H:]
        own = np.arange(places)
        slopes[:, own, :, UNKNOWNS + own] = answer.by_ln_offered.swapaxes(0, 1)
        seen = ((answer.lab - self._packed.lab) * self._scale).reshape(count, -1)
        seen_slopes = (slopes * self._scale[..., None]).reshape(count, -1, size)
        prior_slopes = np.zeros((count, size, size))
        prior_slopes[:, np.arange(size), np.arange(size)] = 1.0 / self._sd
        return (
            np.concatenate([seen, (at - self._mean) / self._sd], axis=1),
            np.concatenate([seen_slopes, prior_slopes], axis=1),
        )
