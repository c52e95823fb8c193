"""Swatches as files, out and in: CSV, CGATS.17, CxF3. Looked at first, then taken in whole or not at all."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime
from enum import StrEnum
from typing import Any, TypeVar

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, aliased

from tidy_tinder.core.errors import echoed
from tidy_tinder.core.names.finding import fold_code
from tidy_tinder.formats.columns import Field, ReadAs
from tidy_tinder.formats.swatch_file.cgats import write_cgats
from tidy_tinder.formats.swatch_file.cxf import write_cxf
from tidy_tinder.formats.swatch_file.headings import mark_fields
from tidy_tinder.formats.swatch_file.reading import read_marks
from tidy_tinder.formats.swatch_file.record import MOST_PROBLEMS, Ask, MarkProblem, MarkRecord, MarksFile, Said
from tidy_tinder.formats.swatch_file.text_table import write_csv
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import InvalidFileError, RefusedError
from tidy_tinder.services.exchange.columns import Table, all_columns, remember_columns
from tidy_tinder.services.journal import Changed, add_many, changed, relabel, writing
from tidy_tinder.services.swatches.store import MadeMark, Measurement, swatch_values
from tidy_tinder.storage.models import Colour, ColourRange, Paper, Swatch

T = TypeVar("T")
# Two readings of one mark never agree to so many digits.
_DIGITS = 4


class SwatchFileKind(StrEnum):
    """A format in which swatches are written."""

    CSV = "csv"
    CGATS = "cgats"
    CXF = "cxf"


@dataclass(frozen=True)
class HowMany:
    """How many marks are on a paper, or of a range."""

    name: str
    marks: int


@dataclass(frozen=True)
class SwatchesPreview:
    """What taking a file in would do, or why it cannot be. kind: of file; asks: what must be said first; new, same:
    marks that are not and that are here; papers, ranges: that the new ones are on and of, with how many.
    """

    kind: str
    asks: tuple[Ask, ...]
    problems: tuple[MarkProblem, ...]
    new: int
    same: int
    papers: tuple[HowMany, ...]
    ranges: tuple[HowMany, ...]
    with_spectrum: int
    adapted: int
    regridded: int
    ignored: tuple[str, ...]
    read_as: tuple[ReadAs, ...]

    @property
    def fields(self) -> tuple[Field, ...]:
        """All that a column can be read as."""
        return mark_fields()

    @property
    def changes_nothing(self) -> bool:
        """True where all of it is here already."""
        return not (self.new or self.problems or self.asks)


def export_swatches(collection: Collection, kind: SwatchFileKind, paper_id: int | None = None) -> bytes:
    """All swatches, or those on one paper, as a file that `import_swatches` takes in again.

    Raises RefusedError where there are none, UnreadableError where the format cannot be written here.
    """
    with collection() as session:
        records = _records(session, paper_id)
    if not records:
        raise RefusedError("There are no swatches to write yet. Read some first.")
    today = datetime.now(UTC).date()
    if kind == SwatchFileKind.CSV:
        return write_csv(records)
    return write_cgats(records, today) if kind == SwatchFileKind.CGATS else write_cxf(records, today)


def preview_swatches(collection: Collection, content: bytes, said: Said) -> SwatchesPreview:
    """Say what taking a file in would do; nothing is changed."""
    with collection() as session:
        said = replace(said, columns=all_columns(session, Table.SWATCHES, said.columns))
        file = read_marks(content, said)
        return _Taking(session, file, said).preview()


def import_swatches(collection: Collection, content: bytes, said: Said) -> tuple[SwatchesPreview, Changed | None]:
    """Take the marks of a file in, all or none: what was done, and the change (None where all was here already).

    Raises InvalidFileError where something is wrong with it or is still to be said.
    """
    with collection() as session:
        said = replace(said, columns=all_columns(session, Table.SWATCHES, said.columns))
    file = read_marks(content, said)
    with writing(collection, "Swatches taken in") as session:
        taking = _Taking(session, file, said)
        preview = taking.preview()
        if preview.asks:
            raise InvalidFileError(f"The file does not say its {', '.join(preview.asks)}. Say it, then take it in.")
        if preview.problems:
            first = preview.problems[0]
            where = f"line {first.line}" + (f", field {first.field}" if first.field else "")
            raise InvalidFileError(f"It has {len(preview.problems)} problems, the first in {where}: {first.message}")
        add_many(session, Swatch, taking.new)
        remember_columns(session, Table.SWATCHES, said.columns)
        count = f"{preview.new} swatches" if preview.new != 1 else "1 swatch"
        relabel(session, f"{count} taken in from a file")
        made = changed(session)
        return preview, made if made.rows else None


def _records(session: Session, paper_id: int | None) -> list[MarkRecord]:
    burnisher, ranges = aliased(Colour), _range_names(session)
    query = (
        select(Swatch, Colour, Paper.name, burnisher)
        .join(Colour, Swatch.colour_id == Colour.id)
        .join(Paper, Swatch.paper_id == Paper.id)
        .outerjoin(burnisher, Swatch.burnisher_id == burnisher.id)
        .order_by(Swatch.id)
    )
    if paper_id is not None:
        query = query.where(Swatch.paper_id == paper_id)
    return [
        MarkRecord(
            0, ranges[colour.range_id], colour.code, paper, one.pressure,
            np.array([one.lab_L, one.lab_a, one.lab_b]), None if one.spectrum is None else np.array(one.spectrum),
            colour.name, one.layers, one.finish, one.over, (ranges[other.range_id], other.code) if other else ("", ""),
            one.source, one.instrument, one.made_on, one.note, one.doubt, one.averaged_of, one.aperture_mm,
        )
        for one, colour, paper, other in session.execute(query).all()
    ]  # fmt: skip


def _range_names(session: Session) -> dict[int, str]:
    """What each range is called in a file: its name, with its maker where two makers have a range of that name."""
    ranges = session.execute(select(ColourRange.id, ColourRange.maker, ColourRange.name)).all()
    often = Counter(name.casefold() for _, _, name in ranges)
    return {i: name if often[name.casefold()] == 1 else f"{maker} {name}" for i, maker, name in ranges}


def _codes_by_range(session: Session) -> dict[str, dict[str, int]]:
    """Each colour by the folded code, by what its range is called in a file."""
    names = _range_names(session)
    codes: dict[str, dict[str, int]] = {}
    for range_id, code, i in session.execute(select(Colour.range_id, Colour.code, Colour.id)):
        codes.setdefault(names[range_id].casefold(), {})[fold_code(code)] = i
    return codes


_Mark = tuple[MadeMark, tuple[float, ...]]


class _Taking:
    """A file against what is here."""

    def __init__(self, session: Session, file: MarksFile, said: Said) -> None:
        self._file, self._said = file, said
        self._problems = list(file.problems)
        self._papers = {name.casefold(): (i, name) for i, name in session.execute(select(Paper.id, Paper.name))}
        self._ranges = {name.casefold(): name for name in _range_names(session).values()}
        self._colours = _codes_by_range(session)
        self._here = _days_by_mark(session) if file.records else {}
        self.new: list[dict[str, Any]] = []
        self._same, self._spectra = 0, 0
        self._on: Counter[str] = Counter()
        self._of: Counter[str] = Counter()
        for record in file.records:
            self._take(record)

    def preview(self) -> SwatchesPreview:
        """What would be done."""
        return SwatchesPreview(
            self._file.kind, self._file.asks, tuple(self._problems[:MOST_PROBLEMS]), len(self.new), self._same,
            _most_first(self._on), _most_first(self._of), self._spectra, self._file.adapted,
            self._file.regridded, self._file.ignored, self._file.read_as,
        )  # fmt: skip

    def _take(self, record: MarkRecord) -> None:
        paper = self._known(record, "PAPER", record.paper, self._said.paper, self._papers)
        colour = self._colour(record, record.range_name, record.code, "CODE")
        burnisher = None
        if record.burnisher[1]:
            burnisher = self._colour(record, *record.burnisher, "BURNISHER_CODE")
            if burnisher is None:
                return
        if paper is None or colour is None:
            return
        mark = MadeMark(colour, paper[0], record.pressure, record.layers, record.finish, record.over, burnisher)
        key = (mark, _rounded(record.lab))
        days = self._here.setdefault(key, set())
        if record.made_on in days or (record.made_on is None and days):
            self._same += 1
            return
        days.add(record.made_on or date.min)
        spectrum = None if record.spectrum is None else [float(v) for v in record.spectrum]
        L, a, b = (float(v) for v in record.lab)
        measured = Measurement(
            (L, a, b), record.source, record.instrument, spectrum, record.aperture_mm, record.averaged_of,
            record.doubt, record.made_on, record.note,
        )  # fmt: skip
        try:
            self.new.append(swatch_values(mark, measured))
        except RefusedError as error:
            self._wrong(record, "FINISH", error.detail)
            return
        self._spectra += spectrum is not None
        self._on[paper[1]] += 1
        self._of[self._range_of(record.range_name)] += 1

    def _colour(self, record: MarkRecord, range_name: str, code: str, field: str) -> int | None:
        codes = self._known(record, "RANGE", range_name, self._said.range_name, self._colours)
        if codes is None:
            return None
        found = codes.get(fold_code(code))
        if found is None:
            name = self._range_of(range_name)
            self._wrong(record, field, f"{name} {echoed(code)} is on none of your charts. Take its chart in first.")
        return found

    def _range_of(self, name: str) -> str:
        return self._ranges.get(name.casefold()) or self._ranges[(self._said.range_name or "").casefold()]

    def _known(self, record: MarkRecord, field: str, name: str, said: str | None, known: Mapping[str, T]) -> T | None:
        """What is here under a name, or under what was said for names that are not here."""
        found = known.get(name.casefold())
        if found is None and said is not None:
            found = known.get(said.casefold())
        if found is None:
            what = field.lower()
            self._wrong(
                record, field, f"There is no {what} “{echoed(name)}” here. Say which of yours it is, or make it."
            )
        return found

    def _wrong(self, record: MarkRecord, field: str, message: str) -> None:
        self._problems.append(MarkProblem(record.line, field, message))


def _most_first(counted: Counter[str]) -> tuple[HowMany, ...]:
    return tuple(HowMany(name, marks) for name, marks in counted.most_common())


def _rounded(lab: Iterable[float]) -> tuple[float, ...]:
    return tuple(round(float(v), _DIGITS) for v in lab)


def _days_by_mark(session: Session) -> dict[_Mark, set[date]]:
    """On which days each mark was read with what result."""
    columns: Sequence[Any] = (
        Swatch.colour_id, Swatch.paper_id, Swatch.pressure, Swatch.layers, Swatch.finish, Swatch.over,
        Swatch.burnisher_id, Swatch.lab_L, Swatch.lab_a, Swatch.lab_b, Swatch.made_on,
    )  # fmt: skip
    here: dict[_Mark, set[date]] = {}
    for row in session.execute(select(*columns)):
        *mark, L, a, b, day = row
        here.setdefault((MadeMark(*mark), _rounded((L, a, b))), set()).add(day)
    return here
