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
        "sienne ocre outremer vermillon ecarlate dombre bermellon carmin anil escarlata omber oker ultramarijn "
        "vermiljoen karmijn scharlaken"
    ).split()
)
# Hues of languages in which the noun comes last, and of those in which what tells which comes after it.
_HUES_LAST = frozenset(
    (
        "green red blue yellow brown grey gray orange pink purple violet grun rot blau gelb braun grau rosa "
        "violett groen rood blauw geel bruin grijs oranje roze paars"
    ).split()
)
_HUES_FIRST = frozenset(
    "vert rouge bleu jaune brun marron gris verde rojo azul amarillo pardo naranja violeta morado".split()
)
_NEUTRALS = frozenset("white black weiss schwarz blanc noir blanco negro wit zwart".split())
_HUES = _HUES_LAST | _HUES_FIRST
_NOUNS = _PIGMENTS | _HUES | _NEUTRALS
# Things whose names are colours as well: by themselves among colours, or after “with”, they are meant as such.
_THINGS = frozenset(
    (
        "peach cream plum rose lemon olive navy ivory canary coral salmon rust sand wine mustard charcoal slate "
        "apricot lavender lilac mint sage tan gold silver bronze copper chestnut chocolate coffee caramel honey "
        "amber aqua mauve fawn buff flesh straw terracotta mahogany pfirsich creme pflaume zitrone flieder lachs "
        "senf aubergine peche prune citron corail saumon moutarde ivoire lilas crema ciruela limon salmon mostaza "
        "marfil perzik pruim citroen zalm mosterd ivoor"
    ).split()
)
# German and Dutch write the tone before the hue, in one word. So short an ending asks for more before it: “parrot”.
_ENDINGS = {
    **dict.fromkeys("grun blau gelb braun grau rosa groen blauw geel bruin grijs".split(), 3),
    **dict.fromkeys("rot rood weiss schwarz zwart ocker oker".split(), 4),
}
_TONES = frozenset(
    (
        "dark pale light deep warm cool cold burnt raw bright dull muted soft mid medium olive moss sap navy ivory "
        "lemon dunkles helles warmes kaltes gebrannte gebrannter lichter fonce clair chaud froid brule brulee pale "
        "citron natur naturel naturelle natural oscuro claro calido frio tostado tostada oliva limon donker licht "
        "koel koud gebrande olijf"
    ).split()
)
# What goes before a colour that was laid already, and is meant by it.
_THE = frozenset("the this that der die das den dem le la les el los las de het".split())
_DO = frozenset("add mix use lay put apply shade fill build start begin take try lighten darken deepen".split())
# Words that begin something new after a colour, or stand before one: what is no such word is what has the colour. A
# wash or an outline is the colour itself, laid.
_SMALL = _DO | _THE | frozenset(map(fold, OVER | UNDER | OR)) | frozenset(
    (
        "a an on onto in into to at by for from with without along around across near behind between beside "
        "beneath below above where when while until till as and but not no is are be it its so everywhere there "
        "here again first next last instead only too also all then if wash washes tint base line lines outline "
        "outlines hatching ein eine einen auf im am an in mit ohne bei wo bis und nicht uberall etwas wenig "
        "bisschen schicht lasur un une des du dans avec sans pour vers ou et partout en peu couche lavis con sin "
        "para por hasta y todo poco capa op met een zonder voor bij waar tot overal beetje laag"
    ).split()
)  # fmt: skip
# Between such a word and a hue nothing else may stand: “with a green”, “mit etwas Blau”.
_LAYING = frozenset("with w using use add mix of try take mit nimm avec con met gebruik prends usa".split())
_SOME = frozenset("a an some the ein etwas un une le la el een".split())
_IN = frozenset("in en".split())
# What is to be done with a colour, when and where: a hue beside nothing else is one to lay.
_BARE = _DO | frozenset(
    "first last again here there everywhere zuerst zuletzt uberall dabord partout eerst laatst".split()
)
# Characters of a part in which a hue may stand with nothing but how it is laid; in a longer one other things are said.
_LONGEST_BARE = 160
_OTHERWISE = frozenset("is are of was".split())
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
            alone = things and fold(tokens[at].group()) in _THINGS and _goes_on(line, tokens, at + 1)
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
    if not _is_noun(tokens[at].group()):
        return None
    end = at + 1
    while end < len(tokens) and beside(line, tokens, end) and _toned(tokens[end].group()):
        end += 1
    # “bleu nuit”, “azul marino”: which blue is said by one more word, whatever it is.
    if end == at + 1 and fold(tokens[at].group()) in _HUES_FIRST and not _goes_on(line, tokens, end):
        end += 1
    return with_grade(line, tokens, end)


def _begin_of(line: str, tokens: Sequence[re.Match[str]], at: int) -> int:
    """Where the words before a noun begin that say which: tones, and one word whatever it is: “moss green”."""
    first = at
    while first > 0 and beside(line, tokens, first) and _toned(tokens[first - 1].group()):
        first -= 1
    noun = fold(tokens[at].group())
    if first == at > 0 and beside(line, tokens, at) and noun not in _NEUTRALS | _HUES_FIRST:
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
    small = _goes_on(line, tokens, end)
    if not small and folded[0] not in _HUES_FIRST:
        # “Burnt Sienna fur” is a colour, “dark green leaves” and “Dark Green Leaves” are things.
        return several and all(word[:1].isupper() for word in words) and not tokens[end].group()[:1].isupper()
    if several or folded[0] in _PIGMENTS:
        return True
    return _is_one_to_lay(line, tokens, first, part) if small else False


def _goes_on(line: str, tokens: Sequence[re.Match[str]], end: int) -> bool:
    """Whether a colour may end there: nothing follows that could have it."""
    return end == len(tokens) or not beside(line, tokens, end) or is_small(tokens[end].group())


def _is_one_to_lay(line: str, tokens: Sequence[re.Match[str]], at: int, part: tuple[int, int]) -> bool:
    """Whether a hue by itself is laid: with nothing beside it but how, after “with” and “in”, or before “over”."""
    before = [fold(token.group()) for token in tokens[max(0, at - 2) : at] if line[token.end() : tokens[at].start()]]
    if before and before[-1] in _LAYING | _IN:
        return True
    if len(before) > 1 and before[-1] in _SOME and before[-2] in _LAYING:
        return True
    if (before and before[-1] in _THE) or part[1] - part[0] > _LONGEST_BARE:
        return False
    label = [found.end() for found in _LABEL.finditer(line, part[0], tokens[at].start())]
    start = label[-1] if label else part[0]
    others = [found.group() for found in TOKEN.finditer(line, start, part[1]) if found.start() != tokens[at].start()]
    if all(is_lead(word) or fold(word) in _BARE for word in others):
        return True
    leads = not line[start : tokens[at].start()].strip()
    return leads and fold(others[0]) not in _OTHERWISE


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
