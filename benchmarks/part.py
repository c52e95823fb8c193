"""One section of the page, and the measuring of it."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from benchmarks.page import Row

# Before what is measured, and as many after it.
_LOOPS = 3

Measure = Callable[[], Sequence[Row]]


@dataclass(frozen=True)
class Part:
    """One section of the page: figures that hold however busy the machine is, and those of clocks and memory; last:
    whether these need what those made.
    """

    title: str
    intro: str = ""
    rows: Measure | None = None
    times: Measure | None = None
    sampled: bool = False
    last: bool = False


@dataclass(frozen=True)
class Measured:
    """Rows, the seconds that they took, the share of the machine's time that its host gave to others meanwhile, and the
    milliseconds of a loop around them, which tell how fast the machine was.
    """

    rows: Sequence[Row] = ()
    seconds: float = 0.0
    stolen: float = 0.0
    loop_ms: float = 0.0


def measured(measure: Measure | None) -> Measured:
    """Measure, by the clock; nothing where there is nothing to measure."""
    if measure is None:
        return Measured()
    loops = [_million_additions() for _ in range(_LOOPS)]
    begun, before = time.perf_counter(), machine_ticks()
    rows = measure()
    seconds, after = time.perf_counter() - begun, machine_ticks()
    loops += [_million_additions() for _ in range(_LOOPS)]
    return Measured(rows, seconds, stolen_between(before, after), statistics.median(loops))


def _million_additions() -> float:
    """Milliseconds of a loop of plain Python: the same work on whatever machine."""
    begun, total = time.perf_counter(), 0
    for number in range(1_000_000):
        total += number
    assert total > 0
    return (time.perf_counter() - begun) * 1000


def machine_ticks(stat: Path = Path("/proc/stat")) -> tuple[int, int]:
    """Ticks since the machine started, of all its cores: all of them, and those that its host took (Linux; else 0).

    The columns are those of proc(5): user, nice, system, idle, iowait, irq, softirq, steal; guests are in user.
    """
    try:
        columns = [int(n) for n in stat.read_text(encoding="ascii").split("\n", 1)[0].split()[1:9]]
    except OSError:
        return 0, 0
    return sum(columns), columns[7]


def stolen_between(before: tuple[int, int], after: tuple[int, int]) -> float:
    """The share of the machine's time between two looks that its host took."""
    return (after[1] - before[1]) / max(after[0] - before[0], 1)
