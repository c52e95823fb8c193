"""Cards of equal fields on as many pages as they take: a title, some words, and the things row by row."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar

from tidy_tinder.core.sheet.layout import PAGE_MM, Box, PageSize
from tidy_tinder.formats.mm_canvas import BOLD, MM, TEXT, MmCanvas, load_fonts

MARGIN = 12.0
T = TypeVar("T")


@dataclass(frozen=True)
class CardHead:
    """What stands above the fields of each page; high: in mm, with the room below it."""

    title: str
    words: str
    high: float
    subtitle: str = ""


def width_within(size: PageSize) -> float:
    """The mm between the margins of a page."""
    return PAGE_MM[size][0] - 2 * MARGIN


def rows_on_page(head: CardHead, size: PageSize, high: float, gap: float) -> int:
    """How many rows of fields of this height in mm a page holds below its head."""
    return int((PAGE_MM[size][1] - 2 * MARGIN - head.high + gap + 1e-6) // (high + gap))


def card_pages(
    head: CardHead, size: PageSize, field: tuple[float, float], gap: float, things: Sequence[T],
    draw: Callable[[MmCanvas, Box, T], None],
) -> bytes:  # fmt: skip
    """The things in order, as PDF. field: width and height of each in mm; draw: draws one into its box."""
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 -- loaded only to print

    load_fonts()
    (width, height), (wide, high) = PAGE_MM[size], field
    columns = int((width - 2 * MARGIN + gap + 1e-6) // (wide + gap))
    rows = rows_on_page(head, size, high, gap)
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setTitle(head.title)
    canvas.setCreator("Tidy Tinder")
    for start in range(0, len(things), columns * rows):
        canvas.setPageSize((width * MM, height * MM))
        page = MmCanvas(canvas, height)
        _draw_head(page, head, width_within(size))
        for i, thing in enumerate(things[start : start + columns * rows]):
            row, column = divmod(i, columns)
            box = Box(MARGIN + column * (wide + gap), MARGIN + head.high + row * (high + gap), wide, high)
            draw(page, box, thing)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw_head(page: MmCanvas, head: CardHead, across: float) -> None:
    below = MARGIN + 4.0
    page.text(MARGIN, below, head.title, BOLD, 11.0, across)
    if head.subtitle:
        below += 4.5
        page.text(MARGIN, below, head.subtitle, TEXT, 9.0, across)
    page.paragraph(Box(MARGIN, below + 1.5, across, 8.0), head.words, 8.5)
