"""Recipes that are written as a table with bars: “| 1 | Heron 119 | light |”.

A row becomes a line of a numbered list, or of one with bullets where its first cell does not count the rows; the head
becomes words, and what only rules off is left out.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from tidy_tinder.formats.recipe_words import CODE

_ROW = re.compile(r"\|.*\|$")
_RULE = re.compile(r"\|(?:\s*:?-+:?\s*\|)+$")
_CODE, _WORD = re.compile(rf"{CODE}$"), re.compile(r"[^\W\d_]+$")
_FEWEST_ROWS = 2


def with_rows_as_lines(lines: Sequence[str]) -> list[str]:
    """The lines of a text, in which spaces in a row are one, with the rows of its tables as lines of a list."""
    made: list[str] = []
    table: list[str] = []
    for line in [*lines, ""]:
        if _ROW.match(line):
            table.append(line)
            continue
        made.extend(_listed(table))
        table = []
        made.append(line)
    return made[:-1]


def _listed(table: Sequence[str]) -> Iterator[str]:
    if len(table) < _FEWEST_ROWS:
        yield from table
        return
    rules = [at for at, line in enumerate(table) if _RULE.match(line)]
    head = [_cells(line) for line in table[: rules[0]]] if rules else []
    rows = [_cells(line) for line in table[rules[0] + 1 if rules else 0 :] if not _RULE.match(line)]
    yield from (" | ".join(cells) for cells in head)
    counted = len(rows) > 1 and all(cells[0].rstrip(".") == str(at) for at, cells in enumerate(rows, 1))
    for at, cells in enumerate(rows, 1):
        said = _with_codes_joined([cell for cell in (cells[1:] if counted else cells) if cell])
        yield (f"{at}. " if counted else "- ") + " | ".join(said) if said else ""


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
