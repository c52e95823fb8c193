"""What a collection is fitted to: its papers, the dry marks that count, charts, and measured strips.

One pencil burnished on bare paper, a strip of a single layer, is a mark: it tells how hard the artist burnishes, which
no other mark does (decision 0056).
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.collection_fit.strips import SeenStrip
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, SeenPaper
from tidy_tinder.core.layering.fitting.evidence import READING_SD, Kind
from tidy_tinder.core.layering.optics.film import strip_surface
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import Effect, Finish, Ground, Pressure, Source
from tidy_tinder.services.background.cache import CHART_TABLES
from tidy_tinder.services.journal import tables_version
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import colour_rows
from tidy_tinder.storage.queries.fits import DryMark, dry_marks
from tidy_tinder.storage.queries.scraps import ScrapRow, scrap_rows

# Of a scrap only its readings count: a verdict is about a wish, not about the layers.
FITTED_TABLES = (*CHART_TABLES, "paper", "swatch", "scrap_reading")
# Raised when the way pencils are fitted changes, so that fits of an earlier program are not taken for its own.
METHOD = "7"

# Standard deviation of a value in ΔE*ab by where it comes from, the hand not counted: typed values and photos are ours.
_NOISE = {"reader": READING_SD, "typed": 1.0, "photo": 2.0}
# Of the variance of a photo's values, over bare paper, this share is the camera's, which errs alike in all marks of a
# pencil: correlations of .77 to .87 through cameras with published sensitivities (decision 0061).
_OF_THE_CAMERA = 0.8


@dataclass(frozen=True)
class Inputs:
    """What a collection is fitted to, and the version of the marks that it is."""

    version: int
    papers: tuple[SeenPaper, ...]
    marks: tuple[SeenMark, ...]
    colours: tuple[SeenColour, ...]
    strips: tuple[SeenStrip, ...] = ()

    @cached_property
    def fingerprint(self) -> str:
        """Of all that is fitted: two inputs of one fingerprint give one survey."""
        digest = hashlib.sha256(METHOD.encode())
        for paper in self.papers:
            digest.update(f"{paper.key} {paper.tooth}".encode() + paper.body.tobytes())
        for mark in self.marks:
            marked = f"{mark.pencil} {mark.paper} {mark.kind} {mark.noise} {mark.alike}"
            digest.update(marked.encode() + mark.lab.tobytes())
            digest.update(b"" if mark.spectrum is None else mark.spectrum.tobytes())
        for colour in self.colours:
            digest.update(f"{colour.key} {colour.opacity}".encode())
            digest.update(b"" if colour.chart is None else colour.chart.tobytes())
        for strip in self.strips:
            digest.update(f"{strip.paper} {strip.layers} {strip.noise} {strip.solvent}".encode() + strip.lab.tobytes())
        return digest.hexdigest()


def inputs_of(session: Session) -> Inputs:
    """What the collection is fitted to now: ordinary colours, their dry marks that count, measured strips."""
    version = tables_version(session, FITTED_TABLES)
    papers = session.scalars(select(Paper).order_by(Paper.position, Paper.id)).all()
    colours = [row for row in colour_rows(session) if row.effect == Effect.ORDINARY]
    scraps = list(reversed(scrap_rows(session)))
    fitted = {row.id for row in colours}
    burnished = [row for row in scraps if row.is_burnished_mark and row.layers[0].pencil in fitted]
    return Inputs(
        version,
        tuple(seen_paper(paper) for paper in papers),
        (*map(_seen_mark, dry_marks(session)), *(mark for row in burnished for mark in _burnished_marks(row))),
        tuple(SeenColour(row.id, row.opacity, np.array(row.lab) if row.lab else None) for row in colours),
        tuple(strip for row in scraps if not row.is_burnished_mark for strip in _seen_strips(row)),
    )


def seen_paper(paper: Paper) -> SeenPaper:
    """A paper as the core takes it: its own colour as a body reflectance, its tooth class."""
    body = strip_surface(recover_reflectance([paper.lab_L, paper.lab_a, paper.lab_b], nearest=True))
    return SeenPaper(paper.id, body, paper.tooth)


def _seen_mark(mark: DryMark) -> SeenMark:
    spectrum = np.array(mark.spectrum) if mark.spectrum else None
    kind = Kind(mark.pressure, mark.layers, mark.over == Ground.BLACK)
    noise = reading_noise(mark.source, mark.doubt)
    alike = 0.0 if kind.over_black else camera_noise(mark.source, noise)
    return SeenMark(mark.colour_id, mark.paper_id, kind, np.array(mark.lab), noise, spectrum, alike)


def reading_noise(source: Source, doubt: float | None) -> float:
    """How far a value may be off, one standard deviation of ΔE*ab: by where it comes from, or what is known of it."""
    return _NOISE[source] if doubt is None else float(np.hypot(_NOISE[Source.READER], doubt))


def camera_noise(source: Source, noise: float) -> float:
    """How much of a value's noise other marks of its pencil share: a camera's part of it."""
    if source != Source.PHOTO:
        return 0.0
    return float(np.sqrt(_OF_THE_CAMERA * max(noise**2 - READING_SD**2, 0.0)))


def _burnished_marks(row: ScrapRow) -> list[SeenMark]:
    """The readings of one pencil that is burnished on bare paper."""
    kind, (layer,) = Kind(Pressure.BURNISH), row.layers
    return [
        SeenMark(layer.pencil, row.paper_id, kind, np.array(read.lab), noise, alike=camera_noise(read.source, noise))
        for read in row.readings
        for noise in [_NOISE[read.source]]
    ]


def _seen_strips(row: ScrapRow) -> list[SeenStrip]:
    """A scrap's readings as the core takes them."""
    return [
        SeenStrip(
            row.paper_id, row.as_read(read), np.array(read.lab), _NOISE[read.source], row.finish == Finish.SOLVENT
        )
        for read in row.readings
    ]
