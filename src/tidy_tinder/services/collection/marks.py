"""The marks of all colours on one paper, ready to be drawn, each with its trust."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from tidy_tinder.core.marks.drawing import USUAL_COVERAGE, drawing_pairs
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.drawn import DrawnZone, DrawnZones, ZoneKey
from tidy_tinder.services.background.runtime import collection_of, for_version
from tidy_tinder.services.collection.chart import charted_colours
from tidy_tinder.services.collection.measured import band_of
from tidy_tinder.services.collection.paper import paper_lab
from tidy_tinder.services.collection.patches import CHART_GROUND, LabTriple, Trust, patch
from tidy_tinder.services.collection.predictions import Predictions, predictions_on
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.storage.queries.swatches import MarkKind, MeasuredMark, measured_marks


class RestsOn(StrEnum):
    """What the predicted zones of a mark rest on."""

    NOTHING = ""
    SWATCHES = "its swatches"
    CHART = "its chart value"


@dataclass(frozen=True)
class Zone:
    """One third of a mark: its mean Lab and how it is drawn (grain mask in percent, film on the ground), in
    colour and in the grey view. band: where predicted, or measured by photo, the ΔE00 within which nine of ten lie.
    """

    pressure: Pressure
    trust: Trust
    band: float | None
    lab: LabTriple
    mask: int
    film: str
    grey_mask: int
    grey_film: str
    on_screen: bool


@dataclass(frozen=True)
class Mark:
    """A colour's mark on a paper; ground is the colour behind it, ground_grey its grey. Zones run from heavy to
    light; trust is that of the first of them. rests_on: what predicted zones rest on.
    """

    trust: Trust
    rests_on: RestsOn
    ground: str
    ground_grey: str
    zones: tuple[Zone, ...]


def marks_on(session: Session, paper: Paper, predicted: Predictions) -> Mapping[int, Mark]:
    """The mark of every charted colour on a paper, by colour id; kept until marks or what they predict change.

    predicted: as the caller holds it for its own answer. Asked for a second time it may be another by then.
    """
    question = ("marks", paper.id, predicted.version)
    return for_version(session, question, MARK_TABLES, lambda: _draw_all(session, paper, predicted))


def marks_of(session: Session, row: ColourRow, papers: Sequence[Paper]) -> tuple[Mark, ...]:
    """The mark of one colour on each of some papers, without drawing those of all others."""
    return tuple(
        _draw_these(
            session, paper, predictions_on(session, paper), [row], measured_marks(session, paper.id, of=row.id)
        )[row.id]
        for paper in papers
    )


@dataclass(frozen=True)
class _Sketch:
    """One zone before it is drawn."""

    colour_id: int
    pressure: Pressure
    lab: LabTriple
    trust: Trust
    band: float | None = None


def _draw_all(session: Session, paper: Paper, predicted: Predictions) -> dict[int, Mark]:
    return _draw_these(session, paper, predicted, charted_colours(session), measured_marks(session, paper.id))


def _draw_these(
    session: Session,
    paper: Paper,
    predicted: Predictions,
    rows: Sequence[ColourRow],
    measured: Mapping[int, Mapping[MarkKind, MeasuredMark]],
) -> dict[int, Mark]:
    """Marks on the paper's colour in one batch, chart values in one batch on white."""
    drawn = collection_of(session).drawn
    on_paper = [
        sketch
        for row in rows
        for pressure in reversed(MARK_PRESSURES)
        if (sketch := _zone_of(row.id, pressure, measured, predicted)) is not None
    ]
    seen = {sketch.colour_id for sketch in on_paper}
    by_chart = [
        _Sketch(row.id, Pressure.HEAVY, row.lab, Trust.CHART)
        for row in rows
        if row.id not in seen and row.lab is not None
    ]
    behind = patch(paper_lab(paper))
    marks = {row.id: Mark(Trust.NONE, RestsOn.NOTHING, behind.hex, behind.grey, ()) for row in rows}
    marks.update(_as_marks(on_paper, paper_lab(paper), predicted, drawn))
    marks.update(_as_marks(by_chart, CHART_GROUND, predicted, drawn))
    return marks


def _zone_of(
    colour_id: int, pressure: Pressure, measured: Mapping[int, Mapping[MarkKind, MeasuredMark]], predicted: Predictions
) -> _Sketch | None:
    """What is known of one third of a mark: measured before predicted."""
    kind = (pressure, 1)
    if kind in measured.get(colour_id, {}):
        known = measured[colour_id][kind]
        return _Sketch(colour_id, pressure, known.lab, Trust.MEASURED, band_of(known))
    mark = predicted.of(colour_id, pressure)
    return None if mark is None else _Sketch(colour_id, pressure, mark.lab, Trust.PREDICTED, round(mark.band, 2))


def _as_marks(
    sketches: Sequence[_Sketch], ground: LabTriple, predicted: Predictions, drawn: DrawnZones
) -> dict[int, Mark]:  # fmt: skip
    """Marks by colour id from their zones in order; what was drawn before is not drawn again."""
    known = drawn.known((ground, of.lab, of.pressure) for of in sketches)
    new = [(ground, of.lab, of.pressure) for of in sketches if (ground, of.lab, of.pressure) not in known]
    made = dict(zip(new, _draw(new, ground), strict=True))
    drawn.keep(made)
    known.update(made)
    by_colour: dict[int, list[Zone]] = {}
    for of in sketches:
        zone = Zone(of.pressure, of.trust, of.band, of.lab, *known[(ground, of.lab, of.pressure)])
        by_colour.setdefault(of.colour_id, []).append(zone)
    behind = patch(ground)
    return {
        colour_id: Mark(
            zones[0].trust, _rests_on(colour_id, zones, predicted), behind.hex, behind.grey, tuple(zones)
        )
        for colour_id, zones in by_colour.items()
    }  # fmt: skip


def _draw(zones: Sequence[ZoneKey], ground: LabTriple) -> list[DrawnZone]:
    """How each zone is drawn on a ground, in colour and in the grey view."""
    if not zones:
        return []
    labs = np.array([lab for _, lab, _ in zones])
    coverage = np.array([USUAL_COVERAGE[pressure] for _, _, pressure in zones])
    pairs = drawing_pairs(labs, np.array(ground), coverage)
    without_hue = np.array([1.0, 0.0, 0.0])
    greys = drawing_pairs(labs * without_hue, np.array(ground) * without_hue, coverage)
    return [
        (
            int(pairs.mask_step[i]), _film_hex(pairs.film[i]), int(greys.mask_step[i]), _film_hex(greys.film[i]),
            bool(pairs.on_screen[i]),
        )
        for i in range(len(zones))
    ]  # fmt: skip


def _rests_on(colour_id: int, zones: Sequence[Zone], predicted: Predictions) -> RestsOn:
    if all(zone.trust is not Trust.PREDICTED for zone in zones):
        return RestsOn.NOTHING
    return RestsOn.CHART if colour_id in predicted.by_chart else RestsOn.SWATCHES


def _film_hex(film: NDArray[np.int64]) -> str:
    red, green, blue = film.tolist()
    return f"#{red:02x}{green:02x}{blue:02x}"


def known_marks(session: Session, paper: Paper) -> Mapping[int, Mapping[MarkKind, MeasuredMark]]:
    """Measured marks by colour and kind on a paper; kept until the collection changes."""
    return for_version(session, ("measured", paper.id), MARK_TABLES, lambda: measured_marks(session, paper.id))
