"""“Why do you think so?”: what a predicted mark rests on, through which steps, how sure, what would make it surer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select

from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.explanation import (
    OVER_BLACK,
    Explanation,
    band_after_anchors,
    band_after_swatch,
    explain,
)
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, Ground, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.predicting.first_swatches import advised_keys
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.storage.queries.swatches import SwatchRow, swatches_of

# A swatch that narrows a band by less than this share is not worth the paper.
_WORTH = 0.07


@dataclass(frozen=True)
class RestedOn:
    """One swatch that a prediction rests on, in words, with what it looked like."""

    words: str
    looks: Patch


@dataclass(frozen=True)
class Surer:
    """What would make a prediction surer, and the band that it would then have about."""

    words: str
    band: float


@dataclass(frozen=True)
class Why:
    """The whole answer. by_chart: it rests on the chart value alone; guess: nothing is swatched on the paper."""

    colour: ColourRow
    paper_name: str
    pressure: Pressure
    looks: Patch
    explanation: Explanation
    rests_on: tuple[RestedOn, ...]
    by_chart: bool
    guess: bool
    home_name: str
    anchors: int
    charts_from: int
    surer: tuple[Surer, ...]


def why(collection: Collection, colour_id: int, paper_id: int, pressure: Pressure) -> Why:
    """Why a mark of one layer is predicted as it is.

    Raises NotFoundError; RefusedError for an unknown pressure, and for a mark that is measured or not predicted.
    """
    if pressure not in MARK_PRESSURES:
        raise RefusedError(f"A pressure is {', '.join(MARK_PRESSURES)}, not “{pressure}”.")
    with collection() as session:
        scene = Scene.on(session, paper_id)
        colour, paper = scene.colour(colour_id), scene.paper
        if (pressure, 1) in scene.measured.get(colour_id, {}):
            raise RefusedError(f"{colour.name}, {pressure} on {paper.name}, is measured: nothing is predicted there.")
        known = scene.known
        if known is None or known.survey.home is None or colour_id not in known.survey.pencils:
            raise RefusedError(f"{colour.name} is not predicted on {paper.name}.")
        return _answer(scene, known, colour, Kind(pressure))


def _answer(scene: Scene, known: Fitted, colour: ColourRow, kind: Kind) -> Why:
    survey, fit = known.survey, scene.fit
    pencil, by_chart = survey.pencils[colour.id], colour.id in survey.by_chart
    names: dict[int, str] = {p.id: p.name for p in scene.session.scalars(select(Paper))}
    home = survey.home or 0
    explanation = explain(pencil, fit, kind)
    looks = patch(np.clip(explanation.lab, [0, -200, -200], [100, 200, 200]))
    return Why(
        colour, scene.paper.name, kind.pressure, looks, explanation,
        tuple(_rested_on(swatch, names) for swatch in _counting(swatches_of(scene.session, colour.id))), by_chart,
        guess=fit.anchors == 0 and scene.paper.id != home, home_name=names.get(home, ""), anchors=fit.anchors,
        charts_from=survey.charts.colours if survey.charts and by_chart else 0,
        surer=_surer(scene, known, pencil, kind, names.get(home, "")),
    )  # fmt: skip


def _counting(swatches: Sequence[SwatchRow]) -> list[SwatchRow]:
    """The dry swatches that count, one of each kind."""
    first: dict[object, SwatchRow] = {}
    for swatch in swatches:
        if swatch.finish == Finish.DRY:
            first.setdefault(swatch.kind, swatch)
    return list(first.values())


def _rested_on(swatch: SwatchRow, names: dict[int, str]) -> RestedOn:
    layers = f", {swatch.layers} layers" if swatch.layers > 1 else ""
    over = " over a black bar" if swatch.over == Ground.BLACK else ""
    kind = f"{swatch.pressure}{layers}{over} on {names[swatch.paper_id]}"
    return RestedOn(f"{kind}, by {swatch.source}, {swatch.made_on:%d %b %Y}", patch(swatch.lab))


def _surer(scene: Scene, known: Fitted, pencil: PencilFit, kind: Kind, home_name: str) -> tuple[Surer, ...]:
    """What would narrow the band, the best first; only what is worth the paper."""
    survey, fit = known.survey, scene.fit
    now = explain(pencil, fit, kind).band
    home = survey.papers[survey.home] if survey.home is not None else fit
    over_black = band_after_swatch(pencil, fit, kind, home, OVER_BLACK)
    ways = [Surer(f"swatch it heavy over a black bar on {home_name}", over_black)]
    for pressure in MARK_PRESSURES:
        other = Kind(pressure)
        if all(one.kind != other for one in pencil.left) or pencil.marks == 1:
            words = f"swatch it {pressure} on {home_name}"
            ways.append(Surer(words, band_after_swatch(pencil, fit, kind, home, other)))
    advised = [i for i in advised_keys(scene) if i in survey.pencils][:4]
    if scene.paper.id != survey.home and advised:
        anchors = [(survey.pencils[i], Kind(p)) for i in advised for p in MARK_PRESSURES]
        words = f"swatch {len(advised)} other pencils on {scene.paper.name}, as its page advises"
        ways.append(Surer(words, band_after_anchors(pencil, fit, kind, anchors)))
    worth = [way for way in ways if way.band < now * (1.0 - _WORTH)]
    return tuple(sorted(worth, key=lambda way: way.band))
