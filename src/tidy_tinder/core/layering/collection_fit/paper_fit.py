"""A paper fitted to a few swatches on it, from pencils that other papers know."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.fitting.hand import USUAL_HAND
from tidy_tinder.core.layering.fitting.least_squares import solve
from tidy_tinder.core.layering.fitting.paper_unknowns import HEAVY, PRIOR_SD, SHIFT, paper_follows
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.marks import (
    Looked,
    PaperFit,
    answer_of,
    guess_paper,
    look,
    slopes_by_paper,
)
from tidy_tinder.core.quantities import Lab, Reflectance
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure, Tooth

_Array = NDArray[np.float64]

# On the home paper the heavy load and the pencils' scattering are what its fits have taken in.
_TAKEN_IN = 0.01
_HOME_SD = PRIOR_SD.copy()
_HOME_SD[[HEAVY, SHIFT]] = _TAKEN_IN
# By how much the loads of one step of pressure and of the next go together otherwise than usual (ln; ours, from what
# sets of swatches tell of it in two simulated physics, decision 0051).
_STEP_UNTOLD = 0.26
_KNEE = 2.0
# .02 in ln is 2 % of a load or a grain; marks answer to the exponent far less.
_ROUNDED_TO = np.array([0.02, 0.1, 0.02, 0.02, 0.02, 0.02, 0.05, 0.1, 0.1])
# How many residuals the prior spread counts for, when the spread of those seen corrects the covariance.
SPREAD_PRIOR = 20.0


@dataclass(frozen=True)
class Anchor:
    """A swatch on the paper to be fitted: the pencil as other papers know it, what kind of mark, its Lab (3,)."""

    pencil: PencilFit
    kind: Kind
    lab: Lab


def fit_home(
    body: Reflectance, tooth: Tooth, anchors: Sequence[Anchor], hand: float = USUAL_HAND,
    pressed: Pressure = Pressure.HEAVY,
) -> PaperFit:  # fmt: skip
    """The paper that pencils are fitted on first, from their lighter marks.

    body: its reflectance (31,) below the surface. The anchors' pencils are fitted to their heaviest marks
    alone, which were `pressed` so, on the guess of this paper. Whatever their load and the pencils' scattering really
    are, those fits have taken it in: here they stay as they are. Raises OutOfRangeError for an unknown class or
    pressure.
    """
    told = {anchor.kind.pressure for anchor in anchors} & set(MARK_PRESSURES)
    return _fit(
        replace(guess_paper(body, tooth), hand=hand), anchors, _HOME_SD if told - {pressed} else _untold_sd(pressed)
    )


def _untold_sd(pressed: Pressure) -> _Array:
    """How unsure the first paper's unknowns (9,) are where all was `pressed` alike: no lighter mark tells how the loads
    go together.
    """
    sd = _HOME_SD.copy()
    # Who burnishes presses as hard as can be.
    taken_in = MARK_PRESSURES.index(pressed) if pressed in MARK_PRESSURES else MARK_PRESSURES.index(Pressure.HEAVY)
    for at, pressure in enumerate(MARK_PRESSURES):
        sd[paper_follows(pressure) > 0.0] = np.hypot(_TAKEN_IN, _STEP_UNTOLD * np.sqrt(abs(at - taken_in)))
    return sd


def fit_paper(body: Reflectance, tooth: Tooth, anchors: Sequence[Anchor], home: PaperFit | None = None) -> PaperFit:
    """The paper that explains its swatches best, starting from the guess that `guess_paper` makes.

    body: its reflectance (31,) below the surface; anchors hold Lab (3,), D65, 2°.
    Raises OutOfRangeError for an unknown class or pressure.
    """
    guess = guess_paper(body, tooth, home)
    return _fit(guess, anchors, np.sqrt(np.diag(guess.covariance)))


def _fit(paper: PaperFit, anchors: Sequence[Anchor], prior_sd: _Array) -> PaperFit:
    """The paper's unknowns, most likely by its anchors and its prior."""
    if not anchors:
        return replace(paper, covariance=np.diag(prior_sd**2))
    pencils = [anchor.pencil for anchor in anchors]
    kinds = [anchor.kind for anchor in anchors]
    seen = np.stack([anchor.lab for anchor in anchors])
    first = look(pencils, paper, kinds)
    problem = _Problem(paper, pencils, kinds, seen - first.carried, prior_sd, _whitening(first))
    solved = solve(problem, paper.unknowns[None].copy(), robust=3 * len(anchors), knee=_KNEE)
    misses = solved.residuals[0, : 3 * len(anchors)]
    looser = (float(misses @ misses) + SPREAD_PRIOR) / (misses.size + SPREAD_PRIOR)
    # What swatches tell is told the less surely, the more they differ from the model; what was known before is not.
    known_before = np.diag(1.0 / prior_sd**2)
    covariance = np.linalg.inv((solved.curvature[0] - known_before) / looser + known_before)
    # Rounded to what no eye and no band can tell, so that one swatch more leaves most evidence as it was.
    unknowns = np.round(solved.parameters[0] / _ROUNDED_TO) * _ROUNDED_TO
    return replace(
        paper, unknowns=unknowns, covariance=covariance, anchors=len(anchors), spread=paper.spread * looser
    )  # fmt: skip


def _whitening(seen: Looked) -> _Array:
    """What makes of misses (N, 3) ones that are alike and independent: the doubts but those of the paper undone."""
    parts = seen.parts
    return np.linalg.inv(np.linalg.cholesky(parts.pencil + parts.hand + parts.rest))


@dataclass(frozen=True)
class _Problem:
    """Misses of the anchors, each in its own doubt, and of the prior, by the unknowns of one paper (1, 9)."""

    paper: PaperFit
    pencils: Sequence[PencilFit]
    kinds: Sequence[Kind]
    seen: Lab
    prior_sd: _Array
    whiten: _Array

    def some(self, which: NDArray[np.int64]) -> _Problem:
        """There is but one."""
        return self

    def __call__(self, at: _Array) -> tuple[_Array, _Array]:
        """Residuals (1, M) and slopes (1, M, 9)."""
        answer = answer_of(at[0], self.paper, self.pencils, self.kinds)
        misses = (self.whiten @ (answer.lab - self.seen)[..., None])[..., 0]
        slopes = self.whiten @ slopes_by_paper(answer, self.paper, self.pencils, self.kinds)
        return (
            np.concatenate([misses.ravel(), (at[0] - self.paper.unknowns) / self.prior_sd])[None],
            np.concatenate([slopes.reshape(-1, self.prior_sd.size), np.diag(1.0 / self.prior_sd)])[None],
        )
