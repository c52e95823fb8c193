"""How much is measured: a sample that is meant to leave the whole run within a quarter of an hour, or all (WHOLE=1)."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from typing import TypeVar

K = TypeVar("K")
T = TypeVar("T")

WHOLE = os.environ.get("WHOLE") == "1"


def some(of: Sequence[T], usual: int) -> Sequence[T]:
    """The first so many, or all where all is measured."""
    return of if WHOLE else of[:usual]


def every_other(of: Mapping[K, T]) -> dict[K, T]:
    """The first, the third and so on, or all where all is measured."""
    return dict(list(of.items())[:: 1 if WHOLE else 2])
