"""Codes that are written without their letter the second time: “M33 …, then 33 again”.

A number that is read as nothing, or as a code of a range which the recipe never names, may as well be the longer code
short: it is asked which is meant (common practice, no source).
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, replace

from tidy_tinder.core.names.finding import Catalogue
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_figures import figures_left
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep

_LETTERED = re.compile(r"[A-Za-z]{1,2}(?P<figures>\d{2,4})")


@dataclass(frozen=True)
class LongerCode:
    """A code with its letter, as a text has it, and the colour that it is."""

    written: str
    key: int

    def asked(self, short: ReadCall) -> ReadCall:
        """The call of a number that may be this code, or what it was read as."""
        own = (short.key,) if short.key is not None else short.candidates
        problem = f"“{short.as_written}” may be {self.written} short. Which one is meant?"
        return replace(short, key=None, candidates=tuple(dict.fromkeys((self.key, *own))), problem=problem)


def longer_codes(calls: Iterable[tuple[str, int | None]]) -> dict[str, LongerCode]:
    """The codes with letters among calls, each its words and the colour that it is, by their figures: the first of
    several counts.
    """
    longer: dict[str, LongerCode] = {}
    for written, key in calls:
        found = _LETTERED.fullmatch(written)
        if found and key is not None:
            longer.setdefault(found["figures"], LongerCode(written, key))
    return longer


def with_short_codes(steps: Sequence[ReadStep], named: AbstractSet[str], catalogue: Catalogue) -> list[ReadStep]:
    """The steps of a whole text, asking where a number may be a code short; named: the ranges that the text names."""
    longer = longer_codes((call.as_written, call.key) for step in steps for call in step.calls)
    if not longer:
        return [*steps]
    of_named = {entry.key for entry in catalogue.entries if entry.range_name in named}
    return [_asking(step, longer, of_named) for step in steps]


def _asking(step: ReadStep, longer: Mapping[str, LongerCode], of_named: AbstractSet[int]) -> ReadStep:
    """A step that asks where its numbers may be codes short; of_named: colours that are meant where they are named."""
    if step.kind is StepKind.HEADING:
        return step
    taken = {i for call in step.calls for i in range(call.start, call.end)}
    unread = [
        ReadCall(token.group(), *token.span(), None)
        for token in figures_left(step.text, taken)
        if token.group() in longer
    ]
    calls = [
        longer[call.as_written].asked(call) if call.as_written in longer and call.key not in of_named else call
        for call in (*step.calls, *unread)
    ]
    # “M33 over 107” goes down in another order than it is written.
    starts = [call.start for call in step.calls]
    if starts == sorted(starts):
        calls.sort(key=lambda call: call.start)
    return replace(step, kind=StepKind.STEP if unread else step.kind, calls=tuple(calls))
