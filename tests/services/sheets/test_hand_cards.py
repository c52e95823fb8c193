"""Pages to be kept, not measured: every two pencils in both orders, a blank for each of a choice."""

from __future__ import annotations

import re

import pypdfium2
import pytest
from tests.services.at_home import VELLUM

from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.sheets.hand_cards import palette_card, practice_sheet
from tidy_tinder.services.sheets.plan import For, Order, SheetPlan, count_sheet
from tidy_tinder.services.tray import put_in_tray


def words(pdf: bytes) -> list[str]:
    """The words of each page."""
    document = pypdfium2.PdfDocument(pdf)
    return [" ".join(page.get_textpage().get_text_range().split()) for page in document]


def orders(said: str) -> int:
    """How many orders stand on a page: “then” before a code."""
    return len(re.findall(r"then [A-Z]*\d", said))


def test_every_two_pencils_of_the_tray_in_both_orders(demo: Collection) -> None:
    put_in_tray(demo, [1, 2, 3], True)
    said = " ".join(words(practice_sheet(demo, PageSize.A4)))
    for first, second in (
        ("101", "102"),
        ("102", "101"),
        ("101", "103"),
        ("103", "101"),
        ("102", "103"),
        ("103", "102"),
    ):
        assert f"then {second}" in said.split(f"{first} ", 1)[1]
    assert orders(said) == 6


@pytest.mark.parametrize("size", [PageSize.A4, PageSize.LETTER, PageSize.A5])
def test_twelve_pencils_take_pages_that_hold_them_all(demo: Collection, size: PageSize) -> None:
    put_in_tray(demo, list(range(1, 13)), True)
    pages = words(practice_sheet(demo, size))
    assert sum(map(orders, pages)) == 12 * 11
    put_in_tray(demo, [20], True)
    with pytest.raises(RefusedError, match="it holds 13"):
        practice_sheet(demo, size)


def test_one_pencil_makes_no_pair(demo: Collection) -> None:
    put_in_tray(demo, [1], True)
    with pytest.raises(RefusedError, match="Put some in"):
        practice_sheet(demo, PageSize.A4)


def test_a_blank_for_each_pencil_in_the_order_that_was_asked_for(demo: Collection) -> None:
    plan = SheetPlan(VELLUM, order=Order.VALUE)
    pages = words(palette_card(demo, plan))
    assert "163 pencils on Vellum board" in pages[0]
    assert count_sheet(demo, plan).colour_ids
    assert sum(page.count("Swatch each pencil") for page in pages) == len(pages)
    assert "Oxlip" in " ".join(pages)
    with pytest.raises(RefusedError, match="No pencil is left"):
        palette_card(demo, SheetPlan(VELLUM, which=For.TRAY))
