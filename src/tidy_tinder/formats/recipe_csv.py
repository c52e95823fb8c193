"""A recipe as CSV, a line for each call: what it asks for, and what stands in on one paper."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields

from tidy_tinder.formats.csv_cells import table_as_csv


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
    return table_as_csv([column.name for column in fields(CsvCall)], map(astuple, calls))
