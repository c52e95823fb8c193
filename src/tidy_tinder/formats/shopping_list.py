"""The list of what to buy: as CSV, and on paper with a box to tick and a narrow column to fold into a pocket."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import astuple, dataclass

from tidy_tinder.core.sheet.layout import Box, PageSize
from tidy_tinder.formats.card_pages import CardHead, card_pages
from tidy_tinder.formats.csv_cells import table_as_csv
from tidy_tinder.formats.mm_canvas import BOLD, TEXT, MmCanvas

# A column of a pocket's width: cut or folded along its edge; three of them on A4, in millimetres.
_WIDE, _HIGH, _GAP, _HEAD = 60.0, 15.0, 2.0, 22.0
_TICK, _HAIR, _INK = 4.0, 0.2, 0.8


@dataclass(frozen=True)
class ListedLine:
    """A line; price: of one piece as it is written, "" where nobody said; near: what is owned that comes nearest."""

    range: str
    code: str
    name: str
    pieces: int
    price: str
    why: str
    near: str


@dataclass(frozen=True)
class PrintedList:
    """The list. words: what stands under its title, such as what it costs."""

    lines: Sequence[ListedLine]
    words: str


def shopping_list_csv(printed: PrintedList) -> str:
    """The file with a heading; a cell that a spreadsheet would work out begins with an apostrophe."""
    heading = ["range", "code", "name", "pieces", "price", "why", "nearest owned"]
    return table_as_csv(heading, map(astuple, printed.lines))


def shopping_list_pdf(printed: PrintedList, size: PageSize) -> bytes:
    """The list on as many pages as it takes, in columns of a pocket's width."""
    head = CardHead("To buy", printed.words, _HEAD)
    return card_pages(head, size, (_WIDE, _HIGH), _GAP, printed.lines, _draw)


def _draw(page: MmCanvas, box: Box, line: ListedLine) -> None:
    page.outline(Box(box.x, box.y + 0.5, _TICK, _TICK), _HAIR, _INK)
    at, wide = box.x + _TICK + 2.0, _WIDE - _TICK - 2.0
    pieces = f"{line.pieces} × " if line.pieces > 1 else ""
    page.text(at, box.y + 3.6, f"{pieces}{line.range} {line.code}", BOLD, 9.5, wide)
    page.text(at, box.y + 7.2, " · ".join(part for part in (line.name, line.price) if part), TEXT, 8.0, wide)
    page.text(at, box.y + 10.4, line.why, TEXT, 7.0, wide)
    page.text(at, box.y + 13.4, line.near, TEXT, 7.0, wide)
