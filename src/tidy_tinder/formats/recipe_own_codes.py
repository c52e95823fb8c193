"""Codes to which a recipe itself gives names that their chart has not: “12 (Peony)”, and later “12 + 40 (Garnet)”.

There such a code means that name, and not what a chart at hand has under it. What was read as the charted colour is
asked for, with that colour offered, as any code and name that do not belong together are; and all places ask in the
same words, so that one answer settles them all (common practice, no source).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import replace

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_colour_nouns import is_small
from tidy_tinder.formats.recipe_colour_words import DAYS, HUES, NEUTRALS, TONES
from tidy_tinder.formats.recipe_doubts import coming_near, on_no_chart
from tidy_tinder.formats.recipe_figures import figures_left
from tidy_tinder.formats.recipe_lists import NUMBERED
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK, is_beside
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_words import CODE, FINISHES, PRESSURE_OF, ROLES, TOKEN

_CODE_AND_NAME = re.compile(rf"(?<![\w.,])(?P<code>{CODE})\s?\((?P<name>[^\W\d_]+(?:[ '’-][^\W\d_]+){{0,3}})\)")
# Characters before a code in which stands what is numbered.
_NEAR = 16
# One figure by itself counts more often than it names.
_SHORTEST = 2
# Words of a bracket that say something of a colour and are none: “119 (Blue)”, “119 (Last)”.
_SAID = (
    DAYS
    | HUES
    | NEUTRALS
    | TONES
    | DONE
    | OF_WORK
    | frozenset("first last next again optional shared mine new".split())
)

_Codes = Mapping[str, ReadCall]


def with_own_codes(steps: Sequence[ReadStep], catalogue: Catalogue) -> list[ReadStep]:
    """The steps of a whole text, each asking for the names of the codes in it that the text itself has named."""
    given = [dict(_given_in(step, catalogue)) for step in steps]
    codes: dict[str, ReadCall] = {}
    for step, of_step in zip(steps, given, strict=True):
        for found in _CODE_AND_NAME.finditer(step.text):
            if found.start() in of_step:
                codes.setdefault(found["code"], of_step[found.start()])
    if not codes:
        return [*steps]
    return [_asking(step, set(of_step), codes) for step, of_step in zip(steps, given, strict=True)]


def _given_in(step: ReadStep, catalogue: Catalogue) -> Iterator[tuple[int, ReadCall]]:
    """Where a step gives a name to a code, with the call that asks for the name."""
    for found in _CODE_AND_NAME.finditer(step.text):
        here = [c for c in step.calls if c.start < found.end() and found.start() < c.end]
        asked = next((c for c in here if c.key is None and c.start == found.start("name")), None)
        charted = next((c for c in here if c.key is not None and c.end == found.end("code")), None)
        if asked is not None and not asked.candidates:
            yield found.start(), asked
        elif (charted is not None or not here) and _is_a_name(found["name"]) and _is_a_code(step.text, found.start()):
            call = _otherwise(step.text, found, charted, catalogue)
            if call is not None:
                yield found.start(), call


def _otherwise(line: str, found: re.Match[str], charted: ReadCall | None, catalogue: Catalogue) -> ReadCall | None:
    """The call that asks for a name in brackets; None where it is the name of the charted colour, with a slip."""
    near = coming_near(found["name"], (), catalogue)
    if charted is None or charted.key is None:
        return on_no_chart(line, *found.span("name"), near)
    written = line[charted.start : found.end()]
    ranges = [entry.range_name for entry in catalogue.resolve(charted.as_written).hits if entry.key == charted.key]
    conflict = catalogue.resolve(written, ranges or None).conflict
    if conflict is None or any(entry.key == charted.key for entry in near):
        return None
    meant = tuple(dict.fromkeys((charted.key, *(entry.key for entry in near))))
    return replace(charted, as_written=written, end=found.end(), key=None, candidates=meant, problem=conflict.message)


def _is_a_code(line: str, at: int) -> bool:
    """Whether what stands there is no number of something: “Figure 3 (Front)”."""
    before = TOKEN.findall(line[max(at - _NEAR, 0) : at])
    return not before or fold(before[-1]) not in NUMBERED


def _is_a_name(words: str) -> bool:
    """Whether words in capitals in a bracket can be nothing but a name."""
    each = re.split(r"[ -]", words)
    if not all(word[:1].isupper() for word in each) or words.isupper():
        return False
    folded = [fold(word) for word in each]
    if any(word in _SAID or word in PRESSURE_OF or is_small(word) for word in folded) or is_beside(folded[-1]):
        return False
    return not any(known.search(words) for known in (*FINISHES.values(), *ROLES.values()))


def _asking(step: ReadStep, given: AbstractSet[int], codes: _Codes) -> ReadStep:
    if step.kind is StepKind.HEADING:
        return step
    here = [found for found in _CODE_AND_NAME.finditer(step.text) if found.start() in given]
    calls = [call for call in (_meant(call, here, codes) for call in step.calls) if call is not None]
    taken = {i for call in step.calls for i in range(call.start, call.end)}
    taken |= {i for found in here for i in range(*found.span())}
    calls += [
        replace(codes[found["code"]], start=found.start("name"), end=found.end("name"))
        for found in here
        if not any(call.start < found.end() and found.start() < call.end for call in step.calls)
    ]
    calls += [replace(one, pressure="" if calls else step.pressure) for one in _unread(step, codes, taken)]
    if calls == list(step.calls):
        return step
    return replace(step, calls=tuple(sorted(calls, key=lambda call: call.start)), kind=StepKind.STEP)


def _meant(call: ReadCall, here: Sequence[re.Match[str]], codes: _Codes) -> ReadCall | None:
    """A call as what its code means in this text; None for the code of a name that is asked for beside it."""
    found = next((found for found in here if call.start < found.end() and found.start() < call.end), None)
    name = codes.get(found["code"] if found else call.as_written)
    if name is None:
        return call
    by_code = found is not None and call.end == found.end("code")
    if by_code and not name.candidates:
        return None
    # “Heron 119 (Brambel)” is asked for as a whole.
    end = found.end() if found and by_code else call.end
    return replace(name, start=call.start, end=end, pressure=call.pressure, layers=call.layers, role=call.role)


def _unread(step: ReadStep, codes: _Codes, taken: set[int]) -> Iterator[ReadCall]:
    """The codes in a step that were read as nothing, as calls for their names."""
    for token in figures_left(step.text, taken):
        known = codes.get(token.group())
        if known is not None and len(token.group()) >= _SHORTEST:
            yield replace(known, start=token.start(), end=token.end(), pressure="", layers=1, role="")
