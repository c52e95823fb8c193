"""Predicted marks on a paper: from the collection as it is fitted, kept for each paper and fit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.marks import PaperFit, guess_paper, predict
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.inputs import FITTED_TABLES, seen_paper
from tidy_tinder.services.background.runtime import Collection, collection_of, fitted, for_version
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.kept_predictions import KeptPredictions, Marks, OnPaper
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
    predicting = _predicting(session)
    return for_version(session, question, ("paper",), lambda: predicting.on(known, paper, layers))


def keep_predictions(collection: Collection) -> None:
    """Keep what is predicted of the newest fits for the next program. Does nothing before the first fit."""
    with collection() as session:
        known = fitted(session)
        if known is not None and known.survey.home is not None:
            _predicting(session).keep(known)


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


def _predicting(session: Session) -> _Predicting:
    """Whoever predicts for the collection of a session."""
    folder = collection_of(session).worked_out
    return for_version(session, "last predictions", (), lambda: _Predicting(KeptPredictions(folder)))


@dataclass(frozen=True, eq=False)
class _Pencils:
    """The fitted pencils of one version of the fits, by key: in order, and where each stands."""

    version: int
    fits: Sequence[PencilFit]
    places: Mapping[int, int]

    @classmethod
    def of(cls, known: Fitted) -> _Pencils:
        keys = sorted(known.survey.pencils)
        return cls(known.version, [known.survey.pencils[key] for key in keys], {key: i for i, key in enumerate(keys)})

    def places_in(self, before: _Pencils) -> NDArray[np.intp]:
        """Where each of them stood before (N,); -1 where it did not, or was another."""
        found = np.full(len(self.fits), -1, dtype=np.intp)
        for key, at in self.places.items():
            was = before.places.get(key)
            if was is not None and (before.fits[was] is self.fits[at] or before.fits[was] == self.fits[at]):
                found[at] = was
        return found


@dataclass(frozen=True, eq=False)
class _Last:
    """What was predicted last on a paper, and from which fits: most of these are the same after a swatch."""

    fit: PaperFit
    pencils: _Pencils
    made: Predictions


class _Predicting:
    """What was predicted last on each paper, so that only what changed is worked out anew. kept: what an earlier
    program left.
    """

    def __init__(self, kept: KeptPredictions) -> None:
        self._left = kept
        self._last: dict[OnPaper, _Last] = {}
        # Of the newest fits, and of these beside those before: the same for all papers.
        self._newest: _Pencils | None = None
        self._kept: tuple[tuple[int, int], NDArray[np.intp]] | None = None

    def on(self, known: Fitted, paper: Paper, layers: int) -> Predictions:
        """All marks of a layer count on a paper."""
        fit, pencils = paper_fit(known, paper), self._pencils_of(known)
        before, left = self._last.get((paper.id, layers)), None
        if before is None and paper.id in known.survey.papers:
            left = self._left.of(known.content, (paper.id, layers), list(pencils.places))
        lab, band = left or self._marks(pencils, fit, before, layers)
        home = paper.id == known.survey.home
        made = Predictions(known.version, fit.anchors, home, known.survey.by_chart, pencils.places, lab, band)
        self._last[paper.id, layers] = _Last(fit, pencils, made)
        return made

    def keep(self, known: Fitted) -> None:
        """Leave for the next program what was predicted of these fits on the papers that were fitted with them."""
        newest = {
            on: (last.made.lab, last.made.band)
            for on, last in tuple(self._last.items())
            if last.made.version == known.version and on[0] in known.survey.papers
        }
        self._left.keep(known.content, list(self._pencils_of(known).places), newest)

    def _marks(self, pencils: _Pencils, fit: PaperFit, before: _Last | None, layers: int) -> Marks:
        """All marks of a layer count on a paper: those that are as before, and the others predicted."""
        kinds = [Kind(p, layers) for p in MARK_PRESSURES]
        shape = (len(pencils.fits), len(kinds))
        lab, band, at = np.empty((*shape, 3)), np.empty(shape), np.full(shape[0], -1)
        if before is not None and _alike(before.fit, fit):
            at = self._places_in(pencils, before.pencils)
            lab[at >= 0], band[at >= 0] = before.made.lab[at[at >= 0]], before.made.band[at[at >= 0]]
        fresh = np.flatnonzero(at < 0)
        prediction = predict([pencils.fits[i] for i in fresh.tolist()], fit, kinds)
        # No paper shows more than the scale of Lab holds; a doubtful pencil may be predicted a hair beyond.
        lab[fresh] = np.clip(prediction.lab, [0.0, -200.0, -200.0], [100.0, 200.0, 200.0])
        band[fresh] = prediction.radius
        return lab, band

    def _pencils_of(self, known: Fitted) -> _Pencils:
        newest = self._newest
        if newest is None or newest.version != known.version:
            newest = self._newest = _Pencils.of(known)
        return newest

    def _places_in(self, pencils: _Pencils, before: _Pencils) -> NDArray[np.intp]:
        versions, kept = (before.version, pencils.version), self._kept
        if kept is None or kept[0] != versions:
            kept = self._kept = (versions, pencils.places_in(before))
        return kept[1]


def _alike(one: PaperFit, other: PaperFit) -> bool:
    """Whether two fits of a paper predict the same."""
    numbers = [(fit.tooth, fit.anchors, fit.spread, fit.hand) for fit in (one, other)]
    nowhere = np.zeros(0)
    arrays = [
        (fit.body, fit.unknowns, fit.covariance, nowhere if fit.fitted_at is None else fit.fitted_at)
        for fit in (one, other)
    ]
    return numbers[0] == numbers[1] and all(np.array_equal(a, b) for a, b in zip(*arrays, strict=True))
