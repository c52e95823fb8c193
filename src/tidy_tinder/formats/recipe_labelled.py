"""Lines that say one after the other where what is laid: “sky: robin egg, cloudy”, “mid – marzipan & ginger root”.

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
from tidy_tinder.formats.recipe_words import LABEL, PRESSURE_OF, REPEAT, SEPARATOR, SMALL_LABEL, TOKEN

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
        telling = [steps[at] for at in run if steps[at].calls or not _is_done(steps[at])]
        if len(run) > 1 and 2 * sum(bool(step.calls) for step in telling) >= len(telling):
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
    """What a line begins with before a colon or a dash, if that says where or how its colours go."""
    found = LABEL.match(step.text) or SMALL_LABEL.match(step.text) if step.kind is not StepKind.HEADING else None
    words = TOKEN.findall(found.group()) if found else []
    # “Medium: …” says how, beside “light: …”.
    about = (fold(word) in ABOUT and word.lower() not in PRESSURE_OF for word in words)
    says = 0 < len(words) <= _LONGEST and not any(about)
    return found.group() if found and says and not REPEAT.search(step.text) else ""


def _is_done(step: ReadStep) -> bool:
    """Whether a line goes on with something to do: “lights – leave paper”."""
    first = TOKEN.search(step.text, len(_label(step)))
    return first is not None and fold(first.group()) in DONE


def _asking(step: ReadStep, catalogue: Catalogue) -> ReadStep:
    asked = list(_listed(step, catalogue))
    if not asked:
        return step
    return replace(step, kind=StepKind.STEP, calls=tuple(sorted([*step.calls, *asked], key=lambda call: call.start)))


def _listed(step: ReadStep, catalogue: Catalogue) -> Iterator[ReadCall]:
    """What stands in a list of its own in a line, and gave nothing, as calls to settle."""
    taken = {i for call in step.calls for i in range(call.start, call.end)}
    names = [name for at, end in _parts(step) if taken.isdisjoint(range(at, end)) for name in [_name(step, at, end)]]
    # One word by itself is too often something else; beside a name it is one as well.
    among_others = bool(step.calls) or any(len(name) > 1 for name in names)
    for name in names:
        if len(name) > 1 or (name and among_others):
            start, stop = name[0].start(), name[-1].end()
            yield perhaps(step.text, start, stop, coming_near(step.text[start:stop], (), catalogue))


def _parts(step: ReadStep) -> Iterator[tuple[int, int]]:
    """Where each part of what is listed after the label begins and ends."""
    at = len(_label(step))
    for parted in SEPARATOR.finditer(step.text, at):
        yield at, parted.start()
        at = parted.end()
    yield at, len(step.text)


def _name(step: ReadStep, at: int, end: int) -> list[re.Match[str]]:
    """The words of a part that may be a name: those before what says where it is laid."""
    tokens = TOKEN.finditer(step.text, at, end)
    name = without_how(list(takewhile(lambda token: not ends_a_name(token.group()), tokens)))
    words = [token.group() for token in name]
    done = any(fold(word) in _SAID or _PAST.fullmatch(word) for word in words)
    return name if may_be_a_name(words) and not done else []
