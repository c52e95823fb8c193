"""The application: one call among 1,000 owned pencils, cold start to first page, entry bundle."""

from __future__ import annotations

import gzip
import json
import sqlite3
import subprocess
import sys
import tempfile
import time
from datetime import date
from pathlib import Path

import numpy as np
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait
from tests.browser.conftest import resize, start_browser

from benchmarks.timing import best_ms
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, Ground, Source, Tooth
from tidy_tinder.demo.loader import load_demo
from tidy_tinder.formats.csv_catalogue import read_catalogue
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.services.exchange.bulk import NamedSwatch, add_swatches
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.papers import PaperAs, add_papers
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.web.app import create_app

COMMAND = Path(sys.executable).parent / "tidy-tinder"
DIST = Path(__file__).parents[1] / "src/tidy_tinder/web/dist"


def rows() -> list[tuple[str, str, str]]:
    """(what, figure, aim) for each."""
    with tempfile.TemporaryDirectory() as folder:
        call = one_call_among_a_thousand(Path(folder))
        start = min(cold_start(Path(folder)) for _ in range(3))
        large = large_tidy(Path(folder))
        turn = paper_turn(Path(folder))
    bundle = entry_bundle_kb()
    return [
        *large,
        ("stand-ins for one call, 1,000 owned pencils, in the server", f"{call:.0f} ms", "50 ms"),
        ("demo's first page, from the command to its shelves drawn, its data being there", f"{start:.1f} s", "2 s"),
        ("demo: another paper, until the marks in a window of 1280 × 800 are drawn on it, once it was worked out",
         f"{turn[0]:.0f} ms", "300 ms"),
        ("the same in a window so high that all 400 marks show at once", f"{turn[1]:.0f} ms", "300 ms"),
        ("entry bundle (scripts and styles of the first page, gzip)", f"{bundle:.0f} kB", "under 200 kB"),
    ]  # fmt: skip


def one_call_among_a_thousand(folder: Path) -> float:
    """Milliseconds of the request, through the application, without the network."""
    rng = np.random.default_rng(2)
    labs = rng.uniform((10, -60, -60), (95, 60, 60), (1200, 3)).round(1)
    lines = [f"Lane,{i},Colour {i},{L},{a},{b},{int(i < 1000)}" for i, (L, a, b) in enumerate(labs.tolist())]
    collection: Collection = open_collection(folder / "many.sqlite")
    begin_collection(collection)
    import_catalogue(collection, ("range,code,name,L,a,b,owned\n" + "\n".join(lines)).encode())
    save_recipe(collection, "One\nLane\nLane 1100, heavy\n")
    client = create_app(collection).test_client()
    answer = client.get("/api/calls/1/standins?paper=1").get_json()
    assert len(answer["by_chart"]) == 12
    return best_ms(lambda: client.get("/api/calls/1/standins?paper=1").data)


def cold_start(folder: Path) -> float:
    """Seconds from typing the command to the shelves being drawn; the browser is open already."""
    data = folder / "demo"
    subprocess.run(
        [COMMAND, "standins", "heron 126", "--on", "vellum", "--demo", "--data", data], check=True, capture_output=True
    )
    driver = start_browser(Path(tempfile.mkdtemp(dir=folder)))
    try:
        begun = time.perf_counter()
        server = subprocess.Popen(
            [COMMAND, "serve", "--demo", "--data", data, "--port", "0"],
            stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
        )  # fmt: skip
        assert server.stdout is not None
        driver.get(server.stdout.readline().strip())
        WebDriverWait(driver, 20, 0.01).until(lambda d: d.find_elements(By.CSS_SELECTOR, "[data-zone]"))
        return time.perf_counter() - begun
    finally:
        driver.quit()
        server.terminate()
        server.wait(20)


COLOURS, PENCILS, SWATCHES = 2000, 1000, 30_000


def large_tidy(folder: Path) -> list[tuple[str, str, str]]:
    """A tidy of 2,000 colours, 1,000 pencils and 30,000 swatches: the list, the page, an action, a CSV file."""
    data = folder / "large"
    collection = _fill_large(data / "collection.sqlite")
    opened_first, moved_meanwhile = _open_large(data, folder)
    begun = time.perf_counter()
    collection.fit_once()
    fitted = time.perf_counter() - begun
    client = create_app(collection).test_client()
    listed = best_ms(lambda: client.get("/api/tidy?paper=1").data)
    bare = best_ms(lambda: _bare_fetch(data / "collection.sqlite"))
    ticking = iter(range(1, COLOURS))
    tick = best_ms(lambda: client.post("/api/tidy/owned", json={"colour_ids": [next(ticking)], "owned": False}).data)
    collection.close()
    opened, moved = _open_large(data, folder)
    rows = "\n".join(f"Lane,{i},Colour {i},{i % 100},10,10" for i in range(10_000))
    content = f"range,code,name,L,a,b\n{rows}\n".encode()
    preview = best_ms(lambda: read_catalogue(content), runs=3)
    return [
        ("the shelves through Flask beside a bare sqlite3 fetch of the same rows (2,000 colours, 1,000 pencils, "
         "30,000 swatches)", f"{listed / bare:.1f} × ({listed:.0f} ms; {bare:.0f} ms)", "≤ 3 ×"),
        ("the same tidy: from its address to its shelves drawn, browser open", f"{opened:.1f} s", "1 s"),
        ("the same tidy: own a colour, in the server", f"{tick:.0f} ms", "100 ms"),
        ("the same tidy: a key moves the cursor, its panel drawn", f"{moved:.0f} ms", "100 ms"),
        ("the same two while all is being fitted", f"{opened_first:.1f} s; {moved_meanwhile:.0f} ms", "1 s; 100 ms"),
        ("the same tidy: what is left of its fit after that, 2,000 pencils and 30,000 swatches", f"{fitted:.0f} s", ""),
        ("10,000 lines of CSV read for the preview", f"{preview / 1000:.1f} s", "2 s"),
    ]  # fmt: skip


def paper_turn(folder: Path) -> tuple[float, float]:
    """Milliseconds from the key to the marks on another paper, the best of twelve: in a usual window, and in one so
    high that all 400 show.
    """
    data = folder / "turned"
    collection = open_collection(data / "collection.sqlite")
    load_demo(collection)
    collection.fit_once()
    collection.close()
    server = subprocess.Popen(
        [COMMAND, "serve", "--demo", "--data", data, "--port", "0"],
        stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    assert server.stdout is not None
    address = server.stdout.readline().strip()
    driver = start_browser(Path(tempfile.mkdtemp(dir=folder)))
    try:
        driver.get(f"{address}tidy")
        WebDriverWait(driver, 60).until(lambda d: d.find_elements(By.CSS_SELECTOR, "[data-fitting=false]"))
        # Once round: every paper has been asked for by then.
        turns = [float(driver.execute_async_script(_TURN)) for _ in range(18)]
        resize(driver, 1280, 7000)
        WebDriverWait(driver, 60).until(lambda d: len(d.find_elements(By.CSS_SELECTOR, "[id^=colour-]")) == 400)
        all_at_once = [float(driver.execute_async_script(_TURN)) for _ in range(12)]
        return min(turns[6:]), min(all_at_once)
    finally:
        driver.quit()
        server.terminate()
        server.wait(20)


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


def _fill_large(path: Path) -> Collection:
    collection = open_collection(path)
    begin_collection(collection)
    rng = np.random.default_rng(3)
    labs = rng.uniform((10, -60, -60), (95, 60, 60), (COLOURS, 3)).round(1)
    lines = [
        f"Lane {i // 200},{i},Colour {i},{L},{a},{b},{int(i < PENCILS)}" for i, (L, a, b) in enumerate(labs.tolist())
    ]
    import_catalogue(collection, ("range,code,name,L,a,b,owned\n" + "\n".join(lines)).encode())
    papers = [PaperAs(f"Paper {i}", "", "", (90.0, 0.0, 0.0), Tooth.MEDIUM, 8, False, True) for i in range(4)]
    add_papers(collection, papers)
    made = [
        NamedSwatch(
            f"Lane {i // 200}", str(i), paper, pressure, 1, Finish.DRY, Ground.PAPER, tuple(labs[i]), None,
            Source.READER, "", date(2026, 1, 1),
        )
        for i in range(COLOURS)
        for paper in ("White paper", *(p.name for p in papers))
        for pressure in MARK_PRESSURES
    ]  # fmt: skip
    assert len(made) == SWATCHES
    add_swatches(collection, made)
    return collection


def _bare_fetch(path: Path) -> None:
    """The rows that the shelves are made of, fetched and nothing else."""
    connection = sqlite3.connect(path)
    connection.execute("SELECT c.*, r.* FROM colour c JOIN colour_range r ON r.id = c.range_id").fetchall()
    connection.execute("SELECT * FROM pencil").fetchall()
    connection.execute(
        "SELECT colour_id, pressure, layers, id, lab_L, lab_a, lab_b, source FROM swatch "
        "WHERE paper_id = 1 AND finish = 'dry' AND over = 'paper' ORDER BY made_on, id"
    ).fetchall()
    connection.close()


def _open_large(data: Path, folder: Path) -> tuple[float, float]:
    """Seconds to the shelves drawn; milliseconds from a key to the panel of the next colour, the best of ten."""
    server = subprocess.Popen(
        [COMMAND, "serve", "--data", data, "--port", "0"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
    )
    assert server.stdout is not None
    address = server.stdout.readline().strip()
    driver = start_browser(Path(tempfile.mkdtemp(dir=folder)))
    try:
        begun = time.perf_counter()
        driver.get(f"{address}tidy")
        WebDriverWait(driver, 20, 0.01).until(lambda d: d.find_elements(By.CSS_SELECTOR, "[data-zone]"))
        opened = time.perf_counter() - begun
        WebDriverWait(driver, 20).until(lambda d: d.find_elements(By.CSS_SELECTOR, "aside h2"))
        moved = min(float(driver.execute_async_script(_MOVE)) for _ in range(10))
        return opened, moved
    finally:
        driver.quit()
        server.terminate()
        server.wait(20)


# Presses an arrow key and waits until the panel shows another colour.
_MOVE = """
const done = arguments[0];
const grid = document.querySelector('[role=grid]');
const name = () => document.querySelector('aside h2')?.textContent;
const before = name();
grid.focus();
const begun = performance.now();
new MutationObserver((_, seen) => {
  if (name() && name() !== before) { seen.disconnect(); requestAnimationFrame(() => done(performance.now() - begun)); }
}).observe(document.body, {subtree: true, childList: true, characterData: true});
grid.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowRight', bubbles: true, cancelable: true}));
"""


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
