"""Lines that point at an earlier step: “repeat step 2”, “same as above”, “as before but heavier”."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any, Protocol, TypeVar

from tidy_tinder.core.names.finding import fold
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


C = TypeVar("C", bound=Counted)

# “same plus”, “as above, then”
_AND_MORE = re.compile(
    r"(?:^|[:;.–-]\s)(?:the )?(?:same(?: as (?:above|before))?|as (?:before|above)|wie (?:oben|vorher)|comme avant)"
    r"(?:\s?[+&,]|\s(?:plus|and|then|und|dann|et|puis)\b)",
    re.IGNORECASE,
)
# “same but without 101”, “repeat step 2, leaving out the Oat”
_BUT_WITHOUT = re.compile(
    r"\b(?:without|minus|but (?:no|not)|except(?: for)?|leav(?:e|ing) out|omit(?:ting)?|skip(?:ping)?|ohne|sans|sin|"
    r"zonder)\s(?:the |den |die |das |le |la |el |de |het )?",
    re.IGNORECASE,
)
# “Heron 126” is 126.
_RANGE_BEFORE = re.compile(r"^(?:[A-ZÀ-Þ][^\W\d]+\s){1,2}(?=\d)")


def pointed_at(line: str, past: Sequence[Counted]) -> list[Any]:
    """The calls of the steps of the past that a line points at, but for those that it leaves out; none where it points
    at none.
    """
    found = REPEAT.search(line)
    meant = _steps_meant(line, found, past) if found else None
    if found is None or meant is None:
        return []
    left_out = list(_left_out(line[found.end() :]))
    calls = [call for step in meant for call in step.calls]
    return [call for call in calls if not any(_is_named_by(words, call.as_written) for words in left_out)]


def _steps_meant(line: str, found: re.Match[str], past: Sequence[C]) -> list[C] | None:
    """The steps of the past that the words found in a line point at; None where it names one that is not there."""
    if is_not_done(line[: found.start()]) or _is_named_again(line, found):
        return []
    steps = [step for step in past if step.kind == StepKind.STEP]
    named = found["step"] or found["bare"] or found["ahead"]
    if not named:
        return [step for step in steps if step.calls][-1:]
    numbers, by_number = _numbers_in(named), _by_number(steps)
    return [by_number[number] for number in numbers] if numbers and set(numbers) <= set(by_number) else None


def _by_number(steps: Sequence[C]) -> dict[int, C]:
    """The steps by the numbers that they are written with, the last of each; by their order where none has one, as
    steps that were kept, whose numbers are not.
    """
    written = {number: step for step in steps if (number := getattr(step, "number", 0))}
    return written or dict(enumerate(steps, 1))


def _left_out(more: str) -> Iterator[list[str]]:
    """The words of each colour that what follows leaves out: of “without 101 and Heron 126” those of both."""
    for gap in _BUT_WITHOUT.finditer(more):
        clause = re.split(r"[.;]", more[gap.end() :], maxsplit=1)[0]
        for one in re.split(r",\s?|\s(?:and|or|nor|und|oder|et|ou|y|o|en|of)\s", clause):
            yield fold(_RANGE_BEFORE.sub("", one)).split()


def _numbers_in(said: str) -> list[int]:
    """The numbers of the steps that are named: of “2 and 3” and of “2-4” all of them, in order."""
    numbers: list[int] = []
    for first, last in re.findall(r"(\d+)(?:\s?(?:[-–]|to|bis)\s?(\d+))?", said):
        numbers.extend(range(int(first), int(last or first) + 1))
    return numbers


def _is_named_by(words: Sequence[str], as_written: str) -> bool:
    """Whether words begin with a colour as it was written, or with its code alone."""
    written = fold(as_written).split()
    return list(words[: len(written)]) == written or (words[:1] != [] and words[0] in written and words[0].isdigit())


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
    """The calls of the steps of the past that a line points at, as it lays them; none where it points at none, one to
    settle where it points at a step that is not there.
    """
    found = REPEAT.search(line)
    if found is None:
        return []
    start, stop = found.span()
    if _steps_meant(line, found, past) is None:
        problem = f"“{line[start:stop]}” points at a step that does not stand before it. Which colour is meant?"
        return [ReadCall(line[start:stop], start, stop, None, (), problem)]
    return [
        replace(call, as_written=line[start:stop], start=start, end=stop, pressure=_pressed(line, call.pressure))
        for call in pointed_at(line, past)
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
