"""Pages to be coloured in by hand and kept, not measured: ordered pairs to practise on, and a blank palette card."""

from __future__ import annotations

from collections.abc import Sequence

from tidy_tinder.core.sheet.layout import Box, PageSize
from tidy_tinder.formats.card_pages import CardHead, card_pages
from tidy_tinder.formats.mm_canvas import CODE, TEXT, MmCanvas
from tidy_tinder.formats.sheet_page import Label

_HEAD, _GAP = 16.0, 3.0
# A pair: its words, then two fields, one for each order, of a light and a heavy half each.
_PAIR = (90.0, 20.0)
_FIELD = 11.0
# A colour of a card: its words and a blank beside them.
_BLANK = (43.0, 15.0)
_HAIR = 0.15

PRACTICE_WORDS = (
    "Each pair in both orders: lay the first one, then the other over it, at the left lightly and at the right hard. "
    "Say first what it will be; then look."
)
CARD_WORDS = "Swatch each pencil in its field, heavy at the left and lighter to the right, on the paper you draw on."


def practice_pdf(pencils: Sequence[Label], size: PageSize) -> bytes:
    """Every two of these pencils, each pair in both orders."""
    pairs = [(a, b) for i, a in enumerate(pencils) for b in pencils[i + 1 :]]
    return card_pages(CardHead("Pairs in both orders", PRACTICE_WORDS, _HEAD), size, _PAIR, _GAP, pairs, _pair)


def palette_card_pdf(title: str, pencils: Sequence[Label], size: PageSize) -> bytes:
    """A card with a blank for each of these pencils."""
    return card_pages(CardHead(title, CARD_WORDS, _HEAD), size, _BLANK, _GAP, pencils, _blank)


def _pair(page: MmCanvas, box: Box, pair: tuple[Label, Label]) -> None:
    """Two orders beside one another, each under its own words."""
    half = (box.width - _GAP) / 2
    for order, (first, second) in enumerate((pair, pair[::-1])):
        x = box.x + order * (half + _GAP)
        page.text(x, box.y + 3.2, f"{first.code} {first.name}", TEXT, 7.0, half)
        page.text(x, box.y + 6.8, f"then {second.code} {second.name}", TEXT, 7.0, half)
        field = Box(x, box.y + 8.4, half, _FIELD)
        page.outline(field, _HAIR, 0.6)
        middle = field.x + half / 2
        page.line(middle, field.y, middle, field.y + 1.2, _HAIR, 0.6)
        page.line(middle, field.bottom - 1.2, middle, field.bottom, _HAIR, 0.6)


def _blank(page: MmCanvas, box: Box, pencil: Label) -> None:
    """Code and name above a blank."""
    used = page.text(box.x, box.y + 3.2, pencil.code, CODE, 7.0, box.width)
    page.text(box.x + used + 1.2, box.y + 3.2, pencil.name, TEXT, 7.0, box.width - used - 1.2)
    page.outline(Box(box.x, box.y + 4.6, box.width, box.height - 4.6), _HAIR, 0.6)
