"""Swatches one by one: typed in, looked at in their history, and the opacity tests that a history holds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.swatching.opacity import OpacityTest, opacity_test
from tidy_tinder.core.vocabulary import Finish, Ground, Pressure, Source
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id, colour_named, entry_of
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import LabTriple, Patch, patch
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.swatches.store import MadeMark, Measurement, check_mark, store_swatch
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.swatches import SwatchRow, swatches_of


@dataclass(frozen=True)
class NewTyped:
    """A mark whose Lab, D65, 2°, is typed in, and how it was made."""

    colour_id: int
    paper_id: int
    pressure: Pressure
    lab: LabTriple
    layers: int = 1
    finish: Finish = Finish.DRY
    over: Ground = Ground.PAPER
    burnisher_id: int | None = None
    instrument: str = ""
    note: str = ""

    @property
    def mark(self) -> MadeMark:
        """What was laid."""
        return MadeMark(
            self.colour_id, self.paper_id, self.pressure, self.layers, self.finish, self.over, self.burnisher_id
        )


@dataclass(frozen=True)
class PastSwatch:
    """A swatch in the history; counts: it is the one that stands for its kind of mark."""

    row: SwatchRow
    paper_name: str
    burnisher: str
    colour: Patch
    counts: bool


@dataclass(frozen=True)
class PaperOpacity:
    """The opacity test of a colour on one paper. by_photo: one of its marks at least was measured by photo."""

    paper_name: str
    pressure: Pressure
    layers: int
    test: OpacityTest
    by_photo: bool


def type_swatch(collection: Collection, new: NewTyped) -> tuple[int, Changed]:
    """Store a typed Lab as a swatch. Raises NotFoundError, RefusedError, OutOfRangeError."""
    check_mark(new.mark)
    check_lab(np.array(new.lab), "The typed colour")
    with writing(collection, "Swatch typed in") as session:
        name, paper = colour_named(session, new.colour_id), find_paper(session, new.paper_id)
        if new.burnisher_id is not None:
            colour_named(session, new.burnisher_id)
        typed = Measurement(new.lab, Source.TYPED, new.instrument.strip(), note=new.note.strip())
        swatch = store_swatch(session, new.mark, typed)
        relabel(session, f"{name} {new.pressure} on {paper.name} typed in")
        return swatch.id, changed(session)


def history_of(session: Session, colour_id: int) -> tuple[PastSwatch, ...]:
    """Every swatch of a colour by paper; among those of one kind the one that counts first."""
    papers = {p.id: (p.position, p.name) for p in session.scalars(select(Paper))}
    rows = sorted(swatches_of(session, colour_id), key=lambda r: papers[r.paper_id][0])
    colours = chart_by_id(session)
    seen: set[object] = set()
    history = []
    for row in rows:
        burnisher = entry_of(colours[row.burnisher_id]).label if row.burnisher_id else ""
        history.append(PastSwatch(row, papers[row.paper_id][1], burnisher, patch(row.lab), row.kind not in seen))
        seen.add(row.kind)
    return tuple(history)


def opacity_of(history: Sequence[PastSwatch]) -> tuple[PaperOpacity, ...]:
    """The opacity tests that a history holds: each dry mark over black with its like over white, surer ones first."""
    counting = {past.row.kind: past for past in history if past.counts and past.row.finish == Finish.DRY}
    tests = []
    for past in counting.values():
        row = past.row
        over_white = counting.get((row.paper_id, row.pressure, row.layers, row.finish, Ground.PAPER, None))
        if row.over == Ground.BLACK and over_white is not None:
            test = opacity_test(over_white.row.lab, row.lab)
            by_photo = Source.PHOTO in (row.source, over_white.row.source)
            tests.append(PaperOpacity(past.paper_name, row.pressure, row.layers, test, by_photo))
    return tuple(sorted(tests, key=lambda test: test.by_photo))
