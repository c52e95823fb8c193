"""A palette card, as PDF and PNG: each colour beside what is laid for it, and a blank to swatch by hand.

Printed colours are no pencils': the card says so, and the blank is for the real one.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.sheet.layout import Box, PageSize
from tidy_tinder.formats.card_pages import CardHead, card_pages, width_within
from tidy_tinder.formats.mm_canvas import BOLD, TEXT, MmCanvas

# Twelve rows on A4: as many colours as are found where nothing else is asked for.
_HEAD, _ROW, _GAP = 20.0, 18.7, 2.5
# Number; the colour and what is laid for it, edge to edge; the words; the blank.
_NUMBER, _PATCH, _BLANK = 8.0, 22.0, 40.0
_HAIR = 0.15
_LINE = 3.5
# Dots an inch of the PNG: a phone shows it sharp, a printer prints it well enough.
_DPI = 150


@dataclass(frozen=True)
class CardRow:
    """A row: its number, what it is called; hex of the colour that is wanted and of what is laid (None: open); lines:
    the layers with their places, or why it is open.
    """

    number: str
    called: str
    wanted: str
    laid: str | None
    lines: tuple[str, ...]
    foot: str


@dataclass(frozen=True)
class PaletteCard:
    """A card: its title, the line below it, how its rows are to be read, and the rows."""

    title: str
    subtitle: str
    words: str
    rows: Sequence[CardRow]


def palette_card_pdf(card: PaletteCard, size: PageSize) -> bytes:
    """The card, on as many pages as it takes."""
    head = CardHead(card.title, card.words, _HEAD, card.subtitle)
    return card_pages(head, size, (width_within(size), _ROW), _GAP, card.rows, _draw)


def pdf_as_png(pdf: bytes) -> bytes:
    """The pages of a PDF below one another in one PNG."""
    import pypdfium2  # noqa: PLC0415 -- loaded only for a picture of a page
    from PIL import Image  # noqa: PLC0415 -- the same

    with pypdfium2.PdfDocument(pdf) as document:
        pages = [page.render(scale=_DPI / 72).to_pil().convert("RGB") for page in document]
    whole = Image.new("RGB", (max(page.width for page in pages), sum(page.height for page in pages)), "white")
    at = 0
    for page in pages:
        whole.paste(page, (0, at))
        at += page.height
    out = io.BytesIO()
    whole.save(out, "PNG", dpi=(_DPI, _DPI))
    return out.getvalue()


def _draw(page: MmCanvas, box: Box, row: CardRow) -> None:
    page.text(box.x, box.y + 6.0, row.number, BOLD, 12.0, _NUMBER)
    at = box.x + _NUMBER
    page.colour(Box(at, box.y, _PATCH, box.height), row.wanted)
    if row.laid is None:
        page.outline(Box(at + _PATCH, box.y, _PATCH, box.height), _HAIR, 0.6)
        page.text(at + _PATCH + 2.0, box.y + box.height / 2 + 1.0, "open", TEXT, 9.0, _PATCH - 4.0)
    else:
        page.colour(Box(at + _PATCH, box.y, _PATCH, box.height), row.laid)
    words = at + 2 * _PATCH + 4.0
    wide = box.right - _BLANK - 4.0 - words
    page.text(words, box.y + 3.4, row.called, BOLD, 8.5, wide)
    if row.laid is None:
        page.paragraph(Box(words, box.y + 4.6, wide, box.height - 8.4), " ".join(row.lines), 8.5)
    else:
        for i, line in enumerate(row.lines[:3], 1):
            page.text(words, box.y + 3.4 + i * _LINE, line, TEXT, 8.5, wide)
    page.text(words, box.bottom - 1.0, row.foot, TEXT, 7.5, wide)
    page.outline(Box(box.right - _BLANK, box.y, _BLANK, box.height), _HAIR, 0.6)
