"""What may name a colour and was not read as one: it is asked what is meant, so that no colour is lost in silence."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import replace
from itertools import dropwhile

from tidy_tinder.core.names.finding import Catalogue, Entry
from tidy_tinder.core.names.grades import grade_family
from tidy_tinder.formats.recipe_capitals import with_capitals
from tidy_tinder.formats.recipe_colour_nouns import is_small, spoken_of
from tidy_tinder.formats.recipe_plain_names import plain_names
from tidy_tinder.formats.recipe_ranges import ranges_in
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_words import PART_STRENGTH, TOKEN, is_lead, is_qualifier

# Words of a name that is looked for among words that were not read.
_LONGEST_SUSPECT = 3
LONGEST_NAME = 4
"""Words of a line that may be the name of a colour which is on no chart."""


def suspected(
    line: str, scanned: str, part: tuple[int, int], taken: AbstractSet[int], scope: Sequence[str], catalogue: Catalogue
) -> list[ReadCall]:
    """Words of a part of a line that may name a colour, as calls to settle.

    scanned: the line with what is no colour masked; taken: places that were read already; scope: ranges that are spoken
    of, whose colours are meant before others.
    """
    runs: list[list[re.Match[str]]] = [[]]
    for token in TOKEN.finditer(scanned, *part):
        if token.start() in taken:
            runs.append([])
        else:
            runs[-1].append(token)
    slips = [call for run in runs for call in _among(line, run, scope, catalogue)]
    taken = taken | {i for call in slips for i in range(call.start, call.end)}
    free = [token for token in TOKEN.finditer(scanned, *part) if token.start() not in taken]
    spoken = list(spoken_of(line, free, part))
    # “Add Burnt Sienna” is told by its words already.
    left = [token for token in free if not any(start <= token.start() < end for start, end in spoken)]
    # A range is none of its colours: “all from Quillfen Heron”.
    capitals = ((start, end) for start, end in with_capitals(line, left) if not ranges_in(line[start:end], catalogue))
    named = sorted([*spoken, *capitals])
    left = [token for token in left if not any(start <= token.start() < end for start, end in named)]
    plain = (_placed(line, start, end, scope, catalogue) for start, end in plain_names(line, left))
    return [*slips, *(_named(line, start, end, scope, catalogue) for start, end in named), *plain]


def _among(
    line: str, tokens: Sequence[re.Match[str]], scope: Sequence[str], catalogue: Catalogue
) -> Iterator[ReadCall]:
    at = 0
    while at < len(tokens):
        for end in range(min(at + _LONGEST_SUSPECT, len(tokens)), at, -1):
            words = " ".join(token.group() for token in tokens[at:end])
            meant = catalogue.slips_of(words)
            # “Reed in” is no slip of “Red Ink”.
            if meant and (catalogue.has_name(words) or not is_small(tokens[end - 1].group())):
                start, stop = tokens[at].start(), tokens[end - 1].end()
                inside = tuple(entry for entry in meant if entry.range_name in scope) or meant
                yield perhaps(line, start, stop, inside)
                at = end - 1
                break
        at += 1


def _named(line: str, start: int, end: int, scope: Sequence[str], catalogue: Catalogue) -> ReadCall:
    """What names a colour by its words or its place, as a call to settle; it may be on a chart all the same."""
    words = line[start:end]
    hits = catalogue.resolve(words, scope or None).hits
    if hits:
        return perhaps(line, start, end, hits)
    return on_no_chart(line, start, end, coming_near(words, scope, catalogue))


def _placed(line: str, start: int, end: int, scope: Sequence[str], catalogue: Catalogue) -> ReadCall:
    """What may name a colour by its place alone."""
    return perhaps(line, start, end, coming_near(line[start:end], scope, catalogue))


def perhaps(line: str, start: int, end: int, meant: Sequence[Entry]) -> ReadCall:
    """What stands from start to end of a line as a call to settle that may be no colour."""
    problem = f"“{line[start:end]}” may name a colour. Say which, or that it is none."
    return ReadCall(line[start:end], start, end, None, keys_of(meant), problem)


def without_how(tokens: Sequence[re.Match[str]]) -> list[re.Match[str]]:
    """The words that are left when those that say how, or lead to a colour, are taken off both ends."""
    left = list(tokens)
    while left and is_qualifier(left[-1].group()):
        left.pop()
    return list(dropwhile(lambda token: is_lead(token.group()), left))


def as_long_as_codes(word: str, scope: Sequence[str], catalogue: Catalogue) -> bool:
    """Whether a number by itself has as many digits as codes of the ranges that are spoken of."""
    codes = (entry.code for name in scope for entry in catalogue.chart_of(name))
    return word.isdecimal() and len(word) > 1 and any(c.isdecimal() and len(c) == len(word) for c in codes)


def coming_near(words: str, scope: Sequence[str], catalogue: Catalogue) -> tuple[Entry, ...]:
    """The colours that words come near to, those of the ranges spoken of before others."""
    alike = catalogue.near(words)
    return tuple(entry for entry in alike if entry.range_name in scope) or alike


def on_no_chart(line: str, start: int, end: int, near: Sequence[Entry] = ()) -> ReadCall:
    """What stands from start to end of a line as a call to settle, with the colours that come near."""
    written = line[start:end]
    problem = f"“{written}” is on no chart here" + ("; these come near." if near else ".")
    return ReadCall(written, start, end, None, keys_of(near), problem)


def graded(call: ReadCall, words: str, catalogue: Catalogue) -> ReadCall:
    """A call beside “half strength”: a paler grade, or a lighter hand? Where its colour has grades, it is asked."""
    if call.key is None or not PART_STRENGTH.search(words):
        return call
    entry = next(entry for entry in catalogue.entries if entry.key == call.key)
    family = grade_family(entry, catalogue.chart_of(entry.range_name))
    if not family:
        return call
    problem = f"“{call.as_written}” at part strength may be a paler grade. Which one is meant?"
    return replace(call, key=None, candidates=keys_of(family), problem=problem)


def either(line: str, one: ReadCall, other: ReadCall) -> ReadCall:
    """“A or B” as one call: a choice of two where both are certain, else to be settled."""
    layers = max(one.layers, other.layers)
    written = line[one.start : other.end]
    if one.key is not None and other.key is not None and one.other is None and one.key != other.key:
        return ReadCall(written, one.start, other.end, one.key, layers=layers, other=other.key)
    meant = tuple(key for call in (one, other) for key in _may_mean(call))
    problem = f"“{written}” leaves the choice. Which of them is it here?"
    return ReadCall(written, one.start, other.end, None, tuple(dict.fromkeys(meant)), problem, layers=layers)


def _may_mean(call: ReadCall) -> tuple[int, ...]:
    if call.key is None:
        return call.candidates
    return (call.key,) if call.other is None else (call.key, call.other)


def keys_of(entries: Sequence[Entry]) -> tuple[int, ...]:
    """The colours that entries are, each once."""
    return tuple(dict.fromkeys(entry.key for entry in entries))
