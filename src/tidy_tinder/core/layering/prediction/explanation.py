"""Why a mark is predicted as it is: what the wax does there, where the doubt comes from, what would lessen it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from tidy_tinder.core.difference.local import local_metric, radius
from tidy_tinder.core.layering.fitting.evidence import LN_H, LN_S, Kind
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.tooth import SCATTERING, deposit
from tidy_tinder.core.layering.prediction.marks import (
    PaperFit,
    look,
    pencil_on,
    slopes_by_paper,
    slopes_by_pencil,
)
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Opacity, Pressure

OVER_BLACK = Kind(Pressure.HEAVY, 1, over_black=True)


@dataclass(frozen=True)
class Doubt:
    """Shares of the expected squared ΔE00, adding up to 1: the pencil's own, the paper's, the hand's from making to
    making, what no model tells.
    """

    pencil: float
    paper: float
    hand: float
    rest: float


@dataclass(frozen=True)
class Explanation:
    """A prediction with its workings.

    lab (3,), D65, 2°; band: ΔE00 within which nine of ten lie. coverage: share of the paper under wax; thickness: load
    on that share, where a heavy pass on a flat ground leaves about 1. softness: 1 is ordinary. scattering: per load,
    and its class. grain: beside the usual of its tooth class. carried: ΔE*ab that the pencil's own marks moved it by.
    hand: standard deviation of ln load from making to making.
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
    hand: float


def explain(pencil: PencilFit, paper: PaperFit, kind: Kind) -> Explanation:
    """Why one mark is predicted as it is. Raises OutOfRangeError for an unknown pressure."""
    seen = look([pencil], paper, [kind])
    lab, parts = seen.lab[0], seen.parts
    laid = deposit(pencil_on(pencil, paper), paper.model, kind.pressure)
    metric = local_metric(lab)
    shares = np.array(
        [float(np.trace(metric @ part[0])) for part in (parts.pencil, parts.paper, parts.hand, parts.rest)]
    )
    shares = shares / shares.sum()
    scattering = float(np.exp(pencil.unknowns[LN_S]))
    return Explanation(
        lab,
        float(radius(parts.whole[0], lab)),
        laid.coverage,
        laid.thickness,
        float(np.exp(pencil.unknowns[LN_H])),
        scattering,
        min(SCATTERING, key=lambda name: abs(np.log(SCATTERING[name] / scattering))),
        float(np.exp(paper.unknowns[0])),
        float(np.linalg.norm(seen.carried[0])),
        Doubt(*(float(share) for share in shares)),
        paper.hand,
    )


def band_after_swatch(pencil: PencilFit, paper: PaperFit, kind: Kind, at_home: PaperFit, swatch: Kind) -> float:
    """The band of a mark on `paper` once the pencil is swatched as `swatch` on the paper `at_home`, as far as a
    linear model can tell beforehand. Raises OutOfRangeError for an unknown pressure.
    """
    there = look([pencil], at_home, [swatch])
    J = slopes_by_pencil(there.answer, [swatch])[0]
    noise = there.parts.hand[0] + there.parts.rest[0]
    gain = pencil.covariance @ J.T @ np.linalg.inv(J @ pencil.covariance @ J.T + noise)
    left = np.eye(len(pencil.unknowns)) - gain @ J
    ground = float(reflectance_to_lab(add_surface(at_home.body))[0])
    darkest, lightest = pencil.grounds
    grounds = (min(darkest, 20.0), lightest) if swatch.over_black else (min(darkest, ground), max(lightest, ground))
    known = replace(
        pencil, covariance=left @ pencil.covariance, erred_alike=left @ pencil.erred_alike @ left.T, grounds=grounds
    )
    return _band(known, paper, kind)


def band_after_anchors(
    pencil: PencilFit, paper: PaperFit, kind: Kind, anchors: Sequence[tuple[PencilFit, Kind]]
) -> float:
    """The band of a mark once other pencils are swatched on its paper, as far as can be told beforehand.

    Raises OutOfRangeError for an unknown pressure.
    """
    pencils, kinds = [p for p, _ in anchors], [k for _, k in anchors]
    seen = look(pencils, paper, kinds)
    A = slopes_by_paper(seen.answer, paper, pencils, kinds)
    noise = seen.parts.pencil + seen.parts.hand + seen.parts.rest
    information = np.linalg.inv(paper.covariance) + (A.swapaxes(1, 2) @ np.linalg.inv(noise) @ A).sum(axis=0)
    return _band(pencil, replace(paper, covariance=np.linalg.inv(information)), kind)


def _band(pencil: PencilFit, paper: PaperFit, kind: Kind) -> float:
    """The ΔE00 within which nine of ten new readings of a mark lie."""
    seen = look([pencil], paper, [kind])
    return float(radius(seen.parts.whole, seen.lab)[0])
