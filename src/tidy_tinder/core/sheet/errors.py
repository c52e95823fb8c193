"""Why a picture is not read as a page; each says what to do."""

from __future__ import annotations

from tidy_tinder.core.errors import CoreError


class NotReadableError(CoreError):
    """Root of the reasons why a picture cannot be read as the page that it should be."""

    title = "This picture cannot be read"


class NoSheetError(NotReadableError):
    """Too few markers are seen to say where the page lies."""

    title = "No sheet found"


class WrongPageError(NotReadableError):
    """The markers are those of another page."""

    title = "This is another page"


class MirroredError(NotReadableError):
    """The picture shows the page mirrored."""

    title = "The picture is mirrored"


class TooSmallError(NotReadableError):
    """The page has too few pixels."""

    title = "The page is too small in the picture"


class RefusedPageError(NotReadableError):
    """The page is found, and its picture is not good enough; the detail is the advice of every gate that refuses."""

    title = "The picture is not good enough"
