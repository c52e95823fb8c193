"""A plan for a whole recipe: seen beside what is asked for, argued with, taken and taken back; over a kill; in two
windows.
"""

from __future__ import annotations

import json
import signal
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path

import pytest
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server, console, resize
from tests.browser.page import WAIT_SECONDS, Page, assert_accessible, wait
from tests.conftest import demo_copy

pytestmark = pytest.mark.browser

ENDED = "[aria-label='The plan'][data-ended=true]"


def until_planned(page: Page) -> None:
    """Until nothing better comes; the pairs may have to be mixed first."""
    wait(page.driver, 8 * WAIT_SECONDS).until(lambda d: page.all(ENDED), "the plan did not come to its end")
    page.quiet()


def open_planned(page: Page, recipe: int = 1) -> None:
    page.go(f"/recipes/{recipe}")
    until_planned(page)


def standing(page: Page) -> str:
    return page.text("[aria-label='The plan'] p")


def strip(page: Page) -> list[tuple[int, int]]:
    """Top and bottom of every stretch of the build-up strip."""
    rows: list[list[int]] = page.script(
        "return [...document.querySelectorAll('[role=listbox] [data-hued=surround] > [data-hued=patch]:last-child')]"
        ".map((e) => { const r = e.getBoundingClientRect(); return [Math.round(r.top), Math.round(r.bottom)]; })"
    )
    return [(top, bottom) for top, bottom in rows]


def test_a_plan_is_looked_at_argued_with_taken_and_taken_back_by_keyboard(page: Page) -> None:
    open_planned(page)
    assert "Plan for 3 calls" in standing(page)
    assert "proven best" in standing(page)
    # The strip runs down without a gap.
    rows = strip(page)
    assert len(rows) >= 10
    assert all(bottom == top for (_, bottom), (top, _) in pairwise(rows))
    # The cursor is on the first open call; the plan says what it lays there.
    page.until_text("The plan lays:", "aside")
    first = page.text("aside [aria-label='In the plan'] code")
    page.press("c")
    page.until_text("Values of the finished passages", "main")
    assert len(page.all("[aria-label='Calls that change'] li")) == 3
    assert_accessible(page)
    page.press("c")
    # Not that pencil: another takes its place.
    page.press("x")
    page.until_text(f"Offer {first} again", "aside")
    until_planned(page)
    assert page.text("aside [aria-label='In the plan'] code") != first
    page.press("y")
    page.until_text("3 stand-ins", "main header")
    until_planned(page)
    assert "Planned:" in standing(page)
    page.until_text("As the plan has it:", "aside")
    # Locked, it is no longer the plan's to change.
    page.press("k")
    page.until_text("locked", "[role=option][aria-selected=true]")
    page.driver.refresh()
    page.fitted()
    page.until_text("locked", "[role=option]")
    page.press("u")
    page.press("u")
    page.until_text("3 open", "main header")


def test_what_she_chose_by_hand_stays_in_the_plan(page: Page) -> None:
    open_planned(page)
    page.script("document.querySelector('#answers').focus()")
    page.press(Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ENTER)
    page.until_text("1 stand-in", "main header")
    until_planned(page)
    assert "Plan for 2 calls" in standing(page)
    page.until_text("Locked: plans leave it as it is", "aside")
    page.press("k")
    until_planned(page)
    wait(page.driver).until(lambda _: "Plan for" in standing(page))
    page.until_text("Not ", "aside")


def test_another_paper_has_another_plan(page: Page) -> None:
    open_planned(page)
    vellum = standing(page)
    page.turn_to("Buff sanded card")
    page.until_text("Buff sanded card", "main header")
    until_planned(page)
    assert standing(page) != vellum


def test_a_plan_survives_its_program(
    browser: WebDriver, serve: Callable[..., Server], demo_file: Path, tmp_path: Path
) -> None:
    """Killed in the middle of planning: what was locked and left out is still there, and a plan is begun again."""
    data = tmp_path / "collection"
    data.mkdir()
    demo_copy(demo_file, data / "collection.sqlite")
    server = serve("--data", str(data))
    page = Page(browser, server.address)
    resize(browser, 1280, 800)
    open_planned(page)
    page.press("x")
    page.until_text("again", "aside")
    left_out = page.text("aside [aria-label='In the plan'] p:last-of-type code")
    page.go("/recipes/6")
    server.process.kill()
    server.process.communicate()
    assert server.process.returncode == -signal.SIGKILL
    page = Page(browser, serve("--data", str(data)).address)
    open_planned(page)
    page.until_text(f"Offer {left_out} again", "aside")
    assert "Plan for 3 calls" in standing(page)


def test_two_windows_see_one_plan_taken(page: Page) -> None:
    open_planned(page)
    first = page.driver.current_window_handle
    page.driver.switch_to.new_window("window")
    try:
        resize(page.driver, 1280, 800)
        open_planned(page)
        page.press("y")
        page.until_text("3 stand-ins", "main header")
    finally:
        page.driver.close()
        page.driver.switch_to.window(first)
    # Here it is shown as it was: taking it once more writes the same.
    page.press("y")
    page.until_text("3 stand-ins", "main header")


def test_the_plan_on_a_phone(page: Page) -> None:
    resize(page.driver, 390, 800)
    open_planned(page)
    page.until_text("Take this plan", "main")
    assert page.script("return document.documentElement.scrollWidth") <= 390
    assert_accessible(page)
    page.click("Take this plan")
    page.until_text("3 stand-ins", "main header")


def test_nothing_to_plan_is_said(page: Page) -> None:
    page.go("/recipes/new")
    page.one("#recipe").send_keys("A note only\nBlend all of it\n")
    page.click("Keep this recipe")
    wait(page.driver, 2 * WAIT_SECONDS).until(lambda d: page.all(ENDED))
    page.until_text("Nothing can be planned here", "main")
    assert "again" not in page.text("[aria-label='The plan']")


def test_planning_is_stopped_and_begun_again(page: Page) -> None:
    page.go("/recipes/7")
    page.click("Stop")
    page.click("Work on it again")
    until_planned(page)
    assert "Plan for 7 calls" in standing(page)


def test_a_recipe_is_shared_and_taken_in(page: Page, tmp_path: Path) -> None:
    page.go("/recipes/1")
    page.click("Share", "summary")
    links = [link.get_attribute("href") or "" for link in page.all("main header details a")]
    files = [link.rsplit("=", 1)[1] for link in links if "/file?" in link]
    assert files == ["text", "json", "csv", "palette"]
    assert_accessible(page)
    shared = tmp_path / "cap.json"
    shared.write_text(json.dumps(page.get("/api/recipes/1/file?paper=1&kind=json")), encoding="utf-8")
    page.go("/recipes/new")
    page.one("input[type=file]").send_keys(str(shared))
    page.until_text("10 calls: 7 owned, 3 open", "main header")
    assert page.text("h1") == "Scarlet cap with pale warts"


def test_a_recipe_of_others_is_settled_where_nothing_is_charted(empty_page: Page, tmp_path: Path) -> None:
    call = {"as_written": "119", "start": 0, "maker": "Quillfen", "range": "Heron", "code": "119", "name": "Fly Cap"}
    step = {"kind": "step", "area": "Cap", "text": "119, heavy", "calls": [call]}
    shared, broken = tmp_path / "cap.json", tmp_path / "broken.json"
    recipe = {"format": "tidy-tinder recipe", "version": 1, "title": "A cap", "steps": [step]}
    shared.write_text(json.dumps(recipe), encoding="utf-8")
    broken.write_text("{", encoding="utf-8")
    empty_page.go("/recipes/new")
    empty_page.one("input[type=file]").send_keys(str(broken))
    empty_page.until_text("line 1, column 2", "main")
    console(empty_page.driver)  # the refusal is in it, as a refusal is to be
    empty_page.one("input[type=file]").send_keys(str(shared))
    empty_page.until_text("1 to settle", "main header")


def test_colours_in_everyday_words_are_settled_by_how_they_look_and_all_that_say_the_same(page: Page) -> None:
    page.go("/recipes/new")
    page.one("textarea").send_keys(
        "A fox\nHeron\n119, heavy\nDark brown all over\nsame as above\nthe green leaves get 107"
    )
    page.until_text("4 calls, 2 to settle")
    page.chord(Keys.CONTROL, Keys.ENTER)
    page.until_text("A fox", "h1")
    page.click("Dark brown", "[id^=call-]")
    page.until_text("As its words say: dark brown", "aside")
    assert_accessible(page)
    # By mouse or by Tab: Enter alone leads to the finder, as where nothing looks so.
    assert page.text("aside section li button .visually-hidden").endswith("owned")
    code = page.text("aside section li code").split()[-1]
    page.one("aside section li button").click()
    page.until_text("in 2 places", "footer")
    page.until_text("4 calls: 4 owned", "main header")
    steps = page.get("/api/recipes/8?paper=1")["steps"]
    meant = [call["colour"]["code"] for step in steps for call in step["calls"]]
    assert meant == ["119", code, code, "107"]
    page.press("u")
    page.until_text("2 to settle", "main header")


def test_a_pasted_recipe_says_which_words_gave_a_colour_and_which_may(page: Page) -> None:
    page.go("/recipes/new")
    page.one("textarea").send_keys("A fox\nHeron\n119, heavy\nCheeks:\nLet it rest overnight\nFern and Oat, two layers")
    page.until_text("3 calls, none to settle.")
    assert_accessible(page)
    reading = "[aria-label='How it is read'] li"
    assert [words.text for words in page.all(f"{reading} u")] == ["119", "Fern", "Oat"]
    assert [line.text.split("\n")[-1] for line in page.all(reading)] == [
        "range", "Heron 119 Fly Cap, heavy", "heading", "no colour", "Tallow M09 Oat, 2 layers",
    ]  # fmt: skip
    assert "may name one more" not in page.text("[aria-label='How it is read']")
    # A code or a letter that stands for a name is underlined as the name is.
    page.one("textarea").send_keys("\n12 (Peony)\nthen 12, and P = Oat\nP all over\nstalk – Twig")
    page.until_text("6 calls, 2 to settle. 1 line has words that may name one more")
    assert [words.text for words in page.all(f"{reading} u")] == ["119", "Fern", "Oat", "Peony", "12", "P"]


def test_a_recipe_is_put_into_somebodys_box(page: Page) -> None:
    page.go("/recipes/1")
    Select(page.one("select[aria-label='Planned with']")).select_by_visible_text("with the box Heron 24 (24)")
    page.quiet()
    until_planned(page)
    assert "Plan for" in standing(page)
    page.click("Write it as a recipe")
    page.until_text("Scarlet cap with pale warts, with the box Heron 24", "h1")
    assert_accessible(page)


def test_two_plans_are_compared(page: Page) -> None:
    open_planned(page)
    page.press("c")
    Select(page.field("Beside a plan")).select_by_visible_text("without black")
    page.until_text("ΔE expected of each finished passage", "caption")
    assert_accessible(page)


def test_words_that_were_read_as_nothing_are_answered_by_keyboard(page: Page) -> None:
    """Nothing is lost in silence: each line that may name one more colour asks, and nothing is passed over by Enter."""
    page.go("/recipes/new")
    page.one("#recipe").send_keys("A leaf\nHeron\n119 light\nDeepen with periwinkle + dove\nstalk – Twig\n")
    page.until_text("2 lines have words that may name one more", "section")
    assert_accessible(page)
    page.chord(Keys.CONTROL, Keys.ENTER)
    page.until_text("2 lines to look through", "main header")
    listed = "[role=option][aria-selected=true]"
    page.until_text("periwinkle", listed)
    page.press(Keys.ARROW_DOWN)
    page.until_text("to look through: “dove” may name one more", listed)
    assert_accessible(page)
    # Enter goes to the words, and Enter again makes them a colour to settle; the line still asks.
    page.press(Keys.ENTER)
    page.press(Keys.ENTER)
    page.until_text("3 calls: 1 owned, 2 to settle, 2 lines to look through", "main header")
    page.until_text("without the 2 to settle", "[aria-label='The plan']")
    page.until_text("the line may name one more", listed)
    # Words that are not in it are refused, and stay where they were typed.
    field = page.one("aside form input")
    field.send_keys("moonmilk", Keys.ENTER)
    page.until_text("does not stand in this line", "aside")
    assert field.get_attribute("value") == "moonmilk"
    assert all("422" in str(line["message"]) for line in console(page.driver))
    page.press(Keys.ESCAPE)
    page.press("0")
    page.until_text("1 line to look through", "main header")
    # On to the next that waits, from there on.
    page.until_text("“Twig” may name a colour", listed)
    page.quiet()
    page.press("u")
    page.until_text("2 lines to look through", "main header")
    page.go("/recipes")
    page.until_text("2 lines to look through", "main")
