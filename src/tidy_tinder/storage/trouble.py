"""What the disk and SQLite complain of, as errors in words: a full disk, a folder or a file that cannot be used."""

from __future__ import annotations

import errno
import sqlite3
from collections.abc import Callable
from pathlib import Path

from sqlalchemy.exc import DBAPIError

from tidy_tinder.storage.errors import (
    CannotWriteError,
    CollectionBusyError,
    DamagedError,
    DiskFullError,
    NotADatabaseError,
    StorageError,
)

_FULL = frozenset({errno.ENOSPC, errno.EDQUOT, errno.EFBIG})
_NO_FOLDER = frozenset({errno.ENOTDIR, errno.EEXIST, errno.EISDIR})
_FORBIDDEN = frozenset({errno.EACCES, errno.EPERM, errno.EROFS})


def trouble_in(error: BaseException, place: Path | None = None) -> StorageError | None:
    """The trouble that an error of the system or of SQLite stands for; None where it is another one.

    place: the file that is meant, where the error does not say it.
    """
    if isinstance(error, DBAPIError):
        return _of_sqlite(error.orig, place)
    if isinstance(error, sqlite3.Error):
        return _of_sqlite(error, place)
    if isinstance(error, OSError):
        return _of_the_system(error, place)
    return None


def plainly(error: BaseException) -> str:
    """What an error says, without the statement and the address that a library adds to it."""
    return str(error.orig if isinstance(error, DBAPIError) else error).rstrip(".")


def _of_the_system(error: OSError, place: Path | None) -> StorageError | None:
    where = error.filename or place
    if error.errno in _FULL:
        return _full()
    if error.errno in _FORBIDDEN:
        return _forbidden(where or "The folder of the collection")
    if where is None:
        return None  # of a connection, not of a file
    if error.errno in _NO_FOLDER:
        return CannotWriteError(f"{where}: a file stands where a folder is needed. Choose another place for it.")
    return CannotWriteError(f"{where} cannot be used ({error.strerror}). Choose another place for it.")


def _of_sqlite(error: BaseException | None, place: Path | None) -> StorageError | None:
    name = str(getattr(error, "sqlite_errorname", None) or "")
    where = place or "The file of the collection"
    return next((told(where) for beginning, told in _SQLITE.items() if name.startswith(beginning)), None)


def _busy(_where: object) -> StorageError:
    return CollectionBusyError(
        "Another program is writing to the collection. Wait a moment and try again; nothing was lost."
    )


def _unread(where: object) -> StorageError:
    return CannotWriteError(
        f"{where} could not be read or written: the disk may be full, damaged or gone. Nothing of this was kept. Look "
        "after the disk, then do it again."
    )


def _something_else(where: object) -> StorageError:
    return NotADatabaseError(
        f"{where} holds something else than a Tidy Tinder collection. Choose another folder with --data."
    )


def _damaged(where: object) -> StorageError:
    return DamagedError(
        f"{where} is damaged. Stop the program, keep a copy of the file, and restore a backup with “tidy-tinder "
        "restore”."
    )


def _full(_where: object = None) -> StorageError:
    return DiskFullError(
        "There is no room left on the disk, so this was not kept; all that was kept before is safe. Make some room, "
        "then do it again."
    )


def _forbidden(where: object) -> StorageError:
    return CannotWriteError(
        f"{where} may not be written, so this was not kept; all that was kept before is safe. Allow it to be written, "
        "or choose another place for it."
    )


# By how SQLite's names of errors begin (its list of result codes).
_SQLITE: dict[str, Callable[[object], StorageError]] = {
    "SQLITE_FULL": _full,
    "SQLITE_BUSY": _busy,
    "SQLITE_LOCKED": _busy,
    "SQLITE_READONLY": _forbidden,
    "SQLITE_PERM": _forbidden,
    "SQLITE_CANTOPEN": _forbidden,
    "SQLITE_IOERR": _unread,
    "SQLITE_NOTADB": _something_else,
    "SQLITE_CORRUPT": _damaged,
}
