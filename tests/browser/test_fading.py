"""A fade test begun, read twice with the simulated reader, classed; and the check for sale that follows."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import resize
from tests.browser.page import Page, assert_accessible, wait
from tests.browser.test_bench import tell

pytestmark = pytest.mark.browser

FORM, MARKS = "[aria-label='A new strip']", "[aria-label='Marks of this strip']"


def day_before(days: int) -> str:
    return (date.today() - timedelta(days=days)).isoformat()


def set_day(page: Page, field: str, day: str) -> None:
    """Choose a day, as the browser's own picker does."""
    page.script(
        "const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;"
        "const field = document.querySelector(arguments[0]); set.call(field, arguments[1]);"
        "field.dispatchEvent(new Event('input', {bubbles: true}));",
        field,
        day,
    )
    page.quiet()


def put_on(page: Page, code: str) -> None:
    finder = page.one(f"{FORM} [placeholder='Find a pencil to put on it']")
    finder.click()
    finder.send_keys(code)
    page.until_text(code.rpartition(" ")[2], "[role=listbox]")
    finder.send_keys(Keys.ENTER)
    page.until_text(code, f"{FORM} ul")


def read_all(page: Page, day: str, count: int) -> None:
    set_day(page, "input[type=date]", day)
    for _ in range(count):
        page.until_text("Read the", "[aria-label='Read it'] button")
        page.press("r")
    page.until_text("All halves are read for this day", "[aria-label='Read it'] button")


def test_a_strip_is_begun_read_twice_classed_and_the_sale_check_follows(page: Page) -> None:
    page.go("/restock/fading")
    page.until_text("No strip lies in the light yet", "main")
    page.click("Begin a strip")
    assert_accessible(page)
    page.field("Called").send_keys("Kitchen window")
    set_day(page, f"{FORM} input[type=date]", day_before(100))
    put_on(page, "Heron 117")
    put_on(page, "Heron 107")
    page.click("Into the light")
    page.until_text("100 days", "main")
    page.until_text("It is time to read it again", "main")
    page.until_text("1", "nav[aria-label=Stations] a[href='/restock']")
    assert_accessible(page)
    page.click("Start the simulated reader")
    page.click("Calibrate")
    read_all(page, day_before(65), 4)
    read_all(page, day_before(0), 4)
    page.until_text("by your own test; the chart says", MARKS)
    rows = [row.text for row in page.all(f"{MARKS} tbody tr")]
    assert "IV by your own test" in rows[0] or "III" in rows[0]
    assert "I by your own test" in rows[1]
    page.one("[aria-label='How far each mark has come over time'] summary").click()
    table = page.text("[aria-label='How far each mark has come over time, as a table']")
    assert "35" in table
    assert "100" in table
    assert_accessible(page)
    page.press("/")
    page.press("Heron 117", Keys.ENTER)
    page.until_text("lightfast, own test", "aside")
    tell(
        page, "/api/drawings", "POST", name="To sell", paper_id=1, width_mm=210, height_mm=297, for_sale=True
    )  # fmt: skip
    drawing = next(d["id"] for d in page.get("/api/drawings")["drawings"] if d["said"]["name"] == "To sell")
    tell(page, "/api/drawings/at-hand", "PUT", drawing_id=drawing)
    tell(page, "/api/recipes", "POST", text="Sold\nHeron\nCap:\n- 117, medium\n- 107, light", title="")
    recipe = max(one["id"] for one in page.get("/api/recipes?paper=1")["recipes"])
    page.go(f"/recipes/{recipe}")
    page.press("w")
    page.until_text("in your own fade test, and the drawing is for sale", "[aria-label='What was found']")
    page.go("/restock/fading")
    page.click("Kitchen window")
    page.click("Remove this strip")
    page.until_text("No strip lies in the light yet", "main")
    page.press("u")
    page.until_text("Kitchen window", "main")


def test_a_half_is_typed_in_and_a_strip_fits_a_phone(page: Page) -> None:
    page.go("/restock/fading")
    colour = page.get("/api/find?q=Heron%20119&paper=1")["hits"][0]["card"]["colour"]["id"]
    tell(
        page, "/api/fade-strips", "POST", name="Sill", paper_id=1, place="north window", begun_on=day_before(10),
        marks=[{"colour": colour, "pressure": "light"}],
    )  # fmt: skip
    strip = page.get("/api/fade-strips")["strips"][0]["id"]
    page.go(f"/restock/fading/{strip}")
    for half, L in (("covered", 60.0), ("open", 66.0)):
        opened = page.one(f"{MARKS} details")
        if not opened.get_attribute("open"):
            page.one(f"{MARKS} details summary").click()
        page.script("arguments[0].value = arguments[1]", page.one(f"{MARKS} select"), half)
        page.script("arguments[0].dispatchEvent(new Event('change', {bubbles: true}))", page.one(f"{MARKS} select"))
        page.type_lab(L, 30.0, 20.0, inside=f"{MARKS} form")
        page.one(f"{MARKS} form button").click()
        page.quiet()
    page.until_text("6.0", MARKS)
    # Typed values are doubtful: no class is told that they cannot tell.
    page.until_text("I or II or III so far", MARKS)
    resize(page.driver, 390, 800)
    page.go(f"/restock/fading/{strip}")
    wait(page.driver).until(lambda _: page.script("return document.documentElement.scrollWidth <= innerWidth"))
    assert_accessible(page)
