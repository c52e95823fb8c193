"""What is handed on cannot be changed by whoever gets it: dataclasses are frozen, but for those of one module alone."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

PACKAGE = Path(__file__).parents[2] / "src/tidy_tinder"
# Caches that fill up while they are used, and what is gathered line by line before it is handed on.
MAY_CHANGE = {"StoredFits", "Entry"}


def dataclasses_of(part: str) -> Iterator[tuple[str, bool]]:
    """Each dataclass of a part by its name, and whether it is frozen."""
    for path in sorted((PACKAGE / part).rglob("*.py")):
        nodes = ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        for node in (one for one in nodes if isinstance(one, ast.ClassDef)):
            for mark in node.decorator_list:
                called = mark.func if isinstance(mark, ast.Call) else mark
                if isinstance(called, ast.Name) and called.id == "dataclass":
                    said = mark.keywords if isinstance(mark, ast.Call) else []
                    frozen = any(word.arg == "frozen" and ast.unparse(word.value) == "True" for word in said)
                    yield node.name, frozen


def test_results_are_frozen() -> None:
    for part in ("core", "formats", "services", "storage", "web", "devices", "commands"):
        found = list(dataclasses_of(part))
        thawed = {name for name, frozen in found if not frozen and not name.startswith("_")}
        assert thawed <= MAY_CHANGE, part
        assert part in {"storage", "commands"} or any(frozen for _, frozen in found)
