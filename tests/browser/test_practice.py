"""Eye practice by keyboard alone: a round begun, answered, gone on with after a reload, ended, and what it tells."""

from __future__ import annotations

import pytest

from tests.browser.conftest import resize
from tests.browser.page import Page, assert_accessible

pytestmark = pytest.mark.browser

QUESTION, TOLD = "[aria-label=Question]", "[aria-label=Question] [role=status]"


def lighter(page: Page) -> str:
    """The key of the lighter of two, by what the server sends to be shown."""
    first, second = (one["patch"]["lab"][0] for one in page.get("/api/practice/round")["question"]["choices"])
    return "1" if first > second else "2"


def begin_with(page: Page, kind: str) -> None:
    """Begin a round of one kind alone."""
    for label in page.all("fieldset label"):
        if label.text.strip() != kind:
            label.click()
    page.click("Begin")


def test_a_round_by_keyboard_goes_on_after_a_reload_and_tells_how_it_went(page: Page) -> None:
    page.go("/restock")
    page.click("Eye practice")
    page.until_text("About ten minutes", "main")
    assert_accessible(page)
    begin_with(page, "lighter or darker")
    page.until_text("Which is lighter?", QUESTION)
    assert_accessible(page)
    page.press(lighter(page))
    page.until_text("Right.", TOLD)
    page.until_text("this one", QUESTION)
    assert_accessible(page)
    page.press(" ")
    page.until_text("2 of 40", QUESTION)
    shown = page.get("/api/practice/round")["question"]
    page.go("/restock/practice")
    page.until_text("2 of 40", QUESTION)
    assert page.get("/api/practice/round")["question"] == shown
    wrong = "2" if lighter(page) == "1" else "1"
    page.press(wrong)
    page.until_text("Not quite.", TOLD)
    page.press(" ")
    for number in range(3, 14):
        page.until_text(f"{number} of 40", QUESTION)
        page.press(lighter(page))
        page.until_text("Right.", TOLD)
        page.press(" ")
    page.click("Enough for today")
    page.until_text("How sharp your eye is", "main")
    page.until_text("13", "[aria-label='Sharpness by kind']")
    page.until_text("L*", "[aria-label='Sharpness by kind']")
    assert_accessible(page)


def test_six_are_put_in_order_on_a_phone(page: Page) -> None:
    resize(page.driver, 390, 800)
    page.go("/restock/practice")
    begin_with(page, "order by value")
    page.until_text("Put them in order", QUESTION)
    choices = page.get("/api/practice/round")["question"]["choices"]
    order = sorted(range(6), key=lambda place: -choices[place]["patch"]["lab"][0])
    for place in order[:5]:
        page.press(str(place + 1))
    assert page.text(TOLD) == ""
    page.press(str(order[5] + 1))
    page.until_text("Right.", TOLD)
    page.until_text("darkest", QUESTION)
    assert page.script("return document.documentElement.scrollWidth <= innerWidth")
    assert_accessible(page)
