"""Every fitted pencil on a paper: the most likely Lab of its marks and how far off it may be.

A paper's shift of ln s moves each pencil as far as its own swatches left its scattering open, which takes the bias off
toned papers. On the paper that pencils were fitted on, they follow all that is unknown of it: were its grain finer,
they would be taken for others, and their marks there would look as they were seen. Priors are ours.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.fitting.evidence import (
    BASIS,
    BLACK_BAR,
    COSINES,
    LN_S,
    READING_SD,
    UNKNOWNS,
    Kind,
    load_follows,
)
from tidy_tinder.core.layering.fitting.hand import USUAL_HAND
from tidy_tinder.core.layering.fitting.misfit import Expected, expected_again, misfit_sd, misfits
from tidy_tinder.core.layering.fitting.paper_unknowns import (
    CHANCE,
    GRAIN,
    HELD,
    HERS,
    LOAD_AT,
    LOADS,
    OVER,
    PAPER_UNKNOWNS,
    PAPERS_PART,
    PRIOR_SD,
    SHIFT,
    paper_follows,
)
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.response import Marks, Response, from_logit, response
from tidy_tinder.core.layering.optics.stack_response import StackResponse
from tidy_tinder.core.layering.optics.tooth import (
    BY_CHANCE,
    HOLD,
    SMEARED,
    YULE_NIELSEN,
    PaperModel,
    PencilModel,
    tooth_takes,
    usual_grain,
    usual_load,
)
from tidy_tinder.core.quantities import DeltaE, Lab, Reflectance
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Pressure, Tooth

_Array = NDArray[np.float64]

# By how much a reading on a ground far (in L*) from all that the pencil was seen on differs more from the model, as
# a share of that distance; a standard deviation in ΔE*ab. Ours (docs/benchmarks.md).
_GROUND_SHARE = 0.03
# By how much more again, as a share of the mark's distance from its ground, on a ground far darker or lighter than all
# that the pencil was seen on: what scatters shows on a dark one, what light passes through on a light one. For a whole
# difference of the grounds; it goes with its square (ours, decision 0051).
_DARKER_SHARE, _LIGHTER_SHARE = 0.25, 0.45
# Standard deviation in ΔE*ab that each further layer of one pencil adds to what a single one is off the model by, and
# that burnishing does, of which swatches seldom tell: how wax that is pressed together shines is not in the model
# (docs/benchmarks.md, decisions 0053 and 0054).
AGAIN_SD, BURNISHED_SD = 0.7, 1.5
# Share of the variance of the hand that all layers of one making have in common (ours).
COMMON_SLIP = 0.5


@dataclass(frozen=True)
class PaperFit:
    """A fitted paper: body reflectance (31,), unknowns (9,) round its tooth class, covariance (9, 9).

    anchors: how many swatches it rests on; with none it is a guess from the class. spread: the variance by which its
    swatches differed from the model beside the usual; hand: standard deviation of ln load from making to making;
    smeared: how much of several layers is one film, of which no mark tells. fitted_at: its unknowns (9,) as pencils
    were fitted on it, which follow it from there; None where they were fitted on another.
    """

    body: Reflectance
    tooth: Tooth
    unknowns: _Array
    covariance: _Array
    anchors: int
    spread: float = 1.0
    hand: float = USUAL_HAND
    smeared: float = SMEARED
    fitted_at: _Array | None = None

    @cached_property
    def model(self) -> PaperModel:
        """The paper at its most likely."""
        factors = tuple(
            (pressure, tooth_takes(self.tooth, pressure) * float(np.exp(self.unknowns[list(at)].sum())))
            for pressure, at in LOAD_AT.items()
        )
        grain = float(np.exp(self.unknowns[GRAIN])) * usual_grain(self.tooth)
        by_chance = float(from_logit(_logit_chance(self.unknowns)))
        return PaperModel(
            self.body, grain, self._exponent, factors, by_chance, self.smeared, HOLD + self.unknowns[HELD]
        )

    @property
    def _exponent(self) -> float:
        return float(1.0 + (YULE_NIELSEN - 1.0) * np.exp(self.unknowns[OVER]))


@dataclass(frozen=True)
class Prediction:
    """Marks of N pencils of Q kinds on one paper: Lab (N, Q, 3), D65, 2°; covariance (N, Q, 3, 3); the ΔE00 (N, Q)
    within which nine of ten lie.
    """

    lab: Lab
    covariance: _Array
    radius: DeltaE


def pencil_on(pencil: PencilFit, paper: PaperFit) -> PencilModel:
    """A pencil at its most likely as a paper has it."""
    return shifted(pencil, paper).model


def shifted(pencil: PencilFit, paper: PaperFit) -> PencilFit:
    """A pencil's fit as a paper has it: its scattering follows the paper's shift as far as it is open, and on the paper
    that it was fitted on it follows that.
    """
    return replace(pencil, unknowns=pencil.unknowns + _moved([pencil], paper, paper.unknowns)[0])


def guess_paper(body: Reflectance, tooth: Tooth, home: PaperFit | None = None) -> PaperFit:
    """A paper of which only its own colour and tooth class are known. body: its reflectance (31,) below the surface.

    home: the paper that pencils were fitted on. How it differs from the usual of its class is the artist's hand and
    what the model lacks, which other papers share; where its own marks did not tell how the loads at its pressures go
    together, that is open here, too, and what it told of how she burnishes and layers is less open here. Raises
    OutOfRangeError for another class.
    """
    usual_grain(tooth)  # refuses another class now, not where the paper is first looked at
    usual = np.zeros(PAPER_UNKNOWNS) if home is None else home.unknowns
    spread, hand = (1.0, USUAL_HAND) if home is None else (home.spread, home.hand)
    variance = PRIOR_SD**2
    if home is not None:
        at_home = np.diag(home.covariance)
        variance[LOADS] += at_home[LOADS]
        variance[HERS] = np.minimum(variance[HERS], at_home[HERS] + PAPERS_PART**2)
    return PaperFit(body, tooth, usual, np.diag(variance), 0, spread, hand)


def predict(pencils: Sequence[PencilFit], paper: PaperFit, kinds: Sequence[Kind]) -> Prediction:
    """Every pencil at every kind of mark on a paper. Raises OutOfRangeError for an unknown pressure or no layer."""
    each = [pencil for pencil in pencils for _ in kinds]
    every = list(kinds) * len(pencils)
    shape = (len(pencils), len(kinds))
    if not each:
        return Prediction(np.zeros((*shape, 3)), np.zeros((*shape, 3, 3)), np.zeros(shape))
    seen = look(pencils=each, paper=paper, kinds=every)
    covariance = seen.parts.whole
    return Prediction(
        seen.lab.reshape(*shape, 3), covariance.reshape(*shape, 3, 3), radius(covariance, seen.lab).reshape(shape)
    )


@dataclass(frozen=True)
class DoubtParts:
    """Covariance (N, 3, 3) of Lab by where it comes from: the pencils, the paper, the hand, what no model tells and
    the reading.
    """

    pencil: _Array
    paper: _Array
    hand: _Array
    rest: _Array

    @property
    def whole(self) -> _Array:
        """All of it: that of a new reading of a new making."""
        return self.pencil + self.paper + self.hand + self.rest


@dataclass(frozen=True)
class Looked:
    """Marks (N,): their Lab (N, 3), what of it the pencils' own marks added to the model (N, 3), the model's answer
    with its slopes, the parts of the doubt.
    """

    lab: Lab
    carried: _Array
    answer: Response
    parts: DoubtParts


def look(pencils: Sequence[PencilFit], paper: PaperFit, kinds: Sequence[Kind]) -> Looked:
    """Pencil i at kind i on a paper, with workings.

    Raises OutOfRangeError for an unknown pressure and for fewer than one layer.
    """
    if any(kind.layers < 1 for kind in kinds):
        raise OutOfRangeError("A mark has at least one layer.")
    answer = answer_of(paper.unknowns, paper, pencils, kinds)
    again = expected_beside(answer.lab, paper, pencils, kinds)
    by_paper = slopes_by_paper(answer, paper, pencils, kinds)
    parts = DoubtParts(
        own_doubt(answer, pencils, kinds),
        by_paper @ paper.covariance @ by_paper.swapaxes(-1, -2),
        by_hand(answer, kinds, paper.hand),
        rest_of(answer.lab, paper, pencils, kinds, again.open),
    )
    return Looked(answer.lab + again.off, again.off, answer, parts)


def answer_of(unknowns: _Array, paper: PaperFit, pencils: Sequence[PencilFit], kinds: Sequence[Kind]) -> Response:
    """The marks (N, 3) of pencil i at kind i by the model, Lab, D65, 2°, with slopes, on the paper with these unknowns
    (U,).
    """
    at = _rows(pencil.unknowns for pencil in pencils) + _moved(pencils, paper, unknowns)
    fine = _rows(pencil.fine for pencil in pencils)
    offered = _by_pressure(kinds, lambda p: np.log(usual_load(p, paper.tooth)) + unknowns[list(LOAD_AT[p])].sum())
    count = len(pencils)
    return response(
        Marks(
            at[:, :COSINES] @ BASIS + fine,
            at[:, LN_S],
            offered + (_answers(kinds) * at).sum(axis=1),
            np.full(count, np.log(usual_grain(paper.tooth)) + unknowns[GRAIN]),
            np.full(count, np.log(YULE_NIELSEN - 1.0) + unknowns[OVER]),
            np.full(count, _logit_chance(unknowns)),
            np.full(count, HOLD + unknowns[HELD]),
            np.where(_over_black(kinds)[:, None], BLACK_BAR, paper.body),
            np.array([kind.layers for kind in kinds]),
            np.array([kind.pressure == Pressure.BURNISH for kind in kinds]),
        )
    )


def _logit_chance(unknowns: _Array) -> float:
    """Logit of the share of a layer that misses by chance."""
    return float(np.log(BY_CHANCE / (1.0 - BY_CHANCE)) + unknowns[CHANCE])


def expected_beside(lab: Lab, paper: PaperFit, pencils: Sequence[PencilFit], kinds: Sequence[Kind]) -> Expected:
    """What the pencils' own marks left over and these marks (N, 3) will have too."""
    grounds = _grounds(paper, kinds)
    return expected_again([pencil.left for pencil in pencils], kinds, grounds[:, 0], misfits(lab, grounds))


def _answers(kinds: Sequence[Kind]) -> _Array:
    """Which of a pencil's unknowns the load of each mark follows (N, 14)."""
    return _by_pressure(kinds, load_follows)


def _by_pressure(kinds: Sequence[Kind], of: Callable[[Pressure], _Array]) -> _Array:
    """What holds of the pressure of each mark (N, …), asked for once for each pressure."""
    places = {pressure: at for at, pressure in enumerate(dict.fromkeys(kind.pressure for kind in kinds))}
    return np.stack([of(pressure) for pressure in places])[[places[kind.pressure] for kind in kinds]]


def _rows(of: Iterable[_Array]) -> _Array:
    """Vectors of one length, one a row; of thousands sooner than by `np.stack`."""
    every = list(of)
    return np.concatenate(every).reshape(len(every), -1)


def _over_black(kinds: Sequence[Kind]) -> NDArray[np.bool_]:
    return np.array([kind.over_black for kind in kinds], dtype=bool)


def _grounds(paper: PaperFit, kinds: Sequence[Kind]) -> Lab:
    """Lab (N, 3) of what marks lie on."""
    bare, bar = reflectance_to_lab(add_surface(np.stack([paper.body, BLACK_BAR])))
    return np.asarray(np.where(_over_black(kinds)[:, None], bar, bare))


def _moved(pencils: Sequence[PencilFit], paper: PaperFit, unknowns: _Array) -> _Array:
    """By how much each pencil's unknowns (N, 14) are others than it was fitted with, on a paper with these unknowns."""
    moved = np.asarray(unknowns[SHIFT] * _rows(pencil.pull for pencil in pencils))
    if paper.fitted_at is not None:
        moved += np.stack([pencil.follows for pencil in pencils]) @ (unknowns - paper.fitted_at)
    return moved


def _follow(pencils: Sequence[PencilFit], paper: PaperFit) -> _Array:
    """How far each pencil's unknowns (N, 14, 9) follow those of a paper."""
    shape = len(pencils), UNKNOWNS, PAPER_UNKNOWNS
    follow = np.zeros(shape) if paper.fitted_at is None else np.stack([pencil.follows for pencil in pencils])
    follow[..., SHIFT] = _rows(pencil.pull for pencil in pencils)
    return follow


def slopes_by_pencil(answer: Response, kinds: Sequence[Kind]) -> _Array:
    """Slopes (N, 3, 14) of Lab by a pencil's unknowns."""
    slopes = answer.by_ln_offered[..., None] * _answers(kinds)[:, None, :]
    slopes[..., :COSINES], slopes[..., LN_S] = answer.by_ln_k @ BASIS.T, answer.by_ln_s
    return np.asarray(slopes)


def slopes_by_paper(answer: Response, paper: PaperFit, pencils: Sequence[PencilFit], kinds: Sequence[Kind]) -> _Array:
    """Slopes (N, 3, 9) of Lab by a paper's unknowns, whatever of the pencils follows them."""
    slopes = answer.by_ln_offered[..., None] * _by_pressure(kinds, paper_follows)[:, None, :]
    slopes[..., GRAIN], slopes[..., OVER] = answer.by_ln_grain, answer.by_ln_over
    slopes[..., CHANCE], slopes[..., HELD] = answer.by_logit_chance, answer.by_hold
    return np.asarray(slopes + slopes_by_pencil(answer, kinds) @ _follow(pencils, paper))


def add_paper_slopes(slopes: _Array, of: StackResponse, by_pencil: Mapping[PencilFit, _Array], paper: PaperFit) -> None:
    """Complete slopes (3, 9) of a stack by its paper's unknowns, whose loads are there: by grain, exponent, chance,
    hold and by what follows them of each pencil, which moves it by (3, 14).
    """
    slopes[:, GRAIN], slopes[:, OVER] = of.by_ln_grain, of.by_ln_over
    slopes[:, CHANCE], slopes[:, HELD] = of.by_logit_chance, of.by_hold
    slopes += (np.stack(list(by_pencil.values())) @ _follow(list(by_pencil), paper)).sum(axis=0)


def own_doubt(answer: Response, pencils: Sequence[PencilFit], kinds: Sequence[Kind]) -> _Array:
    """Covariance (N, 3, 3) of Lab that the pencils' own doubts make."""
    by = slopes_by_pencil(answer, kinds)
    covariance = np.stack([pencil.covariance for pencil in pencils])
    return np.asarray(by @ covariance @ by.swapaxes(-1, -2))


def by_hand(answer: Response, kinds: Sequence[Kind], hand: float) -> _Array:
    """Covariance (N, 3, 3) of Lab that a hand makes from making to making; in several layers it evens out in part."""
    layers = np.array([kind.layers for kind in kinds])
    share = COMMON_SLIP + (1.0 - COMMON_SLIP) / layers
    by = answer.by_ln_offered * (hand * np.sqrt(share))[:, None]
    return np.asarray(by[:, :, None] * by[:, None, :])


def rest_of(
    lab: Lab, paper: PaperFit, pencils: Sequence[PencilFit], kinds: Sequence[Kind], still_open: _Array
) -> _Array:
    """Covariance (N, 3, 3) by which readings of marks differ from the model beside the hand."""
    misfit = still_open * misfit_sd(lab, _grounds(paper, kinds)) ** 2
    further = np.array(
        [(kind.layers - 1) * AGAIN_SD**2 + (kind.pressure == Pressure.BURNISH) * BURNISHED_SD**2 for kind in kinds]
    )
    variance = paper.spread * misfit + ground_variance(lab, paper, pencils) + still_open * further + READING_SD**2
    return np.asarray(variance[:, None, None] * np.eye(3))


def ground_variance(lab: Lab, paper: PaperFit, pencils: Sequence[PencilFit]) -> _Array:
    """Variance (N,) in ΔE*ab² by which the model misses pencils, predicted as `lab` (N, 3), more on a ground unlike all
    they were seen on. What was seen on the darkest one takes as much of it away as it is surer (decision 0058).
    """
    ground = reflectance_to_lab(add_surface(paper.body))
    darkest, lightest = np.array([pencil.grounds for pencil in pencils]).T
    doubt, others = np.array([pencil.unsure_of_dark for pencil in pencils]).T
    strength = np.linalg.norm(lab - ground, axis=-1)
    seen = _unseen_variance(float(ground[0]), strength, darkest, lightest)
    if not doubt.any():
        return seen
    unseen = _unseen_variance(float(ground[0]), strength, others, lightest) - seen
    return np.asarray(seen + unseen * doubt / np.maximum(unseen + doubt, np.finfo(float).tiny))


def _unseen_variance(bare: float, strength: _Array, darkest: _Array, lightest: _Array) -> _Array:
    """The same (N,) on a ground of L* `bare` for marks so far (N,) from it, of pencils seen on grounds of L* (N,)."""
    down, up = np.maximum(darkest - bare, 0.0), np.maximum(bare - lightest, 0.0)
    # Beside the lighter of the two grounds, which on black papers is never quite without light.
    unseen = _DARKER_SHARE * (down / np.maximum(darkest, 1.0)) ** 2 + _LIGHTER_SHARE * (up / max(bare, 1.0)) ** 2
    return np.asarray((_GROUND_SHARE * (down + up)) ** 2 + (unseen * strength) ** 2)
