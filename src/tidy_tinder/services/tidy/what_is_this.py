"""“What is this?”: a worn stamp, found by the mark that the pencil leaves."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.swatching.identification import SPREAD_CHART, SPREAD_MEASURED, Candidate, Identification, identify
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning, at_hand_now
from tidy_tinder.services.collection.marks import LabTriple, Patch, charted_colours, find_paper, known_marks, patch
from tidy_tinder.services.collection.predictions import predictions_on
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.storage.models import PRESSURES
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour


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
    pressure: str
    here: tuple[Suspect, ...]
    by_chart: tuple[Suspect, ...]
    none_share: float
    alike: tuple[str, ...]
    searched: int


def what_is_this(collection: Collection, lab: LabTriple, paper_id: int, pressure: str) -> Identified:
    """Which colours a measured mark, one layer, dry, on a paper can be.

    Raises NotFoundError for an unknown paper, RefusedError for an unknown pressure, OutOfRangeError for a Lab
    that no surface has.
    """
    if pressure not in PRESSURES:
        raise RefusedError(f"A pressure is {', '.join(PRESSURES)}, not “{pressure}”.")
    reading = check_lab(np.array(lab), "The mark")
    with collection() as session:
        paper = find_paper(session, paper_id)
        known, colours = known_marks(session, paper), {c.id: c for c in charted_colours(session)}
        pencils, hand = pencils_by_colour(session), at_hand_now(session)
        owning = {i: hand.owning(pencils.get(i, ())) for i in colours}
        kind = (pressure, 1)

        predicted = predictions_on(session, paper)

        def candidate(colour_id: int, looks: LabTriple, band: float | None = None) -> Candidate:
            return Candidate(colour_id, np.array(looks), owning[colour_id] is not Owning.NOT_OWNED, band)

        here = []
        for i in colours:
            if kind in known.get(i, {}):
                here.append(candidate(i, known[i][kind].lab))
            elif (told := predicted.of(i, pressure)) is not None:
                here.append(candidate(i, told.lab, told.band))
        by_mark = identify(reading, here, SPREAD_MEASURED)
        # A chart is a heavy mark on white: it can speak of nothing else, and only of what is not known here.
        told_here = {c.key for c in here}
        rest = [
            candidate(i, c.lab)
            for i, c in colours.items()
            if c.lab is not None and pressure == "heavy" and i not in told_here
        ]
        by_chart = identify(reading, rest if by_mark.best is None else [], SPREAD_CHART)

        looks, bands = {c.key: c.lab for c in (*here, *rest)}, {c.key: c.band for c in (*here, *rest)}

        def dressed(answer: Identification) -> tuple[Suspect, ...]:
            return tuple(
                Suspect(colours[o.key], owning[o.key], o.share, patch(looks[o.key]), o.difference, bands[o.key])
                for o in answer.likely
            )

        alike = tuple(f"{colours[i].range_name} {colours[i].code} {colours[i].name}" for i in by_mark.alike)
        return Identified(
            patch(reading), paper.name, pressure, dressed(by_mark), dressed(by_chart),
            by_mark.none_share, alike, len(here),
        )  # fmt: skip
