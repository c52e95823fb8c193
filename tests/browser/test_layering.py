"""The layering table and scraps at work: by keyboard, both orders, a verdict remembered, a strip read."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import resize
from tests.browser.page import Page, assert_accessible
from tests.browser.test_layered import LOSE, rows

pytestmark = pytest.mark.browser


def numbers(page: Page) -> dict[str, int]:
    """The numbers of colours by range and code."""
    shelves = page.get("/api/tidy?paper=1")["shelves"]
    return {f"{s['name']} {c['card']['colour']['code']}": c["id"] for s in shelves for c in s["colours"]}


def into_tray(page: Page, *names: str) -> None:
    of = numbers(page)
    status = page.driver.execute_async_script(
        "const [ids, done] = arguments, headers = {'Content-Type': 'application/json'};"
        "const body = JSON.stringify({colour_ids: ids, into: true});"
        "fetch('/api/tray', {method: 'PUT', headers, body}).then((r) => done(r.status));",
        [of[name] for name in names],
    )
    assert status == 200


def halves(page: Page) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
    """The pixels in the middle of the two large patches."""
    box = page.script(
        "const r = document.querySelector('main figure [data-hued=patch]').parentElement.getBoundingClientRect();"
        "return [r.left, r.top, r.width, r.height];"
    )
    left, top, width, height = (int(v) for v in box)
    seen = page.pixels()[top + height // 2]
    return seen[left + width // 4], seen[left + 3 * width // 4]


def test_pencils_are_laid_by_keyboard_and_both_orders_look_and_read_different(page: Page) -> None:
    page.go("/tidy")
    into_tray(page, "Heron 125", "Tallow M02", "Heron 148")
    page.go("/recipes")
    page.press("h")
    page.until_text("Lay two or three pencils over one another")
    assert_accessible(page)
    # From light to dark: the yellow, the blue, the beetroot. The last is laid first.
    page.script("[...document.querySelectorAll('main aside li button')].at(-1).focus()")
    page.press(Keys.ENTER)
    page.until_text("one medium layer of Heron 125")
    page.script("document.querySelector('main aside li button').focus()")
    page.press(Keys.ENTER)
    page.until_text("the other way round")
    page.script("document.querySelector('main aside [role=listbox]').focus()")
    page.press(Keys.ARROW_RIGHT)
    page.until_text("then one heavy layer of Tallow M02 over it", "section[aria-label='this order']")
    page.until_text(
        "one heavy layer of Tallow M02, then one medium layer of Heron 125 over it",
        "section[aria-label='the other way round']",
    )
    page.until_text("predicted ±", "section[aria-label='this order']")
    page.until_text("The other way round:", "h2")
    page.until_text("Nothing in several layers is measured on Vellum board yet", "main")
    page.quiet()
    first, second = halves(page)
    # Some ΔE apart, as the figures say: plain to see in a channel of 255 steps.
    assert np.abs(first.astype(int) - second.astype(int)).max() > 10
    # The order itself is turned by a key, and the halves change places.
    page.press("r")
    page.until_text("one heavy layer of Tallow M02, then", "section[aria-label='this order']")
    page.quiet()
    turned = halves(page)
    assert np.abs(turned[0].astype(int) - second).max() <= 1
    assert np.abs(turned[1].astype(int) - first).max() <= 1
    # More layers, another order by moving, out again.
    page.press(Keys.ARROW_UP, "+")
    page.until_text("two heavy layers of Tallow M02", "section[aria-label='this order']")
    page.chord(Keys.SHIFT, Keys.ARROW_DOWN)
    page.until_text("then two heavy layers of Tallow M02 over it", "section[aria-label='this order']")
    assert_accessible(page)
    # Values only: every pixel is grey.
    page.press("g")
    assert all(len(set(half.tolist())) == 1 for half in halves(page))
    page.press("g", Keys.DELETE)
    page.until_text("as laid", "h2")
    # What lies there outlasts a reload, and a way over another page.
    page.driver.refresh()
    page.fitted()
    page.until_text("one medium layer of Heron 125", "section[aria-label='as laid']")
    page.press("1")
    page.press("h")
    page.until_text("one medium layer of Heron 125", "section[aria-label='as laid']")
    # What would make layers surer is one step away, and asked for already.
    page.click("Four pencils in three layers", "main a")
    page.until_text("4 marks to read", "[role=status]")


def test_finishes_and_their_cautions_and_three_pencils(page: Page) -> None:
    page.go("/tidy")
    into_tray(page, "Heron 125", "Tallow M02", "Heron 148")
    of = numbers(page)
    laid = "&".join(f"laid={of[name]}:medium:1" for name in ("Heron 125", "Heron 148", "Tallow M02"))
    page.go(f"/layering?{laid}")
    page.until_text("Other orders", "h2")
    assert len(page.all("main ul button code, main section ul li button")) >= 4
    page.press("f")
    # All three lie already: the last of them burnishes.
    page.until_text("burnished with Tallow M02", "section[aria-label='this order']")
    page.until_text("Burnished with", "main aside label")
    page.press("f")
    page.until_text("fresh air, no flames", "main aside")
    page.until_text("then solvent", "section[aria-label='this order']")
    page.press("f")
    page.until_text("Other orders", "h2")
    resize(page.driver, 390, 800)
    assert page.script("return document.documentElement.scrollWidth") <= 390


def test_a_stand_in_is_tried_on_scrap_and_its_verdict_remembered(page: Page) -> None:
    page.go("/tidy")
    assert page.driver.execute_async_script(LOSE) == 200
    page.go("/recipes/2")
    page.click("178", "[role=option]")
    page.press("v")
    page.until_text(" + ", "#answers")
    page.quiet()
    page.script("document.querySelector('#answers').focus()")
    while " over it" not in page.text("aside h3"):
        page.press(Keys.ARROW_DOWN)
    said = page.text("aside h3")
    page.press("t")
    page.until_text("The strip", "h2")
    page.until_text(said, "h1")
    page.until_text("the other way round", "main li")
    assert len(page.all("main ol > li")) == 4
    assert_accessible(page)
    page.click("too warm")
    page.click("too light")
    page.click("too dark")
    pressed = [button.text for button in page.all("section[aria-label=Verdict] [aria-pressed=true]")]
    assert pressed == ["too dark", "too warm"]
    page.one("section[aria-label=Verdict] input").send_keys("on the cap", Keys.ENTER)
    page.quiet()
    # Read with the simulated reader: the strip is measured, and its pencils learn.
    page.click("Start the simulated reader")
    page.click("Calibrate")
    page.press(" ")
    page.fitted()
    page.until_text("measured", "main ol > li:nth-child(3)")
    page.press("b")
    page.fitted()
    page.until_text("measured", "main ol > li:nth-child(4)")
    page.go("/recipes/2")
    page.click("178", "[role=option]")
    page.until_text("tried: too dark, too warm", "#answers")
    mine = next(row for row in page.all("#answers [role=option]") if "tried:" in row.text)
    mine.click()
    page.until_text("You tried this on", "aside")
    page.until_text("(on the cap)", "aside")
    page.until_text("Its strip by itself was measured", "aside")
    # Tried again, it opens the same scrap; removed, it is forgotten, and undo brings it back.
    page.click("Try on scrap")
    page.until_text(said, "h1")
    page.click("Remove this scrap")
    page.until_text("Nothing was tried on Vellum board yet", "h1")
    page.press("u")
    page.until_text("too dark, too warm", "main li")


def test_a_strange_value_is_asked_about_and_the_strip_is_made_for_paper(page: Page) -> None:
    page.go("/tidy")
    of = numbers(page)
    page.go(f"/layering?laid={of['Heron 125']}:medium:1&laid={of['Heron 148']}:light:2")
    page.until_text("Try on scrap")
    page.press("t")
    page.until_text("The strip", "h2")
    page.click("Type Lab")
    page.type_lab(90, 0, 60, inside="main ol form")
    page.click("Keep it")
    page.until_text("is expected here", "[role=alert]")
    assert "predicted" in page.text("main ol > li:nth-child(3)")
    page.click("Keep it all the same")
    page.until_text("measured", "main ol > li:nth-child(3)")
    # Nothing but the strip is printed.
    page.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    sheet = page.one("[data-print]")
    assert sheet.is_displayed()
    assert sheet.text.count("Heron 125") == 3
    assert page.script("return getComputedStyle(document.querySelector('nav')).visibility") == "hidden"
    page.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})
    assert not page.one("[data-print]").is_displayed()


def test_any_colour_has_stand_ins_and_what_greys_it(page: Page) -> None:
    page.go("/tidy")
    assert page.driver.execute_async_script(LOSE) == 200
    of = numbers(page)
    page.go(f"/tidy/colours/{of['Heron 101']}")
    page.click("What greys it without black")
    page.until_text("of its chroma is left", "main li")
    assert "%" in page.text("main li")
    page.click("Stand-ins, one pencil or two")
    page.until_text(" + ", "#answers")
    assert any(" + " in row for row in rows(page))
    assert_accessible(page)
    page.script("document.querySelector('#answers').focus()")
    while " over it" not in page.text("main section h2"):
        page.press(Keys.ARROW_DOWN)
    page.press("b")
    page.until_text("the other way round", "h2")


def test_what_is_out_of_reach_is_told_with_the_closest_way(page: Page) -> None:
    page.go("/tidy")
    assert page.driver.execute_async_script(LOSE) == 200
    of = numbers(page)
    page.go(f"/standins/{of['Heron 148']}")
    page.until_text(" + ", "#answers")
    assert "Out of reach here" not in page.text("main")
    page.click("some ranges only", "label")
    page.click("Scholar", "fieldset label")
    page.until_text("Out of reach here: nothing that you can lay here has this hue", "main p")
    page.until_text("The closest way:", "main p")
    assert "of Scholar" in next(p.text for p in page.all("main p") if "Out of reach" in p.text)


def test_strips_worth_making_are_set_out_from_what_was_tried(page: Page) -> None:
    """The strips that tell most of how her layers build up: offered, set out, and found again until they are read."""
    page.go("/scraps")
    page.until_text("3 strips worth making")
    page.until_text("Nothing was tried on Vellum board yet")
    assert_accessible(page)
    page.until_text("2 pencils to burnish")
    first = "section[aria-label='Worth making'] ol:first-of-type li:first-child"
    names = [one.text for one in page.all(f"{first} code")]
    assert len(names) == 3
    page.click("Set it out", f"{first} button")
    page.until_text("What does the scrap say?")
    for name in names:
        assert f"one heavy layer of {name}" in page.text("h1").replace("One", "one")
    page.go("/scraps")
    page.click("Set out: read it", f"{first} a")
    page.until_text("What does the scrap say?")
    page.go("/scraps")
    page.press("u")
    page.until_text("Nothing was tried on Vellum board yet")
    assert "Set out: read it" not in page.text("main")
