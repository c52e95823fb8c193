"""What the readers of formats raise."""

from __future__ import annotations

from tidy_tinder.core.errors import TidyTinderError


class UnreadableError(TidyTinderError):
    """A file or a piece of data is not what it should be; the detail says where."""

    title = "This could not be read"
