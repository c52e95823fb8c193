"""Backup and restore: whole, while in use, checked, and refused in words."""

from __future__ import annotations

import hashlib
import json
import re
import sqlite3
import zipfile
from pathlib import Path

import pytest
from tests.conftest import close
from tests.services.at_home import colour_id, owned

from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.exchange.backup import CollectionFiles, back_up, restore
from tidy_tinder.services.journal import undo
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.archive import check_archive
from tidy_tinder.storage.errors import BadBackupError, CollectionInUseError, DatabaseTooNewError
from tidy_tinder.storage.lock import only_program


def files_of(collection: Collection) -> CollectionFiles:
    return CollectionFiles(collection.database)


def test_what_was_backed_up_comes_back_in_the_running_program(demo: Collection, tmp_path: Path) -> None:
    files = files_of(demo)
    files.pictures.mkdir()
    (files.pictures / "cap.png").write_bytes(b"a picture")
    target = tmp_path / "out" / "backup.zip"
    archive = back_up(files, target)
    assert archive.pictures == 1
    before = owned(demo, "Heron")
    change = mark_owned(demo, [colour_id(demo, "Heron", "119")], False)
    (files.pictures / "cap.png").unlink()
    done = restore(files, target, demo)
    # The same collection, which is open, sees what was restored.
    assert owned(demo, "Heron") == before
    assert (files.pictures / "cap.png").read_bytes() == b"a picture"
    # What was there before is kept, and is a backup itself.
    assert done.safety_copy is not None
    restore(files, done.safety_copy, demo)
    assert owned(demo, "Heron") == before - {"119"}
    assert change is not None
    undo(demo, change.change_id)
    assert owned(demo, "Heron") == before


def test_into_an_empty_folder(demo: Collection, tmp_path: Path) -> None:
    target = tmp_path / "backup.zip"
    back_up(files_of(demo), target)
    new = CollectionFiles(tmp_path / "new" / "collection.sqlite")
    assert restore(new, target).safety_copy is None
    collection = open_collection(new.database)
    assert len(owned(collection, "Heron")) == 69
    close(collection)


def spoiled(good: Path, bad: Path, **changed: bytes) -> Path:
    """A copy of a backup with some of its files put in the place of others."""
    with zipfile.ZipFile(good) as source, zipfile.ZipFile(bad, "w") as sink:
        for name in source.namelist():
            sink.writestr(name, changed.get(name.replace(".", "_"), source.read(name)))
    return bad


@pytest.fixture
def backup(demo: Collection, tmp_path: Path) -> Path:
    target = tmp_path / "good.zip"
    back_up(files_of(demo), target)
    return target


def test_a_file_that_is_no_backup_changes_nothing(demo: Collection, backup: Path, tmp_path: Path) -> None:
    files = files_of(demo)
    whole = backup.read_bytes()
    cases = {
        "letter.zip": (b"a letter", "not a whole backup"),
        "cut.zip": (whole[: len(whole) // 2], "not a whole backup"),
    }
    for name, (content, said) in cases.items():
        (tmp_path / name).write_bytes(content)
        with pytest.raises(BadBackupError, match=said):
            restore(files, tmp_path / name)
    other = tmp_path / "other.zip"
    with zipfile.ZipFile(other, "w") as archive:
        archive.writestr("holiday.jpg", b"sun")
    with pytest.raises(BadBackupError, match="no readable manifest"):
        restore(files, other)
    damaged = spoiled(backup, tmp_path / "damaged.zip", collection_sqlite=b"SQLite format 3\0 but not really")
    with pytest.raises(BadBackupError, match="checksum differs"):
        restore(files, damaged)
    assert not files.backups.exists()
    assert len(owned(demo, "Heron")) == 69


@pytest.mark.parametrize(
    ("at", "instead", "said"),
    [
        # Places in the last file's own head and in its entry of the list at the end, by the zip's published layout.
        ("data", b"\xff" * 40, "something in it is damaged"),
        ("flags", b"\x01\x00", "locked with a password"),
        ("method", b"\x63\x00", "packed in a way that is not understood"),
        ("size", b"\xff\xff\xff\x00", "end is missing|missing or damaged"),
        ("head", b"XXXX", "missing or damaged"),
    ],
)
def test_a_damaged_backup_is_refused_in_our_own_words(
    backup: Path, tmp_path: Path, at: str, instead: bytes, said: str
) -> None:
    whole = bytearray(backup.read_bytes())
    with zipfile.ZipFile(backup) as archive:
        info = archive.getinfo("collection.sqlite")
    listed = whole.rindex(b"collection.sqlite") - 46
    places = {
        "head": (info.header_offset,),
        "data": (info.header_offset + 30 + len(info.filename),),
        "flags": (info.header_offset + 6, listed + 8),
        "method": (info.header_offset + 8, listed + 10),
        "size": (listed + 20,),
    }
    for place in places[at]:
        whole[place : place + len(instead)] = instead
    bad = tmp_path / "bad.zip"
    bad.write_bytes(whole)
    with pytest.raises(BadBackupError) as refused:
        check_archive(bad, tmp_path / "unpacked")
    assert re.search(said, refused.value.detail), refused.value.detail
    assert "Nothing was changed" in refused.value.detail


def test_a_backup_of_a_newer_program_is_refused(demo: Collection, tmp_path: Path) -> None:
    files = files_of(demo)
    close(demo)
    with sqlite3.connect(files.database) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    connection.close()
    target = tmp_path / "newer.zip"
    back_up(files, target)
    with pytest.raises(DatabaseTooNewError, match="made by a newer Tidy Tinder"):
        restore(CollectionFiles(tmp_path / "x" / "collection.sqlite"), target)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"format": 2}, "format 2"),
        ({"program": "another"}, "not a backup of Tidy Tinder"),
        ({"files": {"collection.sqlite": "", "../outside": ""}}, "damaged|outside"),
    ],
)
def test_a_manifest_that_lies_is_refused(backup: Path, tmp_path: Path, change: dict[str, object], said: str) -> None:
    with zipfile.ZipFile(backup) as archive:
        manifest = json.loads(archive.read("manifest.json"))
    bad = spoiled(backup, tmp_path / "bad.zip", manifest_json=json.dumps({**manifest, **change}).encode())
    with pytest.raises(BadBackupError, match=said):
        check_archive(bad, tmp_path / "unpacked")


def test_one_program_on_one_collection(tmp_path: Path) -> None:
    database = tmp_path / "collection.sqlite"
    told = r"process \d+, at http://127.0.0.1:1/"
    with (
        only_program(database, "at http://127.0.0.1:1/"),
        pytest.raises(CollectionInUseError, match=told),
        only_program(database, "b"),
    ):
        pass
    with only_program(database, "again"):
        pass


def repacked(backup: Path, bad: Path, name: str, content: bytes, **manifest: object) -> Path:
    """A backup with one file exchanged or added, and its true checksum in the manifest: only its own guard is left."""
    with zipfile.ZipFile(backup) as source:
        files = {n: source.read(n) for n in source.namelist() if n != "manifest.json"} | {name: content}
        told = json.loads(source.read("manifest.json"))
    told["files"] = {n: hashlib.sha256(c).hexdigest() for n, c in files.items()}
    with zipfile.ZipFile(bad, "w") as sink:
        sink.writestr("manifest.json", json.dumps({**told, **manifest}))
        for n, c in files.items():
            sink.writestr(n, c)
    return bad


@pytest.mark.parametrize("name", ["../outside", "pictures/../../outside", "/outside", "pictures/../../../tmp/outside"])
def test_a_file_that_would_lie_outside_is_refused_for_that(backup: Path, tmp_path: Path, name: str) -> None:
    bad = repacked(backup, tmp_path / "bad.zip", name, b"not here")
    unpacked = tmp_path / "deep" / "unpacked"
    with pytest.raises(BadBackupError, match="outside"):
        check_archive(bad, unpacked)
    assert list(tmp_path.rglob("outside*")) == []


def test_each_guard_of_an_archive_holds_with_the_right_checksum(backup: Path, tmp_path: Path) -> None:
    for content, said in (
        (b"SQLite format 3\0 but not really", "is damaged"),
        (b"", "not a Tidy Tinder collection"),
        (b"a letter", "is damaged"),
    ):
        bad = repacked(backup, tmp_path / "bad.zip", "collection.sqlite", content)
        with pytest.raises(BadBackupError, match=said):
            check_archive(bad, tmp_path / "unpacked")
    for changed, said in (({"format": 2}, "format 2"), ({"program": "another"}, "not a backup of Tidy Tinder")):
        bad = repacked(backup, tmp_path / "bad.zip", "pictures/cap.png", b"red", **changed)
        with pytest.raises(BadBackupError, match=said):
            check_archive(bad, tmp_path / "unpacked")


def test_an_archive_that_unpacks_to_more_than_any_collection_is_refused(
    backup: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The limit is 8 GB; here it is set below the backup, since eight billion zeros take a minute to pack."""
    monkeypatch.setattr("tidy_tinder.storage.archive._MOST_BYTES", 1000)
    with pytest.raises(BadBackupError, match="more than any collection"):
        check_archive(backup, tmp_path / "unpacked")
