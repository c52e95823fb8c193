"""Marks as CSV: the table itself, as a spreadsheet opens it."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence

from tidy_tinder.formats.columns import Columns
from tidy_tinder.formats.csv_cells import plain_cell
from tidy_tinder.formats.swatch_file.headings import FIELDS, SPECTRAL_FIELDS, names_values
from tidy_tinder.formats.swatch_file.record import MarkRecord, MarksFile, Said, refused
from tidy_tinder.formats.swatch_file.table import Table, cells_of, read_table

KIND = "CSV"
_LONGEST_HEADING = 20_000
_SEPARATORS = (",", ";", "\t")
# Lines before the heading.
_MOST_BEFORE = 40
# As a reader of CSV sees it: old systems end a line with a return alone.
_LINE_END = re.compile(r"\r\n|\r|\n")


def write_csv(records: Iterable[MarkRecord]) -> bytes:
    """The marks as a CSV file: UTF-8 with a byte order mark, as spreadsheets want it."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow((*FIELDS, *SPECTRAL_FIELDS))
    for number, record in enumerate(records, 1):
        writer.writerow([_cell(cell) for cell in cells_of(record, number)])
    return out.getvalue().encode("utf-8-sig")


def read_csv(text: str, said: Said) -> MarksFile:
    """The marks of a CSV file, with commas, semicolons or tabs; every problem is in the result."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=_separator(text, said.columns), strict=True)
    try:
        lines = list(_lines(reader))
    except csv.Error as error:
        return refused(KIND, reader.line_num, f"This line cannot be read: {error}. Check its quotation marks.")
    # Instruments write titles and settings before the table.
    first = next((at for at, (_, cells) in enumerate(lines[:_MOST_BEFORE]) if names_values(cells, said.columns)), 0)
    return read_table(Table(KIND, lines[first][1], lines[first + 1 :], heading_line=lines[first][0]), said)


def _separator(text: str, columns: Columns) -> str:
    """What parts the cells: that under which a line is a heading, since values with decimal commas hold as many commas
    as semicolons; without such a line, what stands in it most often.
    """
    beginning = _LINE_END.split(text, _MOST_BEFORE)[:_MOST_BEFORE]
    for one in _SEPARATORS:
        read = (next(csv.reader([line[:_LONGEST_HEADING]], delimiter=one), []) for line in beginning)
        if any(names_values(cells, columns) for cells in read):
            return one
    return max(_SEPARATORS, key=lambda one: max(line.count(one) for line in beginning))


def _lines(reader: Iterator[Sequence[str]]) -> Iterator[tuple[int, Sequence[str]]]:
    number = 1
    for cells in reader:
        yield number, [cell[1:] if cell.startswith("'") else cell for cell in cells]
        number = getattr(reader, "line_num", number) + 1


def _cell(cell: str) -> object:
    """A cell with the apostrophe that reading takes away again; numbers may begin with a minus, and are no formula."""
    return f"'{cell}" if cell.startswith("'") else cell if _is_number(cell) else plain_cell(cell)


def _is_number(cell: str) -> bool:
    try:
        float(cell)
    except ValueError:
        return False
    return True
