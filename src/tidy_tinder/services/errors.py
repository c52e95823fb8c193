"""Why a wish of the artist could not be carried out."""

from __future__ import annotations

from dataclasses import dataclass

from tidy_tinder.core.errors import TidyTinderError


class ServiceError(TidyTinderError):
    """Root of the errors of the services."""


class NotFoundError(ServiceError):
    """Something that was asked for is not there."""

    title = "Not found"


class RefusedError(ServiceError):
    """The wish makes no sense as it stands; the detail says what to change."""

    title = "This cannot be done"


@dataclass(frozen=True)
class TwoVersions:
    """One field of which two windows say different things."""

    field: str
    yours: str
    theirs: str


class ChangedMeanwhileError(ServiceError):
    """What was to be changed has been changed by somebody else since.

    versions: the fields in which the two differ; revision: the row's revision now, to decide with.
    """

    title = "Changed meanwhile"

    def __init__(self, detail: str, versions: tuple[TwoVersions, ...] = (), revision: int | None = None) -> None:
        super().__init__(detail)
        self.versions = versions
        self.revision = revision


class InvalidFileError(ServiceError):
    """A file that was to be taken in has problems; nothing of it was taken."""

    title = "The file was not taken in"
