"""Chromium from Debian's packages, and the real command serving a real database."""

from __future__ import annotations

import json
import os
import subprocess
import urllib.request
from collections.abc import Callable, Iterator, Mapping, Sequence
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.chrome.webdriver import WebDriver

from tests.browser.forked import Forked
from tests.browser.page import Page
from tests.conftest import demo_copy

FLAGS = (
    "headless=new", "no-sandbox", "disable-gpu", "disable-dev-shm-usage", "disable-quic", "no-first-run",
    "disable-background-networking", "disable-component-update", "disable-sync", "disable-extensions",
    "force-prefers-reduced-motion", "window-size=1280,800", "force-device-scale-factor=1", "hide-scrollbars",
    "disable-lcd-text", "force-color-profile=srgb", "accept-lang=en-GB",
)  # fmt: skip


# Whoever has been here before is not offered the tour.
_WAS_HERE = """
try { localStorage.setItem("tidy-tinder-tour", localStorage.getItem("tidy-tinder-tour") ?? "over"); }
catch { /* a page without a store, such as an empty one */ }
"""


def start_browser(profile: Path, newcomer: bool = False) -> WebDriver:
    """A new Chromium of 1280 × 800 with a profile of its own; newcomer: who was never here."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in (*FLAGS, f"user-data-dir={profile}"):
        options.add_argument(f"--{flag}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    driver.set_script_timeout(30)
    if not newcomer:
        driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _WAS_HERE})
    resize(driver, 1280, 800)
    return driver


def resize(driver: WebDriver, width: int, height: int) -> None:
    """Give the page exactly this many pixels."""
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)


@pytest.fixture(scope="session")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[WebDriver]:
    """One Chromium for all tests."""
    driver = start_browser(tmp_path_factory.mktemp("profile"))
    yield driver
    driver.quit()


class Server:
    """The real command, serving: forked from a process that has loaded it, or called by a command of one's own."""

    def __init__(self, *arguments: str, command: Sequence[str | Path] | None = None, **env: str) -> None:
        called, all_env = ["serve", "--port", "0", *arguments], {**os.environ, **env}
        self.process = Forked(called, all_env) if command is None else _by_name([*command, *called], all_env)
        assert self.process.stdout is not None
        self.address = self.process.stdout.readline().strip()
        assert self.address.startswith("http://127.0.0.1:"), self.process.communicate()[1]

    def stop(self) -> str:
        """Stop it; what it wrote to its error stream after its first lines."""
        self.process.terminate()
        return self.process.communicate(timeout=20)[1]

    def let_go(self) -> None:
        """Close its streams, also where a test killed it: left to the collector they are a warning in another test."""
        for stream in (self.process.stdout, self.process.stderr):
            if stream is not None:
                stream.close()


def _by_name(command: Sequence[str | Path], env: Mapping[str, str]) -> subprocess.Popen[str]:
    return subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env=env)


@pytest.fixture
def serve(tmp_path: Path) -> Iterator[Callable[..., Server]]:
    """Start servers that are stopped at the end; what they complain of fails the test."""
    running: list[Server] = []

    def start(*arguments: str) -> Server:
        running.append(Server(*arguments))
        return running[-1]

    yield start
    said = [server.stop() for server in running if server.process.poll() is None]
    for server in running:
        server.let_go()
    assert [words for words in said if "Traceback" in words] == []


@pytest.fixture
def page(browser: WebDriver, serve: Callable[..., Server], demo_file: Path, tmp_path: Path) -> Iterator[Page]:
    """The demo in the browser; an error or warning in its console fails the test."""
    folder = tmp_path / "demo"
    folder.mkdir()
    demo_copy(demo_file, folder / "collection.sqlite")
    yield from _watched(Page(browser, serve("--demo", "--data", str(folder)).address))


@pytest.fixture
def browser_page(browser: WebDriver) -> Iterator[Callable[[str], Page]]:
    """Pages on servers that come and go; the console is not watched, since a server may be gone on purpose."""
    resize(browser, 1280, 800)
    yield lambda address: Page(browser, address)
    browser.get("about:blank")
    console(browser)


@pytest.fixture(scope="session")
def demo_to_look_at(demo_file: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """One server on the demo for all tests that only look."""
    folder = tmp_path_factory.mktemp("looked-at")
    demo_copy(demo_file, folder / "collection.sqlite")
    server = Server("--demo", "--data", str(folder))
    yield server
    assert "Traceback" not in server.stop()


def as_a_new_demo(address: str) -> None:
    """Put the settings of a screen back."""
    settings = {"paper_id": 1, "closest": "overall", "leads": "code", "with_me": False}
    headers = {"Content-Type": "application/json"}
    asked = urllib.request.Request(f"{address}api/settings", json.dumps(settings).encode(), headers, method="PUT")
    urllib.request.urlopen(asked).close()


@pytest.fixture
def view(browser: WebDriver, demo_to_look_at: Server) -> Iterator[Page]:
    """The demo in the browser, for a test that changes nothing but the settings of a screen, which are put back."""
    as_a_new_demo(demo_to_look_at.address)
    yield from _watched(Page(browser, demo_to_look_at.address))


@pytest.fixture
def empty_page(browser: WebDriver, serve: Callable[..., Server], tmp_path: Path) -> Iterator[Page]:
    """A new collection of one's own in the browser."""
    yield from _watched(Page(browser, serve("--data", str(tmp_path / "mine")).address))


# Chromium gives a page three seconds to use what it asked for ahead; a loaded machine may take longer, to no harm.
_SLOW = "was preloaded using link preload but not used within a few seconds"


def console(driver: WebDriver) -> list[dict[str, object]]:
    """What the browser's console said since it was last asked, but for one remark about speed."""
    lines: list[dict[str, object]] = driver.get_log("browser")  # type: ignore[no-untyped-call] # selenium's gap
    return [line for line in lines if _SLOW not in str(line["message"])]


def _watched(page: Page) -> Iterator[Page]:
    resize(page.driver, 1280, 800)
    console(page.driver)
    yield page
    page.script("sessionStorage.clear(); localStorage.clear();")
    said = [line for line in console(page.driver) if line["level"] in ("SEVERE", "WARNING")]
    # Nothing may ask a server that is about to stop.
    page.driver.get("about:blank")
    assert said == []


@pytest.fixture
def drawn(
    browser_page: Callable[[str], Page], serve: Callable[..., Server], drawn_file: Path, tmp_path: Path
) -> Iterator[Page]:
    """The whole demo, with the picture of the drawing at hand open."""
    folder = tmp_path / "drawn"
    demo_copy(drawn_file, folder / "collection.sqlite")
    page = browser_page(serve("--demo", "--data", str(folder)).address)
    page.go("/reference")
    page.one("[role=application]")
    page.quiet()
    yield page
    # A bench asks its server again and again; the next test's console must not tell of one that is gone.
    page.driver.get("about:blank")
    resize(page.driver, 1280, 800)
