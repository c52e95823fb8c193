"""A backup as one file: the database and the pictures in a zip, with a manifest that says what must be in it.

Format 1: `manifest.json` (program, format, layout, when, and the SHA-256 of every file), `collection.sqlite`,
`pictures/…`. It is written while the program runs, by SQLite's own backup, and checked whole before anything
is restored.
"""

from __future__ import annotations

import hashlib
import json
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from sqlalchemy.exc import SQLAlchemyError

from tidy_tinder.storage.errors import (
    BadBackupError,
    DatabaseTooNewError,
    DiskFullError,
    NotACollectionError,
    NotADatabaseError,
)
from tidy_tinder.storage.json_collection import WORKED_OUT, database_as_json, database_from_json
from tidy_tinder.storage.layout import NEWEST_LAYOUT, layout_of, migrate
from tidy_tinder.storage.soundness import check_has_paper, check_integrity, check_sound
from tidy_tinder.storage.trouble import plainly, trouble_in

_PROGRAM = "tidy-tinder"
_FORMAT = 1
_DATABASE = "collection.sqlite"
_MANIFEST = "manifest.json"
# A backup that unpacks to more than this is none of ours.
_MOST_BYTES = 8_000_000_000
# A line of some 120 letters for each picture: this is room for more pictures than anybody takes.
_MOST_MANIFEST_BYTES = 10_000_000
_CHUNK = 1 << 20
# So many bytes tell JSON from a zip; what may stand before its first brace.
_LOOKED_AT, _BLANK = 64, b" \t\r\n\xef\xbb\xbf"
# What reading a file can raise that is no archive, or a damaged one, or one packed in a way that is not understood:
# the first that fits says it, since the library's own words ("Error -3 …") tell an artist nothing.
_NOT_WHOLE: dict[type[Exception], str] = {
    NotImplementedError: "it is packed in a way that is not understood",
    RuntimeError: "it is damaged, or locked with a password",
    EOFError: "its end is missing",
    OSError: "it cannot be read to its end",
    zlib.error: "something in it is damaged",
    zipfile.BadZipFile: "it is no zip file, or a part of it is missing or damaged",
    ValueError: "something in it is damaged",
}


@dataclass(frozen=True)
class Archive:
    """What a backup holds: when it was made, in which layout, how many pictures."""

    made_at: str
    layout: str
    pictures: int


def write_archive(database: Path, pictures: Path, target: Path) -> Archive:
    """Back up a database, which may be in use, and its pictures into `target`; it appears whole or not at all."""
    target.parent.mkdir(parents=True, exist_ok=True)
    made_at = datetime.now(UTC).isoformat(timespec="seconds")
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        copy = _copied(database, Path(folder))
        files = {_DATABASE: copy}
        if pictures.is_dir():
            kept_pictures = sorted(p for p in pictures.rglob("*") if p.is_file())
            files.update({f"pictures/{p.relative_to(pictures).as_posix()}": p for p in kept_pictures})
        layout = layout_of(copy) or ""
        manifest = {
            "program": _PROGRAM, "format": _FORMAT, "layout": layout, "made_at": made_at,
            "files": {name: _digest(path) for name, path in files.items()},
        }  # fmt: skip
        packed = Path(folder) / "backup.zip"
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
            archive.writestr(_MANIFEST, json.dumps(manifest, indent=1))
            for name, path in files.items():
                archive.write(path, name)
        packed.replace(target)
    return Archive(made_at, layout, len(files) - 1)


def _copied(database: Path, folder: Path) -> Path:
    """A copy of a database, which may be in use, as it is kept."""
    copy = folder / _DATABASE
    with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(copy)) as sink:
        source.backup(sink)
        sink.execute("PRAGMA journal_mode=DELETE")
        _leave_out_what_is_worked_out(sink)
    return copy


def _leave_out_what_is_worked_out(copy: sqlite3.Connection) -> None:
    """Fits can be worked out again from the swatches, and are larger than all the rest."""
    tables = {name for (name,) in copy.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    for table in sorted(tables & WORKED_OUT):
        copy.execute(f"DELETE FROM {table}")
    copy.commit()
    copy.execute("VACUUM")


def write_json(database: Path, target: Path) -> None:
    """Write all tables of a database, which may be in use, as JSON. Raises TooLargeError."""
    target.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        packed = Path(folder) / "collection.json"
        packed.write_bytes(database_as_json(_copied(database, Path(folder))))
        packed.replace(target)


def check_archive(file: Path, folder: Path) -> Archive:
    """Unpack a backup, or a collection as JSON, into an empty folder and check all of it; the database is brought to
    the newest layout.

    Raises BadBackupError with what is wrong, DatabaseTooNewError for one of a newer program.
    """
    with file.open("rb") as opened:
        is_json = opened.read(_LOOKED_AT).lstrip(_BLANK).startswith(b"{")
    return _check_json(file, folder) if is_json else _check_zip(file, folder)


def _check_json(file: Path, folder: Path) -> Archive:
    try:
        made_at, layout = database_from_json(file, folder / _DATABASE)
        _check_database(folder / _DATABASE)
    except NotACollectionError as error:
        raise BadBackupError(f"{file.name} holds no whole collection: {error.detail}. Nothing was changed.") from None
    return Archive(made_at, layout, 0)


def _check_zip(file: Path, folder: Path) -> Archive:
    try:
        with zipfile.ZipFile(file) as archive:
            manifest = _read_manifest(archive)
            _unpack(archive, manifest, folder)
    except tuple(_NOT_WHOLE) as error:
        trouble = trouble_in(error)
        if trouble is not None and (isinstance(trouble, DiskFullError) or isinstance(error, PermissionError)):
            raise trouble from error
        why = next(words for kind, words in _NOT_WHOLE.items() if isinstance(error, kind))
        raise BadBackupError(
            f"{file.name} is not a whole backup file: {why}. Nothing was changed; choose another copy of it."
        ) from None
    try:
        _check_database(folder / _DATABASE)
    except DatabaseTooNewError:
        raise DatabaseTooNewError(
            f"{file.name} was made by a newer Tidy Tinder (layout {manifest['layout']}; this one knows "
            f"{NEWEST_LAYOUT}). Restore it with that version; nothing was changed."
        ) from None
    except NotACollectionError as error:
        raise BadBackupError(f"{file.name} holds no whole collection: {error.detail}. Nothing was changed.") from None
    return Archive(str(manifest["made_at"]), str(manifest["layout"]), len(manifest["files"]) - 1)


def _check_database(database: Path) -> None:
    """Bring an unpacked database to the newest layout and check it. Raises NotACollectionError, DatabaseTooNewError."""
    try:
        check_integrity(database)
        if layout_of(database) is None:
            raise NotACollectionError("it is not a Tidy Tinder collection")
        migrate(database)
        check_sound(database)
        check_has_paper(database)
    except (sqlite3.Error, SQLAlchemyError, NotADatabaseError, UnicodeError) as error:
        if isinstance(trouble := trouble_in(error), DiskFullError):
            raise trouble from error
        raise NotACollectionError(f"its tables are not those of a collection ({plainly(error)})") from None


def put_in_place(folder: Path, database: Path, pictures: Path) -> None:
    """Replace the contents of a database, which may be in use, and its pictures by a checked backup's."""
    database.parent.mkdir(parents=True, exist_ok=True)
    with closing(sqlite3.connect(folder / _DATABASE)) as source, closing(sqlite3.connect(database)) as sink:
        source.backup(sink)
    restored = folder / "pictures"
    if restored.is_dir():
        for picture in (p for p in restored.rglob("*") if p.is_file()):
            place = pictures / picture.relative_to(restored)
            place.parent.mkdir(parents=True, exist_ok=True)
            arriving = place.with_name(f"{place.name}.arriving")
            shutil.copyfile(picture, arriving)
            arriving.replace(place)


def _read_manifest(archive: zipfile.ZipFile) -> dict[str, Any]:
    try:
        if archive.getinfo(_MANIFEST).file_size > _MOST_MANIFEST_BYTES:
            raise BadBackupError("Its manifest is larger than that of any collection. Nothing was changed.")
        manifest = json.loads(archive.read(_MANIFEST))
        ours = manifest["program"] == _PROGRAM and all(isinstance(d, str) for d in manifest["files"].values())
        number = int(manifest["format"])
    except (KeyError, TypeError, ValueError, AttributeError, RecursionError):
        raise BadBackupError("It has no readable manifest, so it is not a backup of Tidy Tinder.") from None
    if not ours or _DATABASE not in manifest["files"]:
        raise BadBackupError("It is not a backup of Tidy Tinder, or holds no collection.")
    if number > _FORMAT:
        raise BadBackupError(f"It has format {number}; this version knows format {_FORMAT}. Use a newer version.")
    return {"made_at": "", "layout": "", **manifest}


def _unpack(archive: zipfile.ZipFile, manifest: dict[str, Any], folder: Path) -> None:
    """Every file that the manifest names, with its checksum; nothing else, and nothing outside the folder."""
    if sum(info.file_size for info in archive.infolist()) > _MOST_BYTES:
        raise BadBackupError("It unpacks to more than any collection holds. Nothing was changed.")
    for name, digest in manifest["files"].items():
        place = (folder / name).resolve()
        if not place.is_relative_to(folder.resolve()):
            raise BadBackupError(f"It holds a file that would lie outside the collection: {name}.")
        place.parent.mkdir(parents=True, exist_ok=True)
        try:
            with archive.open(name) as packed, place.open("wb") as out:
                while chunk := packed.read(_CHUNK):
                    out.write(chunk)
        except KeyError:
            raise BadBackupError(f"{name} is missing in it. Nothing was changed.") from None
        if _digest(place) != digest:
            raise BadBackupError(f"{name} in it is damaged: its checksum differs. Nothing was changed.")


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
