"""A program that is used all day grows no further: what it keeps in memory has limits."""

from __future__ import annotations

import json
import random
import re
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.browser.conftest import Server
from tests.conftest import demo_copy

_FEW, _MANY, _MORE = 200, 2000, 1.15


def resident(server: Server) -> int:
    """Memory in use by the server, in kB, as Linux says it."""
    status = Path(f"/proc/{server.process.pid}/status").read_text(encoding="ascii")
    found = re.search(r"VmRSS:\s+(\d+) kB", status)
    assert found is not None
    return int(found[1])


def until_fitted(server: Server) -> None:
    """Wait for what predictions rest on: pages asked for sooner are answered without it, and a busy machine answers two
    hundred such sooner than it fits. What the program works with would then be counted as growth.
    """
    until = time.monotonic() + 120.0
    while not _fitted(server):
        assert time.monotonic() < until, "nothing was fitted within two minutes"
        time.sleep(0.2)


def _fitted(server: Server) -> bool:
    with urllib.request.urlopen(server.address.rstrip("/") + "/api/fitting", timeout=60) as answer:
        state = json.load(answer)
    return bool(state["version"] > 0 and not state["working"])


class Visitor:
    """Asks for pages and owns a pencil now and then, at random."""

    def __init__(self, server: Server, seed: int) -> None:
        self._address, self._rng = server.address.rstrip("/"), random.Random(seed)

    def ask(self, times: int) -> None:
        for _ in range(times):
            self._once()

    def _once(self) -> None:
        rng = self._rng
        paper, colour = rng.randint(1, 6), rng.randint(1, 400)
        path = rng.choice([
            "/api/collection", f"/api/tidy?paper={paper}", "/api/board", f"/api/find?q={colour}&paper={paper}",
            f"/api/colours/{colour}?paper={paper}&closest=overall", f"/api/recipes?paper={paper}",
            f"/api/recipes/{rng.randint(1, 7)}?paper=1", "/api/papers", "/api/changes", "",
        ])  # fmt: skip
        body = None if path else json.dumps({"colour_ids": [colour], "owned": rng.random() < 0.5}).encode()
        asked = urllib.request.Request(
            self._address + (path or "/api/tidy/owned"), body, {"Content-Type": "application/json"}
        )
        with urllib.request.urlopen(asked, timeout=60) as answer:
            assert answer.status == 200
            assert answer.read()


@pytest.mark.slow
def test_memory_after_two_thousand_requests_is_that_after_two_hundred(
    demo_file: Path, tmp_path: Path, serve: Callable[..., Server]
) -> None:
    demo_copy(demo_file, tmp_path / "data" / "collection.sqlite")
    server = serve("--demo", "--data", str(tmp_path / "data"))
    until_fitted(server)
    visitor = Visitor(server, seed=5)
    visitor.ask(_FEW)
    early = resident(server)
    visitor.ask(_MANY - _FEW)
    late = resident(server)
    assert late <= _MORE * early, f"{early} kB, later {late} kB"
