"""Fits kept in the database by the fingerprint of the marks that they rest on, and surveys kept in memory.

So a new swatch has only those fitted anew that it concerns, and a program that begins again goes on where it was.
"""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.collection_fit.survey import Survey, survey
from tidy_tinder.core.layering.fitting.evidence import Evidence, Kind
from tidy_tinder.core.layering.fitting.hand import Slips
from tidy_tinder.core.layering.fitting.misfit import LeftOver
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.vocabulary import Pressure, PrintedOpacity
from tidy_tinder.services.background.inputs import METHOD, Inputs, inputs_of
from tidy_tinder.services.background.pencils_apart import FitsPencils
from tidy_tinder.storage.queries.fits import kept_fits

# Pencils fitted between two looks at what else happens: about a quarter of a second.
_AT_ONCE = 24
_MOST_SURVEYS = 8


@dataclass(frozen=True, eq=False)
class Fitted:
    """A collection as it was fitted for one version of its marks; content: a fingerprint of all that it rests on."""

    version: int
    survey: Survey
    content: str


@dataclass
class StoredFits:
    """Fits pencils, taking what is kept from the database; reported after every few how far it is.

    A caller stops it by raising in `report`. many: how they are fitted where there are more than a few.
    """

    open_session: Callable[[], Session]
    report: Callable[[int, int, Mapping[str, Mapping[str, Any]]], None] | None = None
    many: FitsPencils = fit_pencils
    done: int = 0
    reused: int = 0
    needed: set[str] = field(default_factory=set)

    def fit(
        self, evidence: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], hand: float
    ) -> list[PencilFit]:
        """The fits, in order; a function as `survey` wants it."""
        prints = [_fingerprint(marks, opacity, hand) for marks, opacity in zip(evidence, opacities, strict=True)]
        self.needed.update(prints)
        with self.open_session() as session:
            known = {f: fit_from(row) for f, row in kept_fits(session, prints).items()}
        missing = [i for i, fingerprint in enumerate(prints) if fingerprint not in known]
        self._advance(len(prints) - len(missing), len(prints) - len(missing), {})
        fit = self.many if len(missing) > _AT_ONCE else fit_pencils
        for start in range(0, len(missing), _AT_ONCE):
            part = missing[start : start + _AT_ONCE]
            made = fit([evidence[i] for i in part], [opacities[i] for i in part], hand)
            known.update((prints[i], one) for i, one in zip(part, made, strict=True))
            self._advance(len(part), 0, {prints[i]: plain_fit(known[prints[i]]) for i in part})
        return [known[fingerprint] for fingerprint in prints]

    def _advance(self, done: int, reused: int, made: Mapping[str, Mapping[str, Any]]) -> None:
        self.done += done
        self.reused += reused
        if self.report is not None:
            self.report(self.done, self.reused, made)


class Surveys:
    """The last few surveys: one that was made is not made again (an undo comes back to it)."""

    def __init__(self) -> None:
        self._made: OrderedDict[str, Survey] = OrderedDict()
        self._lock = threading.Lock()

    def known(self, content: str) -> Survey | None:
        """The survey of a content, if it was made."""
        with self._lock:
            return self._made.get(content)

    def keep(self, content: str, surveyed: Survey) -> None:
        """Keep one that was made."""
        with self._lock:
            self._made[content] = surveyed
            while len(self._made) > _MOST_SURVEYS:
                self._made.popitem(last=False)

    def of(self, inputs: Inputs, make: Callable[[], Survey]) -> Fitted:
        """The survey of these inputs, made where it was not made yet."""
        content = inputs.fingerprint
        surveyed = self.known(content)
        if surveyed is None:
            surveyed = make()
            self.keep(content, surveyed)
        return Fitted(inputs.version, surveyed, content)

    def now(self, open_session: Callable[[], Session]) -> Fitted:
        """A collection surveyed at once, from the fits that are kept and the rest anew; nothing is written."""
        with open_session() as session:
            inputs = inputs_of(session)
        return self.of(inputs, lambda: survey_of(inputs, StoredFits(open_session)))


def survey_of(inputs: Inputs, fits: StoredFits) -> Survey:
    """The survey of these inputs, made here."""
    return survey(inputs.papers, inputs.marks, inputs.colours, fits.fit, inputs.strips)


def _fingerprint(marks: Sequence[Evidence], opacity: str, hand: float) -> str:
    """Of all that a fit depends on."""
    digest = hashlib.sha256(f"{METHOD} {opacity} {hand!r}".encode())
    for one in marks:
        paper = one.paper
        factors = tuple((str(pressure), factor) for pressure, factor in paper.load_factors)
        digest.update(
            f"{_words(one.kind)} {one.noise!r} {paper.grain!r} {paper.exponent!r} {factors}".encode()
            + f" {paper.by_chance!r} {paper.hold!r} {one.at_home} {one.alike!r}".encode()
        )
        digest.update(np.asarray(one.lab, dtype=np.float64).tobytes() + paper.body.tobytes())
        digest.update(b"" if one.spectrum is None else np.asarray(one.spectrum, dtype=np.float64).tobytes())
    return digest.hexdigest()


def _words(kind: Kind) -> str:
    """A kind of mark as fingerprints have had it from the first: fits that are kept stay good."""
    return f"Kind(pressure={str(kind.pressure)!r}, layers={kind.layers}, over_black={kind.over_black})"


def _plain_kind(kind: Kind) -> list[str | int | bool]:
    return [str(kind.pressure), kind.layers, kind.over_black]


def plain_fit(fit: PencilFit) -> dict[str, Any]:
    """A fit as JSON holds it; numbers come back exactly."""
    left = [[*_plain_kind(one.kind), one.off.tolist(), one.ground, one.noise, one.misfit.tolist()] for one in fit.left]
    slips = fit.slips and [fit.slips.likely.tolist(), fit.slips.covariance.tolist(), fit.slips.hand]
    return {
        "unknowns": fit.unknowns.tolist(), "covariance": fit.covariance.tolist(), "fine": fit.fine.tolist(),
        "prior_s_sd": fit.prior_s_sd, "marks": fit.marks, "grounds": list(fit.grounds), "left": left, "slips": slips,
        "missed": list(fit.missed), "follows": fit.follows.tolist(), "erred_alike": fit.erred_alike.tolist(),
    }  # fmt: skip


def fit_from(row: Mapping[str, Any]) -> PencilFit:
    """The fit that `plain_fit` wrote."""
    left = tuple(
        LeftOver(
            Kind(Pressure(pressure), layers, over_black), np.array(off), float(ground), float(noise), np.array(misfit)
        )
        for pressure, layers, over_black, off, ground, noise, misfit in row["left"]
    )
    slips = row["slips"] and Slips(np.array(row["slips"][0]), np.array(row["slips"][1]), float(row["slips"][2]))
    darkest, lightest = row["grounds"]
    return PencilFit(
        np.array(row["unknowns"]), np.array(row["covariance"]), np.array(row["fine"]), float(row["prior_s_sd"]),
        int(row["marks"]), (float(darkest), float(lightest)), left, slips,
        (float(row["missed"][0]), float(row["missed"][1])), np.array(row["follows"]), np.array(row["erred_alike"]),
    )  # fmt: skip
