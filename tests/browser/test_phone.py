"""A phone beside the computer: a second browser, 390 px wide, that pairs and sends a photo."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Server, resize, start_browser
from tests.browser.page import Page, assert_accessible, wait
from tests.browser.test_bench import tell
from tests.browser.test_photos import layout_of, photograph, until_read
from tests.conftest import demo_copy

pytestmark = pytest.mark.browser


@pytest.fixture
def phone(tmp_path: Path) -> Iterator[WebDriver]:
    driver = start_browser(tmp_path / "phone")
    resize(driver, 390, 800)
    yield driver
    driver.quit()


def test_a_phone_pairs_sends_a_photo_and_is_shut_out(
    browser: WebDriver, phone: WebDriver, serve: Callable[..., Server], demo_file: Path, tmp_path: Path
) -> None:
    folder = tmp_path / "demo"
    folder.mkdir()
    demo_copy(demo_file, folder / "collection.sqlite")
    page = Page(browser, serve("--demo", "--data", str(folder), "--phones-on", "127.0.0.1").address)
    resize(browser, 1280, 800)
    page.go("/swatches/sheets")
    page.field("Which pencils").send_keys("a set")
    page.click("Make this sheet")
    page.until_text("made", "footer")
    layout = layout_of(page, tmp_path)
    page.click("Photos of it")
    page.click("Let a phone in")
    page.until_text("A phone may come in, 60 min", "footer")
    assert_accessible(page)
    address = page.text("[aria-label='Your phone'] .mono")
    code = page.text("[aria-label='Code']").replace(" ", "")

    handheld = Page(phone, address)
    phone.get(address)
    wrong = "000000" if code != "000000" else "111111"
    for left in (4, 3, 2, 1, 0):
        handheld.one("#code").send_keys(wrong)
        handheld.one("button").click()
        handheld.until_text(f"{left} tries are left")
    handheld.one("#code").send_keys(code)
    handheld.one("button").click()
    handheld.until_text("That was tried too often")
    page.until_text("tried too often", "[aria-label='Your phone']")
    page.click("A new code")
    page.until_text(" ", "[aria-label='Code']")
    page.until_text("for one phone", "main")
    code = page.text("[aria-label='Code']").replace(" ", "")
    assert code.isdigit()
    handheld.one("#code").send_keys(code)
    handheld.one("#name").send_keys("Wren's phone")
    handheld.one("button").click()
    handheld.until_text("This phone is “Wren's phone”")
    assert_accessible(handheld)
    assert phone.execute_script("return document.documentElement.scrollWidth") <= 390
    handheld.one("#photo").send_keys(str(photograph(layout, tmp_path / "evening.jpg")))
    handheld.one("button").click()
    handheld.until_text("evening.jpg")
    page.until_text("1 phone is in", "footer")
    page.driver.refresh()
    until_read(page, "colours told by")
    handheld.until_text("clean")
    page.click("Shut out")
    page.until_text("Let a phone in", "main")
    page.driver.get("about:blank")


def drawn_with_phones(browser: WebDriver, serve: Callable[..., Server], drawn_file: Path, folder: Path) -> Page:
    """The demo with its drawings, on a server that phones on this machine reach."""
    demo_copy(drawn_file, folder / "drawn" / "collection.sqlite")
    page = Page(browser, serve("--demo", "--data", str(folder / "drawn"), "--phones-on", "127.0.0.1").address)
    resize(browser, 1280, 800)
    return page


def test_a_phone_at_the_bench_keeps_what_it_writes_while_it_is_away(
    browser: WebDriver, phone: WebDriver, serve: Callable[..., Server], drawn_file: Path, tmp_path: Path
) -> None:
    """Ticks and pencils are kept on the phone without a connection, shown as waiting, and sent once, in order."""
    page = drawn_with_phones(browser, serve, drawn_file, tmp_path)
    page.go("/bench")
    page.press(Keys.ENTER)
    page.until_text("Step 1 of 8", "main")
    handheld = let_in(page, phone)
    handheld.one("a[href='/bench']").click()
    handheld.until_text("Step 1 of 8")
    assert_accessible(handheld)
    assert phone.execute_script("return document.documentElement.scrollWidth") <= 390
    away(phone, True)
    handheld.until_text("No connection to the computer")
    handheld.one("[aria-label='Layer 1 of Heron 101']").click()
    handheld.until_text("1 line waits on this phone")
    assert handheld.one("[aria-label='Layer 1 of Heron 101']").get_attribute("aria-pressed") == "true"
    handheld.one("#said").send_keys("bracken", Keys.ENTER)
    handheld.until_text("2 lines wait on this phone")
    away(phone, False)
    wait(phone).until(lambda d: not d.find_element("id", "waiting").is_displayed())
    page.go("/bench")
    page.until_text("also used: bracken", "[aria-label='Logged, the newest first']")
    assert len(page.all("[aria-label='Logged, the newest first'] > li")) == 2
    assert page.one("[aria-label='The step'] [aria-pressed=true]").text == "✓"
    # And what is done on the computer is seen on the phone.
    page.press(" ")
    handheld.until_text("Step 2 of 8")
    for driver in (phone, browser):
        driver.get("about:blank")


def test_the_list_is_ticked_in_a_shop_that_has_no_connection_and_sent_at_home(
    browser: WebDriver, phone: WebDriver, serve: Callable[..., Server], drawn_file: Path, tmp_path: Path
) -> None:
    page = drawn_with_phones(browser, serve, drawn_file, tmp_path)
    page.go("/tidy")
    colours = [
        next(hit["card"]["colour"]["id"] for hit in page.get(f"/api/find?q={code}&paper=1")["hits"])
        for code in ("Wader%20117", "Scholar%2019", "Wader%20127")
    ]
    tell(page, "/api/restock/list", "POST", colours=colours, why="5 closer, by 2.1 ΔE in the middle")
    handheld = let_in(page, phone)
    handheld.one("a[href='/list']").click()
    handheld.until_text("Wader 117")
    handheld.until_text("5 closer, by 2.1")
    assert_accessible(handheld)
    assert phone.execute_script("return document.documentElement.scrollWidth") <= 390
    away(phone, True)
    boxes = handheld.all("#lines input")
    for box in (boxes[0], boxes[2], boxes[2]):
        box.click()
    handheld.until_text("2 ticks wait on this phone")
    assert not any(line["ticked"] for line in page.get("/api/restock/list")["lines"])
    away(phone, False)
    wait(phone).until(lambda d: not d.find_element("id", "waiting").is_displayed())
    page.go("/restock/list")
    page.until_text("Bought: 1 into the tidy", "main")
    assert [line["ticked"] for line in page.get("/api/restock/list")["lines"]] == [True, False, False]
    phone.refresh()
    assert [box.is_selected() for box in handheld.all("#lines input")] == [True, False, False]
    for driver in (phone, browser):
        driver.get("about:blank")


def let_in(page: Page, phone: WebDriver) -> Page:
    """Pair a phone with the computer; the phone's page."""
    page.go("/reference")
    page.click("From a phone")
    page.click("Let a phone in")
    page.until_text("A phone may come in", "footer")
    handheld = Page(phone, page.text("[aria-label='Your phone'] .mono"))
    phone.get(handheld.address)
    handheld.one("#code").send_keys(page.text("[aria-label='Code']").replace(" ", ""))
    handheld.one("button").click()
    return handheld


def away(driver: WebDriver, offline: bool) -> None:
    """Take a browser's network away, or give it back."""
    rate = {"offline": offline, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    driver.execute_cdp_cmd("Network.enable", {})
    driver.execute_cdp_cmd("Network.emulateNetworkConditions", rate)
