"""Station 1 in the browser: places, stubs, lost and found, travel tin, selection, charts, tray, keeping."""

from __future__ import annotations

import zipfile
from pathlib import Path

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from tests.browser.conftest import console
from tests.browser.page import WAIT_SECONDS, Page
from tests.browser.test_views import hues, lab_of
from tidy_tinder.core.difference.ciede2000 import delta_e_2000

pytestmark = pytest.mark.browser


def cells(page: Page) -> list[str]:
    return [e.get_attribute("aria-label") or "" for e in page.all("[id^=colour-]")]


def segment(page: Page, group: str, word: str) -> None:
    """Choose one of a few words in a named group."""
    page.driver.find_element(By.XPATH, f"//*[@aria-label='{group}']//label[contains(., '{word}')]").click()
    page.quiet()


def shift(page: Page, *keys: str) -> None:
    ActionChains(page.driver).key_down(Keys.SHIFT).send_keys(*keys).key_up(Keys.SHIFT).perform()
    page.quiet()


# What was asked of the program until the shelves were asked for, and who asked: a link of the page, or a script.
ASKED_FIRST = """
const asked = performance.getEntriesByType("resource").filter((e) => e.name.includes("/api/"));
const shelves = asked.find((e) => e.name.includes("/api/tidy?"));
const before = asked.filter((e) => e.startTime < shelves.startTime && e.name.endsWith("/api/collection"));
return before.map((e) => e.initiatorType);
"""


# Whether the shelves were asked for again while they were being answered; later they may be, when predictions come in.
ASKED_TWICE = """
const [first, ...again] = performance.getEntriesByType("resource").filter((e) => e.name.includes("/api/tidy?"));
return again.some((e) => e.startTime < first.responseEnd);
"""


def test_what_every_page_begins_with_is_asked_for_once_beside_the_scripts(view: Page) -> None:
    view.go("/tidy")
    assert view.script(ASKED_FIRST) == ["link"]
    assert view.script(ASKED_TWICE) is False


def test_stubs_and_lost_ones_are_found_in_one_glance(page: Page) -> None:
    page.go("/tidy")
    segment(page, "Shown", "stubs 7")
    assert len(cells(page)) == 7
    assert all(", stub, " in name for name in cells(page))
    segment(page, "Shown", "lost 2")
    assert len(cells(page)) == 2
    page.one("[role=grid]").click()
    page.press(Keys.HOME, "l")
    page.until_text("found again", "footer")
    assert len(cells(page)) == 1
    page.driver.refresh()
    page.quiet()
    assert len(cells(page)) == 1
    page.press("u")
    assert len(cells(page)) == 2


def test_shelves_stand_by_value_hue_temperature_and_tin(view: Page) -> None:
    view.go("/tidy")
    segment(view, "Order", "value")
    view.until_text("Value 9 to 10", "[role=grid] h2")
    segment(view, "Order", "hue")
    view.until_text("Yellows", "[role=grid] h2")
    segment(view, "Order", "temperature")
    view.until_text("Warm greys, the warmest first", "[role=grid] h2")
    segment(view, "Order", "tin")
    view.until_text(view.get("/api/tins")["tins"][0]["name"], "[role=grid] h2")
    first = cells(view)[0]
    view.click("Filters")
    view.one("select[aria-label=Covers]").send_keys("opaque")
    view.quiet()
    assert first not in cells(view)
    view.click("Show all")
    assert first in cells(view)


def test_many_at_once_are_one_undo_also_after_a_reload(page: Page) -> None:
    page.go("/tidy")
    page.one("[role=grid]").click()
    page.press(Keys.HOME)
    shift(page, Keys.ARROW_DOWN, Keys.ARROW_RIGHT)
    page.until_text("7 selected", "[role=toolbar]")
    page.one("[aria-label='Tin to move them to']").send_keys("travel tin")
    page.click("Move there")
    page.until_text("moved to travel tin", "footer")
    page.driver.refresh()
    page.quiet()
    assert page.get("/api/tins")["tins"][-1]["name"] == "travel tin"
    page.press("u")
    assert all(t["name"] != "travel tin" for t in page.get("/api/tins")["tins"])


def test_the_travel_tin_filters_everywhere(page: Page) -> None:
    page.go("/tidy/places")
    page.click("with me", "tr:has(th[scope=row]) label")
    page.press("1")
    page.until_text("165", "nav")
    page.press("m")
    page.until_text("With me", "header [aria-pressed=true]")
    first = page.get("/api/tins")["tins"][0]
    assert page.get("/api/collection")["owned"] <= first["pencils"]
    page.go("/recipes/1")
    page.until_text("yours is not with you")
    page.press("m")
    page.until_text("7 owned")


def test_a_pencil_is_changed_in_its_place(page: Page) -> None:
    page.go("/tidy?colour=20")
    page.click("change", "aside button")
    notes = page.driver.find_element(By.XPATH, "//aside//label[contains(., 'Notes')]//input")
    notes.send_keys("lead broken near the tip")
    page.click("Save", "aside form button")
    page.until_text("lead broken near the tip", "aside")
    page.click("One more", "aside button")
    page.until_text("One more Heron 119 Fly Cap", "footer")


def test_a_colours_page_tells_twins_kin_and_history(page: Page) -> None:
    page.go("/tidy")
    page.press("/")
    page.press("haw", Keys.ENTER)
    page.one("[role=grid]").click()
    page.press("/")
    page.press("steadfast 1240", Keys.ENTER)
    page.script("document.querySelector('[role=grid]').focus()")
    page.press(Keys.ENTER)
    page.until_text("1240 Haw", "h1")
    page.until_text("parted most")
    page.until_text("Grades of it", "h2")
    page.click("Type in a value")
    page.type_lab(40, 50, 30)
    page.click("Keep this swatch")
    page.until_text("typed", "main table")
    page.press(Keys.ESCAPE)
    page.until_text("Haw", "aside h2")


def test_a_chart_is_written_corrected_and_removed_by_hand(page: Page) -> None:
    page.go("/tidy/charts")
    page.click("A new range")
    page.field("Range").send_keys("Mine")
    page.click("Add this range")
    page.until_text("Another colour of Mine", "aside")
    page.field("Code").send_keys("1")
    page.field("Name").send_keys("Odd Sock")
    page.type_lab(50, 10, -20, inside="aside form")
    page.click("Add this colour")
    page.until_text("Mine 1 Odd Sock added", "footer")
    # Corrected in its place: the colour at the cursor, with Enter.
    page.click("This colour")
    page.until_text("Mine 1 Odd Sock", "aside h2")
    page.script("document.querySelector('[role=grid]').focus()")
    page.press(Keys.ENTER)
    page.press(Keys.TAB, "Odd Sock Two", Keys.ENTER)
    page.until_text("Mine 1 Odd Sock Two", "aside h2")
    page.until_text("Chart of Mine 1 Odd Sock corrected", "footer")
    page.press("u")
    page.until_text("Mine 1 Odd Sock", "aside h2")
    page.press("/")
    page.press("odd sok", Keys.ENTER)
    page.until_text("Odd Sock", "aside h2")
    page.click("all about it")
    page.click("Remove from the chart")
    page.until_text("removed from the chart", "footer")
    page.press("u")
    page.until_text("Undone: Mine 1 Odd Sock removed from the chart", "footer")
    # Fly Cap stays: her pencils, swatches and recipes hang on it.
    page.go("/tidy/colours/20")
    page.click("Remove from the chart")
    page.until_text("2 pencils that you own", "[role=alert]")
    assert all("422" in str(line["message"]) for line in console(page.driver) if line["level"] == "SEVERE")


def test_a_list_is_pasted_as_owned(page: Page) -> None:
    page.go("/tidy/paste")
    page.one("textarea").send_keys("Wader\n101, 102\nBraken\n")
    page.until_text("near it are these")
    page.driver.refresh()
    page.quiet()
    page.until_text("Own these 2")
    page.click("Wader 169 Bracken")
    page.click("Own these 3")
    page.until_text("3 colours owned", "footer")
    assert page.get("/api/tidy?paper=1")["shelves"][1]["owned"] == 3
    page.press("u")
    assert page.get("/api/tidy?paper=1")["shelves"][1]["owned"] == 0


def test_what_is_this_says_how_sure(page: Page) -> None:
    page.go("/tidy/what")
    zone = page.get("/api/colours/20?paper=1")["mark"]["zones"][0]
    page.type_lab(*(round(v, 2) for v in zone["lab"]))
    page.click("Look for it")
    page.until_text("Likely Heron 119 Fly Cap", "h2")
    page.until_text("%", "main ol")
    page.click("Start the simulated reader")
    page.click("Calibrate")
    page.one("[aria-label='Pencil to put under the reader']").send_keys("heron 161", Keys.ENTER)
    page.until_text("Heron 161 Moss, heavy, on Vellum board", "aside")
    page.click("Read it with the reader")
    page.until_text("Likely Heron 161 Moss", "h2")


def test_the_tray_is_in_order_of_value_on_every_station(page: Page) -> None:
    page.go("/tidy?colour=3")
    page.script("document.querySelector('[role=grid]').focus()")
    page.press("p")
    page.press("/")
    page.press("heron 129", Keys.ENTER)
    page.press("p")
    page.until_text("2 pencils", "footer")
    page.until_text("gap", "footer")
    page.press("4")
    page.until_text("2 pencils", "footer")
    labels = [e.get_attribute("textContent") or "" for e in page.all("footer li a")]
    assert "Primrose" in labels[0]
    assert "Sloe" in labels[1]
    page.click("put all back")
    page.until_text("empty; p puts a pencil in", "footer")
    page.press("u")
    page.until_text("2 pencils", "footer")


def test_the_grey_view_shows_every_colour_as_its_value(view: Page) -> None:
    """No hue is left, marks included, and a zone's grey has the zone's L* (computed, not filtered)."""
    view.go("/tidy?colour=20")
    assert hues(view.pixels()) > 5_000
    view.press("g")
    assert hues(view.pixels()) == 0
    zones = {z["pressure"]: z for z in view.get("/api/colours/20?paper=1")["mark"]["zones"]}
    for pressure, zone in zones.items():
        box = view.script(f"return document.querySelector('aside [data-zone={pressure}]').getBoundingClientRect()")
        x, y, w, h = (round(box[k]) for k in ("x", "y", "width", "height"))
        seen = lab_of(view.pixels()[y + 1 : y + h - 1, x + 1 : x + w - 1])
        assert float(delta_e_2000(seen, [zone["lab"][0], 0.0, 0.0])) < 1.5
    view.go("/recipes/1")
    assert hues(view.pixels()) == 0
    view.press("s")
    assert hues(view.pixels()) == 0
    view.press("g", "s")


def test_names_lead_where_they_are_preferred(view: Page) -> None:
    view.go("/collection")
    view.click("names", "label")
    view.go("/tidy")
    first = view.script(
        "const c = document.querySelector('[id^=colour-] .colour-name'); const [code, name] = c.children;"
        "return [name.getBoundingClientRect().x, code.getBoundingClientRect().x]"
    )
    assert first[0] < first[1]


def test_backup_and_restore_in_the_interface(page: Page, tmp_path: Path) -> None:
    page.driver.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(tmp_path)})
    page.go("/collection")
    page.click("Back up now")
    found: list[Path] = WebDriverWait(page.driver, WAIT_SECONDS).until(
        lambda _: [p for p in tmp_path.glob("tidy-tinder-*.zip") if zipfile.is_zipfile(p)]
    )
    page.go("/tidy?colour=20")
    page.press("o")
    page.until_text("68 of 120 owned")
    page.go("/collection")
    page.one("[aria-label='Backup file']").send_keys(str(found[0]))
    page.click("Restore this backup")
    page.until_text("Restored the backup of", "[role=status]")
    page.go("/tidy")
    page.until_text("69 of 120 owned")
    bad = tmp_path / "bad.zip"
    bad.write_bytes(found[0].read_bytes()[:4000])
    page.go("/collection")
    page.one("[aria-label='Backup file']").send_keys(str(bad))
    page.click("Restore this backup")
    page.until_text("not a whole backup", "[role=alert]")
    assert all("422" in str(line["message"]) for line in console(page.driver) if line["level"] == "SEVERE")


def test_earlier_changes_are_undone_from_the_list(page: Page) -> None:
    page.go("/tidy?colour=5")
    page.press("o")
    page.until_text("Straw Hat owned", "footer")
    page.go("/tidy?colour=8")
    page.press("o")
    page.until_text("owned", "footer")
    page.go("/collection")
    page.one("[aria-label='Undo: Straw Hat owned']").click()
    page.quiet()
    page.until_text("undone", "main li")
    assert page.get("/api/colours/5?paper=1")["owning"] == "not owned"


def test_a_half_remembered_name_is_found_from_anywhere(view: Page) -> None:
    view.go("/swatches")
    view.press("/")
    view.press("cap fly")
    view.until_text("Fly Cap", "[role=listbox]")
    view.press(Keys.ESCAPE)
    view.press("/")
    view.press("brakcen", Keys.ENTER)
    view.until_text("Bracken", "aside h2")


def test_what_is_set_in_the_toolbar_outlives_a_reload_and_can_be_left(view: Page) -> None:
    view.go("/tidy")
    segment(view, "Order", "hue")
    segment(view, "Shown", "not owned")
    view.driver.refresh()
    view.quiet()
    view.until_text("Yellows", "[role=grid] h2")
    assert all(", not owned, " in name for name in cells(view))
    # The finder can ask for a colour that is filtered away: that is said, and shown on request.
    view.press("/")
    view.press("heron 119", Keys.ENTER)
    view.until_text("Fly Cap is not among what is shown")
    view.click("Show all", "main p button")
    assert "119 Fly Cap" in view.active("[role=grid]")


def test_nothing_that_fits_is_said_with_a_way_out(view: Page) -> None:
    view.go("/tidy")
    segment(view, "Shown", "in tray")
    view.until_text("Nothing here fits what is asked for")
    view.click("Show all", "main div button")
    assert len(cells(view)) > 20


def test_a_range_on_the_shelf_is_ticked_lost_and_found_by_selection(page: Page) -> None:
    page.go("/tidy")
    page.one("[role=grid]").click()
    page.press(Keys.HOME, "x", Keys.ARROW_RIGHT, "x")
    page.until_text("2 selected", "[role=toolbar]")
    page.press("l")
    page.until_text("2 colours lost", "footer")
    assert sum(", lost, " in name for name in cells(page)) >= 2
    page.press("l")
    page.until_text("2 colours found again", "footer")
    page.press("p")
    page.until_text("2 pencils", "footer")
    page.press("o")
    page.until_text("2 colours not owned", "footer")
    page.press("u")
    page.until_text("2 pencils", "footer")
    page.script("document.querySelector('[role=grid]').focus()")
    page.press(Keys.ESCAPE)
    assert page.all("[role=toolbar]") == []
    page.chord(Keys.CONTROL, "a")
    page.until_text("400 selected", "[role=toolbar]")
