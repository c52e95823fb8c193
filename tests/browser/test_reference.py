"""Station 3 in the browser: a drawing, its picture, picks by keyboard, answers that follow the paper."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Server, console, resize
from tests.browser.page import PAPER, WAIT_SECONDS, Page, assert_accessible, wait
from tests.browser.test_views import HIDE, hues
from tests.conftest import demo_copy
from tests.core.painted_scenes import coded

pytestmark = pytest.mark.browser


@pytest.fixture
def halves(tmp_path: Path) -> Path:
    """A picture of two colours, one of them darker than white paper lets it be."""
    lab = np.tile(np.array((2.0, 0.0, 0.0)), (400, 600, 1))
    lab[:, 300:] = (60.0, 45.0, 45.0)
    path = tmp_path / "two halves of a cap.png"
    Image.fromarray(coded(lab)).save(path)
    return path


def begin(page: Page, name: str) -> None:
    page.go("/drawings?new")
    page.field("Name").send_keys(name)
    page.click("Begin it")


def add(page: Page, path: Path) -> None:
    page.one("input[type=file]").send_keys(str(path))
    page.one("[role=application]")
    page.quiet()


def picked(page: Page) -> list[str]:
    return [" ".join((e.get_attribute("textContent") or "").split()) for e in page.all("[data-pick]")]


def until_picked(page: Page, count: int) -> None:
    wait(page.driver).until(lambda _: len(picked(page)) == count, f"there are not {count} picks")
    page.quiet()


def test_a_picture_to_picks_to_answers_to_the_tray_by_keyboard(page: Page, halves: Path) -> None:
    begin(page, "Two halves")
    page.press("3")
    page.until_text("A picture for Two halves")
    add(page, halves)
    picture = page.one("[role=application]")
    assert page.script("return document.activeElement.getAttribute('role')") == "application"
    # In the middle two colours meet, and it says so; a few steps to the right there is one.
    page.press(Keys.ARROW_RIGHT, Keys.ARROW_LEFT)
    page.until_text("Two colours meet here. Zoom in or widen.")
    page.press(*[Keys.ARROW_RIGHT] * 8)
    page.until_text("Varies by 0.0 ΔE")
    page.press(Keys.ENTER)
    until_picked(page, 1)
    picture.send_keys(*[Keys.ARROW_LEFT] * 20, Keys.ENTER)
    until_picked(page, 2)
    assert picked(page)[0].startswith("1, a middle vivid orange, value ")
    assert picked(page)[1].startswith("2, a black, value 0")
    # Reach comes first: told on white, solved on black.
    # Every two pencils are mixed first, which takes a while where other tests run beside it.
    limit = "on this paper with what you own"
    wait(page.driver, 8 * WAIT_SECONDS).until(lambda _: limit in page.text("main"), "the reach did not come")
    page.until_text("Nothing that you own goes further on any of your papers")
    page.one("[data-pick][tabindex='0']").send_keys(Keys.ARROW_LEFT)
    page.one("[aria-label='Colour 1'] [role=listbox] [role=option]")
    page.until_text("What of yours comes nearest on Vellum board")
    first = page.text("[aria-label='Colour 1'] [role=listbox] [aria-selected=true]")
    page.one("[aria-label='Colour 1'] [role=listbox]").send_keys(Keys.ARROW_DOWN)
    assert page.text("[aria-label='Colour 1'] [role=listbox] [aria-selected=true]") != first
    page.press("p")
    page.until_text("into the tray")
    assert_accessible(page)


def test_everything_follows_the_drawing(page: Page) -> None:
    begin(page, "Plate one")
    page.press("1")
    page.press("p")
    page.until_text("into the tray")
    page.press("]")
    paper = page.text(PAPER)
    page.press("d")
    page.click("No drawing", inside="[role=menuitem]")
    page.until_text("No drawing", inside="header")
    page.until_text("empty", inside="footer")
    page.press("[")
    assert page.text(PAPER) != paper
    page.press("d")
    page.click("Plate one", inside="[role=menuitem]")
    wait(page.driver).until(lambda _: page.text(PAPER) == paper, "the paper did not follow")
    wait(page.driver).until(lambda _: "empty" not in page.text("footer"), "the tray did not follow")


def test_main_colours_are_found_merged_dropped_and_undone(page: Page, halves: Path) -> None:
    begin(page, "Halves")
    page.go("/reference")
    add(page, halves)
    page.press("k")
    until_picked(page, 2)
    one = page.one("[data-pick][tabindex='0']")
    one.send_keys(" ", Keys.ARROW_RIGHT)
    page.one("[data-pick][tabindex='0']").send_keys(" ")
    page.press("j")
    until_picked(page, 1)
    page.press("u")
    until_picked(page, 2)
    page.press(Keys.DELETE)
    until_picked(page, 1)


def shown(page: Page) -> str:
    return page.one("[role=application] img").get_attribute("src") or ""


def test_views_combine_borders_move_and_upside_down_is_a_view(page: Page, halves: Path) -> None:
    begin(page, "Halves")
    page.go("/reference")
    add(page, halves)
    page.press("z")
    page.until_text("3 zones")
    border = page.one("input[type=range][min='0']")
    before = shown(page)
    border.send_keys(Keys.ARROW_LEFT)
    wait(page.driver).until(lambda _: shown(page) != before, "the border did not move the zones")
    page.press("q", "w", "R", "g")
    for part in ("squint=0.006", "warm_cool=true", "upside_down=true", "grey=true"):
        assert part in shown(page)
    come = "const i = document.querySelector('[role=application] img'); return i.complete && i.naturalWidth > 0"
    wait(page.driver).until(lambda d: d.execute_script(come), "the picture did not come")
    # What lies at the left now is the right half of the picture.
    ActionChains(page.driver).move_to_element_with_offset(page.one("[role=application]"), -100, 0).perform()
    page.until_text("Varies by 0.0 ΔE")
    page.press(Keys.ENTER)
    page.press("g")
    page.script(HIDE)
    assert hues(page.pixels()) == 0


@pytest.mark.parametrize("width", [1280, 390])
def test_a_station_with_picks_fits_and_has_no_hue_but_its_pictures(page: Page, halves: Path, width: int) -> None:
    begin(page, "A plate with a rather long name for the visitors' room of the reserve")
    page.go("/reference")
    add(page, halves)
    page.press("k")
    until_picked(page, 2)
    resize(page.driver, width, 800)
    page.quiet()
    assert page.script("return document.documentElement.scrollWidth") <= width
    assert_accessible(page)
    page.script(HIDE)
    assert hues(page.pixels()) == 0


def test_what_is_no_picture_is_said_by_name_and_nothing_is_lost(page: Page, halves: Path, tmp_path: Path) -> None:
    begin(page, "Halves")
    page.go("/reference")
    text = tmp_path / "a text.jpg"
    text.write_text("not a picture", encoding="utf-8")
    page.one("input[type=file]").send_keys(str(text))
    page.until_text("a text.jpg: not taken")
    page.until_text("Pictures are taken as JPEG, PNG, TIFF, WebP or HEIC")
    # The browser itself notes the refusal, as it should.
    assert all("422" in str(line["message"]) for line in console(page.driver))
    add(page, halves)
    assert picked(page) == []


def test_a_restart_in_the_middle_of_opening_goes_on(
    demo_file: Path, halves: Path, serve: Callable[..., Server], browser_page: Callable[[str], Page], tmp_path: Path
) -> None:
    """The file is kept before it is opened: a program that ends then is taken up by the next one."""
    folder = tmp_path / "demo"
    folder.mkdir()
    demo_copy(demo_file, folder / "collection.sqlite")
    server = serve("--demo", "--data", str(folder))
    page = browser_page(server.address)
    begin(page, "Halves")
    page.go("/reference")
    page.one("input[type=file]").send_keys(str(halves))
    kept = "return document.querySelector('[role=application]') !== null || document.body.innerText.includes('Opening')"
    wait(page.driver).until(lambda d: d.execute_script(kept), "the picture was not taken")
    server.process.kill()
    server.process.communicate()
    again = browser_page(serve("--demo", "--data", str(folder)).address)
    again.go("/reference")
    again.one("[role=application]")
    assert json.loads(again.script("return fetch('/api/drawings').then((r) => r.text())"))["drawings"][0]["references"]
