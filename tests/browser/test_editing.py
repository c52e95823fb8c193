"""A recipe's lines edited by keyboard and by drag, over a kill and in two windows; versions; checks; its card."""

from __future__ import annotations

import io
import signal
from collections.abc import Callable
from pathlib import Path

import pypdfium2
import pytest
from PIL import Image
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server, console, resize
from tests.browser.page import Page, assert_accessible, wait
from tests.conftest import demo_copy

pytestmark = pytest.mark.browser

JOINED = "then 107 over it, light, then 107 over it, light"
SAVED = "[role=status][data-saved=true]"
FETCH = """
const done = arguments[arguments.length - 1];
fetch(arguments[0], arguments[1]).then(async (r) => done([...new Uint8Array(await r.arrayBuffer())]));
"""


def open_editor(page: Page, recipe: int = 1) -> None:
    page.go(f"/recipes/{recipe}/edit")
    page.one("ol textarea")


def lines(page: Page) -> list[str]:
    return list(page.script("return [...document.querySelectorAll('ol textarea')].map((field) => field.value)"))


def kept(page: Page, recipe: int = 1) -> list[str]:
    """The lines as the server has them, once all is kept."""
    wait(page.driver).until(lambda _: page.all(SAVED), "the lines were not kept")
    return kept_lines(page, recipe)


def kept_lines(page: Page, recipe: int = 1) -> list[str]:
    """The lines as the server has them now."""
    return [step["text"] for step in page.get(f"/api/recipes/{recipe}?paper=1")["steps"]]


def take_back(page: Page) -> None:
    """The last change, by key."""
    page.quiet()  # what is taken back must be known before it is asked for
    before = kept_lines(page)
    page.press("u")
    wait(page.driver).until(lambda _: kept_lines(page) != before, "nothing was taken back")


def into(page: Page, line: int, *keys: str) -> None:
    """Put the caret at the end of a line and type."""
    page.all("ol textarea")[line].click()
    page.press(Keys.END, *keys)


def test_lines_are_edited_by_keyboard_and_taken_back(page: Page) -> None:
    page.go("/recipes/1")
    page.press("e")
    page.until_text("Edit its lines", "h1")
    first = lines(page)
    into(page, 2, Keys.ENTER, "then 107 over it, light")
    assert page.text("ol li:nth-child(4) code") == "107"
    assert kept(page)[3] == "then 107 over it, light"
    page.chord(Keys.ALT, Keys.ARROW_UP)
    assert lines(page)[2:4] == ["then 107 over it, light", first[2]]
    page.chord(Keys.ALT, Keys.ENTER)
    assert lines(page)[2] == lines(page)[3] == "then 107 over it, light"
    page.press(Keys.HOME, Keys.BACKSPACE)
    assert lines(page)[2] == JOINED
    assert kept(page) == lines(page)
    for _ in range(3):
        page.chord(Keys.CONTROL, "z")
    assert lines(page)[2:4] == [first[2], "then 107 over it, light"]
    assert kept(page) == lines(page)
    assert_accessible(page)
    page.click("Done")
    page.until_text("then 107 over it, light", "[role=listbox]")
    # Lines are kept where the hand rests: on a slow machine the three keys were kept one after another, not together.
    for _ in range(3):
        if JOINED not in kept_lines(page):
            take_back(page)
    page.until_text(JOINED, "[role=listbox]")


def test_a_line_is_dragged_and_moved_by_its_handle(page: Page) -> None:
    open_editor(page)
    before = lines(page)
    handles = page.all("ol li [aria-label^='Move line']")
    hand = ActionChains(page.driver).click_and_hold(handles[2]).move_by_offset(0, 12)
    hand.move_to_element(handles[5]).move_by_offset(0, 6).perform()
    page.one("ol li[data-dragging]")
    ActionChains(page.driver).release().perform()
    wait(page.driver).until(lambda _: lines(page).index(before[2]) > 3, "the line was not dragged")
    assert kept(page) == lines(page)
    assert sorted(lines(page)) == sorted(before)
    # The same by keys: lifted with space, moved with arrows, put down with space.
    now = lines(page)
    page.script("document.querySelectorAll(\"ol li [aria-label^='Move line']\")[2].focus()")
    page.press(" ")
    page.press(Keys.ARROW_DOWN)
    page.press(" ")
    wait(page.driver).until(lambda _: lines(page) != now, "the line was not moved")
    assert kept(page)[3] == now[2]


def test_what_a_line_is_for_and_how_its_colours_are_laid(page: Page) -> None:
    open_editor(page)
    page.all("ol textarea")[3].click()
    page.quiet()
    Select(page.one("select[aria-label='Layers of 117 Rowan Berry']")).select_by_visible_text("3 layers")
    page.quiet()
    Select(page.field("Its purpose")).select_by_visible_text("deepen")
    page.click("then it is left to dry")
    assert kept(page)
    page.click("Done")
    page.until_text("deepen, left to dry", "[role=listbox]")
    page.until_text("medium, 3 layers", "[role=listbox]")


def test_no_letter_is_lost_when_the_program_is_killed_while_one_types(
    browser: WebDriver, serve: Callable[..., Server], demo_file: Path, tmp_path: Path
) -> None:
    data = tmp_path / "collection"
    data.mkdir()
    demo_copy(demo_file, data / "collection.sqlite")
    server = serve("--data", str(data))
    page = Page(browser, server.address)
    resize(browser, 1280, 800)
    open_editor(page)
    page.all("ol textarea")[2].click()
    ActionChains(browser).send_keys(Keys.END, ", twice").perform()
    server.process.send_signal(signal.SIGKILL)
    server.process.communicate()
    page.until_text("Not kept yet", "[role=status]")
    port = server.address.rstrip("/").rsplit(":", 1)[1]
    serve("--data", str(data), "--port", port)
    browser.refresh()
    page.fitted()
    assert lines(page)[2].endswith(", twice")
    assert kept(page)[2].endswith(", twice")
    console(browser)


def test_two_windows_never_overwrite_each_other(page: Page) -> None:
    open_editor(page)
    recipe = page.get("/api/recipes/1?paper=1")
    elsewhere = [{"id": step["id"], "text": step["text"], "kind": step["kind"]} for step in recipe["steps"]][:-1]
    body = {"revision": recipe["revision"], "title": recipe["title"], "lines": elsewhere}
    page.driver.execute_async_script(
        "const done = arguments[1];"
        "fetch('/api/recipes/1/lines', {method: 'PUT', headers: {'Content-Type': 'application/json'},"
        " body: JSON.stringify(arguments[0])}).then(() => done());",
        body,
    )
    into(page, 2, ", twice")
    page.until_text("changed in another window", "[role=alert]")
    page.click("Keep what is written here")
    assert kept(page)[2].endswith(", twice")
    assert len(kept(page)) == len(recipe["steps"])
    assert any("409" in str(entry) for entry in console(page.driver))


def test_versions_are_compared_and_gone_back_to(page: Page) -> None:
    open_editor(page)
    into(page, 2, ", heavy")
    kept(page)
    page.click("Versions")
    page.until_text("1 of 11 lines differs", "[role=status]")
    page.until_text("in other words", "table")
    page.field("What is it called?").send_keys("with a heavy map")
    page.click("Keep the recipe as it is now")
    page.until_text("Nothing differs", "[role=status]")
    before = Select(page.field("Before"))
    before.select_by_value(before.options[-1].get_attribute("value") or "")
    page.until_text("1 of 11 lines differs", "[role=status]")
    assert_accessible(page)
    page.click("Go back to “As taken in”")
    page.until_text("Nothing differs", "[role=status]")
    page.press("u")
    page.until_text("1 of 11 lines differs", "[role=status]")


def test_checks_are_read_followed_and_switched_off(page: Page) -> None:
    page.go("/recipes/3")
    page.until_text("2 things that may not work", "button")
    page.until_text("Fresh air, no flames", "[role=listbox]")
    page.press("w")
    page.until_text("goes in first and heavy", "[aria-label='What was found']")
    assert_accessible(page)
    page.click("Not in this recipe")
    page.until_text("1 thing that may not work", "button")
    page.until_text("“light over dark” is off in this recipe", "[aria-label=Checks]")
    page.click("Lay Tallow M36 Ink Cap lightly")
    page.until_text("12 checks find nothing", "button")
    page.until_text("light", "[role=listbox] [role=option]")
    page.click("Check it again")
    # A paler dark lets the pale layer over it show.
    page.until_text("13 checks find nothing", "button")
    page.press("u")
    page.press("u")
    page.until_text("1 thing that may not work", "button")


def test_the_card_of_a_recipe_is_printed_and_sent(page: Page) -> None:
    page.go("/recipes/1")
    pdf = bytes(page.driver.execute_async_script(FETCH, "/api/recipes/1/card/pdf?paper=1&closest=overall", {}))
    with pypdfium2.PdfDocument(pdf) as document:
        text = "".join(sheet.get_textpage().get_text_bounded() for sheet in document)
    assert "Scarlet cap with pale warts" in text
    assert "Heron 119 Fly Cap" in text
    assert "nothing is chosen for it yet" in text
    png = bytes(page.driver.execute_async_script(FETCH, "/api/recipes/1/card/png?paper=1", {}))
    with Image.open(io.BytesIO(png)) as picture:
        assert picture.format == "PNG"
        assert picture.width > 1000
    page.click("Share", "summary")
    assert "Palette card to print (PDF)" in page.text("details ul")


def test_the_editor_on_a_phone(page: Page) -> None:
    resize(page.driver, 390, 800)
    open_editor(page)
    into(page, 4, Keys.ENTER, "then 107, light")
    assert kept(page)[5] == "then 107, light"
    assert page.script("return document.documentElement.scrollWidth <= innerWidth")
    page.click("Move up")
    assert lines(page)[4] == "then 107, light"
