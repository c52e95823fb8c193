"""Words of everyday language that name a colour: “olive green”, “burnt umber”, “Dunkelblau”, “vert olive”.

What a chart does not have is often written so, and passes for prose. A hue that only describes what is drawn (“the
green leaves”) names none.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_colour_words import (
    BARE,
    ENDINGS,
    HUES,
    HUES_FIRST,
    IN,
    LAYING,
    LAYING_IN_GERMAN,
    NEUTRALS,
    NOUNS,
    OTHERWISE,
    PIGMENTS,
    SMALL,
    SOME,
    THE,
    THINGS,
    TONES,
)
from tidy_tinder.formats.recipe_words import FINISHES, TOKEN, is_lead, is_qualifier

# Characters of a part in which a hue may stand with nothing but how it is laid; in a longer one other things are said.
_LONGEST_BARE = 160
# “Rose pâle”, “corail vif”: so toned, a thing is a colour.
_TONES_AFTER = frozenset("pale clair claire fonce foncee vif oscuro oscura claro clara palido palida".split())
_ENDINGS = tuple(ENDINGS)
# “Gently” says how; “holly” and “dolly” are things.
_ADVERB = re.compile(r"only|early|fully|.{3,}[^f\W]ly")
_GRADE = re.compile(r"\d{1,2}%?")
_LABEL = re.compile(r"[-–—:]\s")
_NO_COLOUR = re.compile(
    r"^\s*(?:paper|surface|ground|papier|papel|grund)\s*:|\bblack and white\b|\bschwarz[ -]wei|\bnoir et blanc\b",
    re.IGNORECASE,
)


def spoken_of(
    line: str, tokens: Sequence[re.Match[str]], part: tuple[int, int], things: bool = True
) -> Iterator[tuple[int, int]]:  # fmt: skip
    """Where a part of a line names colours in everyday words: start and end of each, in the line.

    tokens: the words of the part that were not read as anything else, in their order. things: whether “peach” may be a
    colour, too.
    """
    if _speaks_of_none(line):
        return
    at = 0
    while at < len(tokens):
        end = _end_of(line, tokens, at)
        if end is None:
            alone = things and fold(tokens[at].group()) in THINGS and _goes_on(line, tokens, at + 1)
            if alone and _is_one_to_lay(line, tokens, at, part):
                yield tokens[at].span()
            at += 1
            continue
        first = _begin_of(line, tokens, at)
        if _is_named(line, tokens, first, end, part):
            yield tokens[first].start(), tokens[end - 1].end()
        at = end


@lru_cache(maxsize=64)
def _speaks_of_none(line: str) -> bool:
    """Whether the colours of a line are none to lay; kept, since a line is asked about for each of its parts."""
    return bool(_NO_COLOUR.search(line))


def _end_of(line: str, tokens: Sequence[re.Match[str]], at: int) -> int | None:
    """Where a colour ends whose noun stands at `at`, with the tones after it: “vert olive”; None where no noun is."""
    toned = at + 1 < len(tokens) and beside(line, tokens, at + 1) and fold(tokens[at + 1].group()) in _TONES_AFTER
    if not _is_noun(tokens[at].group()) and not (toned and fold(tokens[at].group()) in THINGS):
        return None
    end = at + 1
    while end < len(tokens) and beside(line, tokens, end) and _toned(tokens[end].group()):
        end += 1
    # “bleu nuit”, “azul marino”: which blue is said by one more word, whatever it is.
    if end == at + 1 and fold(tokens[at].group()) in HUES_FIRST and not _goes_on(line, tokens, end):
        end += 1
    return with_grade(line, tokens, end)


def _begin_of(line: str, tokens: Sequence[re.Match[str]], at: int) -> int:
    """Where the words before a noun begin that say which: tones, and one word whatever it is: “moss green”."""
    first = at
    while first > 0 and beside(line, tokens, first) and _toned(tokens[first - 1].group()):
        first -= 1
    noun = fold(tokens[at].group())
    # “Altrosa” says already which: the word before it is another.
    if first == at > 0 and beside(line, tokens, at) and noun in NOUNS - NEUTRALS - HUES_FIRST:
        before = tokens[at - 1].group()
        first -= not (is_small(before) or any(c.isdigit() for c in before))
    return first


def _is_named(line: str, tokens: Sequence[re.Match[str]], first: int, end: int, part: tuple[int, int]) -> bool:
    """Whether the words name a colour, and do not only say of which colour something is."""
    words = [token.group() for token in tokens[first:end]]
    folded = [word for token in words for word in fold(token).split()]
    several = len(folded) > 1 or folded[0] not in NOUNS
    if sum(word in PIGMENTS or word in TONES for word in folded) > 1:
        return True
    if not _goes_on(line, tokens, end) and folded[0] not in HUES_FIRST:
        # “Burnt Sienna fur” is a colour, “dark green leaves” and “Dark Green Leaves” are things.
        return several and all(word[:1].isupper() for word in words) and not tokens[end].group()[:1].isupper()
    if several or folded[0] in PIGMENTS:
        return True
    return _is_one_to_lay(line, tokens, first, part)


def _goes_on(line: str, tokens: Sequence[re.Match[str]], end: int) -> bool:
    """Whether a colour may end there: nothing follows that could have it."""
    if end == len(tokens) or not beside(line, tokens, end):
        return True
    following = tokens[end].group()
    return is_small(following) or any(finish.match(following) for finish in FINISHES.values())


def _is_one_to_lay(line: str, tokens: Sequence[re.Match[str]], at: int, part: tuple[int, int]) -> bool:
    """Whether a hue by itself is laid: with nothing beside it but how, after “with” and “in”, or before “over”."""
    before, two_before = (_before(line, tokens, at, by) for by in (1, 2))
    laying = LAYING | LAYING_IN_GERMAN
    # “with the white” lays it, “the edge of the white” does not.
    if before in laying | IN or (before in SOME and two_before in laying - {"of"}):
        return True
    if before in THE or part[1] - part[0] > _LONGEST_BARE:
        return False
    label = [found.end() for found in _LABEL.finditer(line, part[0], tokens[at].start())]
    start = label[-1] if label else part[0]
    others = [found.group() for found in TOKEN.finditer(line, start, part[1]) if found.start() != tokens[at].start()]
    if all(is_lead(word) or fold(word) in BARE for word in others):
        return True
    leads = not line[start : tokens[at].start()].strip()
    return leads and fold(others[0]) not in OTHERWISE


def _before(line: str, tokens: Sequence[re.Match[str]], at: int, by: int) -> str:
    """The word so many places before one, if nothing but blanks parts them; else ""."""
    near = at >= by and all(beside(line, tokens, i) for i in range(at - by + 1, at + 1))
    return fold(tokens[at - by].group()) if near else ""


def _is_noun(word: str) -> bool:
    folded = fold(word).split()
    last = folded[-1] if folded else ""
    if last in NOUNS:
        return True
    # Nearly all words end otherwise.
    return last.endswith(_ENDINGS) and any(last.endswith(e) and len(last) - len(e) >= n for e, n in ENDINGS.items())


def _toned(word: str) -> bool:
    folded = fold(word)
    return folded in TONES or folded in PIGMENTS or folded in HUES


def is_small(word: str) -> bool:
    """Whether a word begins something new after a colour, or says how it is laid."""
    # “für” is small, “fur” is what is drawn.
    small = fold(word) in SMALL or word.casefold() == "für"
    return small or is_lead(word) or is_qualifier(word) or word[:1].isdigit() or bool(_ADVERB.fullmatch(word))


def with_grade(line: str, tokens: Sequence[re.Match[str]], end: int) -> int:
    """Where a colour ends that ended at `end` without its grade: “50 %”, “3”."""
    if end < len(tokens) and beside(line, tokens, end) and _GRADE.fullmatch(tokens[end].group()):
        end += 1
        if end < len(tokens) and tokens[end].group() == "%":
            end += 1
    return end


def beside(line: str, tokens: Sequence[re.Match[str]], i: int) -> bool:
    """Whether nothing but a blank parts a word from the one before it."""
    return not line[tokens[i - 1].end() : tokens[i].start()].strip()
