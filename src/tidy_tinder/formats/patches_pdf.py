"""Large plain patches on a printed page, to lay a swatch or a pencil on."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.sheet.layout import PAGE_MM, Box, PageSize
from tidy_tinder.formats.mm_canvas import BOLD, MM, TEXT, MmCanvas, load_fonts

_MARGIN, _HEAD, _GAP, _WORDS = 12.0, 14.0, 5.0, 8.0
_COLUMNS, _ROWS = 2, 3

PATCH_WORDS = (
    "A printer is not a screen, and neither is a pencil: hold one patch against another to judge which is lighter or "
    "warmer, and do not take its colour for the picture's own."
)


@dataclass(frozen=True)
class LargePatch:
    """A patch: its hex, what it is called, and a line of figures."""

    hex: str
    called: str
    figures: str


def patches_pdf(title: str, patches: Sequence[LargePatch], size: PageSize) -> bytes:
    """Six patches a page, on as many pages as they take."""
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 -- loaded only to print

    load_fonts()
    width, height = PAGE_MM[size]
    wide = (width - 2 * _MARGIN - (_COLUMNS - 1) * _GAP) / _COLUMNS
    high = (height - 2 * _MARGIN - _HEAD - (_ROWS - 1) * _GAP) / _ROWS
    out = io.BytesIO()
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Tidy Tinder")
    for start in range(0, len(patches), _COLUMNS * _ROWS):
        canvas.setPageSize((width * MM, height * MM))
        page = MmCanvas(canvas, height)
        page.text(_MARGIN, _MARGIN + 4.0, title, BOLD, 12.0, width - 2 * _MARGIN)
        page.paragraph(Box(_MARGIN, _MARGIN + 5.5, width - 2 * _MARGIN, 7.0), PATCH_WORDS, 8.0)
        for i, one in enumerate(patches[start : start + _COLUMNS * _ROWS]):
            row, column = divmod(i, _COLUMNS)
            x, y = _MARGIN + column * (wide + _GAP), _MARGIN + _HEAD + row * (high + _GAP)
            page.colour(Box(x, y, wide, high - _WORDS), one.hex)
            page.text(x, y + high - 4.2, one.called, BOLD, 9.0, wide)
            page.text(x, y + high - 0.6, one.figures, TEXT, 8.0, wide)
        canvas.showPage()
    canvas.save()
    return out.getvalue()
