"""Words of everyday language that name a colour: “olive green”, “burnt umber”, “Dunkelblau”, “vert olive”.

What a chart does not have is often written so, and passes for prose. The words are common ones of five languages
(common practice, no source), without accents. A hue that only describes what is drawn (“the green leaves”) names none.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_words import OR, OVER, TOKEN, UNDER, counts_something, is_lead, is_qualifier

_PIGMENTS = frozenset(
    (
        "umber sienna ochre ocher sepia ultramarine vermilion vermillion crimson scarlet carmine indigo viridian "
        "magenta turquoise teal maroon beige taupe khaki umbra siena ocker ultramarin zinnober karmin turkis "
        "sienne ocre outremer vermillon ecarlate bermellon carmin anil escarlata omber oker ultramarijn vermiljoen "
        "karmijn scharlaken"
    ).split()
)
_HUES = frozenset(
    (
        "green red blue yellow brown grey gray orange pink purple violet grun rot blau gelb braun grau rosa "
        "violett vert rouge bleu jaune brun marron gris verde rojo azul amarillo pardo naranja violeta morado "
        "groen rood blauw geel bruin grijs oranje roze paars"
    ).split()
)
_NEUTRALS = frozenset("white black weiss schwarz blanc noir blanco negro wit zwart".split())
_NOUNS = _PIGMENTS | _HUES | _NEUTRALS
# German and Dutch write the tone before the hue, in one word. So short an ending asks for more before it: “parrot”.
_ENDINGS = {**dict.fromkeys(("grun", "blau", "gelb", "braun", "grau", "groen", "blauw", "geel", "bruin", "grijs"), 3),
            **dict.fromkeys(("rot", "rood", "weiss", "schwarz", "zwart", "ocker", "oker"), 4)}  # fmt: skip
_TONES = frozenset(
    (
        "dark pale light deep warm cool cold burnt raw bright dull muted soft mid medium olive moss sap navy ivory "
        "lemon dunkles helles warmes kaltes gebrannte gebrannter lichter fonce clair chaud froid brule brulee pale "
        "oscuro claro calido frio tostado tostada oliva donker licht koel koud gebrande olijf"
    ).split()
)
# What goes before a colour that was laid already, and is meant by it.
_THE = frozenset("the this that der die das den dem le la les el los las de het".split())
_DO = frozenset("add mix use lay put apply shade fill build start begin take try lighten darken deepen".split())
# Words that begin something new after a colour, or stand before one: what is no such word is what has the colour.
_SMALL = _DO | _THE | frozenset(map(fold, OVER | UNDER | OR)) | frozenset(
    (
        "a an on onto in into to at by for from with without along around across near behind between beside "
        "beneath below above where when while until till as and but not no is are be it its so everywhere there "
        "here again first next last instead only too also all then ein eine einen auf im am an in mit ohne bei wo "
        "bis und nicht uberall un une des du dans avec sans pour vers ou et partout en con sin para por hasta y "
        "todo een op met zonder voor bij waar tot overal"
    ).split()
)  # fmt: skip
# What is to be done with a colour, when and where: a hue beside nothing else is one to lay.
_BARE = _DO | frozenset(
    "first last again here there everywhere zuerst zuletzt uberall dabord partout eerst laatst".split()
)
_GRADE = re.compile(r"\d{1,2}%?")
_NO_COLOUR = re.compile(
    r"^\s*(?:paper|surface|ground|papier|papel|grund)\s*:|\bblack and white\b|\bschwarz[ -]wei|\bnoir et blanc\b",
    re.IGNORECASE,
)


def spoken_of(line: str, tokens: Sequence[re.Match[str]], part: tuple[int, int]) -> Iterator[tuple[int, int]]:
    """Where a part of a line names colours in everyday words: start and end of each, in the line.

    tokens: the words of the part that were not read as anything else, in their order.
    """
    if _speaks_of_none(line):
        return
    at = 0
    while at < len(tokens):
        end = _end_of(line, tokens, at)
        if end is None:
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
    if not _is_noun(tokens[at].group()):
        return None
    end = at + 1
    while end < len(tokens) and beside(line, tokens, end) and _toned(tokens[end].group()):
        end += 1
    return with_grade(line, tokens, end)


def _begin_of(line: str, tokens: Sequence[re.Match[str]], at: int) -> int:
    """Where the words before a noun begin that say which: tones, and one word whatever it is: “moss green”."""
    first = at
    while first > 0 and beside(line, tokens, first) and _toned(tokens[first - 1].group()):
        first -= 1
    if first == at > 0 and beside(line, tokens, at) and fold(tokens[at].group()) not in _NEUTRALS:
        before = tokens[at - 1].group()
        first -= not (is_small(before) or any(c.isdigit() for c in before))
    return first


def _is_named(line: str, tokens: Sequence[re.Match[str]], first: int, end: int, part: tuple[int, int]) -> bool:
    """Whether the words name a colour, and do not only say of which colour something is."""
    words = [token.group() for token in tokens[first:end]]
    folded = [word for token in words for word in fold(token).split()]
    several = len(folded) > 1 or folded[0] not in _NOUNS
    if sum(word in _PIGMENTS or word in _TONES for word in folded) > 1:
        return True
    if end < len(tokens) and beside(line, tokens, end) and not is_small(after := tokens[end].group()):
        return several and all(word[:1].isupper() for word in words) and not after[:1].isupper()
    if several or folded[0] in _PIGMENTS:
        return True
    the = first > 0 and fold(tokens[first - 1].group()) in _THE
    others = (found.group() for found in TOKEN.finditer(line, *part) if found.start() != tokens[first].start())
    return not the and all(is_lead(word) or fold(word) in _BARE for word in others)


def _is_noun(word: str) -> bool:
    folded = fold(word).split()
    last = folded[-1] if folded else ""
    return last in _NOUNS or any(last.endswith(e) and len(last) - len(e) >= least for e, least in _ENDINGS.items())


def _toned(word: str) -> bool:
    folded = fold(word)
    return folded in _TONES or folded in _PIGMENTS or folded in _HUES


def is_small(word: str) -> bool:
    """Whether a word begins something new after a colour, or says how it is laid."""
    # “für” is small, “fur” is what is drawn.
    small = fold(word) in _SMALL or word.casefold() == "für"
    return small or is_lead(word) or is_qualifier(word) or word[:1].isdigit() or word.endswith("ly")


def with_grade(line: str, tokens: Sequence[re.Match[str]], end: int) -> int:
    """Where a colour ends that ended at `end` without its grade: “50 %”, “3”."""
    if end < len(tokens) and beside(line, tokens, end) and _GRADE.fullmatch(tokens[end].group()):
        if counts_something(tokens, end) and tokens[end + 1].group() != "%":
            return end
        end += 1
        if end < len(tokens) and tokens[end].group() == "%":
            end += 1
    return end


def beside(line: str, tokens: Sequence[re.Match[str]], i: int) -> bool:
    """Whether nothing but a blank parts a word from the one before it."""
    return not line[tokens[i - 1].end() : tokens[i].start()].strip()
