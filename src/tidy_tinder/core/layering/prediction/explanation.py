"""Why a mark is predicted as it is: what the wax does there, where the doubt comes from, what would lessen it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.local import local_metric, radius
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.fitting.pencil_fit import LN_H, LN_S, PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.tooth import SCATTERING, deposit
from tidy_tinder.core.layering.prediction.marks import (
    PaperFit,
    answer_of,
    off_model,
    own_doubt,
    slopes_by_paper,
    slopes_by_pencil,
)
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Opacity, Pressure

_Array = NDArray[np.float64]

OVER_BLACK = Kind(Pressure.HEAVY, 1, over_black=True)


@dataclass(frozen=True)
class Doubt:
    """Shares of the expected squared ΔE00, adding up to 1: the pencil's own, the paper's, what no model tells."""

    pencil: float
    paper: float
    rest: float


@dataclass(frozen=True)
class Explanation:
    """A prediction with its workings.

    lab (3,), D65, 2°; band: ΔE00 within which nine of ten lie. coverage: share of the paper under wax; thickness: load
    on that share, where a heavy pass on a flat ground leaves about 1. softness: 1 is ordinary. scattering: per load,
    and its class. grain: beside the usual of its tooth class. carried: ΔE*ab that the pencil's own marks moved it by.
    """

    lab: Lab
    band: float
    coverage: float
    thickness: float
    softness: float
    scattering: float
    cover: Opacity
    grain: float
    carried: float
    doubt: Doubt


def explain(pencil: PencilFit, paper: PaperFit, kind: Kind) -> Explanation:
    """Why one mark is predicted as it is. Raises OutOfRangeError for an unknown pressure."""
    answer = answer_of(paper.unknowns, paper, [pencil], [kind])
    own, by_paper, rest = _parts(pencil, paper, kind)
    laid = deposit(paper.model, kind.pressure, float(np.exp(pencil.unknowns[LN_H])), kind.layers)
    metric = local_metric(answer.lab[0])
    shares = np.array([float(np.trace(metric @ part)) for part in (own, by_paper, rest)])
    shares = shares / shares.sum()
    plain = answer_of(paper.unknowns, paper, [replace(pencil, left=())], [kind])
    scattering = float(np.exp(pencil.unknowns[LN_S]))
    return Explanation(
        answer.lab[0],
        float(radius(own + by_paper + rest, answer.lab[0])),
        laid.coverage,
        laid.thickness,
        float(np.exp(pencil.unknowns[LN_H])),
        scattering,
        min(SCATTERING, key=lambda name: abs(np.log(SCATTERING[name] / scattering))),
        float(np.exp(paper.unknowns[0])),
        float(np.linalg.norm(answer.lab[0] - plain.lab[0])),
        Doubt(*(float(share) for share in shares)),
    )


def band_after_swatch(pencil: PencilFit, paper: PaperFit, kind: Kind, at_home: PaperFit, swatch: Kind) -> float:
    """The band of a mark on `paper` once the pencil is swatched as `swatch` on the paper `at_home`, as far as a
    linear model can tell beforehand. Raises OutOfRangeError for an unknown pressure.
    """
    there = answer_of(at_home.unknowns, at_home, [pencil], [swatch])
    J = slopes_by_pencil(there)[0]
    noise = off_model(there.lab, reflectance_to_lab(add_surface(at_home.body)), [pencil])[0]
    gain = pencil.covariance @ J.T @ np.linalg.inv(J @ pencil.covariance @ J.T + noise)
    ground = float(reflectance_to_lab(add_surface(at_home.body))[0])
    darkest, lightest = pencil.grounds
    grounds = (min(darkest, 20.0), lightest) if swatch.over_black else (min(darkest, ground), max(lightest, ground))
    surer = replace(pencil, covariance=pencil.covariance - gain @ J @ pencil.covariance, grounds=grounds)
    own, by_paper, rest = _parts(surer, paper, kind)
    return float(radius(own + by_paper + rest, answer_of(paper.unknowns, paper, [pencil], [kind]).lab[0]))


def band_after_anchors(
    pencil: PencilFit, paper: PaperFit, kind: Kind, anchors: Sequence[tuple[PencilFit, Kind]]
) -> float:
    """The band of a mark once other pencils are swatched on its paper, as far as can be told beforehand.

    Raises OutOfRangeError for an unknown pressure.
    """
    pencils, kinds = [p for p, _ in anchors], [k for _, k in anchors]
    answer = answer_of(paper.unknowns, paper, pencils, kinds)
    A = slopes_by_paper(answer, pencils, kinds)
    noise = own_doubt(answer, pencils) + off_model(answer.lab, reflectance_to_lab(add_surface(paper.body)), pencils)
    information = np.linalg.inv(paper.covariance) + (A.swapaxes(1, 2) @ np.linalg.inv(noise) @ A).sum(axis=0)
    surer = replace(paper, covariance=np.linalg.inv(information))
    own, by_paper, rest = _parts(pencil, surer, kind)
    return float(radius(own + by_paper + rest, answer_of(paper.unknowns, paper, [pencil], [kind]).lab[0]))


def _parts(pencil: PencilFit, paper: PaperFit, kind: Kind) -> tuple[_Array, _Array, _Array]:
    """Covariance (3, 3) of the mark's Lab by the pencil, the paper and the rest."""
    answer = answer_of(paper.unknowns, paper, [pencil], [kind])
    A = slopes_by_paper(answer, [pencil], [kind])[0]
    rest = paper.spread * off_model(answer.lab, reflectance_to_lab(add_surface(paper.body)), [pencil])[0]
    return own_doubt(answer, [pencil])[0], A @ paper.covariance @ A.T, rest
