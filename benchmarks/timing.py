"""The best of several runs: the least disturbed by whatever else the machine does."""

from __future__ import annotations

import time
from collections.abc import Callable


def best_ms(work: Callable[[], object], runs: int = 9) -> float:
    """Milliseconds of the fastest of `runs`, after one to warm up."""
    work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return min(times) * 1000
