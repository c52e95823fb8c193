"""A tidy of 2,000 colours, 1,000 pencils and 30,000 swatches, and one call among 1,000 owned pencils."""

from __future__ import annotations

import shutil
import sqlite3
import tempfile
import time
import urllib.request
from datetime import date
from http import HTTPStatus
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from selenium.webdriver.chrome.webdriver import WebDriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from benchmarks.start import await_shelves, cold_start, open_browser, served
from benchmarks.timing import best_ms
from tidy_tinder.core.layering.optics.film import add_surface, strip_surface
from tidy_tinder.core.layering.optics.tooth import PaperModel, Swatch, mark, pencils_from_swatches
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Finish, Ground, Pressure, Source, Tooth
from tidy_tinder.formats.csv_catalogue import read_catalogue
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.services.exchange.bulk import NamedSwatch, add_swatches
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.papers import PaperAs, add_papers
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.web.app import create_app

# Where the large tidy waits between being made and being timed.
_LARGE = Path(tempfile.gettempdir()) / "tidy-tinder-benchmark-large"


def rows() -> list[tuple[str, str, str]]:
    """Make the large tidy, not fitted and fitted, for what is timed later: (what, figure, aim) of its fit."""
    shutil.rmtree(_LARGE, ignore_errors=True)
    collection = _fill_large(_LARGE / "fitted" / "collection.sqlite")
    collection.close()
    shutil.copytree(_LARGE / "fitted", _LARGE / "bare")
    collection = open_collection(_LARGE / "fitted" / "collection.sqlite")
    begun = time.perf_counter()
    collection.fit_once()
    fitted = time.perf_counter() - begun
    collection.close()
    what = "its fit as a whole, 2,000 pencils and 30,000 swatches, another part measured beside it"
    return [(what, f"{fitted:.0f} s", "")]


def times() -> list[tuple[str, str, str]]:
    """(what, figure, aim) for each that a clock tells."""
    with tempfile.TemporaryDirectory() as folder:
        call = one_call_among_a_thousand(Path(folder))
        large = large_tidy(Path(folder))
    shutil.rmtree(_LARGE)
    return [*large, ("stand-ins for one call, 1,000 owned pencils, in the server", f"{call:.0f} ms", "50 ms")]


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


COLOURS, PENCILS, SWATCHES = 2000, 1000, 30_000


def large_tidy(folder: Path) -> list[tuple[str, str, str]]:
    """A tidy of 2,000 colours, 1,000 pencils and 30,000 swatches: the list, the page, an action, a CSV file."""
    data = _LARGE / "fitted"
    opened_meanwhile, moved_meanwhile = _open_large(_LARGE / "bare", folder, fitted=False)
    collection = open_collection(data / "collection.sqlite")
    begin_collection(collection)
    client = create_app(collection).test_client()
    listed = best_ms(lambda: client.get("/api/tidy?paper=1").data)
    bare = best_ms(lambda: _bare_fetch(data / "collection.sqlite"))
    ticking = iter(range(1, COLOURS))
    tick = best_ms(lambda: client.post("/api/tidy/owned", json={"colour_ids": [next(ticking)], "owned": False}).data)
    collection.close()
    opened, moved = _open_large(data, folder, fitted=True)
    started = min(cold_start(folder, data) for _ in range(3))
    rows = "\n".join(f"Lane,{i},Colour {i},{i % 100},10,10" for i in range(10_000))
    content = f"range,code,name,L,a,b\n{rows}\n".encode()
    preview = best_ms(lambda: read_catalogue(content), runs=3)
    return [
        ("the shelves through Flask beside a bare sqlite3 fetch of the same rows (2,000 colours, 1,000 pencils, "
         "30,000 swatches)", f"{listed / bare:.1f} × ({listed:.0f} ms; {bare:.0f} ms)", "≤ 3 ×"),
        ("the same tidy: from its address to its shelves drawn, browser open: just after the program began; again",
         f"{opened[0]:.1f} s; {opened[1]:.1f} s", "1 s"),
        ("the same from the command, its data being there", f"{started:.1f} s", "2 s"),
        ("the same tidy: own a colour, in the server", f"{tick:.0f} ms", "100 ms"),
        ("the same tidy: a key moves the cursor, its panel drawn", f"{moved:.0f} ms", "100 ms"),
        ("the same three while all is being fitted",
         f"{opened_meanwhile[0]:.1f} s; {opened_meanwhile[1]:.1f} s; {moved_meanwhile:.0f} ms", "1 s; 1 s; 100 ms"),
        ("10,000 lines of CSV read for the preview", f"{preview / 1000:.1f} s", "2 s"),
    ]  # fmt: skip


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
    marks = _marks_of(labs, rng)
    made = [
        NamedSwatch(
            f"Lane {i // 200}", str(i), paper, pressure, 1, Finish.DRY, Ground.PAPER, tuple(marks[pressure][i, j]),
            None, Source.READER, "", date(2026, 1, 1),
        )
        for i in range(COLOURS)
        for j, paper in enumerate(("White paper", *(p.name for p in papers)))
        for pressure in MARK_PRESSURES
    ]  # fmt: skip
    assert len(made) == SWATCHES
    add_swatches(collection, made)
    return collection


def _marks_of(heavy: NDArray[np.float64], rng: np.random.Generator) -> dict[Pressure, NDArray[np.float64]]:
    """Marks (N, 5, 3) by pressure of pencils that have these heavy ones (N, 3), as read of five makings each."""
    paper = PaperModel(strip_surface(recover_reflectance([92.0, 0.0, 0.0])))
    bodies = strip_surface(recover_reflectance(heavy, nearest=True))
    pencils = pencils_from_swatches([Swatch(body, paper, "") for body in bodies])
    made: dict[Pressure, NDArray[np.float64]] = {}
    for pressure in MARK_PRESSURES:
        seen = reflectance_to_lab(add_surface([mark(pencil, paper, pressure) for pencil in pencils]))
        read = seen[:, None] + rng.normal(0.0, 0.5, (len(heavy), 5, 3))
        made[pressure] = read.clip((0, -128, -128), (100, 127, 127)).round(2)
    return made


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


def _open_large(data: Path, folder: Path, fitted: bool) -> tuple[tuple[float, float], float]:
    """Seconds to the shelves drawn, as soon as the program answers and once more; milliseconds from a key to the panel
    of the next colour, the best of ten.
    """
    with served(data) as address, open_browser(folder) as driver:
        with urllib.request.urlopen(f"{address}api/fitting", timeout=60) as there:
            assert there.status == HTTPStatus.OK
        opened = _seconds_to_shelves(driver, address), _seconds_to_shelves(driver, address)
        if fitted:
            # The survey is done anew from the fits that are kept: not what is timed here.
            WebDriverWait(driver, 300).until(lambda d: d.find_elements(By.CSS_SELECTOR, "[data-fitting=false]"))
        WebDriverWait(driver, 20).until(lambda d: d.find_elements(By.CSS_SELECTOR, "aside h2"))
        return opened, min(float(driver.execute_async_script(_MOVE)) for _ in range(10))


def _seconds_to_shelves(driver: WebDriver, address: str) -> float:
    driver.get("about:blank")
    begun = time.perf_counter()
    driver.get(f"{address}tidy")
    await_shelves(driver)
    return time.perf_counter() - begun


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
