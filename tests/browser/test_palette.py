"""From a picture to a palette card, a recipe and a stand-in by keyboard; held up, traced, parted, asked about."""

from __future__ import annotations

import urllib.request
from pathlib import Path

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.conftest import resize
from tests.browser.page import PAPER, WAIT_SECONDS, Page, assert_accessible, wait
from tests.browser.test_reference import add, begin, picked, until_picked
from tests.browser.test_views import HIDE, hues
from tests.core.painted_scenes import coded

pytestmark = pytest.mark.browser

MOST_TABS = 60


@pytest.fixture
def stripes(tmp_path: Path) -> Path:
    """A picture of three colours that pencils reach."""
    lab = np.empty((300, 600, 3))
    lab[:, :200], lab[:, 200:400], lab[:, 400:] = (84.0, 3.0, 22.0), (52.0, -12.0, 28.0), (44.0, 46.0, 30.0)
    path = tmp_path / "stripes.png"
    Image.fromarray(coded(lab)).save(path)
    return path


def tab_to(page: Page, words: str) -> None:
    """Go on with Tab until what has the focus carries these words."""
    for _ in range(MOST_TABS):
        if words in str(page.script("return document.activeElement.closest('a, button')?.textContent")):
            return
        page.press(Keys.TAB)
    pytest.fail(f"Tab never came to {words}")


def fetched(page: Page, href: str) -> bytes:
    with urllib.request.urlopen(href, timeout=60) as answer:
        content: bytes = answer.read()
    return content


def test_a_picture_to_picks_to_a_palette_card_to_a_recipe_to_a_stand_in_by_keyboard(page: Page, stripes: Path) -> None:
    begin(page, "Three stripes")
    page.press("3")
    page.until_text("A picture for Three stripes")
    add(page, stripes)
    page.press(Keys.ENTER)
    until_picked(page, 1)
    page.one("[role=application]").send_keys(*[Keys.ARROW_LEFT] * 20, Keys.ENTER)
    until_picked(page, 2)
    page.one("[role=application]").send_keys(*[Keys.ARROW_RIGHT] * 40, Keys.ENTER)
    until_picked(page, 3)
    # Another way than the nearest is chosen for the first colour, and the palette keeps it.
    answers = "[aria-label='Colour 3'] [role=listbox]"
    page.one("[data-pick][tabindex='0']").send_keys(Keys.END)
    page.one(f"{answers} [role=option]:nth-child(3)").is_displayed()
    page.one(answers).send_keys(Keys.ARROW_DOWN, Keys.ENTER)
    page.until_text("used:", answers)
    chosen = page.text(f"{answers} [aria-selected=true]")
    page.press("a")
    page.until_text("chosen by you", "[aria-label=Palette]")
    card = next(e.get_attribute("href") or "" for e in page.all("[aria-label=Palette] a") if "card" in e.text)
    with pypdfium2.PdfDocument(fetched(page, card)) as document:
        words = document[0].get_textpage().get_text_range()
    assert "Three stripes" in words
    code = next(word for word in chosen.split() if any(c.isdigit() for c in word))
    assert code in words
    tab_to(page, "Write it as a recipe")
    page.press(Keys.ENTER)
    page.until_text("A recipe of the picture's colours")
    page.until_text("none to settle")
    assert code in (page.one("textarea").get_attribute("value") or "")
    # A colour that she lacks is written into it, and stood in for.
    page.chord(Keys.CONTROL, Keys.END)
    page.press("- Rim: Heron 126, medium\n")
    page.chord(Keys.CONTROL, Keys.ENTER)
    page.until_text("1 open")
    for _ in range(MOST_TABS):
        if page.script("return document.activeElement.getAttribute('role')") == "listbox":
            break
        page.press(Keys.TAB)
    page.press(Keys.END)
    while_open = page.active("[aria-label^='Calls of']")
    assert "126" in while_open
    page.press(Keys.ENTER)
    assert page.active("#answers")
    page.press(Keys.ENTER)
    page.until_text("1 stand-in")


def test_a_picture_that_a_recipe_came_from_asks_before_it_goes_and_comes_back(drawn: Page) -> None:
    page = drawn
    page.press("a")
    page.click("Write it as a recipe")
    page.until_text("none to settle")
    page.click("Keep this recipe")
    page.until_text("colours of scarlet-cap.jpg", "h1")
    page.press("3")
    page.one("[role=application]")
    page.click("Remove", "header button, main header button")
    page.until_text("was begun with its colours", "[role=dialog]")
    assert_accessible(page)
    page.click("Remove it all the same", "[role=dialog] button")
    page.until_text("A picture for Scarlet cap")
    page.press("u")
    page.one("[role=application]")
    assert len(picked(page)) == 12


def test_a_pick_is_held_up_over_the_whole_window(drawn: Page) -> None:
    page = drawn
    page.one("[data-pick][tabindex='0']").send_keys("v")
    page.until_text("Lay the swatch flat on the glass", "[role=dialog]")
    first = page.text("[role=dialog] strong")
    assert_accessible(page)
    middle = page.pixels()[400, 640]
    hue = page.script("return getComputedStyle(document.querySelector('[role=dialog] [data-hued]')).backgroundColor")
    assert f"rgb({middle[0]}, {middle[1]}, {middle[2]})" == hue
    page.press(Keys.ARROW_RIGHT)
    wait(page.driver).until(lambda _: page.text("[role=dialog] strong") != first, "the next colour did not come")
    page.press(Keys.ESCAPE)
    wait(page.driver).until(lambda _: not page.all("[role=dialog]"), "it did not close")
    # A value zone is held up as well.
    page.press("z")
    page.until_text("3 zones")
    page.click("Hold up zone 2", "main button")
    page.until_text("Zone 2 of 3", "[role=dialog]")
    page.press(Keys.ARROW_RIGHT)
    page.until_text("Zone 1 of 3", "[role=dialog]")
    page.script(HIDE)
    assert hues(page.pixels()) == 0


def hold(driver: WebDriver, key: str, seconds: float) -> None:
    ActionChains(driver).key_down(key).pause(seconds).key_up(key).perform()


def test_the_light_box_is_of_true_size_and_locked_until_it_is_held(drawn: Page) -> None:
    """A screen of 5 pixels a mm shows a drawing of 210 mm 1050 pixels wide."""
    page = drawn
    page.script("localStorage.setItem('tidy-tinder-pixels-per-mm', String(5 * devicePixelRatio))")
    page.press("l")
    page.until_text("210 × 280 mm", "[role=dialog]")
    assert page.script("return document.querySelector('[role=dialog] img').getBoundingClientRect().width") == 1050
    assert_accessible(page)
    page.press(Keys.ENTER)
    page.one("[aria-label=Locked]")
    assert page.script("return document.querySelectorAll('[role=dialog] button').length") == 0
    # Keys and touch do nothing, and Esc is a touch by mistake unless it is held.
    page.press("a", "3", Keys.TAB, Keys.ESCAPE)
    page.one("[aria-label=Locked]").click()
    assert page.all("[aria-label=Locked]")
    hold(page.driver, Keys.ESCAPE, 1.7)
    wait(page.driver).until(lambda _: not page.all("[aria-label=Locked]"), "it did not open")
    page.click("Measure the screen again", "[role=dialog] button")
    page.until_text("How large is this screen?")
    page.one("[role=dialog] input[type=range]").send_keys(Keys.END)
    page.click("It is as wide as the card")
    wide = page.script("return document.querySelector('[role=dialog] img').getBoundingClientRect().width")
    assert wide == pytest.approx(210 * 14, rel=0.001)
    page.press(Keys.ESCAPE)
    wait(page.driver).until(lambda _: not page.all("[role=dialog]"), "it did not close")


def test_a_drawing_is_parted_by_its_pictures_shapes_and_worked(drawn: Page) -> None:
    page = drawn
    page.press("e")
    page.click("By this picture’s shapes")
    page.until_text("0 done")
    page.one("[data-row]").click()
    page.until_text("base", "[aria-label=Sections] li")
    page.one("[data-row]").send_keys(Keys.ARROW_DOWN)
    assert page.script("return document.activeElement.textContent").startswith("Section 2")
    name = page.one("[aria-label='Name of section 1']")
    name.send_keys(", left of the cap", Keys.ENTER)
    page.until_text("1, left of the cap", "[role=application]")
    page.click("↓", "[aria-label=Sections] li:first-child button:last-of-type")
    wait(page.driver).until(
        lambda _: "left of" in (page.all("[aria-label=Sections] li input")[1].get_attribute("value") or ""),
        "it did not move",
    )
    assert "sections=true" in (page.one("[role=application] img").get_attribute("src") or "")
    assert_accessible(page)
    page.click("No sections")
    page.until_text("worked one after another")
    page.press("u")
    page.until_text("0 done")


@pytest.mark.parametrize("width", [1280, 390])
def test_the_demos_station_fits_whatever_stands_beside_the_picture(drawn: Page, width: int) -> None:
    page = drawn
    resize(page.driver, width, 800)
    assert len(picked(page)) == 12
    for key, words in (("a", "palette card"), ("e", "Equal fields"), ("e", "Split in two")):
        page.press(key)
        page.until_text(words)
        assert page.script("return document.documentElement.scrollWidth") <= width, words
        assert_accessible(page)
    page.script(HIDE)
    assert hues(page.pixels()) == 0
    assert page.text(PAPER).startswith("Vellum")


def test_reach_is_told_on_white_and_the_palette_says_what_stays_open(drawn: Page) -> None:
    page = drawn
    page.driver.get(f"{page.address}/drawings")
    page.click("Brackets on bark", "main li button")
    page.click("Work on this one")
    page.until_text("At hand now")
    page.go("/reference")
    limit = "on this paper with what you own"
    wait(page.driver, 8 * WAIT_SECONDS).until(lambda _: limit in page.text("main"), "the reach did not come")
    page.press("a")
    page.until_text("dark first", "[aria-label=Palette]")
    page.until_text("Nothing comes close", "[aria-label=Palette]")
