"""At the drawing: a sitting by keyboard, timers over a restart, two windows, a dry section offered, cautions once."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import pytest
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server, resize, start_browser
from tests.browser.page import Page, assert_accessible, wait
from tests.browser.test_views import HIDE, hues
from tests.conftest import demo_copy

pytestmark = pytest.mark.browser

STEP, LOG, SIDE = "[aria-label='The step']", "[aria-label='Logged, the newest first']", "aside"
FIELD = "[aria-label='The log'] input"
PUT = """
const [path, body, done] = arguments;
fetch(path, {method: body.method ?? 'PUT', headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)})
  .then((r) => r.text()).then(done);
"""


def tell(page: Page, path: str, method: str, **body: object) -> None:
    """Tell the server something from the page, as another window would."""
    page.driver.execute_async_script(PUT, path, {"method": method, **body})


def log(page: Page, words: str) -> None:
    """Log a pencil by keyboard; the field must hold these words and no others when they are sent."""
    page.press("l")
    wait(page.driver).until(
        lambda _: page.script(f"return document.activeElement === document.querySelector({FIELD!r})")
    )
    page.press(words)
    wait(page.driver).until(
        lambda _: page.one(FIELD).get_attribute("value") == words, f"the log's field does not hold {words}"
    )
    page.press(Keys.ENTER)


def until_step(page: Page, number: int) -> None:
    page.until_text(f"Step {number} of", STEP)


def begin(page: Page, drawing: int) -> None:
    """Put a drawing at hand and begin a sitting."""
    tell(page, "/api/drawings/at-hand", "PUT", drawing_id=drawing)
    page.go("/bench")
    page.press(Keys.ENTER)
    page.until_text("runs", "header")


def drawing_called(page: Page, name: str) -> int:
    return next(int(one["id"]) for one in page.get("/api/drawings")["drawings"] if one["said"]["name"] == name)


def test_a_whole_sitting_by_keyboard_from_preparation_to_as_done(drawn: Page) -> None:
    page = drawn
    page.press("5")
    page.until_text("Before the first step")
    assert_accessible(page)
    page.click("Sharpen the pencils")
    page.until_text("4 of 5 to make ready")
    page.one("[aria-label='A line of your own']").send_keys("Feed the cat", Keys.ENTER)
    page.until_text("Feed the cat", "[aria-label=Preparation] li")
    page.script("document.activeElement.blur()")
    page.press(Keys.ENTER)
    until_step(page, 1)
    assert_accessible(page)
    page.press("t")
    page.until_text("101 Heron Oxlip", LOG)
    assert page.one(f"{STEP} [aria-pressed=true]").text == "✓"
    page.press("T")
    wait(page.driver).until(lambda d: page.all(LOG + " li") == [])
    page.press("t")
    page.press(" ")
    until_step(page, 2)
    # Three pencils that were not planned, by code, by name, and one of two that may be meant.
    log(page, "M12")
    page.until_text("M12 Tallow Cream Jug", LOG)
    log(page, "heron bracken")
    page.until_text("169 Heron Bracken", LOG)
    log(page, "169")
    page.until_text("169 Wader Bracken", "[aria-label='Which of these?']")
    page.press(Keys.TAB)
    page.press(Keys.ENTER)
    page.until_text("Wader Bracken", LOG)
    page.press("x")
    until_step(page, 3)
    page.press("b")
    until_step(page, 2)
    page.press("n")
    page.until_text("skipped", "[aria-label='All steps']")
    for _ in range(7):
        page.press(" ")
    page.until_text("All 8 steps are done")
    page.click("What was done")
    page.until_text("not used", "[aria-label='Planned beside used']")
    page.until_text("added", "[aria-label='Planned beside used']")
    assert_accessible(page)
    text = page.one("textarea").get_attribute("value") or ""
    assert "Heron 169 Bracken" in text
    page.click("Keep it as a recipe")
    page.until_text("Scarlet cap, as done", "h1")
    assert page.get("/api/recipes?paper=1")["recipes"][-1]["title"] == "Scarlet cap, as done"


def test_a_timer_goes_on_over_a_restart_of_server_and_browser(
    browser: WebDriver, serve: Callable[..., Server], drawn_file: Path, tmp_path: Path
) -> None:  # fmt: skip
    folder = tmp_path / "drawn"
    demo_copy(drawn_file, folder / "collection.sqlite")
    server = serve("--demo", "--data", str(folder))
    page = Page(browser, server.address)
    resize(browser, 1280, 800)
    page.go("/bench")
    begin(page, drawing_called(page, "Brackets on bark"))
    page.press("w")
    page.until_text("min since solvent on", "[aria-label='What dries']")
    page.until_text("Not known here yet", "[aria-label='What dries']")
    before = page.get(f"/api/drawings/{drawing_called(page, 'Brackets on bark')}/bench")["dryings"]
    server.stop()
    page = Page(browser, serve("--demo", "--data", str(folder)).address)
    page.go("/bench")
    page.until_text("min since solvent on", "[aria-label='What dries']")
    after = page.get(f"/api/drawings/{drawing_called(page, 'Brackets on bark')}/bench")["dryings"]
    assert [(one["id"], one["begun_at"]) for one in before] == [(one["id"], one["begun_at"]) for one in after]
    assert after[0]["minutes"] >= before[0]["minutes"]
    page.press("y")
    wait(browser).until(lambda d: not d.find_elements("css selector", "[aria-label='What dries']"))
    browser.get("about:blank")


def test_while_one_section_dries_the_next_dry_one_is_offered(drawn: Page) -> None:
    page = drawn
    begin(page, drawing_called(page, "Brackets on bark"))
    page.until_text("section 4", STEP)  # the first three are done in the demo
    page.press("w")
    page.until_text("is not said to be dry", "main")
    page.until_text("Meanwhile: 5", "main")
    assert_accessible(page)
    page.press("a")
    page.until_text("section 5", STEP)
    assert "is not said to be dry" not in page.text("main")
    page.press("u")  # a place is no change: what is taken back is the solvent
    wait(page.driver).until(lambda d: not d.find_elements("css selector", "[aria-label='What dries']"))


def test_two_at_one_bench_see_each_other(drawn: Page, tmp_path: Path) -> None:
    page = drawn
    begin(page, drawing_called(page, "Scarlet cap"))
    other = start_browser(tmp_path / "other")
    try:
        second = Page(other, page.address)
        second.go("/bench")
        until_step(second, 1)
        log(second, "M12")
        page.until_text("M12 Tallow Cream Jug", LOG)
        page.press(" ")
        until_step(second, 2)
        page.press("t")
        second.until_text("117 Heron Rowan Berry", LOG)
        second.until_text("M12 Tallow Cream Jug", LOG)
    finally:
        other.quit()


def test_cautions_stand_before_the_first_stroke_once_a_sitting(drawn: Page) -> None:
    page = drawn
    named = ("Blend with solvent, let it dry", "Scratch out the veins with a scalpel", "Smooth it with solvent again")
    text = "\n".join(("Leaf", *named))
    tell(page, "/api/recipes", "POST", text=text, title="")
    number = page.get("/api/recipes?paper=1")["recipes"][-1]["id"]
    drawing = drawing_called(page, "Scarlet cap")
    tell(page, f"/api/drawings/{drawing}/bench/place", "PUT", recipe_id=number)
    begin(page, drawing)
    page.until_text("no flames", "[role=note]")
    page.until_text("label", "[role=note]")
    assert_accessible(page)
    page.press("c")
    page.until_text("What to mind with solvent", STEP)
    page.press(" ")
    page.until_text("cut away from the hand", "[role=note]")
    page.press("c")
    page.press(" ")
    page.until_text("What to mind with solvent", STEP)
    assert page.all("[role=note]") == []
    page.press("c")
    page.until_text("no flames", "[role=note]")


def test_it_reads_from_a_metre_and_the_only_hues_are_the_pencils(drawn: Page) -> None:
    page = drawn
    begin(page, drawing_called(page, "Moss and slate"))
    assert len(page.all(f"{STEP} [data-hued=mark]")) == 2
    sizes = [float(code.value_of_css_property("font-size").removesuffix("px")) for code in page.all(f"{STEP} code")]
    assert sizes
    assert min(sizes) >= 40
    page.script(HIDE)
    page.quiet()
    assert hues(page.pixels()) == 0
    for width, height in ((390, 800), (800, 390)):
        resize(page.driver, width, height)
        page.quiet()
        assert_accessible(page)
        overflow = page.script("return document.documentElement.scrollWidth - innerWidth")
        assert overflow <= 0


def test_as_one_goes_without_a_recipe(drawn: Page) -> None:
    page = drawn
    drawing = drawing_called(page, "Scarlet cap")
    tell(page, f"/api/drawings/{drawing}/bench/place", "PUT", recipe_id=0)
    begin(page, drawing)
    page.until_text("As you go", "main")
    log(page, "xyzzy")
    page.until_text("No colour is called that", "[role=alert]")
    page.press(Keys.ESCAPE)
    field = page.one(FIELD)
    assert field.get_attribute("value") == "xyzzy"  # nothing typed is lost
    page.empty(field)
    page.press(Keys.ESCAPE)
    log(page, "M12")
    page.until_text("Tallow Cream Jug", "[aria-label='As you go']")
    page.click("M12 Tallow Cream Jug", LOG + " button")
    page.click("Take out")
    wait(page.driver).until(lambda d: "Cream Jug" not in page.text(SIDE))
    page.press("u")
    page.until_text("M12 Tallow Cream Jug", LOG)


def test_a_drawing_goes_out_as_a_file_and_comes_in_again(drawn: Page, tmp_path: Path) -> None:
    page, driver = drawn, drawn.driver
    drawings = page.get("/api/drawings")["drawings"]
    first, before = drawings[0], len(drawings)
    page.go(f"/drawings?drawing={first['id']}")
    link = page.one("a[href$='/file']:not([href*='log'])")
    content = page.get(str(link.get_dom_attribute("href")))
    assert content["name"] == first["said"]["name"]
    path = tmp_path / "drawing.json"
    path.write_text(json.dumps({**content, "paper": "A paper that is not here"}), encoding="utf-8")
    page.click("Take a drawing in from its file", "summary")
    page.one("input[type=file]").send_keys(str(path))
    page.click("Take it in")
    page.until_text("none of your papers")
    # The file is still chosen: only the paper is missing.
    Select(page.field("Drawn on")).select_by_visible_text(first["paper_name"])
    page.click("Take it in")
    page.until_text(f"“{first['said']['name']}, 2” is taken in")
    assert_accessible(page)
    page.press("u")
    wait(driver).until(lambda _: len(page.get("/api/drawings")["drawings"]) == before)
