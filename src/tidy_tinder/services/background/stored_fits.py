"""The collection fitted: what every pencil and paper is as far as its swatches tell.

Fits are kept in the database by the fingerprint of the marks that they rest on, so that a new swatch has only those
fitted anew that it concerns, and a program that begins again goes on where it was.
"""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.collection_fit.strips import SeenStrip
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, SeenPaper, Survey, survey
from tidy_tinder.core.layering.fitting.evidence import Evidence, Kind
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.layering.optics.film import strip_surface
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.services.background.cache import CHART_TABLES, for_version
from tidy_tinder.services.journal import tables_version
from tidy_tinder.storage.engine import SessionFactory
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import colour_rows
from tidy_tinder.storage.queries.fits import DryMark, dry_marks, kept_fits
from tidy_tinder.storage.queries.scraps import ScrapRow, scrap_rows

# Of a scrap only its readings count: a verdict is about a wish, not about the layers.
FITTED_TABLES = (*CHART_TABLES, "paper", "swatch", "scrap_reading")

# Standard deviation of a value in ΔE*ab by where it comes from: a reader's is 5-optics section 5; typed values and
# photos are ours.
_NOISE = {"reader": 0.6, "typed": 1.0, "photo": 2.0}
# Pencils fitted between two looks at what else happens: about a quarter of a second.
_AT_ONCE = 24
# Raised when the way pencils are fitted changes, so that fits of an earlier program are not taken for its own.
_METHOD = "1"


@dataclass(frozen=True)
class Inputs:
    """What a collection is fitted to, and the version of the marks that it is."""

    version: int
    papers: tuple[SeenPaper, ...]
    marks: tuple[SeenMark, ...]
    colours: tuple[SeenColour, ...]
    strips: tuple[SeenStrip, ...] = ()


@dataclass(frozen=True, eq=False)
class Fitted:
    """A collection as it was fitted for one version of its marks."""

    version: int
    survey: Survey


@dataclass
class StoredFits:
    """Fits pencils, taking what is kept from the database; told after every few how far it is.

    A caller stops it by raising in `told`.
    """

    sessions: SessionFactory
    told: Callable[[int, int, Mapping[str, Mapping[str, Any]]], None] | None = None
    done: int = 0
    reused: int = 0
    needed: set[str] = field(default_factory=set)

    def fit(self, evidence: Sequence[Sequence[Evidence]], opacities: Sequence[str]) -> list[PencilFit]:
        """The fits, in order; a function as `survey` wants it."""
        prints = [_fingerprint(marks, opacity) for marks, opacity in zip(evidence, opacities, strict=True)]
        self.needed.update(prints)
        with self.sessions() as session:
            known = {f: _fit_from(row) for f, row in kept_fits(session, prints).items()}
        missing = [i for i, fingerprint in enumerate(prints) if fingerprint not in known]
        self._tell(len(prints) - len(missing), len(prints) - len(missing), {})
        for start in range(0, len(missing), _AT_ONCE):
            part = missing[start : start + _AT_ONCE]
            made = fit_pencils([evidence[i] for i in part], [opacities[i] for i in part])
            known.update((prints[i], fit) for i, fit in zip(part, made, strict=True))
            self._tell(len(part), 0, {prints[i]: _plain(known[prints[i]]) for i in part})
        return [known[fingerprint] for fingerprint in prints]

    def _tell(self, done: int, reused: int, made: Mapping[str, Mapping[str, Any]]) -> None:
        self.done += done
        self.reused += reused
        if self.told is not None:
            self.told(self.done, self.reused, made)


def inputs_of(session: Session) -> Inputs:
    """What the collection is fitted to now: ordinary colours, their dry marks that count, measured strips."""
    version = tables_version(session, FITTED_TABLES)
    papers = session.scalars(select(Paper).order_by(Paper.position, Paper.id)).all()
    colours = [row for row in colour_rows(session) if row.effect == "ordinary"]
    return Inputs(
        version,
        tuple(seen_paper(paper) for paper in papers),
        tuple(_seen_mark(mark) for mark in dry_marks(session)),
        tuple(SeenColour(row.id, row.opacity, np.array(row.lab) if row.lab else None) for row in colours),
        tuple(strip for row in reversed(scrap_rows(session)) for strip in _seen_strips(row)),
    )


def fit_now(sessions: SessionFactory) -> Fitted:
    """The collection fitted at once, from what is kept and the rest anew; nothing is written."""
    with sessions() as session:
        inputs = inputs_of(session)
    return survey_of(inputs, StoredFits(sessions))


def survey_of(inputs: Inputs, fits: StoredFits) -> Fitted:
    """The survey of these inputs; one that was made in this process is not made again (an undo comes back to it)."""
    content = _content(inputs)
    with _lock:
        found = _made.get(content)
    if found is None:
        found = survey(inputs.papers, inputs.marks, inputs.colours, fits.fit, inputs.strips)
        with _lock:
            _made[content] = found
            while len(_made) > _MOST_MADE:
                _made.popitem(last=False)
    return Fitted(inputs.version, found)


_made: OrderedDict[str, Survey] = OrderedDict()
_MOST_MADE = 8
_lock = threading.Lock()


def _content(inputs: Inputs) -> str:
    """A fingerprint of all that is fitted."""
    said = hashlib.sha256(_METHOD.encode())
    for paper in inputs.papers:
        said.update(f"{paper.key} {paper.tooth}".encode() + paper.body.tobytes())
    for mark in inputs.marks:
        said.update(f"{mark.pencil} {mark.paper} {mark.kind} {mark.noise}".encode() + mark.lab.tobytes())
        said.update(b"" if mark.spectrum is None else mark.spectrum.tobytes())
    for colour in inputs.colours:
        said.update(f"{colour.key} {colour.opacity}".encode())
        said.update(b"" if colour.chart is None else colour.chart.tobytes())
    for strip in inputs.strips:
        said.update(f"{strip.paper} {strip.layers} {strip.noise} {strip.solvent}".encode() + strip.lab.tobytes())
    return said.hexdigest()


def fit_kept(session: Session) -> Fitted:
    """The collection fitted for the version that it has now, where no job does it in the background."""
    factory = SessionFactory(session.get_bind(), expire_on_commit=False)
    return for_version(session, "fitted", FITTED_TABLES, lambda: fit_now(factory))


def seen_paper(paper: Paper) -> SeenPaper:
    """A paper as the core takes it: its own colour as a body reflectance, its tooth class."""
    body = strip_surface(recover_reflectance([paper.lab_L, paper.lab_a, paper.lab_b]))
    return SeenPaper(paper.id, body, paper.tooth)


def _seen_mark(mark: DryMark) -> SeenMark:
    spectrum = np.array(mark.spectrum) if mark.spectrum else None
    kind = Kind(mark.pressure, mark.layers, mark.over == "black")
    return SeenMark(mark.colour_id, mark.paper_id, kind, np.array(mark.lab), _NOISE[mark.source], spectrum)


def _seen_strips(row: ScrapRow) -> list[SeenStrip]:
    """A scrap's readings as the core takes them."""
    return [
        SeenStrip(
            row.paper_id, row.as_read(read), np.array(read.lab), _NOISE[read.source], row.finish == "solvent",
        )
        for read in row.readings
    ]  # fmt: skip


def _fingerprint(marks: Sequence[Evidence], opacity: str) -> str:
    """Of all that a fit depends on."""
    said = hashlib.sha256(f"{_METHOD} {opacity}".encode())
    for one in marks:
        paper = one.paper
        said.update(f"{one.kind} {one.noise!r} {paper.grain!r} {paper.exponent!r} {paper.load_factors}".encode())
        said.update(np.asarray(one.lab, dtype=np.float64).tobytes() + paper.body.tobytes())
        said.update(b"" if one.spectrum is None else np.asarray(one.spectrum, dtype=np.float64).tobytes())
    return said.hexdigest()


def _plain(fit: PencilFit) -> dict[str, Any]:
    """A fit as JSON holds it; numbers come back exactly."""
    left = [
        [kind.pressure, kind.layers, kind.over_black, [float(v) for v in off], ground] for kind, off, ground in fit.left
    ]
    return {
        "unknowns": fit.unknowns.tolist(), "covariance": fit.covariance.tolist(), "fine": fit.fine.tolist(),
        "prior_s_sd": fit.prior_s_sd, "marks": fit.marks, "grounds": list(fit.grounds), "left": left,
    }  # fmt: skip


def _fit_from(row: Mapping[str, Any]) -> PencilFit:
    """The fit that `_plain` wrote."""
    left = tuple(
        (Kind(pressure, layers, over_black), np.array(off), float(ground))
        for pressure, layers, over_black, off, ground in row["left"]
    )
    darkest, lightest = row["grounds"]
    return PencilFit(
        np.array(row["unknowns"]), np.array(row["covariance"]), np.array(row["fine"]), float(row["prior_s_sd"]),
        int(row["marks"]), (float(darkest), float(lightest)), left,
    )  # fmt: skip
