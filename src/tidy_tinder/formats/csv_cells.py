"""Cells and tables of CSV that a spreadsheet opens: none of them is worked out there."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

_CONTROL = re.compile("[\x00-\x1f\x7f-\x9f]")
# What a spreadsheet would take for a formula.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def holds_controls(text: str) -> bool:
    """Whether a text holds what stands for no letter, such as a NUL."""
    return _CONTROL.search(text) is not None


def plain_cell(cell: object) -> object:
    """The cell; words that a spreadsheet would work out begin with an apostrophe."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(_FORMULA) else cell


def table_as_csv(heading: Sequence[str], rows: Iterable[Iterable[object]]) -> str:
    """A table with its heading; a cell that a spreadsheet would work out begins with an apostrophe."""
    made = io.StringIO()
    writer = csv.writer(made, lineterminator="\r\n")
    writer.writerow(heading)
    writer.writerows([plain_cell(cell) for cell in row] for row in rows)
    return made.getvalue()
