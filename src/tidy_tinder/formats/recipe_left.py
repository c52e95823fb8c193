"""Words of a line that were read as nothing and may name a colour: the artist is asked to look at them.

No rule tells every name; what no rule knows is at least not passed over. Words that recipes are written in are left out
(`recipe_familiar`), and so is what has its place told: “the hairy rim” after “along”, “Rim:” before a colour.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import replace
from itertools import takewhile

from tidy_tinder.core.names.finding import Catalogue, fold
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_capitals import capitals_tell
from tidy_tinder.formats.recipe_colour_nouns import is_small
from tidy_tinder.formats.recipe_familiar import ABOUT_THE_WORK, PRONOUNS, is_familiar
from tidy_tinder.formats.recipe_figures import mask_figures
from tidy_tinder.formats.recipe_plain_names import TAKEN_OF, is_beside, is_drawn
from tidy_tinder.formats.recipe_ranges import ranges_at, ranges_line
from tidy_tinder.formats.recipe_reading import ReadStep, Span
from tidy_tinder.formats.recipe_words import LABEL, TIME, TOKEN, begins_sentence

# “along the rim”, “on each of its scales”: what follows is a place.
_PLACES = frozenset(
    (
        "on onto in into at along around round under underneath over across behind between beside near below above "
        "beneath inside outside through throughout towards toward up down from to for until where if when of and avoid "
        "deepen darken lighten soften fill shade cover leave keep define sharpen blend outline draw smooth erase"
    ).split()
)
_ARTICLES = frozenset("the its his her their each every both this these those all your my".split())
# How many words such a place has: “the soft hairy rim”.
_LONGEST_PLACE = 3
_JOINS = re.compile(r"\s?[&+/]\s?")
_LABELLED, _ENDS = re.compile(r":\s$"), re.compile(r"\s?(?:$|[,;.])")
_JOINED_TO, _JOINED_IN = re.compile(r"\s?[&+/]\s?$"), 3
_WHITE = frozenset("white weiss blanc blanche blancs blanches blanco blanca blancos blancas wit".split())
_LEFT_FREE = re.compile(
    r"\b(?:leav|left|keep|kept|stay|lass|bleib|laiss|dej|laat|laten|blijf)\w*\b[^.;,]*$|\bpaper\s$", re.IGNORECASE
)
_PAPER = re.compile(r"\s(?:paper|papier|papel)\b", re.IGNORECASE)
_NEAR = 60
"""Characters before a word among which the words stand that leave it free."""
_SEPARATES = re.compile(r"\s[-–—=]+\s|:\s|[.…]{2,}\s")


def with_words_left(steps: Sequence[ReadStep], catalogue: Catalogue) -> Iterator[ReadStep]:
    """The lines of a recipe, each with what in it may name a colour and was not read.

    What stands over colours is their heading, unless it is written as no heading is or is a colour elsewhere in the
    recipe; a line that names ranges names nothing else.
    """
    laid = {fold(call.as_written) for step in steps for call in step.calls}
    asked = [
        step if _heads_colours(steps, at) else _without_keys(_asked(step, catalogue), laid)
        for at, step in enumerate(steps)
    ]
    colours = {fold(words) for step in asked for words in _colours_of(step)}
    for step in asked:
        heads = step.kind == StepKind.HEADING and not step.text.endswith(":")
        yield _asked(step, catalogue) if heads and (step.text.islower() or fold(step.text) in colours) else step


def _asked(step: ReadStep, catalogue: Catalogue) -> ReadStep:
    """A line with what in it may name a colour."""
    if ranges_line(step.text, catalogue):
        return step
    taken = [(call.start, call.end) for call in step.calls]
    return replace(step, left=words_left(step.text, taken, catalogue))


def _without_keys(step: ReadStep, laid: AbstractSet[str]) -> ReadStep:
    """A line but for what a letter stands for in it, if that is laid elsewhere: “P = Oat”."""
    text = step.text
    left = [(a, b) for a, b in step.left if not (text[:a].endswith(("=", "= ")) and fold(text[a:b]) in laid)]
    return replace(step, left=tuple(left))


def _colours_of(step: ReadStep) -> Iterator[str]:
    """The words of a line that are colours, or may be."""
    yield from (call.as_written for call in step.calls)
    yield from (step.text[start:end] for start, end in step.left)


def _heads_colours(steps: Sequence[ReadStep], at: int) -> bool:
    """Whether a line is a heading with a colour under it, before the next one."""
    under = takewhile(lambda step: step.kind != StepKind.HEADING, steps[at + 1 :])
    return steps[at].kind == StepKind.HEADING and any(step.calls for step in under)


def words_left(line: str, taken: Sequence[Span], catalogue: Catalogue) -> tuple[Span, ...]:
    """Where a line has words that may name a colour and were not read, in their order; words side by side are one.

    taken: what was read as its colours.
    """
    ranges = [(start, end) for start, end, _ in ranges_at(line, catalogue)]
    read = {i for start, end in (*taken, *ranges) for i in range(start, end)}
    masked = mask_figures(line, catalogue).line
    tokens = [token for token in TOKEN.finditer(masked) if token.start() not in read]
    begins = _begins(line, taken)
    told = _joined(line, tokens, taken) if taken else _told_by_a_label(line, tokens)
    left: list[Span] = []
    for at, token in enumerate(tokens):
        known = is_familiar(token.group()) and at not in told and not _stands_out(line, token)
        if token.end() <= begins or known or _is_a_place(line, tokens, at) or _is_bare_paper(line, token):
            continue
        first = left.pop()[0] if left and _side_by_side(line, left[-1][1], token.start()) else token.start()
        left.append((first, _end_of(line, tokens, at)))
    return tuple(left)


def _begins(line: str, taken: Sequence[Span]) -> int:
    """Where the words end that say what a line's colours are for; 0 where none do."""
    time = TIME.match(line)
    label = LABEL.match(line, time.end() if time else 0)
    return label.end() if label and taken and min(start for start, _ in taken) >= label.end() else 0


def _joined(line: str, tokens: Sequence[re.Match[str]], taken: Sequence[Span]) -> frozenset[int]:
    """Which words are joined to a colour as another colour is, or told by a label, though they are what is drawn:
    “Twig & 119”, “rows: Iris, then 119”.
    """
    starts, ends = {start for start, _ in taken}, {end for _, end in taken}
    found: set[int] = set()
    for at, token in enumerate(tokens):
        if not is_drawn(fold(token.group())):
            continue
        near = max(token.start() - _JOINED_IN, 0)
        after, before = _JOINS.match(line, token.end()), _JOINED_TO.search(line[near : token.start()])
        labelled = _LABELLED.search(line, near, token.start()) and _ENDS.match(line, token.end())
        joined = (after and after.end() in starts) or (before and token.start() - len(before.group()) in ends)
        if labelled or joined:
            found.add(at)
    return frozenset(found)


def _told_by_a_label(line: str, tokens: Sequence[re.Match[str]]) -> frozenset[int]:
    """Which word ends a line without a colour as one does that is told by a label: “stalk – Twig”."""
    if not tokens or not is_drawn(fold(tokens[-1].group())) or TOKEN.search(line, tokens[-1].end()):
        return frozenset()
    labelled = _SEPARATES.search(line, 0, tokens[-1].start())
    return frozenset((len(tokens) - 1,)) if labelled else frozenset()


def _stands_out(line: str, token: re.Match[str]) -> bool:
    """Whether a common word has the capital of a name, inside a line whose other words have none: “Bone Handle”."""
    word = token.group()
    if not word[:1].isupper() or not word[1:].islower() or begins_sentence(line, token.start()):
        return False
    # “on the Vellum board”: what is used, and no name.
    if is_small(word) or (is_beside(fold(word)) and not is_drawn(fold(word))):
        return False
    return capitals_tell(line) and not _SEPARATES.search(line, max(token.start() - 3, 0), token.start())


def _is_a_place(line: str, tokens: Sequence[re.Match[str]], at: int) -> bool:
    """Whether a word says where something is laid: “along the rim”."""
    first = at
    for back in range(at - 1, max(at - 1 - _LONGEST_PLACE, -1), -1):
        if not _side_by_side(line, tokens[back].end(), tokens[first].start()):
            return False
        word = fold(tokens[back].group())
        if word in _ARTICLES:
            before = fold(tokens[back - 1].group()) if back else ""
            follows = back > 0 and _side_by_side(line, tokens[back - 1].end(), tokens[back].start())
            return follows and before in _PLACES and not (before == "of" and _is_taken(tokens, back - 2))
        # “In the end dove”: the place is over.
        if is_beside(word) or word in ABOUT_THE_WORK:
            return False
        first = back
    return False


def _is_bare_paper(line: str, token: re.Match[str]) -> bool:
    """Whether a word says how paper looks, or what is left free: “white paper”, “leave the tips white”."""
    if fold(token.group()) in _WHITE and _PAPER.match(line, token.end()):
        return True
    before = line[max(token.start() - _NEAR, 0) : token.start()]
    return fold(token.group()) in _WHITE and bool(_LEFT_FREE.search(before))


def _is_taken(tokens: Sequence[re.Match[str]], at: int) -> bool:
    """Whether a word says how much is taken of a colour: “a touch of the copper beech”."""
    return at >= 0 and fold(tokens[at].group()) in TAKEN_OF


def _side_by_side(line: str, end: int, start: int) -> bool:
    """Whether nothing but a blank or a hyphen parts two words."""
    return line[end:start] in (" ", "-")


def _end_of(line: str, tokens: Sequence[re.Match[str]], at: int) -> int:
    """Where a word ends, with the noun that goes on from it: “steel wool”, “rice paper”."""
    end = tokens[at].end()
    if at + 1 == len(tokens) or not _side_by_side(line, end, tokens[at + 1].start()):
        return end
    following = fold(tokens[at + 1].group())
    goes_on = is_beside(following) and not is_small(following) and following not in PRONOUNS
    return tokens[at + 1].end() if goes_on else end
