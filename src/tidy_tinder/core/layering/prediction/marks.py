"""Every fitted pencil on a paper: the most likely Lab of its marks and how far off it may be.

Unknowns of a paper: ln of its grain, ln(n − 1) of its Yule–Nielsen exponent, ln of the load at light, medium and
heavy beside the usual, and a shift of the prior mean of ln s for all pencils. That shift moves each pencil as far as
its own swatches left its scattering open, which takes the bias off toned papers. Priors are ours.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.fitting.evidence import BLACK_BAR, Kind
from tidy_tinder.core.layering.fitting.pencil_fit import BASIS, COSINES, LN_H, LN_S, PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.response import Marks, Response, response
from tidy_tinder.core.layering.optics.tooth import TOOTH, YULE_NIELSEN, PaperModel, PencilModel
from tidy_tinder.core.quantities import DeltaE, Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Pressure, Tooth

_Array = NDArray[np.float64]

# Places among a paper's unknowns.
_GRAIN, _OVER, _LOAD, _SHIFT = 0, 1, {Pressure.LIGHT: 2, Pressure.MEDIUM: 3, Pressure.HEAVY: 4, Pressure.BURNISH: 4}, 5
PRIOR_SD = np.array([0.30, 0.25, 0.15, 0.12, 0.12, 0.60])
# Standard deviations in ΔE*ab by which a reading differs from the model: the reading and the hand, the model, a share
# of how far the mark is from the bare paper, and of how far (in L*) the paper is from all that the pencil was seen on.
# Ours: with these nine of ten new readings are within bands (docs/benchmarks.md).
_READING_SD, _MODEL_SD, _STRENGTH_SHARE, _GROUND_SHARE = 0.35, 0.35, 0.018, 0.025
# What a pencil's own marks leave over of the model is expected again at this share on the same ground, and at 1/e of
# it 30 L* away. Ours: of 0, .5, .8 and 30, 80 the best on four random worlds beside the demo (docs/model.md).
_CARRIED, _CARRIES_FOR = 0.7, 30.0


@dataclass(frozen=True)
class PaperFit:
    """A fitted paper: body reflectance (31,), unknowns (6,) round its tooth class, covariance (6, 6).

    anchors: how many swatches it rests on; with none it is a guess from the class.
    """

    body: Reflectance
    tooth: Tooth
    unknowns: _Array
    covariance: _Array
    anchors: int
    spread: float = 1.0

    @property
    def model(self) -> PaperModel:
        """The paper at its most likely."""
        factors = tuple((pressure, float(np.exp(self.unknowns[at]))) for pressure, at in _LOAD.items())
        return PaperModel(self.body, float(np.exp(self.unknowns[_GRAIN])) * TOOTH[self.tooth], self._exponent, factors)

    @property
    def _exponent(self) -> float:
        return float(1.0 + (YULE_NIELSEN - 1.0) * np.exp(self.unknowns[_OVER]))


@dataclass(frozen=True)
class Prediction:
    """Marks of N pencils of Q kinds on one paper: Lab (N, Q, 3), D65, 2°; covariance (N, Q, 3, 3); the ΔE00 (N, Q)
    within which nine of ten lie.
    """

    lab: Lab
    covariance: _Array
    radius: DeltaE


def pencil_on(pencil: PencilFit, paper: PaperFit) -> PencilModel:
    """A pencil at its most likely as a paper has it: its scattering follows the paper's shift as far as it is open."""
    shift = paper.unknowns[_SHIFT] * _pull([pencil])[0]
    return replace(pencil, unknowns=pencil.unknowns + shift).model


def guess_paper(body: Reflectance, tooth: Tooth, home: PaperFit | None = None) -> PaperFit:
    """A paper of which only its own colour and tooth class are known. body: its reflectance (31,) below the surface.

    home: the paper that pencils were fitted on. How it differs from the usual of its class is the artist's hand and
    what the model lacks, which other papers share. Raises OutOfRangeError for another class.
    """
    if tooth not in TOOTH:
        raise OutOfRangeError(f"A tooth is {', '.join(TOOTH)}, not “{tooth}”.")
    usual = np.zeros(PRIOR_SD.size) if home is None else home.unknowns
    return PaperFit(body, tooth, usual, np.diag(PRIOR_SD**2), 0)


def predict(pencils: Sequence[PencilFit], paper: PaperFit, kinds: Sequence[Kind]) -> Prediction:
    """Every pencil at every kind of mark on a paper. Raises OutOfRangeError for an unknown pressure."""
    each = [pencil for pencil in pencils for _ in kinds]
    every = list(kinds) * len(pencils)
    shape = (len(pencils), len(kinds))
    if not each:
        return Prediction(np.zeros((*shape, 3)), np.zeros((*shape, 3, 3)), np.zeros(shape))
    answer = answer_of(paper.unknowns, paper, each, every)
    by_paper = slopes_by_paper(answer, each, every)
    bare = reflectance_to_lab(add_surface(paper.body))
    covariance = own_doubt(answer, each) + by_paper @ paper.covariance @ by_paper.swapaxes(-1, -2)
    covariance = covariance + paper.spread * off_model(answer.lab, bare, each)
    return Prediction(
        answer.lab.reshape(*shape, 3), covariance.reshape(*shape, 3, 3), radius(covariance, answer.lab).reshape(shape)
    )


def answer_of(unknowns: _Array, paper: PaperFit, pencils: Sequence[PencilFit], kinds: Sequence[Kind]) -> Response:
    """The marks (N, 3) of pencil i at kind i, Lab, D65, 2°, with slopes, on the paper with these unknowns (U,)."""
    at = np.stack([pencil.unknowns for pencil in pencils]) + unknowns[_SHIFT] * _pull(pencils)
    fine = np.stack([pencil.fine for pencil in pencils])
    usual = paper.model
    bare = PaperModel(paper.body)
    offered = np.array([np.log(k.layers * bare.load(k.pressure)) + unknowns[_LOAD[k.pressure]] for k in kinds])
    count = len(pencils)
    body = np.stack([BLACK_BAR if kind.over_black else usual.body for kind in kinds])
    grain = np.log(TOOTH[paper.tooth]) + unknowns[_GRAIN]
    over = np.log(YULE_NIELSEN - 1.0) + unknowns[_OVER]
    answer = response(
        Marks(
            at[:, :COSINES] @ BASIS + fine, at[:, LN_S], offered + at[:, LN_H], np.full(count, grain),
            np.full(count, over), body,
        )
    )  # fmt: skip
    L = reflectance_to_lab(add_surface(body))[:, 0]
    left_over = np.stack([carried(p, k, float(at)) for p, k, at in zip(pencils, kinds, L, strict=True)])
    return replace(answer, lab=answer.lab + left_over)


def carried(pencil: PencilFit, kind: Kind, ground: float) -> _Array:
    """What the model leaves over of a pencil's mark of the same pressure on the most similar ground (a black bar is
    one), as far as it is to be expected here too.
    """
    same = [(abs(L - ground), off) for of, off, L in pencil.left if of.pressure == kind.pressure]
    if not same:
        return np.zeros(3)
    away, off = min(same, key=lambda one: one[0])
    return np.asarray(off * _CARRIED * np.exp(-away / _CARRIES_FOR))


def _pull(pencils: Sequence[PencilFit]) -> _Array:
    """How far each pencil's unknowns (N, 11) follow a unit shift of the prior mean of ln s."""
    return np.stack([pencil.covariance[:, LN_S] / pencil.prior_s_sd**2 for pencil in pencils])


def slopes_by_pencil(answer: Response) -> _Array:
    """Slopes (N, 3, 11) of Lab by a pencil's unknowns."""
    return np.concatenate(
        [answer.by_ln_k @ BASIS.T, answer.by_ln_s[..., None], answer.by_ln_offered[..., None]], axis=-1
    )


def slopes_by_paper(answer: Response, pencils: Sequence[PencilFit], kinds: Sequence[Kind]) -> _Array:
    """Slopes (N, 3, 6) of Lab by a paper's unknowns."""
    slopes = np.zeros((len(kinds), 3, PRIOR_SD.size))
    slopes[..., _GRAIN], slopes[..., _OVER] = answer.by_ln_grain, answer.by_ln_over
    at = np.array([_LOAD[kind.pressure] for kind in kinds])
    slopes[np.arange(len(kinds)), :, at] = answer.by_ln_offered
    slopes[..., _SHIFT] = (slopes_by_pencil(answer) @ _pull(pencils)[..., None])[..., 0]
    return slopes


def own_doubt(answer: Response, pencils: Sequence[PencilFit]) -> _Array:
    """Covariance (N, 3, 3) of Lab that the pencils' own doubts make."""
    by = slopes_by_pencil(answer)
    covariance = np.stack([pencil.covariance for pencil in pencils])
    return np.asarray(by @ covariance @ by.swapaxes(-1, -2))


def off_model(lab: Lab, bare: Lab, pencils: Sequence[PencilFit]) -> _Array:
    """Covariance (N, 3, 3) by which readings differ from the model."""
    strength = np.linalg.norm(lab - bare, axis=-1)
    darkest, lightest = np.array([pencil.grounds for pencil in pencils]).T
    away = np.maximum(np.maximum(darkest - bare[0], bare[0] - lightest), 0.0)
    variance = _READING_SD**2 + _MODEL_SD**2 + (_STRENGTH_SHARE * strength) ** 2 + (_GROUND_SHARE * away) ** 2
    return np.asarray(variance[..., None, None] * np.eye(3))
