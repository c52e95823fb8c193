"""Codes that are written without their letter the second time: “M33 …, then 33 again”.

A number that is a code of a range which the recipe never names may as well be the longer code short: it is asked which
of the two is meant (common practice, no source).
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import replace

from tidy_tinder.core.names.finding import Catalogue
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep

_LETTERED = re.compile(r"[A-Za-z]{1,2}(?P<figures>\d{2,4})")


def with_short_codes(steps: Sequence[ReadStep], named: AbstractSet[str], catalogue: Catalogue) -> list[ReadStep]:
    """The steps of a whole text, asking where a number may be a code short; named: the ranges that the text names."""
    lettered: dict[str, ReadCall] = {}
    for call in (call for step in steps for call in step.calls if call.key is not None):
        found = _LETTERED.fullmatch(call.as_written)
        if found:
            lettered.setdefault(found["figures"], call)
    if not lettered:
        return [*steps]
    ranges = {entry.key: entry.range_name for entry in catalogue.entries}
    return [replace(step, calls=tuple(_asked(call, lettered, ranges, named) for call in step.calls)) for step in steps]


def _asked(
    call: ReadCall, lettered: Mapping[str, ReadCall], ranges: Mapping[int, str], named: AbstractSet[str]
) -> ReadCall:  # fmt: skip
    """A call, asking for the longer code or its own, where it may be either."""
    longer = lettered.get(call.as_written)
    if longer is None or longer.key is None or (call.key is not None and ranges[call.key] in named):
        return call
    own = (call.key,) if call.key is not None else call.candidates
    problem = f"“{call.as_written}” may be {longer.as_written} short. Which one is meant?"
    return replace(call, key=None, candidates=tuple(dict.fromkeys((longer.key, *own))), problem=problem)
