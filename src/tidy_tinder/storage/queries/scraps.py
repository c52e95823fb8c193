"""Reading scraps: layers that were tried, what was said of them, and how they were measured."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from tidy_tinder.core.layers import Layer, turned
from tidy_tinder.core.vocabulary import Finish, Pressure, SaidPressure, Source, Verdict
from tidy_tinder.storage.models import Scrap, ScrapLayer, ScrapReading


@dataclass(frozen=True)
class ReadingRow:
    """A scrap's layers as they were measured: in their order, or turned. Lab D65, 2°."""

    turned: bool
    lab: tuple[float, float, float]
    source: Source
    instrument: str
    made_on: date


@dataclass(frozen=True)
class ScrapRow:
    """One scrap, whole but for spectra; the lowest layer first."""

    id: int
    revision: int
    paper_id: int
    wanted_id: int | None
    wanted_pressure: SaidPressure
    wanted_layers: int
    finish: Finish
    verdict: tuple[Verdict, ...]
    note: str
    made_on: date
    layers: tuple[Layer[int], ...]
    readings: tuple[ReadingRow, ...]

    @property
    def is_burnished_mark(self) -> bool:
        """Whether it is one pencil, burnished on bare paper once and dry."""
        laid = [(one.pressure, one.layers) for one in self.layers]
        return self.finish == Finish.DRY and laid == [(Pressure.BURNISH, 1)]

    def as_read(self, reading: ReadingRow) -> tuple[Layer[int], ...]:
        """The layers in the order in which they were measured."""
        return turned(self.layers) if reading.turned else self.layers


def scrap_rows(session: Session, *where: ColumnElement[bool]) -> list[ScrapRow]:
    """The scraps that fit, the newest first."""
    scraps = session.scalars(select(Scrap).where(*where).order_by(Scrap.made_on.desc(), Scrap.id.desc())).all()
    ids = [row.id for row in scraps]
    layers: dict[int, list[Layer[int]]] = defaultdict(list)
    for one in session.scalars(select(ScrapLayer).where(ScrapLayer.scrap_id.in_(ids)).order_by(ScrapLayer.position)):
        layers[one.scrap_id].append(Layer(one.colour_id, one.pressure, one.layers))
    readings: dict[int, list[ReadingRow]] = defaultdict(list)
    for read in session.scalars(select(ScrapReading).where(ScrapReading.scrap_id.in_(ids)).order_by(ScrapReading.id)):
        lab = (read.lab_L, read.lab_a, read.lab_b)
        readings[read.scrap_id].append(ReadingRow(read.turned, lab, read.source, read.instrument, read.made_on))
    return [
        ScrapRow(
            row.id, row.revision, row.paper_id, row.wanted_id, row.wanted_pressure, row.wanted_layers, row.finish,
            tuple(Verdict(word) for word in row.verdict), row.note, row.made_on, tuple(layers[row.id]),
            tuple(readings[row.id]),
        )
        for row in scraps
    ]  # fmt: skip
