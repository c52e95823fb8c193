"""The one problem format that the browser gets, and the one place where errors become HTTP statuses."""

from __future__ import annotations

import logging
from dataclasses import asdict

from flask import Flask, Response, make_response
from pydantic import BaseModel, Field, ValidationError
from sqlalchemy.exc import DBAPIError
from werkzeug.exceptions import HTTPException

from tidy_tinder.core.errors import CoreError, TidyTinderError, echoed
from tidy_tinder.devices.errors import ReaderError
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.services.errors import ChangedMeanwhileError, InvalidFileError, NotFoundError, RefusedError
from tidy_tinder.storage.errors import (
    BadBackupError,
    CannotWriteError,
    CollectionBusyError,
    DatabaseTooNewError,
    DiskFullError,
    StorageError,
    TooLargeError,
)
from tidy_tinder.storage.trouble import trouble_in
from tidy_tinder.web.faults import in_words

_log = logging.getLogger(__name__)


class ForbiddenOriginError(TidyTinderError):
    """A page of somebody else's asked for something."""

    title = "This request does not come from Tidy Tinder's own page"


class NotJsonError(TidyTinderError):
    """The body of a request is no JSON, or such as nobody sends: nested without end, a number that is none."""

    title = "The request was not understood"


class VersionOut(BaseModel):
    """One field as this window and another one left it."""

    field: str
    yours: str
    theirs: str


class Problem(BaseModel):
    """What went wrong, in words: title says what, detail where and what to do."""

    title: str
    detail: str
    status: int
    where: list[str] = Field(default_factory=list, description="The fields that are wrong, where some are")
    code: str = Field(default="", description="What kind of problem it is, where the page acts on it")
    versions: list[VersionOut] = Field(default_factory=list, description="Fields of which two windows differ")
    revision: int | None = Field(default=None, description="The revision to decide against, with versions")


# The first class that fits decides; the root catches the rest.
_STATUS: tuple[tuple[type[TidyTinderError], int], ...] = (
    (NotFoundError, 404),
    (ChangedMeanwhileError, 409),
    (ForbiddenOriginError, 403),
    (InvalidFileError, 422),
    (RefusedError, 422),
    (NotJsonError, 422),
    (CoreError, 422),
    (UnreadableError, 422),
    (ReaderError, 424),
    (BadBackupError, 422),
    (TooLargeError, 422),
    (DatabaseTooNewError, 422),
    (CollectionBusyError, 503),
    (CannotWriteError, 503),
    (DiskFullError, 507),
    (StorageError, 500),
    (TidyTinderError, 500),
)

# Of all that is wrong with a request so much is said in words.
_MOST_NAMED = 5
_PLAIN_TITLES = {
    404: "There is nothing at this address",
    405: "This address does not take such a request",
    413: "The file is too large",
    415: "The request is in a form that is not understood here",
}


def problem_response(title: str, detail: str, status: int, where: list[str] | None = None) -> Response:
    """A problem as the browser gets it."""
    return _as_response(Problem(title=title, detail=detail, status=status, where=where or []))


def _as_response(problem: Problem) -> Response:
    response = make_response(problem.model_dump_json(), problem.status)
    response.mimetype = "application/problem+json"
    return response


def status_of(error: TidyTinderError) -> int:
    """The HTTP status of an error."""
    return next(status for kind, status in _STATUS if isinstance(error, kind))


def invalid_request(error: ValidationError) -> Response:
    """A request whose fields do not fit, each named."""
    faults = error.errors()
    where = [".".join(echoed(str(part)) for part in item["loc"]) for item in faults]
    named = zip(where[:_MOST_NAMED], faults, strict=False)
    said = "; ".join(f"{at}: {in_words(item)}" for at, item in named)
    return problem_response("The request was not understood", said, 422, where)


def setup_errors(app: Flask) -> None:
    """Let every error become a problem."""

    @app.errorhandler(TidyTinderError)
    def _ours(error: TidyTinderError) -> Response:
        problem = Problem(title=error.title, detail=error.detail, status=status_of(error))
        if isinstance(error, ReaderError):
            problem.code = error.code
        if isinstance(error, ChangedMeanwhileError):
            problem.versions = [VersionOut(**asdict(version)) for version in error.versions]
            problem.revision = error.revision
        return _as_response(problem)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        if error.response is not None:
            return make_response(error.response)
        status = error.code or 500
        return problem_response(_PLAIN_TITLES.get(status, error.name), error.description or "", status)

    @app.errorhandler(OSError)
    @app.errorhandler(DBAPIError)
    def _trouble(error: Exception) -> Response:
        trouble = trouble_in(error)
        return _unforeseen(error) if trouble is None else _ours(trouble)

    @app.errorhandler(Exception)
    def _unforeseen(error: Exception) -> Response:
        _log.error("unforeseen error", exc_info=error)
        detail = "This is a mistake in the program; the details are in the window where it was started."
        return problem_response("Something went wrong", detail, 500)
