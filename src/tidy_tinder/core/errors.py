"""The one error root of the product, and the leaves that the core itself raises."""

from __future__ import annotations

_ECHOED = 80


def echoed(text: str) -> str:
    """What somebody sent, as far as it is said back: nobody is told of a mistake by pages of it."""
    return text if len(text) <= _ECHOED else f"{text[:_ECHOED]} …"


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
