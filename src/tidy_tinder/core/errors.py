"""The one error root of the product, and the leaves that the core itself raises."""

from __future__ import annotations


class TidyTinderError(Exception):
    """Root of every error the product raises on purpose.

    `title` says in a few words what happened; `detail` says where and what to do about it.
    """

    title = "Something went wrong"

    def __init__(self, detail: str) -> None:
        super().__init__(detail)
        self.detail = detail


class CoreError(TidyTinderError):
    """Root of the errors of the core."""

    title = "This cannot be computed"


class ShapeError(CoreError):
    """An array has the wrong shape, or arrays do not broadcast together."""

    title = "The array has the wrong shape"


class OutOfRangeError(CoreError):
    """A quantity lies outside what its scale allows."""

    title = "The value is out of range"
