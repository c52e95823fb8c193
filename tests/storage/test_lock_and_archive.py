"""The lock across processes, and archives that hold anything."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
import zipfile
from contextlib import closing
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import func, select

from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.storage.archive import check_archive, write_archive
from tidy_tinder.storage.errors import BadBackupError, CollectionInUseError
from tidy_tinder.storage.layout import NEWEST_LAYOUT, layout_of, migrate
from tidy_tinder.storage.lock import only_program
from tidy_tinder.storage.models import PencilFitted

HOLD = """
import pathlib, sys
from tidy_tinder.storage.lock import only_program
with only_program(pathlib.Path(sys.argv[1]), "holding"):
    print("held", flush=True)
    sys.stdin.read()
"""


def test_the_lock_holds_across_processes_and_ends_with_a_killed_one(tmp_path: Path) -> None:
    database = tmp_path / "deep" / "collection.sqlite"
    holder = subprocess.Popen(
        [sys.executable, "-c", HOLD, database], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    assert holder.stdout is not None
    assert holder.stdout.readline() == "held\n"
    with pytest.raises(CollectionInUseError, match=f"process {holder.pid}, holding"), only_program(database, "me"):
        pass
    holder.kill()
    holder.communicate(timeout=20)
    with only_program(database, "me"):
        pass


def test_an_archive_keeps_pictures_in_their_folders(demo_file: Path, tmp_path: Path) -> None:
    pictures = tmp_path / "pictures"
    (pictures / "caps").mkdir(parents=True)
    (pictures / "caps" / "scarlet.png").write_bytes(b"red")
    (pictures / "moss.png").write_bytes(b"green")
    made = write_archive(demo_file, pictures, tmp_path / "a.zip")
    assert made.pictures == 2
    out = tmp_path / "out"
    assert check_archive(tmp_path / "a.zip", out) == made
    assert (out / "pictures/caps/scarlet.png").read_bytes() == b"red"
    # Nothing half-written is left beside it.
    assert sorted(p.name for p in tmp_path.iterdir()) == ["a.zip", "out", "pictures"]


@given(names=st.lists(st.text(min_size=1, max_size=12), max_size=3), body=st.binary(max_size=400))
@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_zip_is_either_a_backup_or_refused_in_words(tmp_path: Path, names: list[str], body: bytes) -> None:
    file = tmp_path / "any.zip"
    with zipfile.ZipFile(file, "w") as archive:
        archive.writestr("manifest.json", body)
        for name in dict.fromkeys(names):
            archive.writestr(zipfile.ZipInfo(name.replace("\\x00", "_") or "_"), body)
    with pytest.raises(TidyTinderError) as told:
        check_archive(file, tmp_path / "out")
    assert told.value.detail


@pytest.mark.parametrize("missing", ["collection.sqlite", "pictures/moss.png"])
def test_a_file_that_the_manifest_names_must_be_there(demo_file: Path, tmp_path: Path, missing: str) -> None:
    pictures = tmp_path / "pictures"
    pictures.mkdir()
    (pictures / "moss.png").write_bytes(b"green")
    write_archive(demo_file, pictures, tmp_path / "a.zip")
    with zipfile.ZipFile(tmp_path / "a.zip") as whole, zipfile.ZipFile(tmp_path / "b.zip", "w") as part:
        for name in whole.namelist():
            if name != missing:
                part.writestr(name, whole.read(name))
    with pytest.raises(BadBackupError, match="is missing in it"):
        check_archive(tmp_path / "b.zip", tmp_path / "out")


def test_a_backup_of_an_older_layout_is_brought_up_to_date(tmp_path: Path) -> None:
    old = tmp_path / "old.sqlite"
    migrate(old, "0001")
    with closing(sqlite3.connect(old)) as connection:
        connection.execute(
            "INSERT INTO paper (name, mill, kind, position, lab_L, lab_a, lab_b, tooth, most_layers, absorbent, "
            "stands_solvent, notes, revision) VALUES ('Old board', '', '', 0, 95, 0, 2, 'smooth', 9, 0, 0, '', 1)"
        )
        connection.commit()
    write_archive(old, tmp_path / "none", tmp_path / "old.zip")
    found = check_archive(tmp_path / "old.zip", tmp_path / "out")
    assert found.layout == "0001"
    assert layout_of(tmp_path / "out" / "collection.sqlite") == NEWEST_LAYOUT


def test_a_backup_leaves_out_what_can_be_worked_out_again(demo: Collection, demo_file: Path, tmp_path: Path) -> None:
    write_archive(demo.database, tmp_path / "none", tmp_path / "backup.zip")
    with zipfile.ZipFile(tmp_path / "backup.zip") as archive:
        archive.extract("collection.sqlite", tmp_path / "out")
    assert (tmp_path / "out/collection.sqlite").stat().st_size < 0.5 * demo_file.stat().st_size
    with closing(sqlite3.connect(tmp_path / "out/collection.sqlite")) as copy:
        assert copy.execute("SELECT count(*) FROM pencil_fitted").fetchone() == (0,)
        assert copy.execute("SELECT count(*) FROM swatch").fetchone()[0] > 700
    with demo() as session:
        assert (session.scalar(select(func.count(PencilFitted.id))) or 0) > 500


def test_the_lock_names_who_holds_it_now_not_who_held_it_before(tmp_path: Path) -> None:
    database = tmp_path / "collection.sqlite"
    with only_program(database, "at http://127.0.0.1:65535/ with a long address"):
        pass
    with (
        only_program(database, "at b"),
        pytest.raises(CollectionInUseError) as told,
        only_program(database, "c"),
    ):
        pass
    assert told.value.detail.startswith(f"{database} is in use by process {os.getpid()}, at b.")
    assert "long address" not in told.value.detail
