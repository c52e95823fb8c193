"""A picture at the size of its drawing, over as many pages as that takes, with a grid to transfer it by.

Neighbouring pages overlap, so that they can be cut and glued; each says its place, and a bar of 100 mm tells whether
the printer has kept the size.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import ceil
from typing import Any

from tidy_tinder.core.sheet.layout import PAGE_MM, Box, PageSize
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.mm_canvas import BOLD, MM, TEXT, MmCanvas, load_fonts

_MARGIN, _FOOT, OVERLAP = 8.0, 10.0, 8.0
_BAR = 100.0
_HAIR, _UNDER = 0.2, 0.6
MOST_PAGES = 80
"""More is no print but a mistake in the size."""


@dataclass(frozen=True)
class GridLines:
    """Where the lines of a grid lie, in mm from the left and from the top of the drawing, its edges left out."""

    x: tuple[float, ...]
    y: tuple[float, ...]


@dataclass(frozen=True)
class Tiles:
    """How a drawing is laid on pages of width × height mm: columns × rows of them, each showing wide × high mm."""

    width: float
    height: float
    columns: int
    rows: int
    wide: float
    high: float


def tiles_for(width_mm: float, height_mm: float, size: PageSize) -> Tiles:
    """The fewest pages, upright or on their side."""
    ways = []
    for width, height in (PAGE_MM[size], PAGE_MM[size][::-1]):
        wide, high = width - 2 * _MARGIN, height - 2 * _MARGIN - _FOOT
        columns, rows = _count(width_mm, wide), _count(height_mm, high)
        ways.append(Tiles(width, height, columns, rows, wide, high))
    return min(ways, key=lambda way: (way.columns * way.rows, way.width > way.height))


def picture_pages_pdf(
    title: str, picture: bytes, width_mm: float, height_mm: float, lines: GridLines, size: PageSize
) -> bytes:
    """The pages. picture: JPEG or PNG, laid as large as the drawing allows without bending it, in its middle.

    Raises UnreadableError for more pages than anyone prints.
    """
    from reportlab.lib.utils import ImageReader  # noqa: PLC0415 -- loaded only to print
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 -- the same

    load_fonts()
    tiles = tiles_for(width_mm, height_mm, size)
    count = tiles.columns * tiles.rows
    if count > MOST_PAGES:
        raise UnreadableError(f"This drawing takes {count} pages of {size}; at most {MOST_PAGES} are printed at once.")
    image = ImageReader(io.BytesIO(picture))
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Tidy Tinder")
    laid = _inside(image.getSize(), width_mm, height_mm)
    for number in range(count):
        row, column = divmod(number, tiles.columns)
        canvas.setPageSize((tiles.width * MM, tiles.height * MM))
        page = MmCanvas(canvas, tiles.height)
        corner = (column * (tiles.wide - OVERLAP), row * (tiles.high - OVERLAP))
        _draw_tile(page, tiles, corner, image, laid, (width_mm, height_mm), lines)
        _foot(page, tiles, f"{title}: page {number + 1} of {count}, row {row + 1}, column {column + 1}")
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _count(drawing: float, shown: float) -> int:
    return max(1, ceil((drawing - OVERLAP - 1e-6) / (shown - OVERLAP)))


def _inside(pixels: tuple[int, int], width_mm: float, height_mm: float) -> Box:
    """The picture's place in the drawing."""
    scale = min(width_mm / pixels[0], height_mm / pixels[1])
    wide, high = pixels[0] * scale, pixels[1] * scale
    return Box((width_mm - wide) / 2, (height_mm - high) / 2, wide, high)


def _draw_tile(
    page: MmCanvas, tiles: Tiles, corner: tuple[float, float], image: Any, laid: Box, drawing: tuple[float, float],
    lines: GridLines,
) -> None:  # fmt: skip
    """What one page shows of the drawing. corner: of the page's part, in mm of the drawing."""
    dx, dy = _MARGIN - corner[0], _MARGIN - corner[1]
    shown = Box(_MARGIN, _MARGIN, min(tiles.wide, drawing[0] - corner[0]), min(tiles.high, drawing[1] - corner[1]))
    page.canvas.saveState()
    clip = page.canvas.beginPath()
    clip.rect(*page.placed(shown))
    page.canvas.clipPath(clip, stroke=0)
    x, y, width, height = page.placed(Box(laid.x + dx, laid.y + dy, laid.width, laid.height))
    page.canvas.drawImage(image, x, y, width, height)
    # A thin dark line in a wider light one is seen on whatever lies below.
    for thick, black in ((_UNDER, 0.0), (_HAIR, 1.0)):
        for at in lines.x:
            page.line(at + dx, dy, at + dx, drawing[1] + dy, thick, black)
        for at in lines.y:
            page.line(dx, at + dy, drawing[0] + dx, at + dy, thick, black)
        page.outline(Box(dx, dy, drawing[0], drawing[1]), thick, black)
    page.canvas.restoreState()
    _names(page, shown, dx, lines.x, drawing[0], across=True)
    _names(page, shown, dy, lines.y, drawing[1], across=False)
    page.outline(shown, _HAIR, 0.4)


def _names(page: MmCanvas, shown: Box, by: float, lines: Sequence[float], end: float, across: bool) -> None:
    """Columns are counted in letters above, rows in figures at the left, as on a map."""
    edges = [0.0, *lines, end]
    for i, (a, b) in enumerate(pairwise(edges)):
        at = (a + b) / 2 + by
        name = _letters(i) if across else str(i + 1)
        if across and shown.x < at < shown.right:
            page.text(at - 1.0, shown.y - 1.2, name, BOLD, 8.0, 12.0)
        elif not across and shown.y < at < shown.bottom:
            page.text(shown.x - 5.0, at + 1.0, name, BOLD, 8.0, 5.0)


def _letters(i: int) -> str:
    """A to Z, then AA, AB …"""
    return chr(65 + i) if i < 26 else _letters(i // 26 - 1) + chr(65 + i % 26)


def _foot(page: MmCanvas, tiles: Tiles, words: str) -> None:
    """The bar of 100 mm and what the page is."""
    y = tiles.height - _MARGIN - 2.0
    page.line(_MARGIN, y, _MARGIN + _BAR, y, _HAIR, 1.0)
    for x in (_MARGIN, _MARGIN + _BAR):
        page.line(x, y - 1.5, x, y + 1.5, _HAIR, 1.0)
    page.text(_MARGIN, y - 2.2, "100 mm: print at 100 %, without “fit to page”", TEXT, 7.5, _BAR)
    page.text(_MARGIN + _BAR + 4.0, y, words, TEXT, 7.5, tiles.width - 2 * _MARGIN - _BAR - 4.0)
