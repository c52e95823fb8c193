"""The one writer of swatches: whatever measured a mark, it becomes a swatch here and nowhere else."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.quantities import check_lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, MOST_LAYERS, Finish, Ground, Pressure, Source
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import colour_named
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.storage.models import ItemState, SessionItem, Swatch

# What a spectrum is worked out for; a swatch without one says nothing of it.
_SPECTRUM_WHITE = "D65, 2 degree"


@dataclass(frozen=True)
class MadeMark:
    """What was laid, and how: one dry layer on bare paper where nothing else is said."""

    colour_id: int
    paper_id: int
    pressure: Pressure
    layers: int = 1
    finish: Finish = Finish.DRY
    over: Ground = Ground.PAPER
    burnisher_id: int | None = None


@dataclass(frozen=True)
class Measurement:
    """What was measured of a mark: Lab, D65, 2°; spectrum, 31 reflectance factors, where there is one; doubt: standard
    deviation of the Lab, where it is known of this very mark.
    """

    lab: LabTriple
    source: Source
    instrument: str = ""
    spectrum: Sequence[float] | None = None
    aperture_mm: float | None = None
    averaged_of: int = 1
    doubt: float | None = None
    made_on: date | None = None
    note: str = ""


def check_mark(mark: MadeMark) -> None:
    """Raises RefusedError for a mark that cannot be made."""
    for value, allowed, what in (
        (mark.pressure, MARK_PRESSURES, "pressure"), (mark.finish, tuple(Finish), "finish"),
        (mark.over, tuple(Ground), "ground"),
    ):  # fmt: skip
        if value not in allowed:
            raise RefusedError(f"“{value}” is no {what}; it is {', '.join(allowed)}.")
    if not 1 <= mark.layers <= MOST_LAYERS:
        raise RefusedError(f"A mark has 1 to {MOST_LAYERS} layers, not {mark.layers}.")
    if (mark.finish == Finish.BURNISHED) != (mark.burnisher_id is not None):
        raise RefusedError("A burnished mark names the pencil it was burnished with, and no other mark does.")


def new_swatch(mark: MadeMark, measured: Measurement) -> Swatch:
    """A swatch, to be added to a session. Raises RefusedError for a mark, OutOfRangeError for a Lab that cannot be."""
    return Swatch(**swatch_values(mark, measured))


def swatch_values(mark: MadeMark, measured: Measurement) -> dict[str, Any]:
    """The columns of a swatch. Raises as `new_swatch`."""
    check_mark(mark)
    check_lab(np.array(measured.lab), "The measured colour")
    L, a, b = measured.lab
    return {
        **vars(mark), "lab_L": L, "lab_a": a, "lab_b": b,
        "spectrum": list(measured.spectrum) if measured.spectrum else None,
        "spectrum_white": _SPECTRUM_WHITE if measured.spectrum else "", "source": measured.source,
        "instrument": measured.instrument, "aperture_mm": measured.aperture_mm, "averaged_of": measured.averaged_of,
        "doubt": measured.doubt, "made_on": measured.made_on or datetime.now(UTC).date(), "note": measured.note,
    }  # fmt: skip


def store_swatch(session: Session, mark: MadeMark, measured: Measurement) -> Swatch:
    """Store one mark, within the caller's change; it has its number then. Raises RefusedError, OutOfRangeError."""
    swatch = new_swatch(mark, measured)
    session.add(swatch)
    session.flush()
    return swatch


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
            item.swatch_id, item.state = None, ItemState.WAITING
        session.flush()
        session.delete(swatch)
        return changed(session)


def _swatch(session: Session, swatch_id: int) -> Swatch:
    swatch = session.get(Swatch, swatch_id)
    if swatch is None:
        raise NotFoundError(f"There is no swatch number {swatch_id}. It may have been removed in another window.")
    return swatch
