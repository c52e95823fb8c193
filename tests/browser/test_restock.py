"""What to buy: three proposed, a budget, a twin told, listed, bought, undone; a tin packed and the filter following."""

from __future__ import annotations

from pathlib import Path
from urllib.request import urlopen

import pypdfium2
import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import resize
from tests.browser.page import WAIT_SECONDS, Page, assert_accessible, wait

pytestmark = pytest.mark.browser

CARDS, LIST = "main ol > li", "main ul li"


def until_proven(page: Page) -> None:
    """Wait until layers are looked at and the best is proven: pairs may have to be mixed first."""
    wait(page.driver, 8 * WAIT_SECONDS).until(lambda _: "no others do better" in page.text("main"), "not proven")
    page.quiet()


def test_three_are_proposed_listed_by_one_key_bought_and_undone(page: Page, tmp_path: Path) -> None:
    page.go("/tidy")
    page.press("6")
    page.until_text("If you bought only three")
    until_proven(page)
    assert_accessible(page)
    cards = page.driver.find_elements("css selector", CARDS)
    assert len(cards) == 3
    assert all("ΔE in the middle" in card.text for card in cards)
    page.press("+")
    page.until_text("If you bought only four")
    page.press("-")
    until_proven(page)
    page.press("l")
    page.until_text("On the list", "main ol")
    page.click("The list")
    page.until_text("3 in all", "main")
    assert_accessible(page)
    before = page.get("/api/collection")["owned"]
    with urlopen(f"{page.address}/api/restock/list.pdf") as answer:
        content = answer.read()
    with pypdfium2.PdfDocument(content) as document:
        assert "To buy" in document[0].get_textpage().get_text_bounded()
    for box in page.driver.find_elements("css selector", f"{LIST} input[type=checkbox]"):
        box.click()
    page.until_text("Bought: 3 into the tidy", "main")
    page.press("b")
    page.until_text("Nothing is on the list", "main")
    assert page.get("/api/collection")["owned"] == before + 3
    page.press("u")
    page.until_text("3 in all", "main")
    assert page.get("/api/collection")["owned"] == before


def test_a_budget_is_kept_and_a_twin_is_told_before_it_is_bought(page: Page) -> None:
    page.go("/restock/prices")
    page.one("[aria-label='Price of Heron']").send_keys("2,50", Keys.ENTER)
    page.one("#currency").send_keys("kr", Keys.ENTER)
    page.quiet()
    assert_accessible(page)
    page.go("/restock")
    until_proven(page)
    page.one("input[type=text]:not([role])").send_keys("5")
    page.until_text("colours have no price and are left out", "main")
    until_proven(page)
    cards = page.driver.find_elements("css selector", CARDS)
    assert 1 <= len(cards) <= 2
    assert all("2.50 kr" in card.text for card in cards)
    mine, twin = (
        page.get(f"/api/find?q={name}%20153&paper=1")["hits"][0]["card"]["colour"]["id"] for name in ("Heron", "Wader")
    )
    said = page.script(
        "const send = (to, body) => fetch(to, {method: 'POST', headers: {'Content-Type': 'application/json'}, "
        "body: JSON.stringify(body)});"
        "return send('/api/tidy/owned', {colour_ids: [arguments[0]], owned: true})"
        ".then(() => send('/api/restock/list', {colours: [arguments[1]]})).then((said) => said.status)",
        mine,
        twin,
    )
    assert said == 200
    page.go("/restock/list")
    page.until_text("a twin of your Heron 153", "main")


def test_a_tin_is_packed_for_two_recipes_and_the_filter_follows(page: Page) -> None:
    page.go("/restock/pack")
    page.quiet()
    for box in page.driver.find_elements("css selector", "fieldset input")[:2]:
        box.click()
    wait(page.driver, 8 * WAIT_SECONDS).until(lambda _: "Put them into" in page.text("main"), "nothing is packed")
    page.until_text("No other tin of that size does better", "main")
    assert_accessible(page)
    page.click("Pack it and take it along")
    page.until_text("Packed.", "main")
    assert page.get("/api/collection")["travel"] == ["Travel tin"]
    page.script("document.activeElement.blur()")
    page.press("m")
    page.quiet()
    assert page.get("/api/collection")["with_me"] is True


def test_lengths_are_typed_and_what_is_lost_goes_onto_the_list(page: Page) -> None:
    page.go("/restock/lasting")
    page.until_text("a stub", "main")
    assert_accessible(page)
    field = page.one("[aria-label='Length of Heron 111 in mm']")
    page.empty(field)
    field.send_keys("90", Keys.ENTER)
    page.until_text("Heron 111 Amber Jar is 90 mm long")
    page.click("Onto the list")
    page.until_text("on the list", "footer")
    resize(page.driver, 390, 800)
    page.go("/restock/list")
    page.until_text("1 in all", "main")
    assert page.script("return document.documentElement.scrollWidth <= innerWidth")
    assert_accessible(page)
