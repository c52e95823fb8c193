"""What can be wrong with a database file."""

from __future__ import annotations

from tidy_tinder.core.errors import TidyTinderError


class StorageError(TidyTinderError):
    """Root of the errors of storage."""

    title = "The database cannot be used"


class DatabaseTooNewError(StorageError):
    """The file was written by a newer version of the program."""

    title = "The database is newer than this program"


class NotADatabaseError(StorageError):
    """The file is something else."""

    title = "This file is not a Tidy Tinder database"


class CollectionInUseError(StorageError):
    """Another program has the collection open."""

    title = "The collection is in use"


class BadBackupError(StorageError):
    """A file that was to be restored is no whole backup; nothing was changed."""

    title = "This backup cannot be restored"
