"""The power is cut at any moment, and pages that were not synced are lost, all of them or some: what was answered is
there, wholly, and nothing is there by half.

Mutated by hand: with `synchronous` NORMAL for those who write, answered changes are lost and this fails.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
import sys
from contextlib import closing
from pathlib import Path

import pytest
from tests.storage.power import Disk, can_trace, keeping, traced

from tidy_tinder.storage.soundness import check_sound

pytestmark = pytest.mark.skipif(not can_trace(), reason="strace is not here, or may not look at another program")
CHANGES = 12


def papers_in(database: Path) -> set[str]:
    with closing(sqlite3.connect(database)) as connection:
        return {str(name) for (name,) in connection.execute("SELECT name FROM paper")}


def test_what_was_answered_survives_a_power_cut(empty_file: Path, tmp_path: Path) -> None:
    data = tmp_path / "data"
    data.mkdir()
    database, answered = data / "collection.sqlite", data / "answered"
    shutil.copy(empty_file, database)
    disk, before = Disk({database: database.read_bytes()}), papers_in(database)
    command = [sys.executable, "-m", "tests.storage.power_writer", str(database), str(answered), str(CHANGES)]
    events = traced(command, data, tmp_path / "strace.log", env={**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)})
    done, cuts, lost = 0, 0, 0
    for number, event in enumerate(events):
        if event.path == answered:
            done += 1
        elif event.path.name.startswith(database.name) and not event.path.name.endswith("-shm"):
            disk.do(event)
        # Each moment once with nothing kept of what was not synced, and once with some of it.
        for kind in ("none", "some", "all")[number % 2 :: 2] if event.kind != "write" else ("some",):
            cuts += 1
            lost += disk.unsynced > 0
            here = tmp_path / "after"
            disk.cut(here, data, keeping(kind, number))
            check_sound(here / database.name)
            found = papers_in(here / database.name) - before
            numbers = {int(name.split()[0]) for name in found}
            assert found == {f"{n} {side}" for n in numbers for side in "ab"}, "a change is there by half"
            assert numbers == set(range(len(numbers))), "a later change is there without an earlier one"
            assert len(numbers) >= done, f"{done} were answered, {len(numbers)} are there"
            shutil.rmtree(here)
    assert done == CHANGES
    # The test would hold nothing if there were no moment at which the disk is behind the program.
    assert lost > CHANGES
    assert cuts > 5 * CHANGES
