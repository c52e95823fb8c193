"""Programs that are killed at some moment of their work, and what must hold of the collection afterwards.

The tests kill a few times; `python -m tools.kill_often 100` as often as one likes, and says what it saw.
"""

from __future__ import annotations

import json
import shutil
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.request
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from alembic import command
from sqlalchemy import create_engine
from sqlalchemy.pool import NullPool

from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.services.collection.context import begin_collection, context
from tidy_tinder.services.exchange.backup import CollectionFiles, back_up
from tidy_tinder.storage.layout import NEWEST_LAYOUT, layout_of, migration_config
from tidy_tinder.storage.making import make_ready
from tidy_tinder.storage.soundness import check_has_paper, check_sound

LAYOUTS = (
    "0001",
    "0002",
    "0003",
    "0004",
    "0005",
    "0006",
    "0007",
    "0008",
    "0009",
    "0010",
    "0011",
    "0012",
    "0013",
    "0014",
    "0015",
    "0016",
    "0017",
)

_START = """
import pathlib, sys
from tidy_tinder.commands.opening import open_for
from tidy_tinder.settings import Settings
print("begins", flush=True)
open_for(Settings(pathlib.Path(sys.argv[1]), sys.argv[2] == "demo")).close()
print("ready", flush=True)
"""
_RESTORE = """
import pathlib, sys
from tidy_tinder.services.exchange.backup import CollectionFiles, restore
print("begins", flush=True)
restore(CollectionFiles(pathlib.Path(sys.argv[1]) / "collection.sqlite"), pathlib.Path(sys.argv[2]))
print("ready", flush=True)
"""


def rows(path: Path, query: str) -> list[tuple[object, ...]]:
    """What a query finds in a database file."""
    with closing(sqlite3.connect(path)) as connection:
        return connection.execute(query).fetchall()


def lowered(demo_file: Path, path: Path, layout: str) -> Path:
    """A copy of the demo as an earlier version of the program had it."""
    shutil.copy(demo_file, path)
    config = migration_config(path)
    engine = create_engine(f"sqlite:///{path}", poolclass=NullPool)
    with engine.connect() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, layout)
        connection.commit()
    return path


@dataclass(frozen=True)
class Killed:
    """A program that was killed so many seconds after it began its work. done: it had ended it before."""

    done: bool
    seconds: float


def _killed(script: str, after: float | None, *arguments: object) -> Killed:
    """Run a script, kill it so many seconds after it began its work; None: as soon as it has ended it."""
    process = subprocess.Popen([sys.executable, "-c", script, *map(str, arguments)], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    assert process.stdout.readline() == "begins\n"
    begun = time.monotonic()
    said = process.stdout.readline() if after is None else ""
    time.sleep(after or 0.0)
    seconds = time.monotonic() - begun
    process.send_signal(signal.SIGKILL)
    return Killed("ready" in said + process.communicate(timeout=60)[0], seconds)


def _whole(path: Path) -> None:
    """Whatever stands in the collection's place is a whole one, and the program starts with it."""
    if path.exists():
        check_sound(path)
        check_has_paper(path)
    with closing(open_collection(path, begin=begin_collection)) as collection:
        assert context(collection).papers
    check_sound(path)
    assert [p.name for p in path.parent.iterdir() if "unfinished" in p.name] == []


def first_start(folder: Path, what: str, after: float | None) -> Killed:
    """Kill a first start: of one's own collection (what: own), or of the demo."""
    killed = _killed(_START, after, folder, what)
    path = folder / "collection.sqlite"
    if path.exists() and what == "demo":
        assert rows(path, "SELECT count(*) FROM recipe") == [(7,)]
    _whole(path)
    return killed


def upgrade(folder: Path, demo_file: Path, layout: str, after: float | None) -> Killed:
    """Kill the upgrade of a demo in an older layout."""
    folder.mkdir()
    path = lowered(demo_file, folder / "collection.sqlite", layout)
    swatches = rows(path, "SELECT count(*), sum(lab_L) FROM swatch")
    killed = _killed(_START, after, folder, "own")
    assert layout_of(path) in (layout, NEWEST_LAYOUT)
    make_ready(path)
    _whole(path)
    assert rows(path, "SELECT count(*), sum(lab_L) FROM swatch") == swatches
    return killed


def restoring(folder: Path, demo_file: Path, after: float | None) -> Killed:
    """Kill a restore over a collection: afterwards it is the one before or the restored one, whole."""
    folder.mkdir()
    path, source = folder / "collection.sqlite", folder / "source" / "collection.sqlite"
    shutil.copy(demo_file, path)
    source.parent.mkdir()
    shutil.copy(demo_file, source)
    with closing(sqlite3.connect(source)) as connection:
        connection.execute("UPDATE recipe SET title = 'Restored'")
        connection.commit()
    back_up(CollectionFiles(source), folder / "backup.zip")
    before = rows(path, "SELECT title FROM recipe")
    killed = _killed(_RESTORE, after, folder, folder / "backup.zip")
    now = rows(path, "SELECT title FROM recipe")
    assert now in (before, [("Restored",)] * len(before))
    assert not killed.done or now != before
    _whole(path)
    return killed


def writing(folder: Path, demo_file: Path, after: float) -> int:
    """Kill a served collection while it is written to; how many writes were answered, all of which are there."""
    folder.mkdir()
    path = folder / "collection.sqlite"
    shutil.copy(demo_file, path)
    process = subprocess.Popen(
        [Path(sys.executable).parent / "tidy-tinder", "serve", "--data", folder, "--port", "0"],
        stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    assert process.stdout is not None
    address = process.stdout.readline().strip()
    answered: list[str] = []
    until = time.monotonic() + after
    while time.monotonic() < until:
        title = f"Leaf {len(answered)}"
        body = json.dumps({"text": f"{title}\nHeron\n126, medium\n"}).encode()
        asked = urllib.request.Request(f"{address}api/recipes", body, {"Content-Type": "application/json"})
        with urllib.request.urlopen(asked, timeout=30):
            answered.append(title)
    asked = urllib.request.Request(f"{address}api/recipes", body, {"Content-Type": "application/json"})
    _kill_while_one_more_is_asked(asked, process)
    with closing(open_collection(path)) as collection:
        assert context(collection).papers
    check_sound(path)
    kept = {str(title) for (title,) in rows(path, "SELECT title FROM recipe")}
    assert set(answered) <= kept
    return len(answered)


def _kill_while_one_more_is_asked(asked: urllib.request.Request, process: subprocess.Popen[str]) -> None:
    """Ask once more and kill the program before it can have answered."""

    def ask() -> None:
        try:
            urllib.request.urlopen(asked, timeout=30).close()
        except OSError:
            return

    thread = threading.Thread(target=ask)
    thread.start()
    time.sleep(0.003)
    process.send_signal(signal.SIGKILL)
    process.communicate(timeout=60)
    thread.join()
