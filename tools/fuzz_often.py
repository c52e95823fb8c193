"""Sends made-up requests to every operation of the API, each on a fresh demo, and says how many and the slowest answer.

Run: python -m tools.fuzz_often [REQUESTS] [FIRST_OPERATION], 100,000 in all by default. What breaks it is raised, with
the request that did.
"""

from __future__ import annotations

import shutil
import sys
import tempfile
from pathlib import Path

from tests.conftest import build_demo
from tests.web.fuzzing import bound, document, fuzz, operations


def main(requests: int, first: int) -> None:
    """Fuzz all operations, from a certain one on, one after another."""
    read, all_of_them = document(), operations()
    sent, slowest = 0, (0.0, "")
    with tempfile.TemporaryDirectory() as name:
        demo = Path(name) / "demo.sqlite"
        build_demo(demo)
        for number, (path, verb) in enumerate(all_of_them[first:], first):
            copy = Path(name) / f"{number}.sqlite"
            shutil.copy(demo, copy)
            # An operation that can be asked in one way only leaves its share to the others.
            each = max(1, -(-(requests - sent) // (len(all_of_them) - number)))
            with bound(read, copy) as here:
                done = fuzz(here, path, verb, each, afresh=True)
            copy.unlink()
            sent, slowest = sent + done.requests, max(slowest, (done.slowest, f"{verb.upper()} {path}"))
            print(f"{number:4d} {done.requests:5d} {done.slowest:6.2f} s  {verb.upper()} {path}", flush=True)
    print(f"{sent:,} requests to {len(all_of_them) - first} operations; no server error, none that is not declared;")
    print(f"the slowest answer took {slowest[0]:.1f} s: {slowest[1]}.")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 100_000, int(sys.argv[2]) if len(sys.argv) > 2 else 0)
