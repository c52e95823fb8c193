"""Station 2 in the browser: twelve pencils by keyboard with every fault on the way; board, papers, side by side."""

from __future__ import annotations

import signal
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Server, console
from tests.browser.page import Page, wait
from tests.conftest import demo_copy

pytestmark = pytest.mark.browser

# What the panel says, what the page then says, and whether a calibration mends it.
FAULTS = (
    ("forgets its calibration", "The reader is not calibrated", True),
    ("calibration too old", "The calibration is too old", True),
    ("lamp too weak", "The reader's lamp is too weak", False),
    ("battery low", "The reader's battery is low", False),
    ("lifted too early", "The reader was lifted too early", False),
    ("does not answer", "The reader does not answer", False),
    ("sends garbage", "The reader sent something that makes no sense", False),
    ("connection lost half-way", "The connection to the reader was lost", False),
)


def choose(page: Page, label: str, words: str) -> None:
    """Choose in a list of words by its label."""
    box = page.driver.find_element(By.XPATH, f"//label[contains(., '{label}')]//select")
    Select(box).select_by_visible_text(words)
    page.quiet()


def begin(page: Page, paper: str) -> None:
    """Begin a session with what is in the tray."""
    page.go("/swatches/begin")
    choose(page, "On", paper)
    choose(page, "Which pencils", "the tray")
    page.until_text("marks to read")
    page.click("Begin", "main button")
    page.until_text("Put under the reader")


FILL = """
const [codes, done] = arguments;
const headers = { "Content-Type": "application/json" };
const send = (body) => ({ method: "PUT", headers, body: JSON.stringify(body) });
const wanted = (shelf) => shelf.colours.filter(({ card }) => codes.includes(card.colour.code)).map(({ id }) => id);
fetch("/api/tidy?paper=1").then((r) => r.json())
  .then(({ shelves }) => shelves.find((s) => s.name === "Heron"))
  .then((heron) => fetch("/api/tray", send({ colour_ids: wanted(heron), into: true })))
  .then((r) => done(r.status));
"""


def fill_tray(page: Page, codes: tuple[str, ...]) -> None:
    """Herons into the tray, before the page is opened: by keyboard it is tried in test_tidy_station."""
    page.go("/tidy")
    assert page.driver.execute_async_script(FILL, codes) == 200


def progress(page: Page) -> str:
    return page.text("main header .mono")


def read_next(page: Page, number: int) -> None:
    """One reading by key, until it is counted as this one."""
    page.press(" ")
    wait(page.driver).until(lambda _: progress(page).startswith(f"{number} of"), f"reading {number} was not counted")


def expect_refused(page: Page) -> None:
    """The browser itself logs the refused request; that is what was wanted."""
    assert all("424" in str(line["message"]) for line in console(page.driver) if line["level"] == "SEVERE")


def test_twelve_pencils_by_keyboard_with_one_fault_of_each_kind(page: Page) -> None:
    fill_tray(page, ("102", "103", "105", "107", "110", "111", "112", "113", "114", "115", "116", "118"))
    begin(page, "Cotton print paper")
    assert progress(page) == "0 of 36"
    page.click("Start the simulated reader")
    page.until_text("Not calibrated", "aside")
    page.press("c")
    page.until_text("Calibrated", "aside")
    done = 0
    for fault, said, mended_by_calibration in FAULTS:
        for _ in range(2):
            done += 1
            read_next(page, done)
        choose(page, "At the next reading it", fault)
        page.click("Let it fail")
        page.press(" ")
        page.until_text(said, "[role=alert]")
        # The reading that failed stored nothing, and nothing before it is lost.
        assert progress(page) == f"{done} of 36"
        expect_refused(page)
        if mended_by_calibration:
            page.press("c")
            page.until_text("Calibrated; 0 readings", "aside")
    for number in range(done + 1, 37):
        read_next(page, number)
    page.until_text("All marks are read or left out")
    assert progress(page) == "36 of 36"
    # On the board, on the colour's page, in the stand-ins.
    page.press("2")
    page.until_text("12/68")
    page.press("/")
    page.press("heron 107", Keys.ENTER)
    page.until_text("measured on Cotton print paper", "aside")
    page.click("all about it")
    page.until_text("simulated reader SIM-0001", "table")
    page.go("/recipes/new")
    page.one("textarea").send_keys("Gold\nHeron\n108, heavy\n109, heavy\n")
    page.click("Keep this recipe")
    page.until_text("Gold", "h1")
    page.click("Chanterelle", "[id^=call-]")
    page.until_text("On Cotton print paper", "aside")
    # What was just swatched is offered as measured or, where the wanted one is not swatched there, ± how much.
    answer = page.get("/api/colours/9?paper=3")
    assert answer["nearest"]["on_paper"][0]["basis"] in ("measured on this paper", "predicted on this paper")


def test_a_doubted_reading_is_shown_and_decided_by_key(page: Page) -> None:
    fill_tray(page, ("119",))
    begin(page, "Cotton print paper")
    page.click("Start the simulated reader")
    page.press("c")
    page.click("Bare paper")
    page.until_text("bare Cotton print paper", "aside")
    page.press(" ")
    page.until_text("looks like bare Cotton print paper", "[role=alert]")
    page.driver.refresh()
    page.quiet()
    page.until_text("looks like bare Cotton print paper", "[role=alert]")
    page.click("Follow what is asked for", "label")
    page.press("a")
    page.press(" ")
    page.until_text("1 of 3", "header")
    assert "medium" in page.text("main section")


def test_a_session_is_left_and_taken_up_after_the_server_was_killed(
    browser_page: Callable[[str], Page], serve: Callable[..., Server], demo_file: Path, tmp_path: Path
) -> None:
    """Killing the real server process in mid-session loses at most the reading under way."""
    folder = tmp_path / "demo"
    folder.mkdir()
    demo_copy(demo_file, folder / "collection.sqlite")
    server = serve("--demo", "--data", str(folder))
    page = browser_page(server.address)
    fill_tray(page, ("119", "123"))
    begin(page, "Cotton print paper")
    page.click("Start the simulated reader")
    for key in "c   ":
        page.press(key)
    assert progress(page) == "3 of 6"
    server.process.send_signal(signal.SIGKILL)
    server.process.communicate(timeout=20)
    again = browser_page(serve("--demo", "--data", str(folder)).address)
    again.go("/swatches")
    again.until_text("3 of 6")
    again.click("Go on: Cotton print paper")
    again.click("Start the simulated reader")
    again.press("c")
    again.press(" ")
    again.until_text("4 of 6", "header")


def test_papers_are_changed_copied_and_read(page: Page) -> None:
    page.go("/swatches/papers")
    page.click("Start the simulated reader")
    page.press("c")
    page.click("Calibrate")
    page.click("Read its colour")
    lab = [float(e.get_attribute("value") or "") for e in page.all("main form .lab input")[:3]]
    assert lab[0] == pytest.approx(94.5, abs=1.5)
    page.click("Save the paper")
    page.until_text("Paper Vellum board changed", "footer")
    page.click("Copy as a new batch")
    page.until_text("Vellum board, batch 2", "h2")
    page.until_text("A later batch of Vellum board")
    page.press("]")
    page.click("Remove", "main form button")
    page.until_text("Paper Vellum board, batch 2 removed", "footer")
    page.click("Black paper", "main li button")
    page.until_text("Black paper", "h2")


def test_two_windows_never_overwrite_each_other(page: Page) -> None:
    page.go("/tidy?colour=20")
    page.click("change", "aside button")
    box = page.driver.find_element(By.XPATH, "//aside//label[contains(., 'Length')]//input")
    page.empty(box)
    box.send_keys("61")
    # Another window is quicker.
    stick = page.get("/api/colours/20?paper=1")["pencils"][0]
    number, _ = stick.pop("id"), stick.pop("set_name")
    page.script(
        "return fetch('/api/pencils/' + arguments[0], {method: 'PUT', headers: {'content-type': 'application/json'}, "
        "body: JSON.stringify(arguments[1])})", number, {**stick, "length_mm": 77},
    )  # fmt: skip
    page.click("Save", "aside form button")
    page.until_text("Changed meanwhile", "aside [role=alert]")
    table = page.text("aside [role=alert] table")
    assert "61" in table
    assert "77" in table
    assert all("409" in str(line["message"]) for line in console(page.driver) if line["level"] == "SEVERE")
    page.click("Keep what is written here")
    page.until_text("61 mm", "aside")


def test_marks_lie_edge_to_edge_across_papers(view: Page) -> None:
    view.go("/swatches/beside")
    for text in ("heron 119", "heron 119", "haw"):
        view.one("main input").send_keys(text, Keys.ENTER)
        view.quiet()
    Select(view.one("[aria-label='Paper of mark 2']")).select_by_visible_text("Buff sanded card")
    view.quiet()
    view.until_text("than the first")
    boxes = view.script(
        "return [...document.querySelectorAll('main [data-hued=patch]')].map((p) => p.getBoundingClientRect())"
    )
    assert len(boxes) == 3
    for left, right in pairwise(boxes):
        assert left["x"] + left["width"] == pytest.approx(right["x"], abs=0.01)
    view.driver.refresh()
    view.quiet()
    assert len(view.all("main [data-hued=patch]")) == 3


def test_an_empty_collection_is_led_to_its_tidy(empty_page: Page) -> None:
    empty_page.go("/swatches")
    empty_page.until_text("Nothing to swatch yet")
    empty_page.click("Your papers")
    empty_page.until_text("White paper", "h2")


def test_opacity_comes_from_a_mark_over_the_black_bar(page: Page) -> None:
    fill_tray(page, ("119",))
    page.go("/swatches/begin")
    choose(page, "On", "Cotton print paper")
    choose(page, "Which pencils", "the tray")
    for words in ("light", "medium", "mean of three"):
        page.click(words, "main label")
    page.click("over a black bar", "main label")
    page.until_text("2 marks to read", "[role=status]")
    page.click("Begin", "main button")
    page.click("Start the simulated reader")
    page.press("c")
    for _ in range(3):
        page.press(" ")
    page.until_text("heavy over the black bar", "main section")
    page.until_text("reading 1 of 3", "main section")
    for _ in range(3):
        page.press(" ")
    page.until_text("All marks are read or left out")
    page.go("/tidy/colours/20")
    page.until_text("contrast ratio")
    page.until_text("mean of 3", "main table")
    page.until_text("over black", "main table")


def test_four_pencils_are_laid_in_three_layers_too(page: Page) -> None:
    fill_tray(page, ("119", "120", "121", "126", "161"))
    page.go("/swatches/begin")
    choose(page, "On", "Cotton print paper")
    choose(page, "Which pencils", "the tray")
    page.until_text("15 marks to read", "[role=status]")
    page.until_text("No mark of several layers is measured on this paper yet", "main fieldset")
    page.click("four pencils in three layers", "main label")
    page.until_text("19 marks to read", "[role=status]")
    # Where all marks are of two layers, there is nothing to lay beside them.
    page.field("Layers").send_keys(Keys.BACKSPACE, "2")
    page.until_text("15 marks to read", "[role=status]")
    assert "three layers" not in page.text("main fieldset")
    page.field("Layers").send_keys(Keys.BACKSPACE, "1")
    page.until_text("19 marks to read", "[role=status]")
    page.click("Begin", "main button")
    page.until_text("Put under the reader")
    marks = page.all("main ol[aria-label='All marks of this session'] li")
    assert [", 3 layers" in mark.text for mark in marks] == [False] * 15 + [True] * 4
    page.click("Start the simulated reader")
    page.press("c")
    marks[-1].click()
    page.until_text("heavy, 3 layers", "main section")
    page.press(" ")
    page.until_text("read", "main ol[aria-label='All marks of this session'] li:last-child strong")
    page.go("/swatches/begin?paper=3")
    choose(page, "Which pencils", "the tray")
    page.until_text("They tell how wax takes to wax", "main fieldset")
    assert "No mark of several layers" not in page.text("main fieldset")


def test_eight_pencils_over_black_are_asked_for_where_not_all_are(page: Page) -> None:
    page.go("/swatches/begin?paper=1&black=yes")
    page.until_text("8 marks to read", "[role=status]")
    page.until_text("They tell how much your pencils cover", "main fieldset")
    page.click("heavy over a black bar too (opacity)", "main label")
    assert "eight pencils" not in page.text("main fieldset")
    page.click("heavy over a black bar too (opacity)", "main label")
    page.until_text("8 marks to read", "[role=status]")
    page.click("Begin", "main button")
    page.until_text("Put under the reader")
    marks = page.all("main ol[aria-label='All marks of this session'] li")
    assert len(marks) == 8
    assert all("over the black bar" in mark.text for mark in marks)


def test_a_cell_of_the_board_leads_to_what_is_missing(view: Page) -> None:
    view.go("/swatches")
    view.one("tbody tr:nth-child(4) td:nth-of-type(3) a").click()
    view.quiet()
    cell = view.get("/api/board")["rows"][3]["cells"][2]
    view.until_text(f"{cell['missing']} marks to read", "[role=status]")
    chosen = [Select(e).first_selected_option.text for e in view.all("main select")]
    assert chosen[0] == "Buff sanded card"
    assert "Tallow" in chosen


# Both keys within one turn of the page, before anything is drawn or answered.
_AT_ONCE = """
for (const key of arguments) {
  window.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
}
"""


def test_a_key_typed_while_another_is_answered_comes_next(page: Page) -> None:
    fill_tray(page, ("119", "123"))
    begin(page, "Cotton print paper")
    page.click("Start the simulated reader")
    page.press("c")
    page.script(_AT_ONCE, "x", " ")
    wait(page.driver).until(lambda _: progress(page) == "2 of 6", "the reading after leaving out was lost")
    page.until_text("119 Fly Cap medium read", "footer")
    page.press("u")
    page.press(Keys.ARROW_UP)
    page.script(_AT_ONCE, "a", " ")

    def states() -> list[str]:
        return [item["state"] for item in page.get("/api/swatching/1")["items"][:3]]

    wait(page.driver).until(lambda _: states() == ["skipped", "read", "waiting"], "the second key was lost")


def test_a_mark_is_left_out_read_again_and_undone_by_key(page: Page) -> None:
    fill_tray(page, ("119", "123"))
    begin(page, "Cotton print paper")
    page.click("Start the simulated reader")
    page.press("c")
    page.press("x")
    page.until_text("left out", "ol")
    page.press(" ")
    assert progress(page) == "2 of 6"
    page.press("u")
    assert progress(page) == "1 of 6"
    page.press(Keys.ARROW_UP)
    page.press(Keys.ARROW_UP)
    page.press("a")
    page.press(" ")
    assert progress(page) == "1 of 6"
    page.until_text("119 Fly Cap light read", "footer")
    page.click("Close the session")
    page.until_text("Session closed", "footer")
    assert "Under way" not in page.text("main")
    # The session had turned the page to its paper.
    page.until_text("Cotton print paper", "header")
