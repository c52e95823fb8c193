"""A recipe as CSV, a line for each call: what it asks for, and what stands in on one paper."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields

from tidy_tinder.formats.csv_cells import plain_cell


@dataclass(frozen=True)
class CsvCall:
    """One line of the file; its fields are the columns."""

    step: str
    area: str
    text: str
    maker: str
    range: str
    code: str
    name: str
    pressure: str
    layers: int
    role: str
    stands: str
    laid: str


def recipe_as_csv(calls: Iterable[CsvCall]) -> str:
    """The file with a heading; a cell that a spreadsheet would work out begins with an apostrophe."""
    made = io.StringIO()
    writer = csv.writer(made, lineterminator="\r\n")
    writer.writerow([column.name for column in fields(CsvCall)])
    for call in calls:
        writer.writerow([plain_cell(cell) for cell in astuple(call)])
    return made.getvalue()
