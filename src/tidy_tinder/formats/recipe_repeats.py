"""Lines that point at an earlier step: “repeat step 2”, “same as above”, “as before but heavier”."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Any, Protocol, TypeVar

from tidy_tinder.core.vocabulary import MARK_PRESSURES, SaidPressure, StepKind
from tidy_tinder.formats.recipe_familiar import is_familiar
from tidy_tinder.formats.recipe_negations import is_not_done
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_words import HEAVIER, LIGHTER, REPEAT, TOKEN, pressure_in


class Counted(Protocol):
    """A line of a recipe as far as it can be pointed at."""

    @property
    def kind(self) -> StepKind:
        """Whether it is a step, which count."""
        ...

    @property
    def calls(self) -> Sequence[Any]:
        """Its calls."""
        ...


S = TypeVar("S", bound=Counted)


# “same plus”, “as above, then”
_AND_MORE = re.compile(
    r"(?:^|[:;.–-]\s)(?:the )?(?:same(?: as (?:above|before))?|as (?:before|above)|wie (?:oben|vorher)|comme avant)"
    r"(?:\s?[+&,]|\s(?:plus|and|then|und|dann|et|puis)\b)",
    re.IGNORECASE,
)


def pointed_at(line: str, past: Sequence[S]) -> S | None:
    """The step of the past that a line points at; None where it points at none."""
    found = REPEAT.search(line)
    if found is None or is_not_done(line[: found.start()]) or _is_named_again(line, found):
        return None
    steps = [step for step in past if step.kind == StepKind.STEP]
    if found["step"]:
        at = int(found["step"]) - 1
        return steps[at] if 0 <= at < len(steps) else None
    return next((step for step in reversed(steps) if step.calls), None)


def _is_named_again(line: str, found: re.Match[str]) -> bool:
    """Whether what comes again is named right before: “moonmilk again” may be a colour that was not read."""
    before = TOKEN.findall(line, 0, found.start())[-1:]
    beside = bool(before) and line[: found.start()].endswith(f"{before[0]} ")
    return found.group().lower() == "again" and beside and not is_familiar(before[0])


def goes_on_from(line: str) -> bool:
    """Whether a line lays what an earlier one did, and something more: “same plus 119”."""
    return _AND_MORE.search(line) is not None


def only_points(line: str, as_written: str, start: int) -> bool:
    """Whether the words of a call that begins there in a line are those that point: “119 again” names its colour."""
    found = REPEAT.search(line)
    return found is not None and (found.group(), found.start()) == (as_written, start)


def repeated_calls(line: str, past: Sequence[ReadStep]) -> list[ReadCall]:
    """The calls of the step of the past that a line points at, as it lays them; none where it points at none."""
    found, meant = REPEAT.search(line), pointed_at(line, past)
    if found is None or meant is None:
        return []
    start, stop = found.span()
    return [
        replace(call, as_written=line[start:stop], start=start, end=stop, pressure=_pressed(line, call.pressure))
        for call in meant.calls
    ]


def repeated_anew(steps: Sequence[ReadStep]) -> list[ReadStep]:
    """All steps, those that point at an earlier one pointing once more: lines that passed for words when they were read
    may ask for a colour by now, and be steps that count.
    """
    made: list[ReadStep] = []
    for step in steps:
        made.append(_pointing(step, made))
    return made


def _pointing(step: ReadStep, past: Sequence[ReadStep]) -> ReadStep:
    """A step as it is after these, if it does no more than point at one of them."""
    found = REPEAT.search(step.text)
    if found is None or any((call.start, call.end) != found.span() for call in step.calls):
        return step
    calls = tuple(repeated_calls(step.text, past))
    return replace(step, calls=calls, kind=StepKind.STEP if calls else step.kind)


def _pressed(line: str, before: SaidPressure) -> SaidPressure:
    """The pressure of a repeated call: what the line says, or one step from what it was."""
    said = pressure_in(line)
    if said:
        return said
    step = bool(HEAVIER.search(line)) - bool(LIGHTER.search(line))
    at = MARK_PRESSURES.index(before) if before in MARK_PRESSURES else 1
    return MARK_PRESSURES[min(max(at + step, 0), len(MARK_PRESSURES) - 1)] if step else before
