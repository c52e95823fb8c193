"""A random artist works for so many minutes on the demo, killed now and then; at the end everything is taken back.

Run: python -m tools.soak [MINUTES] [SEED], 10 and 1 by default (`make soak`).
"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

from tests.conftest import build_demo_of, demo_copy
from tests.soak.artist import Artist
from tests.soak.disk import small_disk

# Actions between two looks at the clock; kills and full disks among them.
_MORNING, _KILLS, _FULL = 50, 2, 1
_DISK_MB = 600


def main(minutes: float, seed: int) -> None:
    """Work, take everything back, and say what was done; the first thing that does not hold ends it."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        build_demo_of(folder / "demo.sqlite", drawings=True)
        with small_disk(folder / "disk", _DISK_MB) as mounted:
            artist = _work(folder, minutes, seed, mounted)
            artist.end()
        print("; ".join(f"{name} {count}" for name, count in sorted(artist.done.items())))
        print("Changes made by each:", "; ".join(f"{name} {count}" for name, count in sorted(artist.changes.items())))
        print("The collection is whole, and what it was at the beginning.")


def _work(folder: Path, minutes: float, seed: int, mounted: bool) -> Artist:
    data = folder / "disk" / "data"
    demo_copy(folder / "demo.sqlite", data / "collection.sqlite")
    artist, until, mornings = Artist(data, seed), time.monotonic() + 60 * minutes, 0
    while time.monotonic() < until:
        artist.work(_MORNING, _KILLS, _FULL if mounted else 0)
        mornings += 1
    where = f"{_FULL * mornings} times on a full disk" if mounted else "no small disk could be mounted here"
    print(f"{_MORNING * mornings} actions, {_KILLS * mornings} of them killed, {where}; taking them back", flush=True)
    return artist


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 10.0, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
