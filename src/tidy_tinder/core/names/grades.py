"""Graded tints: “Weathervane 10 %” is a paler grade of “Weathervane” in the same range."""

from __future__ import annotations

import re
from collections.abc import Sequence

from tidy_tinder.core.names.finding import Entry

_GRADE = re.compile(r"^(?P<base>.+?)\s+(?P<percent>\d{1,3})\s*%$")
_FULL = 100


def grade_of(name: str) -> tuple[str, int]:
    """The name of the full colour and the grade in percent; a name without one is the full colour, 100."""
    graded = _GRADE.match(name.strip())
    return (graded["base"], int(graded["percent"])) if graded else (name.strip(), _FULL)


def grade_family(entry: Entry, chart: Sequence[Entry]) -> tuple[Entry, ...]:
    """All grades of a colour in its own range, the fullest first; empty where it has no other grade."""
    base = grade_of(entry.name)[0].casefold()
    family = [
        e for e in chart if (e.maker, e.range_name) == (entry.maker, entry.range_name)
        and grade_of(e.name)[0].casefold() == base
    ]  # fmt: skip
    if len(family) < 2 or all(grade_of(e.name)[1] == _FULL for e in family):
        return ()
    return tuple(sorted(family, key=lambda e: -grade_of(e.name)[1]))
