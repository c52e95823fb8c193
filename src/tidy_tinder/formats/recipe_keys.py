"""Letters that a recipe gives to its colours: “A = Moss Bank, B = Fly Cap”, and later “A all over, B in the folds”.

Only what an equals sign gives a letter to; “S: 119” says where a colour goes (common practice, no source). What says no
more than what a letter stands for lays nothing, where another line lays it.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping, Sequence, Set
from dataclasses import replace

from tidy_tinder.core.vocabulary import Finish, StepKind
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_words import PRESSURE_BY_LETTER, REPEAT, TOKEN, pressure_in

# One to three letters with a figure or none, and the equals sign between it and its colours.
_KEY = re.compile(r"(?<![\w=])(?P<key>[A-Z]{1,3}\d?)\s?=\s?")
# “L1: Buttercup”, where other lines speak of L1: a colon by itself may also say what a code is replaced by.
_LABEL = re.compile(r"(?P<key>[A-Z]{1,2}\d{1,2})\s?:\s")
# “S curve” is no colour.
_SHAPE = re.compile(r"\s(?:shapes?|curves?|bends?|turns?|lines?)\b", re.IGNORECASE)
# Between two colours of one letter: “W = 119 + 107”.
_TOGETHER = re.compile(r"\s?(?:[+/&]|,|and|und|et|y|en)\s?")
# English has a word that is written as a letter is: it is one where it is laid somewhere.
_LAID = re.compile(
    r"(?=$|[,.;+/)→]|\s?->|\s(?:all|over|under|first|again|in|on|then|only|and|with|to|for|everywhere|x\d)\b|"
    r"\s(?:light|medium|heavy|hard|soft)(?:ly)?(?:$|[,.;)]))",
    re.IGNORECASE,
)
_WORDS = frozenset("AI")

_Keys = Mapping[str, tuple[ReadCall, ...]]


def keys_of(steps: Sequence[ReadStep]) -> dict[str, tuple[ReadCall, ...]]:
    """What each letter stands for, as the steps of a text say it."""
    words = Counter(token.group() for step in steps for token in TOKEN.finditer(step.text))
    keys: dict[str, tuple[ReadCall, ...]] = {}
    for step in steps:
        label = _LABEL.match(step.text)
        spoken_of = [label] if label and words[label["key"]] > 1 else []
        for found in (*spoken_of, *_KEY.finditer(step.text)):
            # “L2: L1 + Amber Ale” has all that L1 has.
            given = [one for call in _given_to(step, found.end()) for one in keys.get(call.as_written, (call,))]
            if given:
                keys.setdefault(found["key"], tuple(given))
    return keys


def _given_to(step: ReadStep, at: int) -> tuple[ReadCall, ...]:
    """The colours that stand there, one right after the other."""
    given: list[ReadCall] = []
    for call in sorted(step.calls, key=lambda call: call.start):
        if call.start < at:
            continue
        between = step.text[at : call.start]
        if between.strip() and not (given and _TOGETHER.fullmatch(between)):
            break
        given.append(call)
        at = call.end
    return tuple(given)


def with_keys_read(steps: Sequence[ReadStep]) -> list[ReadStep]:
    """The steps of a whole text, each laying what its letters stand for."""
    keys = keys_of(steps)
    if not keys:
        return list(steps)
    letters = [_letters_in(step, keys) for step in steps]
    laid = {token.group() for tokens in letters for token in tokens}
    read = [_laying(step, tokens, keys) for step, tokens in zip(steps, letters, strict=True)]
    return [_without_what_is_laid_elsewhere(step, laid, keys) for step in read]


def _without_what_is_laid_elsewhere(step: ReadStep, laid: Set[str], keys: _Keys) -> ReadStep:
    """A step without the colours that it only gives letters to; a note, if nothing else is in it."""
    given = [
        call for found in _KEY.finditer(step.text) if found["key"] in laid and found["key"] in keys
        for call in _given_to(step, found.end())
    ]  # fmt: skip
    if not given:
        return step
    calls = tuple(call for call in step.calls if call not in given)
    dry = not calls and step.finish is Finish.DRY
    return replace(step, calls=calls, kind=StepKind.NOTE if dry else step.kind)


def _letters_in(step: ReadStep, keys: _Keys) -> list[re.Match[str]]:
    """The letters in a step that stand for colours there."""
    calls = _beside_letters(step, keys, laying=True)
    taken = {i for call in calls for i in range(call.start, call.end)}
    ends = {call.end for call in calls}
    tokens = TOKEN.finditer(step.text)
    return [token for token in tokens if token.start() not in taken and _is_key(step.text, token, keys, ends)]


def _beside_letters(step: ReadStep, keys: _Keys, laying: bool) -> list[ReadCall]:
    """The calls of a step without those that letters and a label were taken for; where letters are laid, “again” says
    so of them and points at no other step.
    """
    repeated, labelled = REPEAT.search(step.text) if laying else None, _is_labelled(step.text, keys)
    return [
        call for call in step.calls
        if not (repeated and (call.start, call.end) == repeated.span())
        and not (call.key is None and (call.as_written in keys or (call.start == 0 and labelled)))
    ]  # fmt: skip


def _laying(step: ReadStep, letters: Sequence[re.Match[str]], keys: _Keys) -> ReadStep:
    """A step that lays what these letters in it stand for, each in the words that gave it to the letter."""
    if not letters and not _is_labelled(step.text, keys):
        return step
    # “LT” may be a letter and a word for how hard.
    places = {i for token in letters for i in range(*token.span())}
    said = pressure_in("".join(" " if i in places else sign for i, sign in enumerate(step.text)))
    found = [
        replace(call, start=token.start(), end=token.end(), pressure=said or call.pressure)
        for token in letters
        for call in keys[token.group()]
    ]
    calls = sorted([*_beside_letters(step, keys, laying=bool(letters)), *found], key=lambda call: call.start)
    return replace(step, calls=tuple(calls), kind=StepKind.STEP if found else step.kind)


def _is_labelled(text: str, keys: _Keys) -> bool:
    """Whether a line begins with a letter as others do that stand for colours: “L4: burnish”, after “L1: Buttercup”."""
    label = _LABEL.match(text)
    letters = {key.rstrip("0123456789") for key in keys if key[-1:].isdecimal()}
    return label is not None and label["key"].rstrip("0123456789") in letters


def _is_key(text: str, token: re.Match[str], keys: _Keys, ends: set[int]) -> bool:
    """Whether a word is a letter that stands for a colour, and neither gets one there nor says how hard."""
    word = token.group()
    if word not in keys or _KEY.match(text, token.start()) or (token.start() == 0 and _is_labelled(text, keys)):
        return False
    if _SHAPE.match(text, token.end()) or (word in PRESSURE_BY_LETTER and token.start() - 1 in ends):
        return False
    return word not in _WORDS or bool(_LAID.match(text, token.end()))
