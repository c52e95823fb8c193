"""The tour of the demo: offered once to who was never here, walked by keyboard, left, and never again unasked."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.expected_conditions import url_contains

from tests.browser.conftest import Server, resize, start_browser
from tests.browser.page import Page, assert_accessible, wait
from tests.conftest import demo_copy

TOUR = "[aria-label=Tour]"
STATIONS = ("/tidy", "/tidy", "/swatches", "/reference", "/recipes", "/bench", "/restock")


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (390, 800)])
def test_a_newcomer_walks_round_by_keyboard_and_is_not_asked_again(
    serve: Callable[..., Server], drawn_file: Path, tmp_path: Path, width: int, height: int
) -> None:
    demo_copy(drawn_file, tmp_path / "data" / "collection.sqlite")
    server = serve("--demo", "--data", str(tmp_path / "data"))
    driver = start_browser(tmp_path / "profile", newcomer=True)
    try:
        resize(driver, width, height)
        page = Page(driver, server.address)
        page.go("/tidy")
        page.until_text("New here?", TOUR)
        assert_accessible(page)
        page.click("Walk round in two minutes")
        for stop, path in enumerate(STATIONS, 1):
            page.until_text(f"{stop} of {len(STATIONS)}", TOUR)
            wait(driver).until(url_contains(path))
            assert_accessible(page)
            assert driver.execute_script("return document.documentElement.scrollWidth") <= width
            if stop == 4:
                driver.refresh()
                page.until_text("4 of 7", TOUR)
            page.press(".")
        wait(driver).until(lambda _: not page.all(TOUR))
        driver.refresh()
        page.until_text("Restock", "nav")
        assert not page.all(TOUR)
        page.press("?")
        page.click("Walk round in two minutes")
        page.until_text("1 of 7", TOUR)
        page.press(".")
        page.until_text("2 of 7", TOUR)
        page.press(",")
        page.until_text("1 of 7", TOUR)
        page.press("]")
        page.click("Leave the tour")
        wait(driver).until(lambda _: not page.all(TOUR))
        driver.get("about:blank")
    finally:
        driver.quit()


def test_who_declines_is_left_alone_and_nobody_is_asked_at_home(
    serve: Callable[..., Server], demo_file: Path, tmp_path: Path
) -> None:
    demo_copy(demo_file, tmp_path / "data" / "collection.sqlite")
    demo, own = serve("--demo", "--data", str(tmp_path / "data")), serve("--data", str(tmp_path / "own"))
    driver = start_browser(tmp_path / "profile", newcomer=True)
    try:
        page = Page(driver, own.address)
        page.go("/tidy")
        page.until_text("Tidy", "nav")
        assert not page.all(TOUR)
        page = Page(driver, demo.address)
        page.go("/tidy")
        page.click("No, thank you")
        wait(driver).until(lambda _: not page.all(TOUR))
        page.go("/swatches")
        page.until_text("board", "main")
        assert not page.all(TOUR)
        page.press(Keys.ESCAPE)
        driver.get("about:blank")
    finally:
        driver.quit()
