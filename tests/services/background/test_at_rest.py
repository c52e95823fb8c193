"""At rest, all that was written stands in the one file of the collection."""

from __future__ import annotations

import sqlite3
import threading
from contextlib import closing
from pathlib import Path

import pytest
from sqlalchemy import Engine, event

from tidy_tinder.services.background.at_rest import AtRest
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage import engine


def owned_in_a_copy(collection: Collection, folder: Path) -> int:
    """Pencils in a copy of the one file, without the log beside it."""
    copy = folder / "copy.sqlite"
    copy.write_bytes(collection.database.read_bytes())
    with closing(sqlite3.connect(copy)) as connection:
        return int(connection.execute("SELECT count(*) FROM pencil").fetchone()[0])


def test_what_was_written_is_brought_in_once_nothing_is_written(
    demo: Collection, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    brought_in = threading.Event()

    def check_point(of: Engine, wait: bool = True) -> bool:
        done = engine.check_point(of, wait)
        if done:
            brought_in.set()
        return done

    monkeypatch.setattr("tidy_tinder.services.background.at_rest.check_point", check_point)
    watch = AtRest(demo.engine, rest_seconds=0.05)
    watch.start()
    before = owned_in_a_copy(demo, tmp_path)
    mark_owned(demo, list(range(1, 200)), False)
    assert brought_in.wait(20)
    assert owned_in_a_copy(demo, tmp_path) < before
    # And again after the next write.
    brought_in.clear()
    mark_owned(demo, list(range(1, 200)), True)
    assert brought_in.wait(20)
    assert owned_in_a_copy(demo, tmp_path) >= before
    watch.close()


def test_who_closes_a_collection_leaves_one_file(demo: Collection, tmp_path: Path) -> None:
    mark_owned(demo, list(range(1, 200)), False)
    with demo() as session:
        left = session.connection().exec_driver_sql("SELECT count(*) FROM pencil").scalar()
    demo.close()
    assert owned_in_a_copy(demo, tmp_path) == left
    wal = demo.database.with_name(demo.database.name + "-wal")
    assert not wal.exists() or wal.stat().st_size == 0


def test_a_log_that_cannot_be_brought_in_is_left_and_said(demo: Collection, caplog: pytest.LogCaptureFixture) -> None:
    """As where the disk is full or the file read-only: what was written is safe beside it, and closing goes on."""
    mark_owned(demo, list(range(1, 50)), False)
    demo.engine.dispose()
    event.listen(demo.engine, "checkout", lambda raw, *_: raw.set_authorizer(lambda *_: sqlite3.SQLITE_DENY))
    demo.close()
    assert "could not be brought in" in caplog.text


def test_a_long_reader_holds_up_no_writer_and_all_is_brought_in_once_it_ends(
    demo: Collection, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As a plan reads that is being made: what waits for it must not keep the file to itself meanwhile."""
    tried, brought_in = threading.Semaphore(0), threading.Event()

    def check_point(of: Engine, wait: bool = True) -> bool:
        tried.release()
        return engine.check_point(of, wait)

    monkeypatch.setattr("tidy_tinder.services.background.at_rest.check_point", check_point)
    before = owned_in_a_copy(demo, tmp_path)
    watch = AtRest(demo.engine, rest_seconds=0.05, then=brought_in.set)
    watch.start()
    with demo() as reading:
        reading.connection().exec_driver_sql("SELECT count(*) FROM pencil").scalar()
        mark_owned(demo, list(range(1, 200)), False)
        assert tried.acquire(timeout=20)
        with closing(sqlite3.connect(demo.database, timeout=0.2, isolation_level=None)) as writer:
            for _ in range(40):
                writer.execute("BEGIN IMMEDIATE")
                writer.execute("ROLLBACK")
        assert not brought_in.is_set()
    assert brought_in.wait(20)
    assert owned_in_a_copy(demo, tmp_path) < before
    watch.close()
