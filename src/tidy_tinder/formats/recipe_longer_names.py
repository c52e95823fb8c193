"""Names that are longer than what a chart has of them: “Deep Fern” is not “Fern”, “Oat Straw” not “Oat”.

A word with a capital that touches a charted name makes it another colour more often than it says something of that one
(common practice, no source): what both are is asked, with the charted one offered.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Sequence

from tidy_tinder.core.names.finding import Catalogue, Entry, fold
from tidy_tinder.formats.recipe_colour_nouns import beside, is_small
from tidy_tinder.formats.recipe_colour_words import HUES, LAYING_IN_GERMAN, PIGMENTS, TONES
from tidy_tinder.formats.recipe_doubts import LONGEST_NAME, coming_near, on_no_chart
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK, is_beside
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_words import FINISHES, ROLES, TOKEN, begins_sentence

# What a colour is for, where nouns have capitals: “Grundton Parsnip”.
_FOR = frozenset("grundton grundierung schatten lichter tiefen mitten kontur konturen rand fell haut basis".split())
_NO_PART = DONE | OF_WORK | LAYING_IN_GERMAN | _FOR
# Words that tell which of several such colours, even where any word has a capital: “Old Oat”, “Faded Fern”.
_TELLING = (
    TONES
    | HUES
    | PIGMENTS
    | frozenset(
        "old new young wild royal antique wet dry dusty smoky ancient sea night morning evening winter summer".split()
    )
)


def with_words_beside(
    line: str, part: tuple[int, int], calls: Sequence[ReadCall], scope: Sequence[str], catalogue: Catalogue
) -> list[ReadCall]:  # fmt: skip
    """The calls of a part of a line; those that were read from a piece of a longer name ask for it."""
    tokens = list(TOKEN.finditer(line, *part))
    taken = {i for call in calls for i in range(call.start, call.end)}
    starts = [token.start() for token in tokens]
    capitals = line.isupper()
    free = [token.start() not in taken and _is_part(line, token, capitals) for token in tokens]
    made = []
    for call in calls:
        first, last = bisect_left(starts, call.start), bisect_left(starts, call.end) - 1
        words = last - first + 1
        by_code = any(c.isdigit() for c in call.as_written)
        if not by_code and not catalogue.ranges_called(tokens[first].group()):
            while first > 0 and free[first - 1] and beside(line, tokens, first):
                first -= 1
            while last + 1 < len(tokens) and free[last + 1] and beside(line, tokens, last + 1):
                last += 1
        longer = words < last - first + 1 <= LONGEST_NAME
        made.append(_asked(line, tokens[first].start(), tokens[last].end(), call, scope, catalogue) if longer else call)
    return made


def names_within(words: Sequence[str], scope: Sequence[str], catalogue: Catalogue) -> tuple[Entry, ...]:
    """The charted colours whose whole names are words, or among words that may be a longer name, without capitals:
    “deep moss”; none of those where the words speak of a part of the drawing, or of work.
    """
    if not 0 < len(words) <= LONGEST_NAME:
        return ()
    if catalogue.has_name(" ".join(words)):
        return catalogue.resolve(" ".join(words), scope or None).hits
    folded = [fold(word) for word in words]
    if any(is_small(word) for word in words) or folded[0] in DONE | OF_WORK or is_beside(folded[-1]):
        return ()
    runs = (" ".join(words[i:j]) for i in range(len(words)) for j in range(len(words), i, -1))
    named = next((run for run in runs if catalogue.has_name(run)), None)
    return () if named is None else catalogue.resolve(named, scope or None).hits


def _is_part(line: str, token: re.Match[str], all_capitals: bool) -> bool:
    """Whether a word that touches a charted name is part of one that is longer."""
    word = token.group()
    folded = fold(word)
    if is_small(word) or folded in _NO_PART or is_beside(folded):
        return False
    if any(known.fullmatch(word) for known in (*FINISHES.values(), *ROLES.values())):
        return False
    if folded in HUES:
        return True
    # A capital says nothing of the first word of a sentence, and where all words have it.
    if not word[:1].isupper():
        return False
    says_nothing = begins_sentence(line, token.start()) or all_capitals
    return not says_nothing or folded in _TELLING or folded.endswith("ed")


def _asked(
    line: str, start: int, end: int, piece: ReadCall, scope: Sequence[str], catalogue: Catalogue
) -> ReadCall:  # fmt: skip
    """A longer name as a call to settle; what comes near to all of it is offered before what a piece of it is."""
    of_piece = catalogue.resolve(piece.as_written, scope or None).hits
    near = coming_near(line[start:end], scope, catalogue)
    return on_no_chart(line, start, end, tuple(dict.fromkeys((*near, *of_piece))))
