"""Recipes that are written as a table: “| 1 | Heron 119 | light |”, or cells with tabs between them, as sheets paste.

Bars between cells alone make a table where the first row is a head (“Code | Name | Layers”).
A row becomes a line of a numbered list, or of one with bullets where its first cell does not count the rows; the head
becomes words, and what only rules off is left out. What a head says of a column is said in its cells: “2” under
“Layers” is “2 layers”, “Petal” under “Area” is “Petal:”.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from itertools import pairwise

from tidy_tinder.core.names.finding import fold
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.recipe_words import CODE

_ROW = re.compile(r"\|.*\|$")
_RULE = re.compile(r"\|(?:\s*:?-+:?\s*\|)+$")
_CODE, _WORD = re.compile(rf"{CODE}$"), re.compile(r"[^\W\d_]+$")
_FEWEST_ROWS, _FEWEST_BARS = 2, 2
# Heads of columns, of which one makes the first row a head, folded.
_OF_LAYERS = frozenset("layers layer coats passes schichten lagen couches capas".split())
_OF_ORDER = frozenset("layer coat pass schicht laag couche capa step stage".split())
_OF_PRESSURE = frozenset("pressure druck pression presion".split())
# “2/5”, “2 of 5”: how hard of how hard one may press.
_PRESSED = re.compile(r"(\d{1,2})\s?(?:/|of|out of|von|sur)\s?(\d{1,2})$")
# Shares of it up to which a mark is light, or medium: thirds, a little more for light, as of five steps two are.
_LIGHT, _MEDIUM = 0.4, 0.7
_OF_AREAS = frozenset("area part where zone section passage bereich stelle teil partie zona parte deel plek".split())
_OF_OTHERS = frozenset(
    (
        "step colour color pencil code no nr number name brand range pressure notes note farbe stift druck name marke "
        "couleur crayon pression marque color lapiz presion marca kleur potlood druk merk"
    ).split()
)


def with_rows_as_lines(lines: Sequence[str]) -> list[str]:
    """The lines of a text, spaces in a row being one, with the rows of its tables as lines of a list."""
    made: list[str] = []
    table: list[str] = []
    for line in [*lines, ""]:
        if _ROW.match(_plain(line)) or _has_cells(line) or _goes_on(table, line):
            table.append(line)
            continue
        made.extend(_listed([_barred(row) for row in table]) if len(table) >= _FEWEST_ROWS else map(_plain, table))
        table = []
        made.append(_plain(line))
    return made[:-1]


def _plain(line: str) -> str:
    return " ".join(line.split())


def _has_cells(line: str) -> bool:
    """Whether tabs part a line, and do not only indent it."""
    return "\t" in line.strip()


def _goes_on(table: Sequence[str], line: str) -> bool:
    """Whether bars part a line, and it is a head of columns or stands under one."""
    return line.count("|") >= _FEWEST_BARS and (bool(table) or _is_head(_cells(line)))


def _barred(line: str) -> str:
    """A row with bars round its cells."""
    if _ROW.match(_plain(line)):
        return _plain(line)
    return _plain("| " + line.strip("\r\n ").replace("\t", " | ") + " |")


def _listed(table: Sequence[str]) -> Iterator[str]:
    rules = [at for at, line in enumerate(table) if _RULE.match(line)]
    begins = rules[0] + 1 if rules else int(_is_head(_cells(table[0])))
    head = [_cells(line) for line in table[: rules[0] if rules else begins]]
    rows = [_cells(line) for line in table[begins:] if not _RULE.match(line)]
    yield from (" | ".join(cells) for cells in head)
    counted = len(rows) > 1 and all(cells[0].rstrip(".") == str(at) for at, cells in enumerate(rows, 1))
    columns = head[-1] if head else []
    in_order = bool(columns) and fold(columns[0]) in _OF_ORDER and _goes_up([cells[0] for cells in rows])
    for at, cells in enumerate(rows, 1):
        told = [_told(cell, columns[i] if i < len(columns) else "") for i, cell in enumerate(cells)]
        said = _with_codes_joined([cell for cell in (told[1:] if counted or in_order else told) if cell])
        line = " | ".join(said).replace(": |", ":")
        yield (f"{at}. " if counted else "- ") + line if said else ""


def _is_head(cells: Sequence[str]) -> bool:
    """Whether a first row names columns."""
    return all(fold(cell.rstrip(".:")) in _OF_LAYERS | _OF_AREAS | _OF_OTHERS for cell in cells if cell) and any(cells)


def _goes_up(cells: Sequence[str]) -> bool:
    """Whether cells number what is laid one after the other, from 1 on, some together: 1, 2, 3, 3, 4. All 1 do not."""
    if not all(cell.isdecimal() for cell in cells):
        return False
    numbers = [int(cell) for cell in cells]
    return numbers[0] == 1 and numbers[-1] > 1 and all(b - a in {0, 1} for a, b in pairwise(numbers))


def _told(cell: str, column: str) -> str:
    """A cell with what the head of its column says of it."""
    pressed = _PRESSED.match(cell) if fold(column) in _OF_PRESSURE else None
    if pressed and 0 < int(pressed[1]) <= int(pressed[2]):
        share = int(pressed[1]) / int(pressed[2])
        return Pressure.LIGHT if share <= _LIGHT else Pressure.MEDIUM if share <= _MEDIUM else Pressure.HEAVY
    if fold(column) in _OF_LAYERS and cell.isdecimal():
        return f"{cell} layers" if int(cell) > 1 else ""
    return f"{cell}:" if cell and fold(column) in _OF_AREAS else cell


def _with_codes_joined(cells: Sequence[str]) -> list[str]:
    """A code in a cell of its own belongs to the range before it and to the name after it."""
    joined: list[str] = []
    for at, cell in enumerate(cells):
        after_code = at > 0 and _CODE.match(cells[at - 1])
        after_range = at > 0 and _CODE.match(cell) and _WORD.match(cells[at - 1])
        if after_code or after_range:
            joined[-1] += f" {cell}"
        else:
            joined.append(cell)
    return joined


def _cells(line: str) -> list[str]:
    return [cell.strip() for cell in line.strip("|").split("|")]
