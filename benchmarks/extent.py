"""How much is measured: a sample that is meant to leave the whole run within a quarter of an hour, or all (WHOLE=1)."""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import TypeVar

T = TypeVar("T")

WHOLE = os.environ.get("WHOLE") == "1"


def some(of: Sequence[T], usual: int) -> Sequence[T]:
    """The first so many, or all where all is measured."""
    return of if WHOLE else of[:usual]
