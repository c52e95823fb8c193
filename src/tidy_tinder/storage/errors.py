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


class NotUpgradedError(StorageError):
    """The file could not be brought to the newest layout; it is as it was."""

    title = "The collection was not upgraded"


class NotACollectionError(StorageError):
    """A database is not, or not wholly, a collection; its detail says what is wrong, as part of a sentence."""

    title = "This is not a whole collection"


class TooLargeError(StorageError):
    """A collection is larger than a format is made for."""

    title = "The collection is too large for this format"


class DiskFullError(StorageError):
    """There is no room to keep what was to be kept."""

    title = "The disk is full"


class CannotWriteError(StorageError):
    """A folder or a file cannot be used."""

    title = "The collection cannot be written"


class CollectionBusyError(StorageError):
    """Another program holds the file for too long."""

    title = "The collection is busy"


class DamagedError(StorageError):
    """The file of the collection is damaged."""

    title = "The collection is damaged"


class CollectionInUseError(StorageError):
    """Another program has the collection open."""

    title = "The collection is in use"


class BadBackupError(StorageError):
    """A file that was to be restored is no whole backup; nothing was changed."""

    title = "This backup cannot be restored"
