"""Layered stand-ins at work: asked for, left out, chosen, kept."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import resize
from tests.browser.page import Page, assert_accessible, wait

pytestmark = pytest.mark.browser

# All but every fifth of her pencils are lost, so that every two of the rest are mixed in a moment.
LOSE = """
const done = arguments[0];
fetch("/api/tidy?paper=1").then((r) => r.json()).then((tidy) => {
  const owned = tidy.shelves.flatMap((s) => s.colours).filter((c) => c.owning !== "not owned").map((c) => c.id);
  const body = JSON.stringify({colour_ids: owned.filter((_, i) => i % 5), act: "lost", tin: ""});
  return fetch("/api/tidy/pencils", {method: "POST", headers: {"Content-Type": "application/json"}, body});
}).then((r) => done(r.status));
"""


def rows(page: Page) -> list[str]:
    return [" ".join(e.text.split()) for e in page.all("#answers [role=option]")]


def open_layered(page: Page, code: str) -> None:
    """The recipe of the chanterelle, one call of it, judged in the passage, all pairs mixed."""
    page.go("/tidy")
    assert page.driver.execute_async_script(LOSE) == 200
    page.go("/recipes/2")
    page.click(code, "[role=option]")
    page.press("v")
    page.until_text(" + ", "#answers")
    page.quiet()


def test_a_pair_is_chosen_for_a_call_and_kept(page: Page) -> None:
    open_layered(page, "178")
    nothing_chosen = page.text("main header p").split(" · ")[0]
    page.until_text("Judged under 139, as the recipe has it", "aside")
    assert any(" + " in row for row in rows(page))
    page.script("document.querySelector('#answers').focus()")
    # Down to the first pair, whatever leads.
    while " over it" not in page.text("aside h3"):
        page.press(Keys.ARROW_DOWN)
    said = page.text("aside h3")
    assert page.all("aside [aria-label^='asked: L*']")
    assert_accessible(page)
    page.press(Keys.ENTER)
    page.until_text("Leave it open again", "aside")
    page.until_text("in the passage", "[role=option][aria-selected=true]")
    page.driver.refresh()
    page.fitted()
    page.until_text("⇄ chosen", "aside")
    assert page.text("aside h3") == said
    # On another paper nothing is chosen yet.
    page.press("]")
    page.until_text("Hot-pressed board", "header")
    page.until_text(nothing_chosen, "main header")
    page.press("[")
    page.until_text("1 stand-in", "main header")
    page.click("Leave it open again")
    page.until_text(nothing_chosen, "main header")


def test_what_is_left_out_and_one_pencil_only(page: Page) -> None:
    open_layered(page, "173")
    assert any(" + " in row for row in rows(page))
    page.click("one pencil only", "label")
    assert rows(page)
    assert not any(" + " in row for row in rows(page))
    page.click("one pencil only", "label")
    page.click("some ranges only", "label")
    page.click("Tallow", "fieldset label")
    page.until_text("of Tallow", "aside h3")
    # All codes of that range begin so, and of no other.
    assert all(code.text.startswith("M") for code in page.all("#answers code"))
    page.click("Tallow", "fieldset label")
    page.click("Wader", "fieldset label")
    page.until_text("No pencil at hand fits", "aside")
    resize(page.driver, 390, 800)
    assert page.script("return document.documentElement.scrollWidth") <= 390


# The answers of the server, as they are where the first mixing failed: the program itself has no reason to fail.
FAILED_ONCE = """
const asked = window.fetch;
let triedAgain = false;
window.fetch = async (request, ...rest) => {
  const answer = await asked(request, ...rest);
  const address = request.url ?? String(request);
  triedAgain ||= address.includes("again=true");
  if (triedAgain || !address.includes("/layered")) return answer;
  const problem = "Mixing your pencils failed. The reason stands in the window where the program was started.";
  return Response.json({...(await answer.json()), ready: true, failed: true, problem});
};
"""


def test_a_failed_mixing_is_said_and_tried_again_by_hand(page: Page) -> None:
    page.go("/tidy")
    assert page.driver.execute_async_script(LOSE) == 200
    script = page.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": FAILED_ONCE})
    try:
        page.go("/recipes/2")
        page.click("178", "[role=option]")
        page.press("v")
        page.until_text("No pairs: Mixing your pencils failed", "aside [role=alert]")
        assert_accessible(page)
        page.one("aside [role=alert] button").send_keys(Keys.ENTER)
        wait(page.driver).until(lambda _: page.all("aside [role=alert]") == [], "the failure is still said")
        page.until_text(" + ", "#answers")
    finally:
        page.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", script)


# Answers of the list that are wholly in sight: in the window, and in whatever scrolls them.
IN_SIGHT = """
const inside = (e) => {
  const box = e.getBoundingClientRect();
  const at = (y) => e.contains(document.elementFromPoint(box.left + box.width / 2, y));
  return at(box.top + 3) && at(box.bottom - 3);
};
return [...document.querySelectorAll('#answers [role=option]')].filter(inside).length;
"""


@pytest.mark.parametrize("path", ["/recipes/2", "/standins/26"])
def test_the_answer_never_hides_its_list(page: Page, path: str) -> None:
    """At 1280 × 800 at least six candidates stand beside the comparison."""
    page.go("/tidy")
    assert page.driver.execute_async_script(LOSE) == 200
    page.go(path)
    if path.startswith("/recipes"):
        page.press("v")
    page.until_text(" + ", "#answers")
    page.quiet()
    assert page.script("return document.querySelector('figure').getBoundingClientRect().bottom") < 800
    assert page.script(IN_SIGHT) >= 6
