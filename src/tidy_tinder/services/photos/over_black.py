"""The heavy mark of a cell over its black bar: what of it may be believed, by what the pencil's chart says."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tidy_tinder.core.vocabulary import Opacity, PrintedOpacity


def told_over_black(cell: Mapping[str, Any], printed: PrintedOpacity) -> Mapping[str, Any] | None:
    """The heavy mark over black of a cell as it was read; None where it was not, or may never have been laid.

    A bar as black as a bare one is that of a transparent pencil, or was left alone: only a pencil that is printed as
    transparent is believed to have been laid there. What was read by earlier programs has no bars.
    """
    bar: Mapping[str, Any] | None = cell.get("bar")
    if bar is not None and bar["bare"] and printed != Opacity.TRANSPARENT:
        return None
    return bar
