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

# Actions between two looks at the clock, and kills among them.
_MORNING, _KILLS = 50, 2


def main(minutes: float, seed: int) -> None:
    """Work, take everything back, and say what was done; the first thing that does not hold ends it."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        build_demo_of(folder / "demo.sqlite", drawings=True)
        demo_copy(folder / "demo.sqlite", folder / "data" / "collection.sqlite")
        artist, until, kills = Artist(folder / "data", seed), time.monotonic() + 60 * minutes, 0
        while time.monotonic() < until:
            artist.work(_MORNING, _KILLS)
            kills += _KILLS
        actions = sum(artist.done.values())
        print(f"{actions} actions, {kills} of them killed; taking them back", flush=True)
        artist.end()
        print("; ".join(f"{name} {count}" for name, count in sorted(artist.done.items())))
        print("Changes made by each:", "; ".join(f"{name} {count}" for name, count in sorted(artist.changes.items())))
        print("The collection is whole, and what it was at the beginning.")


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 10.0, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
