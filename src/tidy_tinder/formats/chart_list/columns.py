"""A list with a heading over its columns: each cell is read as what its column holds."""

from __future__ import annotations

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.names.finding import fold
from tidy_tinder.core.vocabulary import Effect, Opacity
from tidy_tinder.formats.chart_list.entries import Entry
from tidy_tinder.formats.chart_list.marks import Says, mark_of, said_alone
from tidy_tinder.formats.chart_list.tokens import Kind, tokens_of

_HEADS = {
    "code": "code no nr num number nummer numero art ref item sku farbnummer farbnr",
    "name": "name colour color farbe bezeichnung farbname nom couleur nombre nome colore",
    "lightfastness": "lightfastness lightfast lf light astm lichtechtheit permanence rating",
    "opacity": "opacity transparency cover covers deckkraft opacite",
    "effect": "effect finish",
    "hex": "hex rgb srgb",
    "count": "owned count qty quantity anzahl have",
}
_COLUMN_OF = {head: column for column, words in _HEADS.items() for head in words.split()} | {
    "colour no": "code", "color no": "code", "colour number": "code", "color number": "code",
    "colour name": "name", "color name": "name",
}  # fmt: skip
# Most lines are no heading, and are not taken apart to see that.
_NAMED = re.compile("|".join(_HEADS["name"].split()), re.IGNORECASE)
_SPACES = re.compile(r" {2,}")


@dataclass(frozen=True)
class Columns:
    """The heading of a table: what parts its cells, and what each column holds ("" for what is not read)."""

    parting: str
    holds: tuple[str, ...]
    headings: tuple[str, ...]

    def entry(self, line: str) -> Entry:
        """The colour of one line."""
        entry = Entry()
        for place, cell in enumerate(_cells(line, self.parting)):
            column = self.holds[place] if place < len(self.holds) else ""
            if not cell:
                continue
            if column == "code":
                entry.code = cell
            elif column == "name":
                entry.parts.append(("", cell.split()))
            elif (said := _said(column, cell)) is not None:
                entry.say(*said, cell)
            else:
                heading = self.headings[place] if place < len(self.headings) else ""
                entry.left_out.append(f"{heading} {cell}".strip())
        return entry


def heading_of(line: str) -> Columns | None:
    """The columns where a line is a heading that names those of the code and the name; else None."""
    if not _NAMED.search(line):
        return None
    for parting in ("\t", ";", "|", ",", "  "):
        cells = _cells(line, parting)
        if len(cells) < 2:
            continue
        holds = tuple(_COLUMN_OF.get(fold(cell), "") for cell in cells)
        if {"code", "name"} <= set(holds) and all(holds.count(column) == 1 for column in set(holds) - {""}):
            return Columns(parting, holds, tuple(cells))
    return None


def _cells(line: str, parting: str) -> Sequence[str]:
    if parting == "  ":
        return _SPACES.split(line.strip())
    try:
        read = next(csv.reader([line], delimiter=parting, skipinitialspace=True), [])
    except csv.Error:
        read = line.split(parting)
    cells = [cell.strip() for cell in read]
    return cells[1 if parting == "|" and cells and not cells[0] else 0 :]


def _said(column: str, cell: str) -> tuple[Says, str] | None:
    """What a cell says in its column; None where that column cannot hold it."""
    marks = [mark_of(t.mark, t.text) for t in tokens_of(cell) if t.kind is Kind.MARK]
    alone = said_alone(cell)
    match column:
        case "lightfastness":
            read = next((m for m in marks if m[0] is Says.LIGHTFASTNESS), None)
            return read if read is not None and len(marks) == 1 else (Says.LIGHTFASTNESS, cell)
        case "opacity":
            read = next((m for m in marks if m[0] is Says.OPACITY), alone)
            return read if read is not None and read[1] in tuple(Opacity) else None
        case "effect":
            return alone if alone is not None and alone[1] in tuple(Effect) else None
        case "hex":
            return next((m for m in marks if m[0] is Says.HEX), None)
        case "count":
            return (Says.COUNT, cell) if cell.isascii() and cell.isdecimal() and len(cell) == 1 else None
    return None
