"""A new paper: which pencils to swatch first and why, how sure the others are by now, and when it is enough."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.collection_fit.next_swatches import FEWEST, MOST, next_swatches
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.prediction.explanation import OVER_BLACK, band_after_swatch
from tidy_tinder.core.layering.prediction.marks import predict
from tidy_tinder.services.background.inputs import FITTED_TABLES
from tidy_tinder.services.background.runtime import Collection, fitted
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.marks import Mark, charted_colours, find_paper, known_marks, marks_on
from tidy_tinder.services.collection.predictions import WELL_WITHIN, Predictions, paper_fit, predictions_on
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import tables_version
from tidy_tinder.storage.models import PRESSURES, Paper
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour

USUAL = 8
# Good enough: this share of the marks of the pencils at hand is measured, or predicted within WELL_WITHIN.
ENOUGH_SHARE = 0.8
# A ground below this L* shows what a pencil hides rather than what it absorbs.
_DARK_GROUND = 70.0
# A swatch that narrows the middle band by less than this share is not worth the paper.
_WORTH = 0.1
# Steps of the scale on which bands are counted, in ΔE00.
STEPS = (2.0, WELL_WITHIN, 5.0)


@dataclass(frozen=True)
class FirstSwatch:
    """A pencil to swatch early on a paper. done: its light, medium and heavy marks are measured there."""

    colour: ColourRow
    mark: Mark
    why: str
    done: bool


@dataclass(frozen=True)
class Sureness:
    """How sure the marks of the pencils at hand are on a paper, light, medium and heavy counted together.

    within: how many are predicted within 2, 3.5 and 5 ΔE00 (each counted once), then beyond. median_band: of those
    predicted, None where none is. ready: whether predictions for the newest swatches are there.
    """

    marks: int
    measured: int
    within: tuple[int, int, int, int]
    unknown: int
    median_band: float | None
    anchors: int
    ready: bool

    @property
    def good_share(self) -> float:
        """Share of the marks that is measured or predicted well."""
        return (self.measured + self.within[0] + self.within[1]) / self.marks if self.marks else 0.0

    @property
    def enough(self) -> bool:
        """Whether swatching may stop."""
        return self.marks > 0 and self.good_share >= ENOUGH_SHARE


@dataclass(frozen=True)
class OverBlack:
    """What heavy marks over a black bar on the home paper would do for a dark one: the middle band of heavy marks of
    the pencils that lack such a swatch, now and then.
    """

    home_id: int
    home_name: str
    colour_ids: tuple[int, ...]
    band_now: float
    band_then: float


@dataclass(frozen=True)
class FirstSwatches:
    """The advice for a paper; is_home: pencils are fitted on it, so it needs no anchors but marks of its own.

    over_black: where the ground is so dark that cover decides, and few pencils were tried over a black bar.
    """

    paper_id: int
    paper_name: str
    is_home: bool
    advised: tuple[FirstSwatch, ...]
    sureness: Sureness
    over_black: OverBlack | None


def first_swatches(collection: Collection, paper_id: int, count: int = USUAL) -> FirstSwatches:
    """Which of the pencils at hand to swatch first on a paper. Raises NotFoundError, RefusedError for the count."""
    if not FEWEST <= count <= MOST:
        raise RefusedError(f"Swatch {FEWEST} to {MOST} pencils first, not {count}.")
    with collection() as session:
        paper = find_paper(session, paper_id)
        known = fitted(session)
        colours = {c.id: c for c in charted_colours(session)}
        marks, measured = marks_on(session, paper), known_marks(session, paper)
        whole = {(p, 1) for p in PRESSURES}
        advised = [
            FirstSwatch(colours[i], marks[i], reason, whole <= set(measured.get(i, {})))
            for i, reason in _advice(session, known, paper, count)
        ]
        is_home = known is not None and known.survey.home == paper.id
        return FirstSwatches(
            paper.id, paper.name, is_home, tuple(advised), _sureness(session, paper),
            _over_black(session, known, paper, [one.colour.id for one in advised]),
        )  # fmt: skip


def sureness_of(collection: Collection, paper_id: int) -> Sureness:
    """How sure the pencils at hand are on a paper by now. Raises NotFoundError."""
    with collection() as session:
        return _sureness(session, find_paper(session, paper_id))


def advised_keys(session: Session, known: Fitted, paper: Paper) -> list[int]:
    """The colours that a paper's page advises to swatch and that are not swatched there yet."""
    done = set(known_marks(session, paper))
    return [i for i, _ in _advice(session, known, paper, USUAL) if i not in done]


def _advice(session: Session, known: Fitted | None, paper: Paper, count: int) -> list[tuple[int, str]]:
    """Colours and reasons: the same list however many of them are done, so that it does not run away."""
    hand = at_hand_now(session)
    owned = {i for i, sticks in pencils_by_colour(session).items() if hand.has(sticks)}
    colours = {c.id: c for c in charted_colours(session) if c.id in owned and c.effect == "ordinary"}
    looks = _looks(known, colours, predictions_on(session, paper))
    keys = sorted(looks)
    if not keys:
        return []
    advised = next_swatches(np.array([looks[k] for k in keys]), [colours[k].opacity for k in keys], count)
    return [(keys[one.index], one.why) for one in advised]


def _over_black(
    session: Session, known: Fitted | None, paper: Paper, advised: Sequence[int]
) -> OverBlack | None:  # fmt: skip
    """What swatches over a black bar would do, if they would do much."""
    if known is None or known.survey.home is None or paper.lab_L > _DARK_GROUND:
        return None
    home = session.get(Paper, known.survey.home)
    pencils = {i: known.survey.pencils[i] for i in advised if i in known.survey.pencils}
    lacking = [i for i, fit in pencils.items() if not any(kind.over_black for kind, _, _ in fit.left)]
    if home is None or not lacking:
        return None
    fit, heavy = paper_fit(known, paper), Kind("heavy")
    now = predict([pencils[i] for i in lacking], fit, [heavy]).radius[:, 0]
    at_home = known.survey.papers[home.id]
    then = [band_after_swatch(pencils[i], fit, heavy, at_home, OVER_BLACK) for i in lacking]
    before, after = float(np.median(now)), float(np.median(then))
    worth = after < before * (1.0 - _WORTH)
    return OverBlack(home.id, home.name, tuple(lacking), before, after) if worth else None


def _looks(
    known: Fitted | None, colours: dict[int, ColourRow], predicted: Predictions
) -> dict[int, tuple[float, float, float]]:
    """What each pencil looks like, as far as it is known without this paper's swatches: those that are swatched
    elsewhere, by their chart; where none is swatched yet, all that have a chart value.
    """
    charted = {i: c.lab for i, c in colours.items() if c.lab is not None}
    if known is None or known.survey.home is None:
        return charted
    swatched = set(predicted.places) - predicted.by_chart
    return {i: lab for i, lab in charted.items() if i in swatched} or charted


def _sureness(session: Session, paper: Paper) -> Sureness:
    hand = at_hand_now(session)
    ordinary = {c.id for c in charted_colours(session) if c.effect == "ordinary"}
    owned = [i for i, sticks in pencils_by_colour(session).items() if hand.has(sticks) and i in ordinary]
    measured, predicted = known_marks(session, paper), predictions_on(session, paper)
    seen = sum((p, 1) in measured.get(i, {}) for i in owned for p in PRESSURES)
    bands = [
        told.band
        for i in owned
        for p in PRESSURES
        if (p, 1) not in measured.get(i, {}) and (told := predicted.of(i, p)) is not None
    ]
    marks = 3 * len(owned)
    return Sureness(
        marks, seen, _counted(bands), marks - seen - len(bands), float(np.median(bands)) if bands else None,
        predicted.anchors, ready=_ready(session, predicted),
    )  # fmt: skip


def _ready(session: Session, predicted: Predictions) -> bool:
    return predicted.version == 0 or predicted.version == tables_version(session, FITTED_TABLES)


def _counted(bands: Sequence[float]) -> tuple[int, int, int, int]:
    places = np.searchsorted(STEPS, bands, side="left")
    within = np.bincount(places, minlength=4)
    return (int(within[0]), int(within[1]), int(within[2]), int(within[3]))
