"""Reading swatches: for each kind of mark the one that counts, coverage, history.

The rule that combines several swatches of one kind: the newest by reader counts; typed values and photos count
only where no reader has seen it, typed before photo, so that a photo never outranks a reader. All of them stay.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import Select, case, func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import Finish, Ground, Pressure, Source
from tidy_tinder.storage.models import Swatch

MarkKind = tuple[Pressure, int]
"""(pressure, layers) of a dry mark on bare paper."""

_RANK = case((Swatch.source == Source.READER, 2), (Swatch.source == Source.TYPED, 1), else_=0)
# The one that counts first.
_BEST_FIRST = (_RANK.desc(), Swatch.made_on.desc(), Swatch.id.desc())
# Where a later row overwrites an earlier one of its kind.
WORST_FIRST = (_RANK, Swatch.made_on, Swatch.id)


@dataclass(frozen=True)
class MeasuredMark:
    """The swatch that counts for one kind of mark. doubt: standard deviation of its Lab, where it was read from a
    photo.
    """

    swatch_id: int
    lab: tuple[float, float, float]
    source: Source
    doubt: float | None = None


@dataclass(frozen=True)
class SwatchRow:
    """One swatch, whole but for its spectrum."""

    id: int
    revision: int
    colour_id: int
    paper_id: int
    pressure: Pressure
    layers: int
    finish: Finish
    over: Ground
    lab: tuple[float, float, float]
    has_spectrum: bool
    source: Source
    instrument: str
    averaged_of: int
    burnisher_id: int | None
    made_on: date
    note: str
    doubt: float | None

    @property
    def kind(self) -> tuple[int, Pressure, int, Finish, Ground, int | None]:
        """What kind of mark it is: swatches of one kind stand for one another."""
        return (self.paper_id, self.pressure, self.layers, self.finish, self.over, self.burnisher_id)


def measured_marks(
    session: Session, paper_id: int, over: Ground = Ground.PAPER, of: int | None = None
) -> dict[int, dict[MarkKind, MeasuredMark]]:
    """By colour and kind: the dry marks that count, on bare paper or over a black bar; of all colours, or of one."""
    query = (
        select(
            Swatch.colour_id, Swatch.pressure, Swatch.layers, Swatch.id, Swatch.lab_L, Swatch.lab_a, Swatch.lab_b,
            Swatch.source,
        ).add_columns(Swatch.doubt)
        .where(Swatch.paper_id == paper_id, Swatch.finish == Finish.DRY, Swatch.over == over)
        .order_by(*WORST_FIRST)
    )  # fmt: skip
    if of is not None:
        query = query.where(Swatch.colour_id == of)
    marks: dict[int, dict[MarkKind, MeasuredMark]] = {}
    for colour_id, pressure, layers, swatch_id, L, a, b, source, doubt in session.execute(query).all():
        # Rows come worst first, so the one that counts is written last.
        marks.setdefault(colour_id, {})[(pressure, layers)] = MeasuredMark(swatch_id, (L, a, b), source, doubt)
    return marks


def swatches_of(session: Session, colour_id: int) -> list[SwatchRow]:
    """Every swatch of a colour; among those of one kind the one that counts comes first."""
    return _rows(session, _whole().where(Swatch.colour_id == colour_id).order_by(Swatch.paper_id, *_BEST_FIRST))


def swatch_that_counts(
    session: Session, colour_id: int, paper_id: int, pressure: Pressure, layers: int, finish: Finish, over: Ground
) -> SwatchRow | None:  # fmt: skip
    """The swatch that counts for exactly this kind of mark, or None."""
    query = _whole().where(
        Swatch.colour_id == colour_id, Swatch.paper_id == paper_id, Swatch.pressure == pressure,
        Swatch.layers == layers, Swatch.finish == finish, Swatch.over == over,
    )  # fmt: skip
    return next(iter(_rows(session, query.order_by(*_BEST_FIRST).limit(1))), None)


def spectra_that_count(
    session: Session, paper_id: int, pressure: Pressure, layers: int, colour_ids: Sequence[int]
) -> dict[int, list[float]]:
    """By colour: the measured spectrum of the dry mark that counts on bare paper, where there is one."""
    query = (
        select(Swatch.colour_id, Swatch.spectrum)
        .where(
            Swatch.paper_id == paper_id, Swatch.finish == Finish.DRY, Swatch.over == Ground.PAPER,
            Swatch.pressure == pressure, Swatch.layers == layers, Swatch.colour_id.in_(colour_ids),
        )
        .order_by(*WORST_FIRST)
    )  # fmt: skip
    # Rows come worst first, so the one that counts is written last, with a spectrum or without.
    counting = {row.colour_id: row.spectrum for row in session.execute(query).all()}
    return {colour_id: spectrum for colour_id, spectrum in counting.items() if spectrum is not None}


def made_twice(session: Session) -> int:
    """Of how many kinds of dry mark more than one making was measured."""
    kind = (Swatch.colour_id, Swatch.paper_id, Swatch.pressure, Swatch.layers, Swatch.over)
    kinds = select(Swatch.colour_id).where(Swatch.finish == Finish.DRY).group_by(*kind).having(func.count() > 1)
    return session.scalar(select(func.count()).select_from(kinds.subquery())) or 0


def tried_over_black(session: Session) -> frozenset[int]:
    """The colours of which a dry mark over black was measured, on whatever paper."""
    query = select(Swatch.colour_id).where(Swatch.finish == Finish.DRY, Swatch.over == Ground.BLACK).distinct()
    return frozenset(session.scalars(query))


def coverage(session: Session) -> dict[tuple[int, Pressure], set[int]]:
    """By (paper, pressure): the colours of which a dry mark of one layer on bare paper was measured."""
    # One row a paper and pressure: of thirty thousand swatches each row by itself takes a quarter of a second.
    query = (
        select(Swatch.paper_id, Swatch.pressure, func.group_concat(Swatch.colour_id.distinct()))
        .where(Swatch.finish == Finish.DRY, Swatch.over == Ground.PAPER, Swatch.layers == 1)
        .group_by(Swatch.paper_id, Swatch.pressure)
    )
    return {
        (paper_id, pressure): {int(colour_id) for colour_id in colour_ids.split(",")}
        for paper_id, pressure, colour_ids in session.execute(query).all()
    }


def count_swatches(session: Session) -> int:
    """How many swatches there are."""
    return session.scalar(select(func.count(Swatch.id))) or 0


def _whole() -> Select[tuple[object, ...]]:
    return select(
        Swatch.id,
        Swatch.revision,
        Swatch.colour_id,
        Swatch.paper_id,
        Swatch.pressure,
        Swatch.layers,
        Swatch.finish,
        Swatch.over,
        Swatch.lab_L,
        Swatch.lab_a,
        Swatch.lab_b,
        Swatch.spectrum.is_not(None),
        Swatch.source,
        Swatch.instrument,
        Swatch.averaged_of,
        Swatch.burnisher_id,
        Swatch.made_on,
        Swatch.note,
        Swatch.doubt,
    )  # type: ignore[return-value] # nineteen columns: SQLAlchemy's overloads end at ten


def _rows(session: Session, query: Select[tuple[object, ...]]) -> list[SwatchRow]:
    rows: Sequence[Sequence[object]] = session.execute(query).all()
    return [SwatchRow(*row[:8], (row[8], row[9], row[10]), *row[11:]) for row in rows]  # type: ignore[arg-type, call-arg] # as selected
