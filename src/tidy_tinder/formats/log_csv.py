"""A drawing's log as CSV, a line for each."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields

from tidy_tinder.formats.csv_cells import table_as_csv


@dataclass(frozen=True)
class CsvLogLine:
    """One line of the file; its fields are the columns. at: UTC; layers: empty where nobody said."""

    at: str
    kind: str
    maker: str
    range: str
    code: str
    name: str
    instead_of: str
    recipe: str
    area: str
    section: str
    pressure: str
    layers: str
    note: str


def log_as_csv(lines: Iterable[CsvLogLine]) -> str:
    """The file with a heading; a cell that a spreadsheet would work out begins with an apostrophe."""
    return table_as_csv([column.name for column in fields(CsvLogLine)], map(astuple, lines))
