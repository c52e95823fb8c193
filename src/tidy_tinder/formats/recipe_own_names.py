"""Names that a recipe itself gives to colours: “Pencils: Rowan, Apricot, …”, and later “fade into apricot, then rowan”.

What one line asks for, since it is on no chart, is asked for in the others as well, where it has a colour's place: with
nothing before it that makes a thing of it (“the rowan”), and nothing after it that could have it (“rowan berries”).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from tidy_tinder.core.names.finding import fold
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_colour_nouns import beside, is_small
from tidy_tinder.formats.recipe_colour_words import HUES, NEUTRALS, SOME, THE
from tidy_tinder.formats.recipe_negations import without_those_not_laid
from tidy_tinder.formats.recipe_plain_names import OF_WORK, is_beside
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_words import TOKEN

# Letters of a name of one word; shorter ones are too often something else.
_LONG = 4
_OF_A_THING = THE | SOME - {"some"} | frozenset("your my his her its their our each every".split())

# What is said of a colour after its name, and is no thing that has it.
_GOES_ON = frozenset("mixed alone goes gets comes gives druber drunter dazu".split())

_CODE_AFTER = re.compile(r"\s\d{1,4}$")

_Names = Mapping[tuple[str, ...], ReadCall]


def with_own_names(steps: Sequence[ReadStep]) -> list[ReadStep]:
    """The steps of a whole text, each asking for the names that others of them ask for."""
    names: dict[tuple[str, ...], ReadCall] = {}
    for step in steps:
        for call in step.calls:
            # “Lobster 14” is lobster.
            name = _CODE_AFTER.sub("", call.as_written)
            if call.key is None and _is_a_name(name):
                names.setdefault(tuple(fold(name).split()), call)
    if not names:
        return list(steps)
    return [_asking(step, names) if step.kind is not StepKind.HEADING else step for step in steps]


def _is_a_name(written: str) -> bool:
    """Whether the words of a call are a name that means no thing wherever it stands: “green” may be that of a leaf."""
    words = fold(written).split()
    if not words or not written.replace(" ", "").isalpha() or is_beside(words[-1]) or words[0] in OF_WORK:
        return False
    return len("".join(words)) >= _LONG and not any(word in HUES | NEUTRALS or is_small(word) for word in words)


def _asking(step: ReadStep, names: _Names) -> ReadStep:
    asked = without_those_not_laid(step.text, list(_named(step, names)))
    if not asked:
        return step
    calls = list(step.calls)
    for call in asked:
        at = max((i + 1 for i, one in enumerate(calls) if one.start < call.start), default=0)
        calls.insert(at, call)
    return replace(step, kind=StepKind.STEP, calls=tuple(calls))


def _named(step: ReadStep, names: _Names) -> Iterator[ReadCall]:
    """The names among the words of a step that were not read, as calls to settle."""
    taken = {i for call in step.calls for i in range(call.start, call.end)}
    tokens = [token for token in TOKEN.finditer(step.text) if token.start() not in taken]
    folded = [fold(token.group()) for token in tokens]
    longest = max(len(words) for words in names)
    at = 0
    while at < len(tokens):
        for end in range(min(at + longest, len(tokens)), at, -1):
            known = names.get(tuple(folded[at:end]))
            if known is not None and _has_a_place(step.text, tokens, at, end):
                start, stop = tokens[at].start(), tokens[end - 1].end()
                written = step.text[start:stop]
                problem = known.problem.replace(known.as_written, written)
                alone = step.pressure if not step.calls else ""
                yield replace(
                    known, as_written=written, start=start, end=stop, problem=problem, pressure=alone, layers=1, role=""
                )
                at = end - 1
                break
        at += 1


def _has_a_place(line: str, tokens: Sequence[re.Match[str]], at: int, end: int) -> bool:
    """Whether a name stands as one unbroken colour, and is neither a thing nor what has something."""
    if not all(beside(line, tokens, i) for i in range(at + 1, end)):
        return False
    if at > 0 and beside(line, tokens, at) and fold(tokens[at - 1].group()) in _OF_A_THING:
        return False
    if end == len(tokens) or not beside(line, tokens, end):
        return True
    return is_small(tokens[end].group()) or fold(tokens[end].group()) in _GOES_ON
