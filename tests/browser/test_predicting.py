"""Predictions in the browser: a new paper from four swatches, why a mark is thought so, jobs cut off and taken up."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select, WebDriverWait

from tests.browser.conftest import Server
from tests.browser.page import WAIT_SECONDS, Page, wait
from tests.conftest import demo_copy

pytestmark = pytest.mark.browser

COTTON = "Cotton print paper"


def share(page: Page) -> int:
    """The figure of the bar, in percent."""
    return int(page.text("section[aria-label^='How sure'] strong").split()[0])


def test_a_new_paper_from_four_swatches(page: Page) -> None:
    page.go("/swatches/papers")
    lab = next(p["said"]["lab"] for p in page.get("/api/papers")["papers"] if p["said"]["name"] == COTTON)
    page.click(COTTON, "main li button")
    page.click("Remove")
    page.click("A new paper")
    page.one("main form input").send_keys(COTTON)
    page.type_lab(*lab)
    page.click("Add this paper")
    page.until_text(f"First on {COTTON}", "h1")
    page.fitted()
    page.until_text("A guess so far")
    before = share(page)
    assert before < 60
    Select(page.one("main select")).select_by_visible_text("4 pencils")
    page.until_text("12 marks: each light, medium and heavy")
    assert "the first opaque one" in page.text("main ol")
    page.click("Begin with these")
    page.until_text("Put under the reader")
    page.click("Start the simulated reader")
    page.click("Calibrate")
    for count in range(1, 13):
        page.press(" ")
        page.until_text(f"{count} of 12", "header")
    page.fitted()
    page.until_text("Good enough")
    assert share(page) >= 60 > before
    assert page.script("return document.querySelector('progress').value") == 12
    # The whole tidy profits: a colour that was never swatched on it is predicted there, and says how well.
    page.go("/tidy?colour=1")
    page.until_text(f"predicted on {COTTON} ±", "aside")


def test_why_do_you_think_so(view: Page) -> None:
    view.go("/tidy?colour=1")
    view.turn_to("Black paper")
    view.until_text("predicted on Black paper", "aside")
    view.press("w")
    view.until_text("nine of ten such marks lie within that", "[role=dialog]")
    said = view.text("[role=dialog]")
    assert "heavy on Vellum board, by reader" in said
    assert "Nothing is swatched on Black paper yet" in said
    assert "swatch it heavy over a black bar on Vellum board" in said
    assert "covers" in said
    bands = [float(e.text.split()[1]) for e in view.all("[role=dialog] li span.mono") if e.text.startswith("±")]
    assert bands == sorted(bands)
    view.click("light", "[role=dialog] button, [role=dialog] label")
    view.until_text("light on Black paper", "[role=dialog]")
    view.press(Keys.ESCAPE)
    assert view.all("[role=dialog]") == []
    # What is measured has no such question.
    view.turn_to("Vellum board")
    view.until_text("measured on Vellum board", "aside")
    assert "Why do you think so" not in view.text("aside")


def test_stand_ins_on_a_paper_without_swatches_say_how_far_they_may_be_off(view: Page) -> None:
    view.go("/recipes/1")
    view.turn_to("Hot-pressed board")
    view.click("Cherry Stone", "main [role=option], main button, main li")
    view.until_text("On Hot-pressed board", "aside")
    offers = [e.text for e in view.all("aside [role=option]")]
    assert all("probably" in offer for offer in offers)
    assert "≈" in offers[0]
    assert "≈" in offers[1]
    view.until_text("±", "aside")
    view.until_text("A tie", "aside")
    view.click("Why do you think so?", "aside button")
    view.until_text("on Hot-pressed board", "[role=dialog]")
    view.press(Keys.ESCAPE)
    # The server is shared by all tests that only look.
    view.turn_to("Vellum board")


def not_fitted(demo_file: Path, folder: Path) -> Path:
    """The demo with the swatches of every fourth pencil, as it is before it was ever fitted."""
    folder.mkdir()
    demo_copy(demo_file, folder / "collection.sqlite")
    with closing(sqlite3.connect(folder / "collection.sqlite")) as database:
        database.execute("DELETE FROM swatch WHERE colour_id % 4")
        database.execute("DELETE FROM pencil_fitted")
        database.execute("DELETE FROM fitting_job")
        database.commit()
    return folder


def fitting_after(page: Page, done: int) -> dict[str, Any]:
    """The fitting, once so many pencils are done and it still works."""

    def far_enough(_driver: object) -> Any:
        now = page.get("/api/fitting")
        assert now["working"], "it was over before it could be disturbed"
        return now if now["done"] >= done else False

    found: dict[str, Any] = WebDriverWait(page.driver, 3 * WAIT_SECONDS, poll_frequency=0.05).until(far_enough)
    return found


SWATCH = """
const done = arguments[1];
const body = JSON.stringify(arguments[0]), headers = {"Content-Type": "application/json"};
fetch("/api/swatches", {method: "POST", headers, body})
  .then((r) => r.status).then(done);
"""


def test_a_newer_swatch_cancels_the_job_and_the_next_one_goes_on(
    browser_page: Callable[[str], Page], serve: Callable[..., Server], demo_file: Path, tmp_path: Path
) -> None:
    data = not_fitted(demo_file, tmp_path / "demo")
    page = browser_page(serve("--demo", "--data", str(data)).address)
    page.driver.get(page.address + "/tidy")
    page.until_text("Predicting marks", "footer")
    fitting_after(page, 60)
    typed = {"colour_id": 30, "paper_id": 3, "pressure": "heavy", "lab": [50.0, 30.0, 10.0]}
    assert page.driver.execute_async_script(SWATCH, typed) == 200
    page.fitted()
    done, cancelled = page.get("/api/fitting/jobs")["jobs"]
    assert (done["state"], cancelled["state"]) == ("done", "cancelled")
    assert 60 <= cancelled["done"] < cancelled["total"]
    assert done["reused"] >= cancelled["done"]


def test_a_job_is_taken_up_after_a_restart(
    browser_page: Callable[[str], Page], serve: Callable[..., Server], demo_file: Path, tmp_path: Path
) -> None:
    data = not_fitted(demo_file, tmp_path / "demo")
    server = serve("--demo", "--data", str(data))
    page = browser_page(server.address)
    page.driver.get(page.address + "/tidy")
    # Marks that were measured are there at once, whatever is still to be predicted.
    page.until_text("Oxlip")
    left = fitting_after(page, 60)
    server.process.kill()
    server.process.communicate(timeout=20)
    page = browser_page(serve("--demo", "--data", str(data)).address)
    page.go("/tidy")
    (job,) = page.get("/api/fitting/jobs")["jobs"]
    assert (job["state"], job["taken_up"], job["done"]) == ("done", 1, job["total"])
    assert job["reused"] >= left["done"] - 24
    page.until_text("Oxlip")
    assert page.all("[data-trust=predicted]")


_HELD = """
const real = window.fetch;
let held = false;
window.fetch = async (...asked) => {
  const answer = await real(...asked);
  if (held || !String(asked[0]?.url ?? asked[0]).includes("/api/tidy?")) return answer;
  held = true;
  while (document.querySelector("[data-fitting=false]") === null) await new Promise((go) => setTimeout(go, 50));
  return answer;
};
"""


def test_marks_that_were_on_their_way_when_the_predictions_came_are_asked_for_again(page: Page) -> None:
    """The first answer, made before the predictions, is held back in the browser until these are there."""
    added = page.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _HELD})
    try:
        page.go("/tidy")
        page.one("[id^=colour-]")
        name = "Quillfen Heron 106 Turnip Butter, not owned, predicted on Vellum board"
        wait(page.driver).until(
            lambda _: any(name in (e.get_attribute("aria-label") or "") for e in page.all("[id^=colour-]")),
            "the marks stayed as they were before the predictions",
        )
    finally:
        page.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", added)
