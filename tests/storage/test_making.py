"""A collection is made and upgraded whole or not at all, whatever stops the program meanwhile."""

from __future__ import annotations

import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from sqlalchemy import select
from tests.storage.kills import LAYOUTS, first_start, lowered, restoring, rows, upgrade, writing

from tidy_tinder.storage.engine import open_database
from tidy_tinder.storage.errors import NotADatabaseError, NotUpgradedError
from tidy_tinder.storage.layout import layout_of, migrate
from tidy_tinder.storage.making import is_ready, make_ready
from tidy_tinder.storage.models import Swatch
from tidy_tinder.storage.soundness import check_sound


def write(path: Path, *statements: str) -> None:
    with closing(sqlite3.connect(path)) as connection:
        for statement in statements:
            connection.execute(statement)
        connection.commit()


@pytest.mark.slow
@pytest.mark.parametrize(("what", "longest"), [("own", 0.8), ("demo", 2.0)])
def test_a_first_start_that_is_killed_is_begun_anew(tmp_path: Path, what: str, longest: float) -> None:
    """Killed at moments all over its first start, the next one succeeds, and never finds half a collection."""
    for number in range(4):
        first_start(tmp_path / str(number), what, longest * number / 4)


@pytest.mark.slow
def test_an_upgrade_that_is_killed_leaves_the_old_or_the_new_layout_whole(demo_file: Path, tmp_path: Path) -> None:
    for number, layout in enumerate(LAYOUTS):
        upgrade(tmp_path / layout, demo_file, layout, 0.15 * number)


@pytest.mark.slow
def test_a_restore_that_is_killed_leaves_the_one_before_or_the_restored_one(demo_file: Path, tmp_path: Path) -> None:
    for number in range(4):
        restoring(tmp_path / str(number), demo_file, 0.25 * number)


@pytest.mark.slow
def test_whatever_was_answered_is_there_after_a_kill(demo_file: Path, tmp_path: Path) -> None:
    answered = [writing(tmp_path / str(number), demo_file, 0.2 + 0.3 * number) for number in range(2)]
    assert all(answered)


def test_a_new_collection_appears_with_all_that_it_begins_with(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"

    def fill(unfinished: Path) -> None:
        assert not path.exists()
        migrate(unfinished)
        write(unfinished, "INSERT INTO setting (name, value, revision) VALUES ('paper', '1', 1)")

    make_ready(path, fill)
    assert is_ready(path)
    assert rows(path, "SELECT value FROM setting") == [("1",)]
    assert [p.name for p in tmp_path.iterdir()] == ["collection.sqlite"]


def test_what_goes_wrong_while_it_is_made_leaves_nothing(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"

    def fill(_: Path) -> None:
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        make_ready(path, fill)
    assert list(tmp_path.iterdir()) == []
    make_ready(path)
    assert is_ready(path)


@pytest.mark.parametrize("half", ["nothing", "empty database", "some tables", "no version", "an upgrade"])
def test_what_an_earlier_version_left_half_made_is_made_again(tmp_path: Path, half: str) -> None:
    path = tmp_path / "collection.sqlite"
    path.touch()
    if half == "empty database":
        write(path, "PRAGMA user_version = 1")
    if half in ("some tables", "no version"):
        migrate(path)
        write(path, "DELETE FROM alembic_version", "DROP TABLE choice")
    if half == "some tables":
        write(path, "DROP TABLE alembic_version")
    if half == "an upgrade":
        migrate(path, "0003")
        write(path, "ALTER TABLE choice ADD COLUMN layers INTEGER")
    # The log of a file that is gone belongs to no other one.
    (tmp_path / "collection.sqlite-wal").write_bytes(b"left by a killed program")
    make_ready(path)
    assert is_ready(path)
    check_sound(path)


def test_a_database_of_something_else_is_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    write(path, "CREATE TABLE letters (text TEXT)", "INSERT INTO letters VALUES ('Dear aunt')")
    with pytest.raises(NotADatabaseError, match="something else"):
        open_database(path)
    assert rows(path, "SELECT text FROM letters") == [("Dear aunt",)]


@pytest.mark.parametrize("layout", LAYOUTS)
def test_an_older_layout_is_upgraded_on_a_copy_and_kept(demo_file: Path, tmp_path: Path, layout: str) -> None:
    path = lowered(demo_file, tmp_path / "collection.sqlite", layout)
    # Some of it stands only in the write-ahead log of a killed program.
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("PRAGMA journal_mode=WAL")
        connection.execute("UPDATE paper SET name = 'Renamed at last' WHERE id = 1")
        connection.commit()
        for end in ("", "-wal"):
            shutil.copy(tmp_path / f"collection.sqlite{end}", tmp_path / f"killed.sqlite{end}")
    killed = tmp_path / "killed.sqlite"
    factory = open_database(killed)
    check_sound(killed)
    assert rows(killed, "SELECT name FROM paper WHERE id = 1") == [("Renamed at last",)]
    with factory() as session:
        assert len(session.scalars(select(Swatch)).all()) == 763
    factory.kw["bind"].dispose()
    (kept,) = (tmp_path / "backups").iterdir()
    assert layout_of(kept) == layout
    assert rows(kept, "SELECT name FROM paper WHERE id = 1") == [("Renamed at last",)]


def test_an_upgrade_that_cannot_be_is_refused_in_words_and_changes_nothing(demo_file: Path, tmp_path: Path) -> None:
    path = lowered(demo_file, tmp_path / "collection.sqlite", "0003")
    write(path, "DROP TABLE choice")
    before = path.read_bytes()
    with pytest.raises(NotUpgradedError, match=r"choice.*It is as it was before"):
        open_database(path)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["collection.sqlite"]


def test_the_first_paper_is_not_undone_in_a_collection_of_an_earlier_version(tmp_path: Path) -> None:
    path = tmp_path / "collection.sqlite"
    migrate(path, "0005")
    write(
        path, "INSERT INTO journal_change (made_at, label, kind) VALUES ('2026-01-01', 'New collection', 'collection')"
    )
    make_ready(path)
    assert rows(path, "SELECT kind FROM journal_change") == [("beginning",)]
