"""Kill the program at random moments of what must never end half done, and check what is left.

Run: python -m tools.kill_often [TIMES] [WHAT …], such as 100 "layout 0003": what has one of these words in its name.
"""

from __future__ import annotations

import random
import sys
import tempfile
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from tests.conftest import build_demo
from tests.storage.kills import LAYOUTS, Killed, first_start, restoring, upgrade, writing


def _upgraded(demo: Path, layout: str, place: Path, after: float | None) -> Killed:
    return upgrade(place, demo, layout, after)


# Kills fall anywhere in the work, and a little after it.
_PAST_THE_END = 1.1


def _kill_in(
    work: Callable[[Path, float | None], Killed], times: int, folder: Path, rng: random.Random
) -> list[Killed]:
    """Let the work end once, then kill it at random moments of the time that it took."""

    def at(after: float | None) -> Killed:
        with tempfile.TemporaryDirectory(dir=folder) as place:
            return work(Path(place) / "x", after)

    whole = at(None)
    return [whole, *(at(rng.uniform(0.0, _PAST_THE_END * whole.seconds)) for _ in range(times))]


def main(times: int, wanted: Sequence[str]) -> None:
    """Kill so often in each that is wanted, or in all; the first thing that is not whole ends it with its assertion."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        build_demo(folder / "demo.sqlite")
        demo, rng = folder / "demo.sqlite", random.Random(7)
        works: dict[str, Callable[[Path, float | None], Killed]] = {
            "first start": lambda place, after: first_start(place, "own", after),
            "first start of the demo": lambda place, after: first_start(place, "demo", after),
            "restore": lambda place, after: restoring(place, demo, after),
        }
        works |= {f"upgrade of layout {layout}": partial(_upgraded, demo, layout) for layout in LAYOUTS}
        for what, work in works.items():
            if _is_wanted(what, wanted):
                whole, *killed = _kill_in(work, times, folder, rng)
                done = sum(one.done for one in killed)
                print(f"{what}: takes {whole.seconds:.2f} s; killed {times} times, {done} of them after its work; "
                      "whole each time", flush=True)  # fmt: skip
        if _is_wanted("writing", wanted):
            written = 0
            for _ in range(times):
                with tempfile.TemporaryDirectory(dir=folder) as place:
                    written += writing(Path(place) / "x", demo, rng.uniform(0.05, 0.8)) > 0
            print(f"writing: killed {times} times, {written} of them after something was answered; whole each time")


def _is_wanted(what: str, wanted: Sequence[str]) -> bool:
    return not wanted or any(word in what for word in wanted)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 100, sys.argv[2:])
