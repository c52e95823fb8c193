"""A new paper: which pencils to swatch first and why, how sure the others are by now, and when it is enough."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.layering.collection_fit.next_swatches import FEWEST, MOST, next_swatches
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.prediction.explanation import OVER_BLACK, band_after_swatch
from tidy_tinder.core.layering.prediction.marks import guess_paper, predict
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Effect, Pressure
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.marks import Mark
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.collection.predictions import WELL_WITHIN, is_newest
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import ColourRow

USUAL = 8
# Good enough: this share of the marks of the pencils at hand is measured, or predicted within WELL_WITHIN. How much the
# hand varies is in the bands, and no swatch takes it away.
ENOUGH_SHARE = 0.6
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
        scene = Scene.on(session, paper_id)
        advised = [
            FirstSwatch(scene.colours[i], scene.marks[i], reason, _is_done(scene, i))
            for i, reason in _advice(scene, count)
        ]
        is_home = scene.known is not None and scene.known.survey.home == paper_id
        return FirstSwatches(
            paper_id, scene.paper.name, is_home, tuple(advised), _sureness(scene),
            _over_black(scene, [one.colour.id for one in advised]),
        )  # fmt: skip


def sureness_of(collection: Collection, paper_id: int) -> Sureness:
    """How sure the pencils at hand are on a paper by now. Raises NotFoundError."""
    with collection() as session:
        return _sureness(Scene.on(session, paper_id))


def advised_keys(scene: Scene) -> list[int]:
    """The colours that a paper's page advises to swatch and that are not swatched there yet."""
    return [i for i, _ in _advice(scene, USUAL) if i not in scene.measured]


def _advice(scene: Scene, count: int) -> list[tuple[int, str]]:
    """Colours and reasons; those that are done stay in the list, so that it does not run away."""
    ordinary = _ordinary_at_hand(scene)
    charts = _charts(scene, [row for i, row in scene.colours.items() if i in ordinary])
    keys = sorted(charts)
    if not keys:
        return []
    own, opacities = np.array([charts[k] for k in keys]), [scene.colours[k].opacity for k in keys]
    done = [place for place, key in enumerate(keys) if _is_done(scene, key)]
    advised = next_swatches(_looks(scene, keys, own), opacities, count, done, own)
    return [(keys[one.index], one.why) for one in advised]


def _is_done(scene: Scene, colour_id: int) -> bool:
    return {(pressure, 1) for pressure in MARK_PRESSURES} <= set(scene.measured.get(colour_id, {}))


def _ordinary_at_hand(scene: Scene) -> set[int]:
    return {i for i in scene.at_hand if i in scene.colours and scene.colours[i].effect == Effect.ORDINARY}


def _over_black(scene: Scene, advised: Sequence[int]) -> OverBlack | None:
    """What swatches over a black bar would do, if they would do much."""
    if scene.known is None or scene.known.survey.home is None or scene.paper.lab_L > _DARK_GROUND:
        return None
    survey = scene.known.survey
    home = scene.session.get(Paper, survey.home)
    pencils = {i: survey.pencils[i] for i in advised if i in survey.pencils}
    lacking = [i for i, fit in pencils.items() if not any(one.kind.over_black for one in fit.left)]
    if home is None or not lacking:
        return None
    heavy, at_home = Kind(Pressure.HEAVY), survey.papers[home.id]
    now = predict([pencils[i] for i in lacking], scene.fit, [heavy]).radius[:, 0]
    then = [band_after_swatch(pencils[i], scene.fit, heavy, at_home, OVER_BLACK) for i in lacking]
    before, after = float(np.median(now)), float(np.median(then))
    worth = after < before * (1.0 - _WORTH)
    return OverBlack(home.id, home.name, tuple(lacking), before, after) if worth else None


def _charts(scene: Scene, colours: Sequence[ColourRow]) -> dict[int, LabTriple]:
    """The chart values of those that may be advised: what is swatched anywhere, or all where nothing is yet."""
    charted = {c.id: c.lab for c in colours if c.lab is not None}
    if scene.known is None or scene.known.survey.home is None:
        return charted
    predicted = scene.predicted()
    swatched = set(predicted.places) - predicted.by_chart
    return {i: lab for i, lab in charted.items() if i in swatched} or charted


def _looks(scene: Scene, keys: Sequence[int], charts: Lab) -> Lab:
    """What heavy marks of colours look like on the paper as far as one can tell without swatches on it, Lab (N, 3);
    their chart values where nothing is known of them.
    """
    known = scene.known
    if known is None or known.survey.home is None or any(key not in known.survey.pencils for key in keys):
        return charts
    survey, home = known.survey, known.survey.papers[known.survey.home]
    unseen = home if survey.home == scene.paper.id else guess_paper(scene.fit.body, scene.fit.tooth, home)

    def look() -> Lab:
        return predict([survey.pencils[key] for key in keys], unseen, [Kind(Pressure.HEAVY)]).lab[:, 0]

    return for_version(scene.session, ("unseen", scene.paper.id, known.version, tuple(keys)), ("paper",), look)


def _sureness(scene: Scene) -> Sureness:
    owned, measured, predicted = _ordinary_at_hand(scene), scene.measured, scene.predicted()
    kinds = [(i, pressure) for i in owned for pressure in MARK_PRESSURES]
    open_kinds = [(i, pressure) for i, pressure in kinds if (pressure, 1) not in measured.get(i, {})]
    bands = [mark.band for i, pressure in open_kinds if (mark := predicted.of(i, pressure)) is not None]
    return Sureness(
        len(kinds), len(kinds) - len(open_kinds), _counted(bands), len(open_kinds) - len(bands),
        float(np.median(bands)) if bands else None, predicted.anchors, ready=is_newest(scene.session, predicted),
    )  # fmt: skip


def _counted(bands: Sequence[float]) -> tuple[int, int, int, int]:
    places = np.searchsorted(STEPS, bands, side="left")
    within = np.bincount(places, minlength=4)
    return (int(within[0]), int(within[1]), int(within[2]), int(within[3]))
