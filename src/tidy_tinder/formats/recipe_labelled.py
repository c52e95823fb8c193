"""Lines that say one after the other where what is laid: “sky: robin egg, cloudy”, “path: oat milk”.

Where half of them have colours, whatever else is listed in them, in small letters, may be some that are on no chart.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import takewhile

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_colour_words import ABOUT
from tidy_tinder.formats.recipe_doubts import coming_near, perhaps, without_how
from tidy_tinder.formats.recipe_plain_names import DONE, GROUND, ends_a_name, may_be_a_name
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_words import LABEL, REPEAT, SEPARATOR, TOKEN

# Words of a label.
_LONGEST = 3
# “pull down”, “scratched out”, “later”: what is done, and when.
_SAID = (
    DONE
    | GROUND
    | frozenset("up down off out away later after before soon done none etc optional maybe perhaps".split())
)
_PAST = re.compile(r"\w{3,}(?:ed|ing)")


def with_labelled_lists(steps: Sequence[ReadStep], catalogue: Catalogue) -> list[ReadStep]:
    """The steps of a whole text, each asking for what else it may list."""
    made = list(steps)
    for run in _runs(steps):
        if len(run) > 1 and 2 * sum(bool(steps[at].calls) for at in run) >= len(run):
            for at in run:
                made[at] = _asking(steps[at], catalogue)
    return made


def _runs(steps: Sequence[ReadStep]) -> Iterator[list[int]]:
    """The lines with labels that stand one after the other."""
    run: list[int] = []
    for at, step in enumerate(steps):
        if _label(step):
            run.append(at)
        else:
            yield run
            run = []
    yield run


def _label(step: ReadStep) -> str:
    """What a line begins with before a colon, if that says where its colours go."""
    found = LABEL.match(step.text) if step.kind is not StepKind.HEADING else None
    words = TOKEN.findall(found.group()) if found else []
    says = 0 < len(words) <= _LONGEST and not any(fold(word) in ABOUT for word in words)
    return found.group() if found and says and not REPEAT.search(step.text) else ""


def _asking(step: ReadStep, catalogue: Catalogue) -> ReadStep:
    asked = list(_listed(step, catalogue))
    if not asked:
        return step
    return replace(step, kind=StepKind.STEP, calls=tuple(sorted([*step.calls, *asked], key=lambda call: call.start)))


def _listed(step: ReadStep, catalogue: Catalogue) -> Iterator[ReadCall]:
    """What stands in a list of its own in a line, and gave nothing, as calls to settle."""
    taken = {i for call in step.calls for i in range(call.start, call.end)}
    at = len(_label(step))
    for parted in [*SEPARATOR.finditer(step.text, at), None]:
        end = parted.start() if parted else len(step.text)
        name = _name(list(TOKEN.finditer(step.text, at, end)))
        if name and taken.isdisjoint(range(at, end)) and (len(name) > 1 or step.calls):
            start, stop = name[0].start(), name[-1].end()
            yield perhaps(step.text, start, stop, coming_near(step.text[start:stop], (), catalogue))
        at = parted.end() if parted else end


def _name(tokens: Sequence[re.Match[str]]) -> list[re.Match[str]]:
    """The words of a part that may be a name: those before what says where it is laid."""
    name = without_how(list(takewhile(lambda token: not ends_a_name(token.group()), tokens)))
    words = [token.group() for token in name]
    done = any(fold(word) in _SAID or _PAST.fullmatch(word) for word in words)
    return name if may_be_a_name(words) and not done else []
