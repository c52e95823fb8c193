"""Cells of a CSV that a spreadsheet opens: none of them is worked out there."""

from __future__ import annotations

# What a spreadsheet would take for a formula.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def plain_cell(cell: object) -> object:
    """The cell; words that a spreadsheet would work out begin with an apostrophe."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(_FORMULA) else cell
