"""Take the pictures of the README from the demo data, at 1280 × 800.

Run: make screenshots (writes docs/screenshots/)
"""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait
from tests.browser.conftest import Server, start_browser
from tests.browser.page import Page, wait

TARGET = Path(__file__).parents[1] / "docs/screenshots"
RECIPE = """Autumn leaf
Quillfen Heron

Leaf
1. Map it with Oxlip 101, light
2. 119 Bracken, medium
3. Deepen with 107, then driftwood and peat near the stalk
4. Burnish with Oat
"""


def main() -> None:
    """Take them all."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        server = Server("--demo", "--data", f"{folder}/demo")
        driver = start_browser(Path(folder) / "profile")
        page = Page(driver, server.address)
        try:
            _take(page)
        finally:
            driver.quit()
            server.stop()


def _take(page: Page) -> None:
    def keep(name: str) -> None:
        page.driver.save_screenshot(str(TARGET / f"{name}.png"))

    page.go("/tidy")
    for name in ("heron 215", "heron 110", "heron 119", "heron 132", "heron 161", "heron 129", "heron 119"):
        page.press("/")
        page.press(name, Keys.ENTER)
        if name != "heron 119" or "Fly Cap" not in page.text("footer"):
            page.press("p")
    keep("tidy-vellum")
    page.go("/tidy/colours/20")
    keep("colour")
    _take_swatches(page, keep)
    _take_reference(page, keep)
    page.go("/recipes/5")
    _until_planned(page)
    keep("recipe")
    page.go("/recipes/1/edit")
    page.all("ol textarea")[3].click()
    page.quiet()
    keep("edit")
    _take_layered(page, keep)
    _take_layering(page, keep)
    page.go("/recipes/new")
    page.press(RECIPE)
    page.until_text("1 line has words that may name one more")
    keep("paste")
    page.go("/bench")
    page.press(Keys.ENTER)
    page.until_text("Step 1 of", "main")
    page.press("t")
    page.press(" ")
    page.press("l")
    page.press("m12", Keys.ENTER)
    page.until_text("Cream Jug", "aside")
    for _ in range(5):
        page.press(" ")
    page.until_text("Step 7 of", "main")
    page.press("t")
    keep("bench")
    # The bench asks on by itself: it is left first.
    page.go("/restock")
    wait(page.driver, 600).until(lambda _: "no others do better" in page.text("main"), "nothing to buy is proven")
    keep("restock")
    _take_fading(page, keep)
    _take_practice(page, keep)


def _take_fading(page: Page, keep: Callable[[str], None]) -> None:
    """A strip that was read three times with the simulated reader."""
    today = date.today()
    _send(page, "/api/reader/simulated", "POST")
    _send(page, "/api/reader/calibration", "POST")
    marks = [{"colour": colour, "pressure": "heavy"} for colour in (7, 17, 19, 38, 60)]
    begun = (today - timedelta(days=120)).isoformat()
    body = {"name": "South sill", "paper_id": 1, "place": "south window", "begun_on": begun, "marks": marks}
    _send(page, "/api/fade-strips", "POST", **body)
    strip = page.get("/api/fade-strips")["strips"][0]
    for before in (85, 40, 0):
        day = (today - timedelta(days=before)).isoformat()
        for mark in strip["marks"]:
            for half in ("covered", "open"):
                _send(page, f"/api/fade-marks/{mark['id']}/half", "PUT", half=half, read_on=day)
    page.go(f"/restock/fading/{strip['id']}")
    page.script("document.querySelector('[aria-label^=\"Marks of\"]').scrollIntoView({block: 'start'})")
    page.quiet()
    keep("fading")


def _take_practice(page: Page, keep: Callable[[str], None]) -> None:
    """A question of eye practice, answered."""
    _send(page, "/api/practice/round", "POST", drills=["closest"])
    page.go("/restock/practice")
    page.press("2")
    page.until_text("further off", "[aria-label=Question]")
    keep("practice")


def _send(page: Page, path: str, method: str, **body: object) -> None:
    """Tell the server something from the page."""
    page.driver.execute_async_script(
        "const [path, method, body, done] = arguments; fetch(path, {method, body: JSON.stringify(body), "
        "headers: {'Content-Type': 'application/json'}}).then((r) => r.text()).then(done);",
        path, method, body,
    )  # fmt: skip


def _until_planned(page: Page) -> None:
    """Until the plan of the recipe is proven."""
    ended = "[aria-label='The plan'][data-ended=true]"
    WebDriverWait(page.driver, 600).until(lambda d: d.find_elements(By.CSS_SELECTOR, ended), "no plan came")
    page.quiet()


def _take_reference(page: Page, keep: Callable[[str], None]) -> None:
    """The picture of the drawing at hand with one of its picks alone, and its palette."""
    page.go("/reference")
    page.click("4", "[role=application] button")
    reached = "within reach of this paper"
    WebDriverWait(page.driver, 600).until(lambda d: reached in d.find_element(By.CSS_SELECTOR, "main").text)
    mixing = "being worked out"
    WebDriverWait(page.driver, 600).until(lambda d: mixing not in d.find_element(By.CSS_SELECTOR, "main").text)
    page.quiet()
    keep("reference")
    page.press("a")
    page.until_text("palette card")
    page.quiet()
    keep("palette")


def _take_photos(page: Page, keep: Callable[[str], None]) -> None:
    """A page photographed by the simulated camera, as it is looked through."""
    sheets = page.driver.current_url
    page.field("Printed on").send_keys("Hot")
    page.click("Make this sheet")
    page.until_text("Hot-pressed board made", "footer")
    page.click("Photos of it")
    page.click("Photograph it")
    WebDriverWait(page.driver, 60).until(lambda d: "colours told" in d.find_element(By.CSS_SELECTOR, "main").text)
    page.quiet()
    keep("photos")
    page.driver.get(sheets)
    page.until_text("Print: PDF", "main")


def _take_layered(page: Page, keep: Callable[[str], None]) -> None:
    """Two layered pencils for a call, all pairs mixed."""
    page.go("/recipes/2")
    _until_planned(page)
    page.click("178 Coffee Grounds", "[role=option]")
    page.click("layered, in the passage", "label")
    WebDriverWait(page.driver, 600).until(lambda d: d.find_elements(By.CSS_SELECTOR, "aside li"), "no pairs came")
    WebDriverWait(page.driver, 600).until_not(lambda d: d.find_elements(By.CSS_SELECTOR, "aside progress"))
    page.quiet()
    keep("layered")
    page.click("mark beside mark", "label")


def _take_layering(page: Page, keep: Callable[[str], None]) -> None:
    """Two pencils in both orders, and a strip of them with its verdict, read in one order."""
    shelves = page.get("/api/tidy?paper=1")["shelves"]
    of = {f"{s['name']} {c['card']['colour']['code']}": c["id"] for s in shelves for c in s["colours"]}
    page.go(f"/layering?laid={of['Heron 129']}:medium:1&laid={of['Heron 215']}:heavy:1")
    page.until_text("The other way round:", "h2")
    keep("layering")
    page.go(f"/standins/{of['Heron 178']}")
    WebDriverWait(page.driver, 600).until(lambda d: "+ " in d.find_element(By.CSS_SELECTOR, "#answers").text)
    page.script("document.querySelector('#answers').focus()")
    while " over it" not in page.text("main section h2"):
        page.press(Keys.ARROW_DOWN)
    page.press("t")
    page.until_text("The strip", "h2")
    page.click("too light")
    page.click("Follow what is asked for", "label")
    page.press("c")
    page.press(" ")
    page.fitted()
    page.until_text("measured", "main ol > li:nth-child(3)")
    keep("scrap")


def _take_swatches(page: Page, keep: Callable[[str], None]) -> None:
    """The board, a session in which a wrong pencil lies under the reader, papers, a worn stamp."""
    page.go("/swatches/begin?paper=3")
    page.until_text("marks to read")
    page.click("Begin", "main button")
    page.click("Start the simulated reader")
    page.press("c")
    for _ in range(9):
        page.press(" ")
    page.one("[aria-label='Pencil to put under the reader']").send_keys("heron 161", Keys.ENTER)
    page.until_text("Heron 161 Moss", "aside")
    page.script("document.activeElement.blur()")
    page.press(" ")
    page.until_text("away from anything", "[role=alert]")
    page.fitted()
    page.until_text("Good enough")
    keep("session")
    for _ in range(2):  # the session has turned to its own paper
        page.press("[")
    page.go("/swatches")
    keep("board")
    page.go("/swatches/papers")
    keep("papers")
    page.go("/swatches/sheets")
    page.click("Make this sheet")
    page.until_text("Print: PDF", "main")
    _take_photos(page, keep)
    page.quiet()
    keep("sheets")


if __name__ == "__main__":
    main()
