"""A card to practise the eye on paper: fields to swatch, a question to each row, and the answers on a page apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.sheet.layout import Box, PageSize
from tidy_tinder.formats.card_pages import CardHead, card_pages, rows_on_page, width_within
from tidy_tinder.formats.mm_canvas import BOLD, TEXT, MmCanvas

_HEAD, _ROW, _GAP = 24.0, 22.0, 2.5
_NUMBER, _FIELD = 8.0, 20.0
# Of the width between the margins, for the words of a question.
_WORDS = 0.32
_HAIR, _GREY = 0.2, 0.6


@dataclass(frozen=True)
class CardQuestion:
    """A question on paper. pencils: what is swatched into each field, at most six; answer: for the last page."""

    words: str
    pencils: tuple[str, ...]
    answer: str


@dataclass(frozen=True)
class DrillCard:
    """A card: what stands under its title, and its questions."""

    words: str
    questions: Sequence[CardQuestion]


@dataclass(frozen=True)
class _Row:
    number: int
    question: CardQuestion
    answered: bool


def drill_card_pdf(card: DrillCard, size: PageSize) -> bytes:
    """The questions, then the answers from a new page on."""
    head = CardHead("Eye practice on paper", card.words, _HEAD)
    rows = rows_on_page(head, size, _ROW, _GAP)
    asked: list[_Row | None] = [_Row(i, one, answered=False) for i, one in enumerate(card.questions, 1)]
    # Filled up to the end of the page: who folds or covers the last one sees no answer.
    asked += [None] * (-len(asked) % rows)
    answers = [_Row(i, one, answered=True) for i, one in enumerate(card.questions, 1)]
    return card_pages(head, size, (width_within(size), _ROW), _GAP, [*asked, *answers], _draw)


def _draw(page: MmCanvas, box: Box, row: _Row | None) -> None:
    if row is None:
        return
    page.text(box.x, box.y + 5.0, str(row.number), BOLD, 11.0, _NUMBER)
    if row.answered:
        page.text(box.x + _NUMBER, box.y + 5.0, row.question.answer, TEXT, 10.0, box.width - _NUMBER)
        return
    words = _WORDS * box.width
    page.paragraph(Box(box.x + _NUMBER, box.y + 1.0, words - 4.0, _ROW - 4.0), row.question.words, 10.0)
    at = box.x + _NUMBER + words
    wide = min(_FIELD, (box.right - at) / max(len(row.question.pencils), 1) - 1.0)
    for i, pencil in enumerate(row.question.pencils):
        field = Box(at + i * (wide + 1.0), box.y, wide, _ROW - 8.0)
        page.outline(field, _HAIR, _GREY)
        # Range and code below one another: six fields on a small page are narrow.
        for line, part in enumerate(pencil.rsplit(" ", 1), 1):
            page.text(field.x, field.bottom + 3.0 * line, part, TEXT, 7.0, wide)
