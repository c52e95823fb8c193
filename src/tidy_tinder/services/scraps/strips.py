"""Try on scrap: a strip of layers in both orders, what the artist says of it, and how it was measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.layers import LaidLayer, turned
from tidy_tinder.core.quantities import check_lab
from tidy_tinder.services.background.runtime import Collection, fitted
from tidy_tinder.services.collection.marks import LabTriple, Patch, charted_colours, find_paper, patch
from tidy_tinder.services.collection.stacks import (
    Laid,
    Seen,
    all_dressed,
    check_layers,
    dressed,
    layers_in_words,
    look_at,
    mark_of,
    predicted_stacks,
)
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.services.reader import ReaderLink, instrument_words, place_strip
from tidy_tinder.services.tidy.shelves import colour_named
from tidy_tinder.storage.models import PRESSURES, Paper, Scrap, ScrapLayer, ScrapReading, Swatch
from tidy_tinder.storage.queries.colours import ColourRow
from tidy_tinder.storage.queries.scraps import ScrapRow, scrap_rows

# What can be said of a scrap: at most one of each group, and of the first, that it is good, nothing else beside it.
VERDICTS = (("good",), ("too light", "too dark"), ("too warm", "too cool"), ("too dull", "too vivid"), ("another hue",))
FINISHES_OF_SCRAPS = ("dry", "solvent")
_LONGEST_NOTE = 500
# A reading farther from the prediction than this many of its bands is asked about before it is kept.
_DOUBTED_BANDS = 2.0


@dataclass(frozen=True)
class NewScrap:
    """Layers to be tried on a paper, the lowest first; wanted: the colour that they are to stand in for, if any, and
    how that one would be laid.
    """

    paper_id: int
    layers: tuple[LaidLayer, ...]
    finish: str = "dry"
    wanted_id: int | None = None
    wanted_pressure: str = "heavy"
    wanted_layers: int = 1


@dataclass(frozen=True)
class Tried:
    """What was said of layers that were tried before."""

    scrap_id: int
    verdict: tuple[str, ...]
    note: str
    made_on: date


@dataclass(frozen=True)
class StripField:
    """One field of the strip: what is laid in it, in words, and what that looks like as far as it is known.

    kind: alone, laid or turned; the last two can be read.
    """

    kind: str
    laid: tuple[Laid, ...]
    said: str
    seen: Seen | None


@dataclass(frozen=True)
class Wanted:
    """The colour that a scrap stands in for, how it is laid, and its mark there as far as it is known."""

    colour: ColourRow
    pressure: str
    layers: int
    seen: Seen | None


@dataclass(frozen=True)
class ScrapView:
    """A scrap with its strip. apart: how the strip as laid differs from what is wanted, where both are known."""

    id: int
    revision: int
    paper_id: int
    paper_name: str
    finish: str
    said: str
    wanted: Wanted | None
    fields: tuple[StripField, ...]
    apart: Difference | None
    verdict: tuple[str, ...]
    note: str
    made_on: date
    can_be_said: tuple[tuple[str, ...], ...] = VERDICTS


@dataclass(frozen=True)
class ScrapCard:
    """A scrap in the list."""

    id: int
    said: str
    wanted: ColourRow | None
    verdict: tuple[str, ...]
    note: str
    made_on: date
    measured: Patch | None


@dataclass(frozen=True)
class StripRead:
    """What came of a reading: kept, or doubted for a reason, and then not kept."""

    doubt: str
    reading: Patch
    change: Changed | None


def begin_scrap(collection: Collection, new: NewScrap) -> tuple[int, Changed]:
    """Write down what is about to be tried. Raises NotFoundError, RefusedError."""
    check_layers(new.layers)
    if new.finish not in FINISHES_OF_SCRAPS:
        raise RefusedError(f"“{new.finish}” is no finish of a scrap; it is {' or '.join(FINISHES_OF_SCRAPS)}.")
    with writing(collection, "Scrap begun") as session:
        paper, laid = find_paper(session, new.paper_id), dressed(session, new.layers)
        if new.wanted_id is not None:
            colour_named(session, new.wanted_id)
        scrap = Scrap(
            paper_id=paper.id, wanted_id=new.wanted_id, wanted_pressure=new.wanted_pressure,
            wanted_layers=new.wanted_layers, finish=new.finish, verdict=[], note="", made_on=datetime.now(UTC).date(),
        )  # fmt: skip
        session.add(scrap)
        session.flush()
        session.add_all(
            ScrapLayer(
                scrap_id=scrap.id, position=i, colour_id=one.pencil, pressure=one.pressure, layers=one.layers
            )
            for i, one in enumerate(new.layers)
        )  # fmt: skip
        relabel(session, f"To try on {paper.name}: {layers_in_words(laid)}")
        return scrap.id, changed(session)


def judge_scrap(
    collection: Collection, scrap_id: int, revision: int, verdict: Sequence[str], note: str
) -> Changed | None:
    """Say what a scrap turned out like. Raises NotFoundError, RefusedError, ChangedMeanwhileError."""
    said = _checked(verdict)
    if len(note) > _LONGEST_NOTE:
        raise RefusedError(f"The note has {len(note)} characters; it has at most {_LONGEST_NOTE}.")
    with writing(collection, "Scrap judged") as session:
        scrap = _scrap(session, scrap_id)
        revise(scrap, revision, {"verdict": said, "note": note.strip()}, "What is said of this scrap")
        relabel(session, f"Scrap: {', '.join(said) or 'no verdict'}")
        made = changed(session)
        return made if made.rows else None


def remove_scrap(collection: Collection, scrap_id: int) -> Changed:
    """Remove a scrap with its readings; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Scrap removed") as session:
        scrap = _scrap(session, scrap_id)
        # Children first, each by the ORM: what the database removed by itself would not be in the journal.
        for model in (ScrapReading, ScrapLayer):
            for row in session.scalars(select(model).where(model.scrap_id == scrap_id)):
                session.delete(row)
        session.flush()
        session.delete(scrap)
        return changed(session)


def read_strip(
    collection: Collection, link: ReaderLink, scrap_id: int, is_turned: bool, keep: bool = False
) -> StripRead:
    """Read one of the two orders with the colour reader and keep it, in the place of an earlier reading.

    keep: also where it is far from what is expected. Raises NotFoundError, RefusedError, a ReaderError.
    """
    with collection() as session:
        row = _row(session, scrap_id)
        layers = _in_order(row, is_turned)
        place_strip(session, link, row.paper_id, layers, row.finish == "solvent", 2 * scrap_id + is_turned)
    reading, info = link.read()
    L, a, b = (round(float(v), 3) for v in reading.lab)
    spectrum = [round(float(v), 5) for v in reading.reflectance]
    return _keep(collection, scrap_id, is_turned, _Read((L, a, b), "reader", instrument_words(info), spectrum), keep)


def type_strip(collection: Collection, scrap_id: int, is_turned: bool, lab: LabTriple, keep: bool = False) -> StripRead:
    """Keep a typed Lab, D65, 2°, for one of the two orders. Raises NotFoundError, RefusedError, OutOfRangeError."""
    check_lab(np.array(lab), "The typed colour")
    return _keep(collection, scrap_id, is_turned, _Read(lab, "typed", "", None), keep)


def open_scrap(collection: Collection, scrap_id: int) -> ScrapView:
    """A scrap with its strip and what is known of it. Raises NotFoundError."""
    with collection() as session:
        row = _row(session, scrap_id)
        paper = find_paper(session, row.paper_id)
        fields = _fields(session, paper, row)
        wanted = _wanted(session, paper, row)
        laid = next(field for field in fields if field.kind == "laid")
        both = (wanted.seen, laid.seen) if wanted is not None else (None, None)
        apart = difference(both[0].patch.lab, both[1].patch.lab) if both[0] and both[1] else None
        return ScrapView(
            row.id, row.revision, paper.id, paper.name, row.finish, laid.said, wanted, fields, apart, row.verdict,
            row.note, row.made_on,
        )  # fmt: skip


def scraps_on(collection: Collection, paper_id: int) -> tuple[ScrapCard, ...]:
    """What was tried on a paper, the newest first. Raises NotFoundError."""
    with collection() as session:
        find_paper(session, paper_id)
        colours = {row.id: row for row in charted_colours(session)}
        rows = scrap_rows(session, Scrap.paper_id == paper_id)
        return tuple(
            ScrapCard(
                row.id, layers_in_words(laid), colours.get(row.wanted_id or 0), row.verdict, row.note, row.made_on,
                next((patch(r.lab) for r in row.readings if not r.turned), None),
            )
            for row, laid in zip(rows, all_dressed(session, [row.layers for row in rows]), strict=True)
        )  # fmt: skip


def tried_for(session: Session, paper_id: int, wanted_id: int) -> Mapping[tuple[LaidLayer, ...], Tried]:
    """What was tried for a colour on a paper, dry: by its layers, the newest of each."""
    rows = scrap_rows(
        session, Scrap.paper_id == paper_id, Scrap.wanted_id == wanted_id, Scrap.finish == "dry"
    )  # fmt: skip
    return {row.layers: Tried(row.id, row.verdict, row.note, row.made_on) for row in reversed(rows)}


@dataclass(frozen=True)
class _Read:
    """A value that was read or typed."""

    lab: LabTriple
    source: str
    instrument: str
    spectrum: list[float] | None


def _keep(collection: Collection, scrap_id: int, is_turned: bool, read: _Read, keep: bool) -> StripRead:
    """Keep a value unless it is doubted."""
    with writing(collection, "Strip read") as session:
        row = _row(session, scrap_id)
        doubt = "" if keep else _doubt(session, row, is_turned, read.lab)
        if doubt:
            return StripRead(doubt, patch(read.lab), None)
        if _is_mark(row):
            session.add(_as_swatch(row, read))
        else:
            _take_down(session, scrap_id, is_turned, read)
        relabel(session, f"Strip read: {layers_in_words(dressed(session, _in_order(row, is_turned)))}")
        return StripRead("", patch(read.lab), changed(session))


def _is_mark(row: ScrapRow) -> bool:
    """Whether what is read is the mark of one pencil, and so an ordinary swatch of it."""
    return len(row.layers) == 1 and row.finish == "dry" and row.layers[0].pressure in PRESSURES


def _as_swatch(row: ScrapRow, read: _Read) -> Swatch:
    (one,), (L, a, b) = row.layers, read.lab
    return Swatch(
        colour_id=one.pencil, paper_id=row.paper_id, pressure=one.pressure, layers=one.layers, lab_L=L, lab_a=a,
        lab_b=b, spectrum=read.spectrum, spectrum_white="D65, 2 degree" if read.spectrum else "", source=read.source,
        instrument=read.instrument, made_on=datetime.now(UTC).date(), note=f"from scrap {row.id}",
    )  # fmt: skip


def _take_down(session: Session, scrap_id: int, is_turned: bool, read: _Read) -> None:
    """The reading of one order, in the place of an earlier one."""
    mine = (ScrapReading.scrap_id == scrap_id, ScrapReading.turned == is_turned)
    found = session.scalar(select(ScrapReading).where(*mine))
    if found is None:
        found = ScrapReading(scrap_id=scrap_id, turned=is_turned)
        session.add(found)
    found.lab_L, found.lab_a, found.lab_b = read.lab
    found.spectrum, found.source, found.instrument = read.spectrum, read.source, read.instrument
    found.made_on = datetime.now(UTC).date()


def _doubt(session: Session, row: ScrapRow, is_turned: bool, lab: LabTriple) -> str:
    """Why a value may not be of this strip, in words; "" where nothing speaks against it."""
    known = fitted(session)
    if known is None:
        return ""
    paper = find_paper(session, row.paper_id)
    # What an earlier reading says is no reason to doubt a new one.
    seen = predicted_stacks(known, paper, [_in_order(row, is_turned)], row.finish == "solvent")[0]
    if seen is None or seen.band is None:
        return ""
    away = float(delta_e_2000(np.array(seen.patch.lab), np.array(lab)))
    if away <= _DOUBTED_BANDS * seen.band:
        return ""
    return (
        f"That is ΔE {away:.1f} from what is expected here, ± {seen.band:.1f}. Is it the right field of the strip, "
        "and were the layers laid as it says?"
    )


def _fields(session: Session, paper: Paper, row: ScrapRow) -> tuple[StripField, ...]:
    """Each pencil alone as it is laid, then the layers, then the other way round where that is something else."""
    alone = [(one,) for one in dict.fromkeys(row.layers) if one.pressure in PRESSURES] if len(row.layers) > 1 else []
    order = turned(row.layers)
    stacks = [row.layers] + ([order] if order != row.layers else [])
    known = fitted(session)
    if known is None:
        seen: Sequence[Seen | None] = [None] * len(stacks)
    else:
        seen = look_at(session, paper, known, stacks, row.finish == "solvent")
    singles = [
        StripField("alone", laid := dressed(session, layers), layers_in_words(laid), mark_of(session, paper, layers[0]))
        for layers in alone
    ]
    kinds = ("laid", "turned")
    both = [
        StripField(kind, laid := dressed(session, layers), layers_in_words(laid), one)
        for kind, layers, one in zip(kinds, stacks, seen, strict=False)
    ]
    return (*singles, *both)


def _wanted(session: Session, paper: Paper, row: ScrapRow) -> Wanted | None:
    if row.wanted_id is None:
        return None
    colour = next(c for c in charted_colours(session) if c.id == row.wanted_id)
    pressure = row.wanted_pressure if row.wanted_pressure in PRESSURES else "heavy"
    seen = mark_of(session, paper, LaidLayer(colour.id, pressure, row.wanted_layers))
    return Wanted(colour, pressure, row.wanted_layers, seen)


def _checked(verdict: Sequence[str]) -> list[str]:
    """The words in their usual order. Raises RefusedError for one that is not there, or two that contradict."""
    words = [word for group in VERDICTS for word in group]
    unknown = [word for word in verdict if word not in words]
    if unknown:
        raise RefusedError(f"“{unknown[0]}” is no verdict; it is {', '.join(words)}.")
    said = [word for word in words if word in verdict]
    if VERDICTS[0][0] in said and len(said) > 1:
        raise RefusedError(f"It is either good or {' and '.join(said[1:])}.")
    for group in VERDICTS:
        if all(word in said for word in group) and len(group) > 1:
            raise RefusedError(f"It is either {' or '.join(group)}.")
    return said


def _in_order(row: ScrapRow, is_turned: bool) -> tuple[LaidLayer, ...]:
    return turned(row.layers) if is_turned else row.layers


def _row(session: Session, scrap_id: int) -> ScrapRow:
    rows = scrap_rows(session, Scrap.id == scrap_id)
    if not rows:
        raise _missing(scrap_id)
    return rows[0]


def _scrap(session: Session, scrap_id: int) -> Scrap:
    scrap = session.get(Scrap, scrap_id)
    if scrap is None:
        raise _missing(scrap_id)
    return scrap


def _missing(scrap_id: int) -> NotFoundError:
    return NotFoundError(f"There is no scrap number {scrap_id}. It may have been removed in another window.")
