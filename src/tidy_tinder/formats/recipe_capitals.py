"""Words with capitals that stand where a colour is named: “start with Gorse Bloom”, “Wren Wing for the gills”.

A colour that is on no chart, and has no word of colour in it, is told by its place alone (common practice, no source).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_colour_nouns import beside, is_small, with_grade
from tidy_tinder.formats.recipe_colour_words import ABOUT, BESIDE_PENCILS, LAYING, LAYING_IN_GERMAN
from tidy_tinder.formats.recipe_plain_names import DONE, is_drawn
from tidy_tinder.formats.recipe_words import FINISHES, PRESSURE_OF, TOKEN, is_qualifier

# Words of a name that is told by its capitals.
_MOST = 4
# “Saddle Dust goes in the knots.”
_GOES = frozenset("goes go went comes".split())
# “The bloom is Lavender Mist.”
_IS = frozenset("is are was were".split())
_QUOTES = frozenset("\"'“”„‘’«»")
_JOINING = frozenset("of the du de des la le von der del van".split())
_FOLLOWS = re.compile(r"\s(?:it|them|this|that|one|two|three|four|five|again)\b", re.IGNORECASE)


def with_capitals(line: str, tokens: Sequence[re.Match[str]]) -> Iterator[tuple[int, int]]:
    """Where a part of a line has names in capitals that may be colours: start and end of each, in the line.

    tokens: the words of the part that were not read as anything else, in their order.
    """
    at = 0
    while at < len(tokens):
        end = at
        while end < len(tokens) and tokens[end].group()[:1].isupper() and (end == at or beside(line, tokens, end)):
            end += 1
        first = at
        while first < end and (is_small(word := tokens[first].group()) or fold(word) in LAYING | LAYING_IN_GERMAN):
            first += 1
        shown = first < end and _is_shown(line, tokens, first, end)
        if 0 < end - first <= _MOST and (shown or _is_laid(line, tokens, first, end)):
            yield tokens[first].start(), tokens[with_grade(line, tokens, end) - 1].end()
        at = max(end, at + 1)


def _is_laid(line: str, tokens: Sequence[re.Match[str]], first: int, end: int) -> bool:
    """Whether a run of capitals stands where a colour is laid, and is none of what is used beside it."""
    last, several, after = tokens[end - 1].group(), end - first > 1, with_grade(line, tokens, end)
    if fold(last) in BESIDE_PENCILS or any(finish.match(last) for finish in FINISHES.values()):
        return False
    if all(token.group().isupper() for token in tokens[first:end]):
        return False
    goes_on = after < len(tokens) and line[tokens[after - 1].end() : tokens[after].start()].strip() in ("", "(")
    # “Dark Green Leaves with 119” is what is drawn.
    laid = goes_on and fold(tokens[after].group()) in LAYING | LAYING_IN_GERMAN
    small = goes_on and is_small(tokens[after].group()) and not laid
    if first > 0 and beside(line, tokens, first):
        before = fold(tokens[first - 1].group())
        # “a touch of Stain bilberry”: one capital is no more than a part of something.
        # “body Cherry Pop heavy”
        pressed = several and goes_on and fold(tokens[after].group()) in PRESSURE_OF
        told = before in _IS and not (first > 1 and fold(tokens[first - 2].group()) in ABOUT)
        laying = before in LAYING and (several or small or not goes_on)
        return laying or pressed or (several and (told or before in LAYING_IN_GERMAN))
    # It begins its part: what it is laid on or how must follow, or it is a sentence in capitals.
    goes = goes_on and fold(tokens[after].group()) in _GOES and not is_drawn(fold(last))
    # “Poppy Black middle”
    where = goes_on and tokens[after].group().islower() and is_drawn(fold(tokens[after].group()))
    return several and (small or goes or where)


def _is_shown(line: str, tokens: Sequence[re.Match[str]], first: int, end: int) -> bool:
    """Whether a run of capitals is in quotation marks, or has a grade: “Sea Foam”, Nightjar 70 %."""
    start, stop, graded = tokens[first].start(), tokens[end - 1].end(), with_grade(line, tokens, end)
    quoted = line[max(start - 1, 0) : start] in _QUOTES and line[stop : stop + 1] in _QUOTES
    return quoted or (graded > end and tokens[graded - 1].group().endswith("%"))


def is_in_capitals(words: Sequence[str]) -> bool:
    """Whether words are a name in capitals: “Peat Smoke”, “Brume du Soir”, “Slate 40 %”."""
    shown = [word for word in words if word != "%" and not word.isdecimal()]
    inner = all(word[:1].isupper() or word in _JOINING for word in shown)
    return inner and all(word[:1].isupper() for word in (*shown[:1], *shown[-1:]))


def last_in_capitals(line: str, tokens: Sequence[re.Match[str]]) -> tuple[int, int] | None:
    """Where the last words of a part are a name of several words in capitals, after words that are not; else None."""
    first = len(tokens)
    while (
        first > 0 and tokens[first - 1].group()[:1].isupper() and (first == len(tokens) or beside(line, tokens, first))
    ):
        first -= 1
    while first < len(tokens) and (is_small(word := tokens[first].group()) or fold(word) in DONE):
        first += 1
    if first == 0 or not 1 < len(tokens) - first <= _MOST or fold(tokens[-1].group()) in BESIDE_PENCILS:
        return None
    return tokens[first].start(), tokens[-1].end()


def is_sentence(line: str, words: Sequence[re.Match[str]]) -> bool:
    """Whether one word with what follows it is a sentence or counts days: “Sign it.”, “Day two.”"""
    return len(words) == 1 and bool(_FOLLOWS.match(line, words[0].end()))


def is_pressed_name(line: str, end: int, words: Sequence[str]) -> bool:
    """Whether words that begin a line of a list are no part of a drawing, and how hard they are laid follows their end:
    “- Peat Smoke, heavy”.
    """
    following = TOKEN.findall(line, end)
    pressed = bool(following) and (
        following[0].lower() in PRESSURE_OF or all(is_qualifier(word) or word.isdecimal() for word in following)
    )
    return pressed and len(words) > 1 and not is_drawn(fold(words[-1]))
