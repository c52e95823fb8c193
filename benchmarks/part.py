"""One section of the page, and the measuring of it."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from benchmarks.page import Row

Measure = Callable[[], Sequence[Row]]


@dataclass(frozen=True)
class Part:
    """One section of the page: figures that hold however busy the machine is, and those of clocks and memory."""

    title: str
    intro: str = ""
    rows: Measure | None = None
    times: Measure | None = None
    sampled: bool = False


@dataclass(frozen=True)
class Measured:
    """Rows, and the seconds that they took."""

    rows: Sequence[Row] = ()
    seconds: float = 0.0


def measured(measure: Measure | None) -> Measured:
    """Measure, by the clock; nothing where there is nothing to measure."""
    if measure is None:
        return Measured()
    begun = time.perf_counter()
    rows = measure()
    return Measured(rows, time.perf_counter() - begun)
