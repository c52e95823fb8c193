"""Large plain patches on a printed page, to lay a swatch or a pencil on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.sheet.layout import PAGE_MM, Box, PageSize
from tidy_tinder.formats.card_pages import MARGIN, CardHead, card_pages, width_within
from tidy_tinder.formats.mm_canvas import BOLD, TEXT, MmCanvas

_HEAD, _GAP, _WORDS = 15.0, 5.0, 8.0
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
    wide = (width_within(size) - (_COLUMNS - 1) * _GAP) / _COLUMNS
    high = (PAGE_MM[size][1] - 2 * MARGIN - _HEAD - (_ROWS - 1) * _GAP) / _ROWS
    return card_pages(CardHead(title, PATCH_WORDS, _HEAD), size, (wide, high), _GAP, patches, _draw)


def _draw(page: MmCanvas, box: Box, one: LargePatch) -> None:
    page.colour(Box(box.x, box.y, box.width, box.height - _WORDS), one.hex)
    page.text(box.x, box.bottom - 4.2, one.called, BOLD, 9.0, box.width)
    page.text(box.x, box.bottom - 0.6, one.figures, TEXT, 8.0, box.width)
