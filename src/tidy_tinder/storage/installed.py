"""The program as it is installed: what was worked out by another one does not hold.

Only the standard library is loaded here.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path

_PACKAGE = Path(__file__).parents[1]


@cache
def changed_at() -> int:
    """When a source of the program had been changed last, in nanoseconds, as it was first asked: what runs is older."""
    return max(source.stat().st_mtime_ns for source in _PACKAGE.rglob("*.py"))
