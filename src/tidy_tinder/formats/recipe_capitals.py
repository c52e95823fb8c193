"""Words with capitals that stand where a colour is named: “start with Gorse Bloom”, “Wren Wing for the gills”.

A colour that is on no chart, and has no word of colour in it, is told by its place alone (common practice, no source).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_colour_nouns import beside, is_small, with_grade
from tidy_tinder.formats.recipe_colour_words import ABOUT, BESIDE_PENCILS, DAYS, LAYING, LAYING_IN_GERMAN, NOUNS, TONES
from tidy_tinder.formats.recipe_plain_names import DONE, OF_WORK, is_beside, is_drawn
from tidy_tinder.formats.recipe_words import (
    FINISHES,
    LABEL,
    LAYERS,
    PRESSURE_OF,
    ROLES,
    TOKEN,
    begins_sentence,
    is_qualifier,
)

# Words of a name that is told by its capitals.
_MOST = 4
# “Saddle Dust goes in the knots.”
_GOES = frozenset("goes go went comes".split())
# “Cool Stone first”, “Zand Grijs alleen op de buik”
_IN_TURN = frozenset(
    (
        "first last next again only alone along around everywhere zuerst zuletzt alleen eerst seul seulement primero"
    ).split()
)
# “- Midnight Plum, only the lower third”
_WHERE = frozenset("only just in on along over under across around where barely all for at into towards".split())
# How a colour was laid: “I graded Delft into it”.
_WORKED = frozenset(
    "graded faded stippled scumbled scumble glazed burnished dragged rubbed brushed hatched scribbled layered".split()
)
# “Nuit d'Été”: an article that has lost its vowel.
_ELIDED = re.compile(r"[dl]['’](?=[^\W\d_])")
# Words before a name among which may stand what it is that of.
_BACK = 3
# Letters of a name that is told by standing alone in capitals; characters before it in which its last word is sought.
_SHORTEST, _NEAR = 3, 24
# Before persons, places, times and parts of a text; and articles of languages in which a colour that is laid has none.
_BEFORE_OTHERS = frozenset(
    (
        "at by from to for on mr mrs ms dr st until since during of called named see chapter part step layer page "
        "book le la les el los las het de a par chez von bei aan uit voor por para desde san santa"
    ).split()
)
# “un poco de Trigo”, “une pointe de Cerise”
_PORTIONS = frozenset("poco pizca toque capa velo pointe touche peu couche voile soupcon goccia".split())
NUMBERS_AND_NOTES = frozenset(
    (
        "one two three four five six seven eight nine ten part step layer stage chapter january february march "
        "april may june july august september october november december photo photograph reference tip note notes "
        "question"
    ).split()
)
"""What is counted, months, and what is told beside a step."""
# Words with a capital that are known to be no name of a colour; words of colour are judged by themselves.
_KNOWN = OF_WORK | DONE | TONES | DAYS | NOUNS | NUMBERS_AND_NOTES
# Words that only German sentences have.
_GERMAN = frozenset(
    (
        "der das den dem und mit auf zum zur für ein eine einen einem einer nicht dann beim vom über wird etwas "
        "noch ist sind ich wir erst nach aus oder sehr nur danach zuerst zuletzt schluss wenig viel machen "
        "arbeiten setzen verblenden zwei drei vier ganz alles zart fest mittel leicht kräftig oben unten rechts "
        "aussparen polieren Schicht Schichten Schatten die Mit Das Der Die Dann Danach Zuerst Zuletzt Erst Nur"
    ).split()
)
_QUOTES = frozenset("\"'“”„‘’«»")
# French; “de” alone as often parts what is laid from what it is laid in.
_OF_THE = frozenset("du des".split())
_JOINING = frozenset("of the du de des la le von der del van".split())
_FOLLOWS = re.compile(r"\s(?:it|them|this|that|one|two|three|four|five|again)\b", re.IGNORECASE)


def with_capitals(line: str, tokens: Sequence[re.Match[str]]) -> Iterator[tuple[int, int]]:
    """Where a part of a line has names in capitals that may be colours: start and end of each, in the line.

    tokens: the words of the part that were not read as anything else, in their order.
    """
    at = 0
    while at < len(tokens):
        end = at
        while (
            end < len(tokens)
            and (_has_a_capital(tokens[end].group(), end > at) or _joins(line, tokens, end, at))
            and (end == at or beside(line, tokens, end))
        ):
            end += 1
        first = at
        while first < end and (is_small(word := tokens[first].group()) or fold(word) in LAYING | LAYING_IN_GERMAN):
            first += 1
        shown = first < end and _is_shown(line, tokens, first, end)
        if 0 < end - first <= _MOST and (shown or _is_laid(line, tokens, first, end)):
            yield tokens[first].start(), tokens[with_grade(line, tokens, end) - 1].end()
        at = max(end, at + 1)


def _joins(line: str, tokens: Sequence[re.Match[str]], at: int, first: int) -> bool:
    """Whether a small word joins two with capitals to one name: “Brume du Matin”."""
    if at == first or at + 1 >= len(tokens) or tokens[at].group() not in _OF_THE:
        return False
    return beside(line, tokens, at + 1) and tokens[at + 1].group()[:1].isupper()


def _has_a_capital(word: str, inner: bool) -> bool:
    """Whether a word begins with a capital; inside a name an article may stand before that."""
    elided = _ELIDED.match(word) if inner else None
    return word[elided.end() if elided else 0 :][:1].isupper()


def _is_laid(line: str, tokens: Sequence[re.Match[str]], first: int, end: int) -> bool:
    """Whether a run of capitals stands where a colour is laid, and is none of what is used beside it."""
    last, after = tokens[end - 1].group(), with_grade(line, tokens, end)
    if fold(last) in BESIDE_PENCILS or any(finish.match(last) for finish in FINISHES.values()):
        return False
    if all(token.group().isupper() for token in tokens[first:end]):
        return False
    goes_on = after < len(tokens) and line[tokens[after - 1].end() : tokens[after].start()].strip() in ("", "(")
    following = tokens[after].group() if goes_on else ""
    if end - first > 1:
        return _is_a_name(line, tokens, first, end, following)
    # “a touch of Stain bilberry”: one capital is no more than a part of something.
    before = fold(tokens[first - 1].group()) if first > 0 and beside(line, tokens, first) else ""
    laid = before in LAYING | _WORKED and (not following or (is_small(following) and not is_laying(following)))
    return laid or _stands_out(line, tokens, first, following)


def _stands_out(line: str, tokens: Sequence[re.Match[str]], at: int, following: str) -> bool:
    """Whether one word with a capital in a sentence of small ones can be nothing but a name: “a tiny bit Biscuit”.

    German has capitals for all its nouns. A person, a place, a day, a part of the drawing and a tool have them, too.
    """
    word = tokens[at].group()
    if len(word) < _SHORTEST or not word.isalpha() or fold(word) in _KNOWN or is_beside(fold(word)):
        return False
    before = TOKEN.findall(line[max(tokens[at].start() - _NEAR, 0) : tokens[at].start()])
    if begins_sentence(line, tokens[at].start()) or not before:
        return False
    if fold(before[-1]) in _BEFORE_OTHERS and not _PORTIONS.intersection(map(fold, before[-2:-1])):
        return False
    # “brun Van Dyck”: what is left of a name.
    if before[-1][:1].isupper() and line[: tokens[at].start()].endswith(f"{before[-1]} "):
        return False
    if any(role.fullmatch(word) for role in (*ROLES.values(), *FINISHES.values())) or is_beside(fold(following)):
        return False
    return capitals_tell(line) and not is_told_about(line, tokens, at)


@lru_cache(maxsize=16)
def capitals_tell(line: str) -> bool:
    """Whether a capital inside a line tells a name: most of its words have none, and it is not German. It is asked for
    each of its words.
    """
    words = TOKEN.findall(line)
    capitals = sum(word[:1].isupper() for word in words[1:])
    return capitals < sum(word.islower() for word in words) and _GERMAN.isdisjoint(words)


def _is_a_name(line: str, tokens: Sequence[re.Match[str]], first: int, end: int, following: str) -> bool:
    """Whether several words with capitals name a colour: inside a sentence they do, unless it speaks of a person, a
    paper or a picture; where they begin one, what they are laid on or how must follow.
    """
    words = [fold(token.group()) for token in tokens[first:end]]
    if words[0] in NUMBERS_AND_NOTES:
        return False  # “Part Two”
    if fold(following) in _IN_TURN and capitals_tell(line):
        return True
    if all(is_drawn(word) or word in OF_WORK | TONES for word in words) or is_told_about(line, tokens, first):
        return False
    # “the Old Mill reference”
    if is_beside(fold(following)) and not is_drawn(fold(following)) and not is_small(following):
        return False
    if not begins_sentence(line, tokens[first].start()):
        return True
    # “Dark Green Leaves with 119” is what is drawn, “Poppy Black middle” a colour for it.
    counted = bool(LAYERS.match(line, tokens[end - 1].end() + 1))
    how = counted or (bool(following) and is_small(following) and not is_laying(following))
    goes = fold(following) in _GOES | _IN_TURN and not is_drawn(words[-1])
    return how or goes or (following.islower() and is_drawn(fold(following)))


def is_laying(word: str) -> bool:
    """Whether what follows a word is a colour that is laid."""
    return fold(word) in LAYING | LAYING_IN_GERMAN


def is_told_about(line: str, tokens: Sequence[re.Match[str]], first: int) -> bool:
    """Whether the words before say that something is told of the drawing: “Artist: Anna Berg”, “the photo is by …”."""
    label = LABEL.match(line)
    before = [token.group() for token in tokens[max(first - _BACK, 0) : first]]
    return any(fold(word) in ABOUT for word in (*before, *TOKEN.findall(label.group() if label else "")))


def _is_shown(line: str, tokens: Sequence[re.Match[str]], first: int, end: int) -> bool:
    """Whether a run of capitals is in quotation marks, or has a grade: “Sea Foam”, Nightjar 70 %."""
    start, stop, graded = tokens[first].start(), tokens[end - 1].end(), with_grade(line, tokens, end)
    return is_quoted(line, start, stop) or (graded > end and tokens[graded - 1].group().endswith("%"))


def is_quoted(line: str, start: int, end: int) -> bool:
    """Whether quotation marks stand right before and right after some words."""
    # French leaves a blank inside of its own.
    before, after = line[max(start - 2, 0) : start].rstrip()[-1:], line[end : end + 2].lstrip()[:1]
    return before in _QUOTES and after in _QUOTES


def is_in_capitals(words: Sequence[str]) -> bool:
    """Whether words are a name in capitals: “Peat Smoke”, “Brume du Soir”, “Slate 40 %”."""
    shown = [word for word in words if word != "%" and not word.isdecimal()]
    inner = all(word[:1].isupper() or word in _JOINING for word in shown)
    return inner and all(word[:1].isupper() for word in (*shown[:1], *shown[-1:]))


def is_sentence(line: str, words: Sequence[re.Match[str]]) -> bool:
    """Whether one word with what follows it is a sentence or counts days: “Sign it.”, “Day two.”"""
    return len(words) == 1 and bool(_FOLLOWS.match(line, words[0].end()))


def _are_of_work(words: Sequence[str]) -> bool:
    """Whether words are what is done or used: “Sharpen First”, “Paper Towel”, “Solvent Wash”."""
    finished = any(finish.fullmatch(word) for word in words for finish in FINISHES.values())
    return finished or fold(words[-1]) in BESIDE_PENCILS or any(is_small(word) for word in words)


def is_pressed_name(line: str, end: int, words: Sequence[str]) -> bool:
    """Whether words that begin a line of a list are no part of a drawing, and nothing, or where or how hard they are
    laid, follows their end: “- Peat Smoke, heavy”.
    """
    following = TOKEN.findall(line, end)
    how = all(is_qualifier(word) or word.isdecimal() or is_drawn(word) for word in following)
    where = bool(following) and following[0].lower() in _WHERE
    pressed = ((how or where) and not _are_of_work(words)) or (bool(following) and following[0].lower() in PRESSURE_OF)
    return pressed and len(words) > 1 and not is_drawn(fold(words[-1]))
