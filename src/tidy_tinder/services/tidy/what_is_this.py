"""“What is this?”: a worn stamp, found by the mark that the pencil leaves."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.layers import Coat
from tidy_tinder.core.quantities import Lab, check_lab
from tidy_tinder.core.swatching.identification import (
    SPREAD_CHART,
    SPREAD_MEASURED,
    Candidate,
    Identification,
    identify,
)
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.chart import entry_of
from tidy_tinder.services.collection.patches import LabTriple, Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.storage.queries.colours import ColourRow


@dataclass(frozen=True)
class Suspect:
    """One colour that the mark may be; share is how much of the belief it takes, 0 to 1. band: where its look is
    predicted, the ΔE00 within which nine of ten lie.
    """

    colour: ColourRow
    owning: Owning
    share: float
    looks: Patch
    difference: Difference
    band: float | None


@dataclass(frozen=True)
class Identified:
    """The likely colours, owned first, in two lists that are never mixed; alike names those not told apart.

    here: by marks measured or predicted on this paper. by_chart is empty where one of them fits: a chart then adds
    nothing.
    """

    seen: Patch
    paper_name: str
    pressure: Pressure
    here: tuple[Suspect, ...]
    by_chart: tuple[Suspect, ...]
    none_share: float
    alike: tuple[str, ...]
    searched: int


def what_is_this(collection: Collection, lab: LabTriple, paper_id: int, pressure: Pressure) -> Identified:
    """Which colours a measured mark, one layer, dry, on a paper can be.

    Raises NotFoundError for an unknown paper, RefusedError for an unknown pressure, OutOfRangeError for a Lab
    that no surface has.
    """
    if pressure not in MARK_PRESSURES:
        raise RefusedError(f"A pressure is {', '.join(MARK_PRESSURES)}, not “{pressure}”.")
    reading = check_lab(np.array(lab), "The mark")
    with collection() as session:
        scene = Scene.on(session, paper_id)
        here = list(_by_mark(scene, pressure))
        by_mark = identify(reading, here, SPREAD_MEASURED)
        # A chart is a heavy mark on white: it can speak of nothing else, and only of what is not known here.
        known = {candidate.key for candidate in here}
        rest = list(_by_chart(scene, known)) if pressure == Pressure.HEAVY else []
        by_chart = identify(reading, rest if by_mark.best is None else [], SPREAD_CHART)
        alike = tuple(entry_of(scene.colours[i]).label for i in by_mark.alike)
        return Identified(
            patch(reading), scene.paper.name, pressure, _suspects(scene, by_mark, here),
            _suspects(scene, by_chart, rest), by_mark.none_share, alike, len(here),
        )  # fmt: skip


def _by_mark(scene: Scene, pressure: Pressure) -> Iterator[Candidate]:
    """The colours whose mark is measured or predicted here."""
    for colour_id in scene.colours:
        known = scene.compared(colour_id, Coat(pressure))
        if known.on_paper is not None:
            yield _candidate(scene, colour_id, known.on_paper, known.band)


def _by_chart(scene: Scene, known: AbstractSet[int]) -> Iterator[Candidate]:
    """The other colours, by their chart value."""
    for colour_id, row in scene.colours.items():
        if row.lab is not None and colour_id not in known:
            yield _candidate(scene, colour_id, np.array(row.lab), None)


def _candidate(scene: Scene, colour_id: int, looks: Lab, band: float | None) -> Candidate:
    owned = scene.owning(colour_id) is not Owning.NOT_OWNED
    return Candidate(colour_id, looks, owned, band)


def _suspects(scene: Scene, answer: Identification, candidates: Sequence[Candidate]) -> tuple[Suspect, ...]:
    by_key = {candidate.key: candidate for candidate in candidates}
    return tuple(
        Suspect(
            scene.colours[one.key], scene.owning(one.key), one.share, patch(by_key[one.key].lab), one.difference,
            by_key[one.key].band,
        )
        for one in answer.likely
    )  # fmt: skip
