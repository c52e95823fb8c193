"""Predicted marks on a paper: from the collection as it is fitted, kept for each paper and fit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.prediction.marks import PaperFit, guess_paper, predict
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.inputs import FITTED_TABLES, seen_paper
from tidy_tinder.services.background.runtime import fitted, for_version
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.journal import tables_version
from tidy_tinder.storage.models import Paper

# A mark is predicted well where nine of ten lie within this ΔE00: up to there two marks are close to the eye
# (ours, a rule of thumb).
WELL_WITHIN = 3.5

_PLACE = {pressure: i for i, pressure in enumerate(MARK_PRESSURES)}


@dataclass(frozen=True)
class PredictedMark:
    """One mark that was not measured: Lab, D65, 2°, and the ΔE00 within which nine of ten lie."""

    lab: LabTriple
    band: float


@dataclass(frozen=True, eq=False)
class Predictions:
    """Marks of one layer count on a paper. version: of the fit, 0 where there is none; anchors: swatches that the
    paper's fit rests on, home: whether pencils were fitted on it; by_chart: colours known by their chart alone.
    """

    version: int
    anchors: int
    home: bool
    by_chart: frozenset[int]
    places: Mapping[int, int]
    lab: Lab
    band: Lab

    def of(self, colour_id: int, pressure: Pressure) -> PredictedMark | None:
        """One mark; None where nothing can be said."""
        at = self.places.get(colour_id)
        if at is None:
            return None
        kind = _PLACE[pressure]
        L, a, b = (float(v) for v in self.lab[at, kind])
        return PredictedMark((L, a, b), float(self.band[at, kind]))

    @property
    def is_guess(self) -> bool:
        """Whether nothing was swatched on this paper yet."""
        return self.version > 0 and not self.home and self.anchors == 0


_NOTHING = Predictions(0, 0, False, frozenset(), {}, np.zeros((0, 3, 3)), np.zeros((0, 3)))


def predictions_on(session: Session, paper: Paper, layers: int = 1) -> Predictions:
    """The light, medium and heavy marks of every pencil that is fitted, on a paper."""
    known = fitted(session)
    if known is None or known.survey.home is None:
        return _NOTHING
    question = ("predictions", paper.id, layers, known.version)
    return for_version(session, question, ("paper",), lambda: _predict(known, paper, layers))


def is_newest(session: Session, predictions: Predictions) -> bool:
    """Whether predictions rest on the newest swatches, or on none at all."""
    return predictions.version in (0, tables_version(session, FITTED_TABLES))


def paper_fit(known: Fitted, paper: Paper) -> PaperFit:
    """The paper as it is fitted; a guess where it came in after the fit."""
    home = known.survey.papers[known.survey.home] if known.survey.home is not None else None
    fitted = known.survey.papers.get(paper.id)
    if fitted is not None:
        return fitted
    seen = seen_paper(paper)
    return guess_paper(seen.body, seen.tooth, home)


def _predict(known: Fitted, paper: Paper, layers: int) -> Predictions:
    fit = paper_fit(known, paper)
    keys = sorted(known.survey.pencils)
    prediction = predict([known.survey.pencils[k] for k in keys], fit, [Kind(p, layers) for p in MARK_PRESSURES])
    # No paper shows more than the scale of Lab holds; a doubtful pencil may be predicted a hair beyond.
    lab = np.clip(prediction.lab, [0.0, -200.0, -200.0], [100.0, 200.0, 200.0])
    places = {key: at for at, key in enumerate(keys)}
    return Predictions(
        known.version, fit.anchors, paper.id == known.survey.home, known.survey.by_chart, places, lab, prediction.radius
    )  # fmt: skip
