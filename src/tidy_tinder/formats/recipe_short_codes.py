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
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_figures import NO_CODES
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_words import TOKEN, counts_something

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
    return [_with_unread(step, [_asked(c, lettered, ranges, named) for c in step.calls], lettered) for step in steps]


def _with_unread(step: ReadStep, calls: Sequence[ReadCall], lettered: Mapping[str, ReadCall]) -> ReadStep:
    """A step with its calls, and with those numbers in it that were read as nothing and may be a code short."""
    taken = {i for call in calls for i in range(call.start, call.end)}
    taken |= {i for found in NO_CODES.finditer(step.text) for i in range(*found.span())}
    tokens = list(TOKEN.finditer(step.text))
    found = [
        ReadCall(token.group(), *token.span(), None, (longer.key,), _problem(token.group(), longer))
        for at, token in enumerate(tokens)
        if (longer := lettered.get(token.group())) is not None and longer.key is not None
        if token.start() not in taken and not counts_something(tokens, at)
    ]
    if step.kind is StepKind.HEADING or not found:
        return replace(step, calls=tuple(calls))
    return replace(step, kind=StepKind.STEP, calls=tuple(sorted([*calls, *found], key=lambda call: call.start)))


def _asked(
    call: ReadCall, lettered: Mapping[str, ReadCall], ranges: Mapping[int, str], named: AbstractSet[str]
) -> ReadCall:  # fmt: skip
    """A call, asking for the longer code or its own, where it may be either."""
    longer = lettered.get(call.as_written)
    if longer is None or longer.key is None or (call.key is not None and ranges[call.key] in named):
        return call
    own = (call.key,) if call.key is not None else call.candidates
    candidates = tuple(dict.fromkeys((longer.key, *own)))
    return replace(call, key=None, candidates=candidates, problem=_problem(call.as_written, longer))


def _problem(written: str, longer: ReadCall) -> str:
    return f"“{written}” may be {longer.as_written} short. Which one is meant?"
