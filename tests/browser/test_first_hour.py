"""The first hour of somebody new: no pencils, no swatches, no reader; each screen says what comes next."""

from __future__ import annotations

import urllib.request
from collections.abc import Callable

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import resize
from tests.browser.page import Page, assert_accessible, wait

pytestmark = pytest.mark.browser

CHART = (
    "range,code,name,L,a,b\n"
    "Lane,1,Red Gate,45,60,35\nLane,2,Old Gate,42,52,30\nLane,3,Brick,48,50,30\nLane,4,Moss Wall,40,-20,25\n"
    "Lane,5,Pond,45,-15,-20\nLane,6,Barley,80,5,45\nLane,7,Weathervane Copper Green 10 %,75,-18,8\n"
    "Lane,8,Sloe,25,15,-20\n"
)
FOCUSED = "return document.activeElement.getAttribute('aria-label') ?? document.activeElement.textContent.trim()"


def focused(page: Page) -> str:
    return str(page.script(FOCUSED))


def bring_in_chart(page: Page) -> None:
    form = b'--part\r\nContent-Disposition: form-data; name="file"; filename="lane.csv"\r\n\r\n' + CHART.encode()
    asked = urllib.request.Request(
        f"{page.address}/api/catalogue",
        form + b"\r\n--part--\r\n",
        {"Content-Type": "multipart/form-data; boundary=part"},
    )
    urllib.request.urlopen(asked).close()


def paste_owned(page: Page, text: str) -> None:
    page.go("/tidy/paste")
    page.press(text)
    page.until_text("No chart here has it")
    page.click("Own these")
    page.until_text("Done: ", "footer")


@pytest.fixture
def mine(empty_page: Page) -> Page:
    """A new collection, opened, and one chart brought into it."""
    empty_page.go("/tidy")
    empty_page.until_text("No pencils here yet")
    bring_in_chart(empty_page)
    return empty_page


def test_a_list_is_pasted_a_recipe_taken_in_a_stand_in_chosen_and_all_of_it_undone(mine: Page) -> None:
    page = mine
    paste_owned(page, "Lane\n1-3, 5\n2x 6\n• Sloe\n99")
    assert focused(page) == "Shelves"
    page.press("4")
    page.until_text("No recipes yet")
    page.press("n")
    page.press("A gate\nLane\n1. Red Gate, light\n2. Moss Wall, heavy, then Brimble\n")
    page.until_text("3 calls")
    page.chord(Keys.CONTROL, Keys.ENTER)
    page.until_text("A gate", "h1")
    # What could not be read is at the cursor; Enter leads to the finder, and a second Enter throws nothing away.
    assert focused(page) == "Calls of A gate"
    assert page.active("main [role=listbox]") == "Brimble to settle"
    page.press(Keys.ENTER)
    assert focused(page) == "Find the colour that is meant"
    page.press(Keys.ENTER)
    page.press(Keys.ESCAPE)
    assert "1 to settle" in page.text("main header")
    page.script("document.querySelector('[data-main]').focus()")
    page.press(Keys.ARROW_UP)
    page.until_text("Moss Wall", "aside")
    # Not swatched yet, so layers cannot be compared: it says what to do.
    page.press("v")
    page.until_text("Swatch it once", "aside")
    assert_accessible(page)
    page.press("v")
    page.until_text("By chart, not on this paper", "aside")
    page.press(Keys.ENTER)
    page.press(Keys.ENTER)
    page.until_text("stands in on White paper", "footer")
    done = page.text("footer [role=status]").removeprefix("Done: ")
    page.press("u")
    page.until_text(f"Undone: {done}", "footer")
    page.press("4")
    page.press("u")
    page.until_text("Undone: Recipe “A gate” taken in", "footer")
    page.press("u")
    page.until_text("Undone: 6 colours owned", "footer")
    # Back to the beginning, and the only paper is still there.
    page.press("u")
    page.until_text("Undone: Catalogue taken in: Lane", "footer")
    assert page.all("footer button") == []
    assert [paper["name"] for paper in page.get("/api/collection")["papers"]] == ["White paper"]
    page.go("/tidy")
    page.until_text("No pencils here yet")


@pytest.mark.parametrize(
    ("path", "key", "takes"),
    [
        ("/tidy", Keys.PAGE_DOWN, "Shelves"),
        ("/recipes", Keys.ARROW_DOWN, "Chanterelle gills"),
        ("/recipes/1", Keys.ARROW_DOWN, "Calls of "),
    ],
)
def test_the_main_list_has_the_focus_whenever_a_page_opens(view: Page, path: str, key: str, takes: str) -> None:
    """After opening, after a reload, and after coming from another station by its key: the next key works at once."""

    def by_a_key() -> None:
        view.press("h")
        view.go_on(path)

    view.go(path)
    arrivals: tuple[Callable[[], object], ...] = (lambda: None, view.driver.refresh, by_a_key)
    for arrive in arrivals:
        arrive()
        view.fitted()
        view.one("[data-main]:focus")
        before = view.script("return [document.querySelector('[aria-activedescendant]')?.getAttribute("
                             "'aria-activedescendant'), document.activeElement.textContent]")  # fmt: skip
        view.press(key)
        after = view.script("return [document.querySelector('[aria-activedescendant]')?.getAttribute("
                            "'aria-activedescendant'), document.activeElement.textContent]")  # fmt: skip
        assert before != after
        assert takes in focused(view)


def test_a_page_without_a_list_is_scrolled_by_its_keys(view: Page) -> None:
    resize(view.driver, 1280, 420)
    for path in ("/swatches", "/collection", "/tidy/colours/20"):
        view.go(path)
        view.one(".station-page:focus")
        view.press(Keys.PAGE_DOWN)
        wait(view.driver).until(lambda d: d.execute_script("return document.activeElement.scrollTop") > 0)


def test_a_field_that_was_typed_into_keeps_the_focus(view: Page) -> None:
    view.go("/recipes/new")
    view.press("Heron")
    assert view.script("return document.activeElement.id") == "recipe"
    view.go("/tidy")
    view.press("/")
    view.press("fly cap")
    view.until_text("119", "[role=listbox]")
    assert focused(view) == "Find a colour"


def test_layers_with_nothing_then_one_then_two_pencils_and_then_more(mine: Page) -> None:
    """With nothing owned the mixing once died on an empty table, and every later question got the same empty one."""
    page = mine
    swatch = """const [colour, L, done] = arguments;
      fetch("/api/swatches", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify(
        {colour_id: colour, paper_id: 1, pressure: "heavy", lab: [L, 20 - 5 * colour, 5 * colour], layers: 1,
         finish: "dry", over: "paper", instrument: "", note: ""})}).then((r) => done(r.status));"""
    page.go("/tidy")
    for colour in (1, 2, 3, 4, 5):
        assert page.driver.execute_async_script(swatch, colour, 40 + 5 * colour) == 200
    own = """const [colour, done] = arguments;
      fetch("/api/tidy/owned", {method: "POST", headers: {"Content-Type": "application/json"},
        body: JSON.stringify({colour_ids: [colour], owned: true})}).then((r) => done(r.status));"""
    seen = []
    for owned in (None, 1, 2, 4, 5):
        if owned is not None:
            assert page.driver.execute_async_script(own, owned) == 200
        page.go("/standins/3")
        page.until_text("No pencil at hand fits" if owned is None else "these layers", "main")
        seen.append(len(page.all("#answers [role=option]")))
    assert seen[0] == 0
    assert seen[1] == 1
    assert seen == sorted(seen)
    assert any("+ " in row.text for row in page.all("#answers [role=option]"))


def test_a_new_paper_is_begun_from_the_papers_button_and_is_then_at_hand(mine: Page) -> None:
    mine.go("/tidy")
    mine.click("White paper", "header button")
    mine.click("A new paper", "[role=menuitem]")
    mine.press("Grey card")
    for field, value in zip(mine.all("main form .lab input"), ("", "", "", "#777777"), strict=True):
        if value:
            field.send_keys(value)
    mine.until_text("Add this paper")
    mine.quiet()
    assert [f.get_attribute("value") for f in mine.all("main form .lab input")[:3]] == ["50.03", "0.00", "0.00"]
    mine.click("Add this paper")
    mine.until_text("Grey card", "header")
    assert "/first" in mine.driver.current_url
    assert_accessible(mine)


def test_the_finder_shows_marks_and_understands_colour_words(view: Page) -> None:
    view.go("/tidy")
    view.press("/")
    view.press("dull green")
    view.until_text("By value, chroma and hue: dull green", "[role=listbox]")
    first = view.all("header [role=option]:not([aria-disabled])")[0]
    assert first.find_elements("css selector", "svg")
    said = str(first.get_attribute("textContent"))
    assert said.endswith(("owned", "spare", "lost", "stub"))
    name = first.find_element("css selector", ".graded").text
    view.press(Keys.ENTER)
    assert name in view.active("[role=grid]")
    assert focused(view) == "Shelves"
    view.press("/")
    view.press("weathervane 10%")
    view.until_text("10 %", "[role=listbox]")
    assert_accessible(view)


def test_names_keep_their_grade_and_the_head_leaves_room_on_a_phone(mine: Page) -> None:
    resize(mine.driver, 390, 800)
    mine.go("/tidy")
    name = mine.one("[role=gridcell][title*='Weathervane'] .graded")
    head, grade = name.find_elements("css selector", "span")
    assert grade.text.strip() == "10 %"
    assert grade.rect["x"] + grade.rect["width"] <= 390
    assert head.size["width"] < int(mine.script("return arguments[0].scrollWidth", head))
    assert mine.one("[role=grid]").rect["y"] < 200
    assert_accessible(mine)


def test_lab_fields_take_a_decimal_comma_three_numbers_and_a_hex(mine: Page) -> None:
    mine.go("/tidy/colours/1")
    mine.click("Type in a value")
    L, a, b, hex_field = mine.all("main form .lab input")
    L.send_keys("52,5")
    assert L.get_attribute("value") == "52.5"
    paste = """const [field, text] = arguments; const data = new DataTransfer(); data.setData("text", text);
      field.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));"""
    for text, expected in (
        ("48,5; −10,2; 33", ["48.5", "-10.2", "33"]),
        ("48.5, -10.2, 33", ["48.5", "-10.2", "33"]),
        ("48,5\t10,25\t-3", ["48.5", "10.25", "-3"]),
    ):
        mine.script(paste, L, text)
        assert [field.get_attribute("value") for field in (L, a, b)] == expected
    hex_field.send_keys("#777777")
    mine.quiet()
    # Mid grey of the screen is L* 50 (IEC 61966-2-1 and CIE 15).
    assert [field.get_attribute("value") for field in (L, a, b)] == ["50.03", "0.00", "0.00"]
