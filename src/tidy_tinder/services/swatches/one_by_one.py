"""Swatches one by one: typed in, looked at in their history, removed; opacity; marks laid edge to edge."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.difference.lamps import UnderLamps
from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.swatching.opacity import OpacityTest, opacity_test
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.marks import LabTriple, Patch, charted_colours, find_paper, patch
from tidy_tinder.services.collection.predictions import predictions_on
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.services.standins.mark_beside_mark import parting
from tidy_tinder.services.tidy.shelves import colour_named
from tidy_tinder.storage.models import FINISHES, GROUNDS, PRESSURES, Paper, SessionItem, Swatch
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.storage.queries.swatches import SwatchRow, spectra_that_count, swatch_that_counts, swatches_of

MOST_COMPARED = 6


@dataclass(frozen=True)
class NewTyped:
    """A mark whose Lab, D65, 2°, is typed in, and how it was made."""

    colour_id: int
    paper_id: int
    pressure: str
    lab: LabTriple
    layers: int = 1
    finish: str = "dry"
    over: str = "paper"
    burnisher_id: int | None = None
    instrument: str = ""
    note: str = ""


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
    """The opacity test of a colour on one paper; charted is the class that its chart prints."""

    paper_name: str
    pressure: str
    layers: int
    test: OpacityTest


@dataclass(frozen=True)
class MarkAsked:
    """One mark to be laid beside others."""

    colour_id: int
    paper_id: int
    pressure: str


@dataclass(frozen=True)
class MarkLaid:
    """A mark as it is laid beside others: what was asked, the colour, its patch (None where nothing is known there),
    and the difference from the first one laid. band: where predicted, the ΔE00 within which nine of ten lie; lamps: how
    it parts from the first one under lamp light, where the spectra of both were measured.
    """

    asked: MarkAsked
    colour: ColourRow
    paper_name: str
    patch: Patch | None
    band: float | None
    difference: Difference | None
    lamps: UnderLamps | None = None


def type_swatch(collection: Collection, new: NewTyped) -> tuple[int, Changed]:
    """Store a typed Lab as a swatch. Raises NotFoundError, RefusedError, OutOfRangeError."""
    _check_kind(new)
    check_lab(np.array(new.lab), "The typed colour")
    with writing(collection, "Swatch typed in") as session:
        name, paper = colour_named(session, new.colour_id), find_paper(session, new.paper_id)
        if new.burnisher_id is not None:
            colour_named(session, new.burnisher_id)
        L, a, b = new.lab
        swatch = Swatch(
            colour_id=new.colour_id, paper_id=new.paper_id, pressure=new.pressure, layers=new.layers,
            finish=new.finish, over=new.over, lab_L=L, lab_a=a, lab_b=b, source="typed",
            instrument=new.instrument.strip(), burnisher_id=new.burnisher_id, made_on=datetime.now(UTC).date(),
            note=new.note.strip(),
        )  # fmt: skip
        session.add(swatch)
        session.flush()
        relabel(session, f"{name} {new.pressure} on {paper.name} typed in")
        return swatch.id, changed(session)


def note_swatch(collection: Collection, swatch_id: int, revision: int, note: str) -> Changed | None:
    """Write a note to a swatch. Raises NotFoundError, ChangedMeanwhileError."""
    with writing(collection, "Note on a swatch") as session:
        swatch = _swatch(session, swatch_id)
        revise(swatch, revision, {"note": note.strip()}, "The note on this swatch")
        made = changed(session)
        return made if made.rows else None


def remove_swatch(collection: Collection, swatch_id: int) -> Changed:
    """Remove a swatch; the mark of a session that it came from waits again. Undo brings it back."""
    with writing(collection, "Swatch removed") as session:
        swatch = _swatch(session, swatch_id)
        relabel(session, f"Swatch of {colour_named(session, swatch.colour_id)}, {swatch.pressure}, removed")
        for item in session.scalars(select(SessionItem).where(SessionItem.swatch_id == swatch_id)):
            item.swatch_id, item.state = None, "waiting"
        session.flush()
        session.delete(swatch)
        return changed(session)


def history_of(session: Session, colour_id: int) -> tuple[PastSwatch, ...]:
    """Every swatch of a colour by paper; among those of one kind the one that counts first."""
    papers = {p.id: (p.position, p.name) for p in session.scalars(select(Paper))}
    rows = sorted(swatches_of(session, colour_id), key=lambda r: papers[r.paper_id][0])
    names = {c.id: f"{c.range_name} {c.code} {c.name}" for c in charted_colours(session)}
    seen: set[object] = set()
    found = []
    for row in rows:
        burnisher = names.get(row.burnisher_id, "") if row.burnisher_id else ""
        found.append(PastSwatch(row, papers[row.paper_id][1], burnisher, patch(row.lab), row.kind not in seen))
        seen.add(row.kind)
    return tuple(found)


def opacity_of(history: Sequence[PastSwatch]) -> tuple[PaperOpacity, ...]:
    """The opacity tests that a history holds: each dry mark over black with its like over white."""
    counting = {past.row.kind: past for past in history if past.counts and past.row.finish == "dry"}
    found = []
    for past in counting.values():
        row = past.row
        over_white = counting.get((row.paper_id, row.pressure, row.layers, row.finish, "paper", None))
        if row.over == "black" and over_white is not None:
            test = opacity_test(over_white.row.lab, row.lab)
            found.append(PaperOpacity(past.paper_name, row.pressure, row.layers, test))
    return tuple(found)


def lay_beside(collection: Collection, asked: Sequence[MarkAsked]) -> tuple[MarkLaid, ...]:
    """Two to six marks to be looked at edge to edge. Raises NotFoundError, RefusedError for another number."""
    if not 2 <= len(asked) <= MOST_COMPARED:
        raise RefusedError(f"Two to {MOST_COMPARED} marks are laid edge to edge, not {len(asked)}.")
    with collection() as session:
        colours = {c.id: c for c in charted_colours(session)}
        first: LabTriple | None = None
        first_spectrum: Sequence[float] | None = None
        laid: list[MarkLaid] = []
        for one in asked:
            if one.colour_id not in colours:
                raise NotFoundError(f"There is no colour number {one.colour_id}.")
            paper = find_paper(session, one.paper_id)
            lab, band = _known_or_predicted(session, one, paper)
            apart = difference(first, lab) if first is not None and lab is not None else None
            first = lab if first is None else first
            shown = patch(lab) if lab is not None else None
            spectrum = spectra_that_count(session, paper.id, one.pressure, 1, [one.colour_id]).get(one.colour_id)
            first_spectrum = first_spectrum if laid else spectrum
            lamps = parting(first_spectrum, spectrum) if laid else None
            laid.append(MarkLaid(one, colours[one.colour_id], paper.name, shown, band, apart, lamps))
        return tuple(laid)


def _known_or_predicted(session: Session, asked: MarkAsked, paper: Paper) -> tuple[LabTriple | None, float | None]:
    """The mark as it was measured; else as it is predicted, with its band."""
    found = swatch_that_counts(session, asked.colour_id, paper.id, asked.pressure, 1, "dry", "paper")
    if found is not None:
        return found.lab, None
    told = predictions_on(session, paper).of(asked.colour_id, asked.pressure) if asked.pressure in PRESSURES else None
    return (told.lab, told.band) if told is not None else (None, None)


def _check_kind(new: NewTyped) -> None:
    for value, allowed, what in (
        (new.pressure, PRESSURES, "pressure"), (new.finish, FINISHES, "finish"), (new.over, GROUNDS, "ground"),
    ):  # fmt: skip
        if value not in allowed:
            raise RefusedError(f"“{value}” is no {what}; it is {', '.join(allowed)}.")
    if not 1 <= new.layers <= 12:
        raise RefusedError(f"A mark has 1 to 12 layers, not {new.layers}.")
    if (new.finish == "burnished") != (new.burnisher_id is not None):
        raise RefusedError("A burnished mark names the pencil it was burnished with, and no other mark does.")


def _swatch(session: Session, swatch_id: int) -> Swatch:
    swatch = session.get(Swatch, swatch_id)
    if swatch is None:
        raise NotFoundError(f"There is no swatch number {swatch_id}. It may have been removed in another window.")
    return swatch
