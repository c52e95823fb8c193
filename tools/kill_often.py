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
from tests.storage.kills import LAYOUTS, first_start, restoring, upgrade, writing


def _upgraded(demo: Path, layout: str, rng: random.Random, place: Path) -> bool:
    return upgrade(place, demo, layout, rng.uniform(0, 1.0)).done


def main(times: int, wanted: Sequence[str]) -> None:
    """Kill so often in each that is wanted, or in all; the first thing that is not whole ends it with its assertion."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        build_demo(folder / "demo.sqlite")
        demo, rng = folder / "demo.sqlite", random.Random(7)
        works: dict[str, Callable[[Path], bool]] = {
            "first start": lambda place: first_start(place, "own", rng.uniform(0, 0.8)).done,
            "first start of the demo": lambda place: first_start(place, "demo", rng.uniform(0, 2.2)).done,
            "restore": lambda place: restoring(place, demo, rng.uniform(0, 1.2)).done,
            "writing": lambda place: writing(place, demo, rng.uniform(0.05, 0.8)) > 0,
        }
        works |= {f"upgrade of layout {layout}": partial(_upgraded, demo, layout, rng) for layout in LAYOUTS}
        for what, kill in works.items():
            if wanted and not any(word in what for word in wanted):
                continue
            done = 0
            for _ in range(times):
                with tempfile.TemporaryDirectory(dir=folder) as place:
                    done += bool(kill(Path(place) / "x"))
            print(f"{what}: killed {times} times, {done} of them after its work; whole each time", flush=True)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 100, sys.argv[2:])
