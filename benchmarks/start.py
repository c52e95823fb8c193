"""The demo from the command to its first page, another paper, the board after a write, the first mixing, the bundle."""

from __future__ import annotations

import gzip
import json
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait
from tests.browser.conftest import resize, start_browser

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.demo.loader import load_demo
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.services.standins.in_passage import layered_for_call
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.web.app import create_app
from tidy_tinder.web.kept_answers import KeptAnswers

COMMAND = Path(sys.executable).parent / "tidy-tinder"
_PATIENCE = 60.0  # seconds for a program to come to rest
DIST = Path(__file__).parents[1] / "src/tidy_tinder/web/dist"


def rows() -> list[tuple[str, str, str]]:
    """(what, figure, aim) for each."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        _fitted_demo(folder / "demo").close()
        bare = cold_start(folder, folder / "demo")
        start = min(cold_start(folder, folder / "demo") for _ in range(3))
        after_kill = cold_start_after_a_kill(folder, folder / "demo")
        turn = paper_turn(folder, folder / "demo")
        first, again = mixing(folder / "mixed")
        board, page = after_a_write(folder / "written")
    return [
        ("demo's first page, from the command to its shelves drawn, its data being there", f"{start:.1f} s", "2 s"),
        ("the same where the last run was killed at rest, after a write", f"{after_kill:.1f} s", "2 s"),
        ("the same where nothing is kept: the very first start, or killed within two seconds of a write",
         f"{bare:.1f} s", "2 s"),
        ("demo: another paper, until the marks in a window of 1280 × 800 are drawn on it, once it was worked out",
         f"{turn[0]:.0f} ms", "300 ms"),
        ("the same in a window so high that all 400 marks show at once", f"{turn[1]:.0f} ms", "300 ms"),
        ("demo: the first mixing of all pairs of its pencils; the same asked for by the next program",
         f"{first:.1f} s; {again:.1f} s", "6 s"),
        ("demo: the board after a swatch was written, in the server", f"{board:.0f} ms", "300 ms"),
        ("demo: a colour's page after a swatch was written, in the server", f"{page:.0f} ms", "300 ms"),
        ("entry bundle (scripts and styles of the first page, gzip)", f"{entry_bundle_kb():.0f} kB", "under 200 kB"),
    ]  # fmt: skip


def _fitted_demo(data: Path) -> Collection:
    """The demo in a folder, fitted."""
    collection = open_collection(data / "collection.sqlite")
    load_demo(collection, drawings=False)
    begin_collection(collection)
    collection.fit_once()
    return collection


@contextmanager
def open_browser(folder: Path) -> Iterator[WebDriver]:
    """A browser with a fresh profile in a folder."""
    driver = start_browser(Path(tempfile.mkdtemp(dir=folder)))
    try:
        yield driver
    finally:
        driver.quit()


@contextmanager
def served(data: Path, ended_by: signal.Signals = signal.SIGTERM) -> Iterator[str]:
    """The collection in a folder, served; its address."""
    server = subprocess.Popen(
        [COMMAND, "serve", "--data", data, "--port", "0"],
        stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    assert server.stdout is not None
    try:
        yield server.stdout.readline().strip()
    finally:
        server.send_signal(ended_by)
        server.wait(20)


def cold_start(folder: Path, data: Path) -> float:
    """Seconds from typing the command to the shelves being drawn; the browser is open already."""
    with open_browser(folder) as driver:
        begun = time.perf_counter()
        with served(data) as address:
            driver.get(address)
            await_shelves(driver)
            return time.perf_counter() - begun


def cold_start_after_a_kill(folder: Path, data: Path) -> float:
    """The same, after a run that wrote something, rested, and was killed."""
    kept = KeptAnswers(data / "collection.sqlite")
    with open_browser(folder) as driver, served(data, signal.SIGKILL) as address:
        driver.get(address)
        await_shelves(driver)
        for owned in (False, True):
            body = json.dumps({"colour_ids": [1], "owned": owned}).encode()
            asked = urllib.request.Request(f"{address}api/tidy/owned", body, {"Content-Type": "application/json"})
            urllib.request.urlopen(asked, timeout=30).close()
        assert not kept.read(), "it was written"
        begun = time.monotonic()
        while not kept.read():
            assert time.monotonic() - begun < _PATIENCE
            time.sleep(0.1)
    return cold_start(folder, data)


def await_shelves(driver: WebDriver) -> None:
    """Wait until marks are drawn. The page says it itself: to ask it again and again would slow down what is timed."""
    driver.execute_async_script(_AWAIT_SHELVES)


_AWAIT_SHELVES = """
const done = arguments[0];
const look = () => {
  if (document.querySelector('[data-zone]')) { seen.disconnect(); requestAnimationFrame(() => done(true)); }
};
const seen = new MutationObserver(look);
seen.observe(document, {subtree: true, childList: true});
look();
"""


def paper_turn(folder: Path, data: Path) -> tuple[float, float]:
    """Milliseconds from the key to the marks on another paper, the best of twelve: in a usual window, and in one so
    high that all 400 show.
    """
    with served(data) as address, open_browser(folder) as driver:
        driver.get(f"{address}tidy")
        WebDriverWait(driver, 60).until(lambda d: d.find_elements(By.CSS_SELECTOR, "[data-fitting=false]"))
        # Once round: every paper has been asked for by then.
        turns = [float(driver.execute_async_script(_TURN)) for _ in range(18)]
        resize(driver, 1280, 7000)
        WebDriverWait(driver, 60).until(lambda d: len(d.find_elements(By.CSS_SELECTOR, "[id^=colour-]")) == 400)
        all_at_once = [float(driver.execute_async_script(_TURN)) for _ in range(12)]
        return min(turns[6:]), min(all_at_once)


# Turns to the next paper and waits until the first and the last mark are drawn on its ground.
_TURN = """
const done = arguments[0];
const grounds = () => {
  const marks = document.querySelectorAll('[id^=colour-] [style*="--ground"]');
  return [marks[0], marks[marks.length - 1]].map((m) => m?.style.getPropertyValue('--ground') + m?.innerHTML);
};
const before = grounds();
const begun = performance.now();
const look = () => {
  const now = grounds();
  if (now[0] !== before[0] && now[1] !== before[1]) requestAnimationFrame(() => done(performance.now() - begun));
  else requestAnimationFrame(look);
};
window.dispatchEvent(new KeyboardEvent('keydown', {key: ']', bubbles: true, cancelable: true}));
look();
"""


def mixing(data: Path) -> tuple[float, float]:
    """Seconds until a call has its pairs for the first time; the same once the program was started again."""
    _fitted_demo(data).close()
    return _first_pairs(data), _first_pairs(data)


def _first_pairs(data: Path) -> float:
    collection = open_collection(data / "collection.sqlite")
    with collection() as session:
        collection.fitted(session)
    begun = time.perf_counter()
    found = layered_for_call(collection, 1, 1, Closest.OVERALL)
    taken = time.perf_counter() - begun
    assert found.ready
    collection.close()
    return taken


def after_a_write(data: Path) -> tuple[float, float]:
    """Milliseconds of the board and of a colour's page in the server, each right after a swatch was written."""
    collection = _fitted_demo(data)
    collection.keep_fitted()
    client = create_app(collection, demo=True).test_client()
    values = iter(range(1, 1000))

    def after(path: str) -> float:
        times = []
        for _ in range(5):
            step = next(values)
            type_swatch(collection, NewTyped(20 + step, 3, Pressure.HEAVY, (50.0, 5.0, float(step))))
            begun = time.perf_counter()
            assert client.get(path).status_code == 200
            times.append(1000 * (time.perf_counter() - begun))
        return min(times)

    of_colour = "/api/colours/20?paper=1&closest=overall"
    for path in ("/api/board", of_colour):
        client.get(path)
    board, page = after("/api/board"), after(of_colour)
    collection.close()
    return board, page


def entry_bundle_kb() -> float:
    """Kilobytes, gzip, of the scripts and styles that the page names and their static imports."""
    manifest = json.loads((DIST / ".vite/manifest.json").read_text(encoding="utf-8"))
    todo, seen, files = ["index.html"], set(), set()
    while todo:
        name = todo.pop()
        if name in seen:
            continue
        seen.add(name)
        files.update([manifest[name]["file"], *manifest[name].get("css", [])])
        todo.extend(manifest[name].get("imports", []))
    return sum(len(gzip.compress((DIST / file).read_bytes(), 9)) for file in files) / 1000
