"""Lines that stand in a list together: what most of them are tells what one may be that was not read.

A list has bullets or numbers, or is a paragraph with a line for each colour. In either a name that is on no chart would
pass for words, or for the heading of what follows: it is asked for, so that no colour is lost in silence.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.core.vocabulary import Finish, StepKind
from tidy_tinder.formats.recipe_capitals import NUMBERS_AND_NOTES, is_in_capitals
from tidy_tinder.formats.recipe_colour_words import ABOUT, BESIDE_PENCILS
from tidy_tinder.formats.recipe_doubts import LONGEST_NAME, coming_near, on_no_chart, without_how
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK, is_beside, is_drawn
from tidy_tinder.formats.recipe_reading import ReadStep
from tidy_tinder.formats.recipe_words import (
    BULLET,
    HASH_HEADING,
    LABEL,
    OF_LAYERS,
    REPEAT,
    TOKEN,
    counts_something,
    is_lead,
)

# “No. 119”
_SIGNS = frozenset("no nr num nummer".split())
# “Lobster 14”
_NAME_AND_CODE = re.compile(r"(?P<name>[^\W\d_]+(?:[ '’-][^\W\d_]+){0,3}),? \(?\d{1,4}\)?")
NUMBERED = (
    ABOUT
    | OF_LAYERS
    | BESIDE_PENCILS
    | NUMBERS_AND_NOTES
    | _SIGNS
    | frozenset(
        (
            "page row zone figure fig section session round set phase number schritt schicht teil bild etape couche "
            "paso capa parte stap laag deel"
        ).split()
    )
)
"""What is numbered and is no colour: “Figure 3”."""
# Lines of a paragraph that are nothing but names.
_FEW_NAMES = 3


@dataclass(frozen=True)
class _Listed:
    """A line of a list: which step it is, and the ranges that are spoken of there."""

    at: int
    scope: tuple[str, ...]


class Lists:
    """The lists of a text, gathered while its lines are read."""

    def __init__(self) -> None:
        self._bulleted: list[list[_Listed]] = [[]]
        self._paragraphs: list[list[_Listed]] = [[]]

    def end(self) -> None:
        """What comes next is of another paragraph; a list with bullets goes on over an empty line."""
        self._paragraphs.append([])

    def end_all(self) -> None:
        """What comes next is of another list, with bullets or without."""
        self._bulleted.append([])
        self.end()

    def take(self, line: str, at: int, scope: tuple[str, ...]) -> None:
        """A line that was read as the step `at`."""
        if BULLET.match(line):
            self._bulleted[-1].append(_Listed(at, scope))
            self.end()
            return
        # A line without a bullet parts those before it from those after it.
        self._bulleted.append([])
        if HASH_HEADING.match(line) or line.endswith(":"):
            self.end()
        else:
            self._paragraphs[-1].append(_Listed(at, scope))

    def asked(self, steps: Sequence[ReadStep], catalogue: Catalogue) -> list[ReadStep]:
        """The steps of the whole text; lines that may name a colour, as their neighbours do, ask for it."""
        made = list(steps)
        for which, judge in ((self._bulleted, _in_list), (self._paragraphs, _in_paragraph)):
            for lines in which:
                doubtful = judge([steps[one.at] for one in lines])
                for one, may_be_small in zip(lines, doubtful, strict=True):
                    if may_be_small is not None:
                        bulleted = judge is _in_list
                        made[one.at] = _asking(steps[one.at], may_be_small, bulleted, one.scope, catalogue)
        return _without_headings_that_ask(steps, made)


_Doubtful = list[bool | None]
"""Of each line, whether it may be a name with small letters, too; None where it is no name at all."""


def _in_list(steps: Sequence[ReadStep]) -> _Doubtful:
    """In a list with bullets of which half the lines begin with colours, a line may be one that is on no chart; where
    all the others are colours and nothing else, whatever it is.
    """
    bare = sum(_is_bare(step) for step in steps)
    led = sum(_is_bare(step) or _begins_with_one(step) for step in steps)
    tools = sum(not step.calls and _is_of_the_work(TOKEN.findall(step.text)) for step in steps)
    if 2 * led < len(steps) - tools or not bare:
        return [None for _ in steps]
    all_others = bare == len(steps) - 1 > 1
    return [all_others if step.kind is StepKind.STEP else None for step in steps]


def _in_paragraph(steps: Sequence[ReadStep]) -> _Doubtful:
    """In a paragraph that begins with colours, and of which half the lines are, one that passes for a heading or a note
    may be a colour. Where it begins with a heading, others may follow: then only those with nothing to stand over.
    """
    doubtful: _Doubtful = [None for _ in steps]
    headed = bool(steps) and steps[0].kind is StepKind.HEADING
    under = steps[headed:]
    bare = sum(_is_bare(step) for step in under)
    names = [_is_like_a_name(step) for step in steps]
    if not bare and sum(names) >= max(_FEW_NAMES, len(steps) / 2):
        return [True if name else None for name in names]
    coded = [_has_a_code(step) for step in steps]
    if sum(one or _is_bare(step) for one, step in zip(coded, steps, strict=True)) >= _FEW_NAMES:
        doubtful = [True if one else None for one in coded]
    if 2 * bare < len(under) or not bare or not (headed or _is_bare(steps[0])):
        return doubtful
    all_others = bare == len(under) - 1 > 1
    for i, step in enumerate(under):
        over_nothing = i + 1 == len(under) or under[i + 1].kind is StepKind.HEADING
        # Nor do two headings stand in a row with nothing under the first.
        under_one = i > 0 and under[i - 1].kind is StepKind.HEADING
        if step.kind is StepKind.HEADING and (over_nothing or under_one or not headed):
            doubtful[headed + i] = all_others
        elif step.kind is StepKind.NOTE:
            doubtful[headed + i] = coded[headed + i]
    return doubtful


def _is_like_a_name(step: ReadStep) -> bool:
    """Whether a line that passed for a heading may be a name, and no part of the drawing or of the work: so many of
    them in a row, with nothing under any, are colours one by one.
    """
    if step.kind is not StepKind.HEADING or HASH_HEADING.match(step.text):
        return False
    words = TOKEN.findall(step.text)
    return is_in_capitals(words) and not _is_of_the_work(words)


def _has_a_code(step: ReadStep) -> bool:
    """Whether a line is nothing but a name with its code: “Lobster 14”."""
    found = _NAME_AND_CODE.fullmatch(step.text)
    if found is None:
        return False
    words = TOKEN.findall(found["name"])
    return is_in_capitals(words) and not _is_of_the_work(words) and not any(fold(word) in NUMBERED for word in words)


def _is_of_the_work(words: Sequence[str]) -> bool:
    """Whether words name what is drawn, done or used, and no colour: “Left Ear”, “Blend”, “Tissue”."""
    if not words:
        return False
    first, last = fold(words[0]), fold(words[-1])
    return first in DONE | OF_WORK or is_drawn(last) or (len(words) == 1 and is_beside(last))


def _is_bare(step: ReadStep) -> bool:
    """Whether a line holds colours, and beside them only how they are laid, and before them what they are for."""
    taken = {i for call in step.calls for i in range(call.start, call.end)}
    beside = TOKEN.finditer(step.text, len(_label(step.text)))
    words = [token.group() for token in beside if token.start() not in taken]
    return bool(step.calls) and all(is_lead(word) or fold(word) in _SIGNS for word in words)


def _begins_with_one(step: ReadStep) -> bool:
    """Whether a colour is the first that a line says."""
    first = TOKEN.search(step.text)
    return first is not None and any(call.start == first.start() for call in step.calls)


def _label(text: str) -> str:
    """What a line begins with before a colon: “Stem: ” of “Stem: Gorse Bloom”; nothing where there is none."""
    found = LABEL.match(text)
    return found.group() if found else ""


def _asking(
    step: ReadStep, may_be_small: bool, one_is_enough: bool, scope: Sequence[str], catalogue: Catalogue
) -> ReadStep:  # fmt: skip
    """A line that asks which colour it is, if it is of two to four words with capitals, or may be of small ones.

    one_is_enough: whether a single word with a capital may be one, too.
    """
    if step.calls or step.finish is not Finish.DRY or REPEAT.search(step.text):
        return step
    label = _label(step.text)
    tokens = list(TOKEN.finditer(step.text, len(label)))
    if any(fold(word) in ABOUT for word in TOKEN.findall(label)):
        return step
    if any(counts_something(tokens, i) for i in range(len(tokens))):
        return step
    name = without_how(tokens)
    words = [token.group() for token in name]
    capitals = len(words) > 1 and all(word[:1].isupper() or word.endswith("%") for word in words)
    # “- Kelp” among colours.
    bulleted = len(words) == len(tokens) == 1 and words[0].isalpha() and words[0][:1].isupper()
    capitals = capitals or (one_is_enough and bulleted and not _is_of_the_work(words))
    # “side of the point” is a sentence, as “blend with the” before it was.
    a_name = capitals or (may_be_small and not any(is_lead(word) for word in words))
    if not 0 < len(words) <= LONGEST_NAME or not a_name:
        return step
    near = coming_near(" ".join(words), scope, catalogue)
    call = on_no_chart(step.text, name[0].start(), name[-1].end(), near)
    return replace(step, kind=StepKind.STEP, calls=(replace(call, pressure=step.pressure, layers=step.layers),))


def _without_headings_that_ask(before: Sequence[ReadStep], after: Sequence[ReadStep]) -> list[ReadStep]:
    """Lines that stood under a heading which may be a colour stand under the heading before it."""
    made: list[ReadStep] = []
    area, gone = "", ""
    for was, step in zip(before, after, strict=True):
        if was.kind is StepKind.HEADING:
            gone = "" if step.kind is StepKind.HEADING else was.area
            area = area if gone else was.area
        made.append(replace(step, area=area) if gone and step.area == gone else step)
    return made
