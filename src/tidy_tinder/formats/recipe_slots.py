"""Places in a line where a colour stands, whatever it is called: “119 over gorse bloom”, “Highlights in Rowanwood”.

Such a name has neither a chart nor a word of colour; what stands before and after it tells (common practice, no
source). In small letters it has two or three words, since one is too often something else.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass
from functools import lru_cache

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_capitals import is_laying, is_quoted, is_told_about
from tidy_tinder.formats.recipe_colour_nouns import beside
from tidy_tinder.formats.recipe_colour_words import ABOUT, DAYS, TONES
from tidy_tinder.formats.recipe_plain_names import (
    DONE,
    GROUND,
    OF_WORK,
    ends_a_name,
    is_beside,
    is_drawn,
    may_be_a_name,
)
from tidy_tinder.formats.recipe_reading import ReadCall
from tidy_tinder.formats.recipe_words import LAYERS, PRESSURE_OF, REPEAT, TOKEN, begins_sentence

_MOST, _LONG = 3, 3
# Characters before a name among which stands what tells.
_BACK = 40
_ROLE = (
    r"(?:shadows?|highlights?|darks?|darkest|lightest|mid-?tones?|outlines?|accents?|base|underlayer|undercoat|"
    r"(?:base|first|second|third|next|last|top) (?:coat|layer|pass)|layer \d|finish|favou?rite|schatten|lichter|tiefen|"
    r"glanzlichte?r?|konturen?|grundierung|grundton|ombres?|lumières?|contours?|reflets?|sombras?|luces|contornos?|"
    r"brillos?|schaduw(?:en)?|hooglichten|omtrek|onderlaag)"
)
# The same by themselves: “deepest darks gilt lane”; “dark” and “base” say how as often.
_ROLE_ALONE = (
    r"(?:(?:base|first|second|third|next|last|top) (?:coat|layer|pass)|(?:coat|layer|pass) \d{1,2}|"
    r"shadows|highlights|darks|mid-?tones|accents)"
)
_IS_LAID = r"(?:is|are|in|with|w|mit|sind|ist|en|avec|sont|con|son|met|zijn)"
# What stands right before a colour and belongs to it.
_BEFORE = re.compile(
    rf"(?:\b{_ROLE}(?:\s{_IS_LAID}|\s?[:=–-])|\b{_ROLE_ALONE}|"
    r"\b(?:layers?|coats?|pass|passes|schicht(?:en)?|couches?|capas?|lagen|laag) (?:of|aus|von|de|van)|\b\d\s?[x×]|"
    r"\b(?:put|blend|love|like|comes|choose|chose|pick|picked|rub|drag)|"
    r"\b(?:ombr|rehauss|nuanc|mélang|relev|teint)ée?s? (?:de|avec|au))\s$",
    re.IGNORECASE,
)
# Right before a name with a capital: “deepest Tar”.
_MOST_OF = re.compile(r"\b(?:deepest|darkest|lightest|brightest|palest)\s$", re.IGNORECASE)
# The same of small words that go on with where: “then gilt lane on the shadow side”.
_WHERE = re.compile(r"\s(?:on|in|over|for|along|around|into)\s(?:the|its|his|her|each|every|both|all)\b", re.IGNORECASE)
# The same of one word with a capital, which is a noun of German as well: what is done next.
_NEXT = re.compile(
    r"\b(?:then|next|finally|lastly|dann|danach|anschließend|zuletzt|darüber|darauf|drüber|puis|ensuite|enfin|luego|después|daarna|dan)[,:]?\s$",
    re.IGNORECASE,
)
_LABELLED = re.compile(r"([^\W\d_]+)(?:\s?[:=]\s|\s[–—-]\s|\s\()$")
_JOINS = r"(?:[+/→&]|->|=>|\b(?:over|under|or|and|über|unter|oder|und|sur|sous|ou|et|sobre|bajo|y|onder|en)\b)"
_JOINED, _JOINING = re.compile(rf"\s?{_JOINS}\s?$", re.IGNORECASE), re.compile(rf"\s?{_JOINS}\s?", re.IGNORECASE)
# What stands right after a colour that begins its part.
_AFTER = re.compile(
    r"\s(?:goes|all over|everywhere|first|last|on top|next|later)\b|\sonce(?=\s?(?:[.,;)]|$))|"
    rf"\s?[,:(–-]?\s?(?:{'|'.join(sorted(PRESSURE_OF))})\b",
    re.IGNORECASE,
)
# What it is that is laid with what follows: “darüber Zeisig, Halme mit Moos”.
_WORKED_WITH = re.compile(r"\s(?:mit|with|avec|con|met)\b", re.IGNORECASE)
# What a colour that is laid may end with: “Light: Buttercup.”, “mit Schieferdach und …”.
_ENDS = re.compile(r"\s?(?:[.,;+/&→)]|$|(?:und|oder|dann|über|and|et|y|en)\b)", re.IGNORECASE)
# “mit Torf vertiefen”, “bekommt Eisvogel”, “und etwas Rauchquarz”
_WITH_IN_GERMAN = re.compile(
    r"(?:\b(?:mit|bekommt|bekommen)\s(?:etwas\s|wenig\s|viel\s|einem hauch\s|ein wenig\s)?|"
    r"\b(?:etwas|ein wenig|ein hauch|einen hauch)\s)$",
    re.IGNORECASE,
)
_DONE_IN_GERMAN = re.compile(r"\s[a-zäöüß]{2,}(?:en|ern|eln)(?=\s?(?:[.,;)]|$|und\b|oder\b))")
_LABEL_OF_WORDS = re.compile(r"([^\W\d_]+(?:\s[^\W\d_]+){0,3})\s?(?::|\.{2,}|…)\s")
_BRACKETS = re.compile(r"\(([^()]{3,80})\)")
# Nouns of German recipes that are no colours.
_NO_COLOURS = frozenset(
    (
        "schatten licht lichter tiefen fell haut augen auge nase ohren ohr haare haar details detail hintergrund "
        "papier radiergummi wasser losungsmittel pinsel druck kreise kreisen striche strichen pause rand rander "
        "kanten mitte himmel blatt blatter stiel kontur konturen ubergange schraffur glanzlichter glanzlicht "
        "schnurrhaare stellen flachen flache schichten schicht federn flugel mund lippen wangen spitzen richtung "
        "bereiche bleistift stift geduld kraft ruhe gefuhl vorsicht hilfe zeit tuch taschentuch wattestabchen wischer "
        "papierwischer finger fingern spitze kante seite messer klinge skalpell lineal lampe lupe musik abstand mine "
        "schwung radierer knetgummi kreide graphit tinte tusche fixativ spray terpentin alkohol farbe farben ubergang"
    ).split()
)


@dataclass(frozen=True)
class ReadThere:
    """Where the calls of a line stand: all their characters, their beginnings and their ends."""

    taken: frozenset[int]
    begins: frozenset[int]
    ends: frozenset[int]

    @classmethod
    def of(cls, calls: Sequence[ReadCall]) -> ReadThere:
        """Where these calls stand."""
        taken = frozenset(i for call in calls for i in range(call.start, call.end))
        return cls(taken, frozenset(call.start for call in calls), frozenset(call.end for call in calls))


def in_slots(
    line: str, scanned: str, part: tuple[int, int], read: ReadThere, labelled: bool
) -> Iterator[tuple[int, int]]:  # fmt: skip
    """Where a part of a line has names in the place of a colour: start and end of each, in the line.

    scanned: the line with what is no colour masked; read: where the calls of the whole line stand; labelled: whether
    the line begins with what its colours are for.
    """
    tokens = [token for token in TOKEN.finditer(scanned, *part) if token.start() not in read.taken]
    done = 0
    for at in range(len(tokens)):
        end = _name_from(line, tokens, at) if at >= done else at
        if end == at or is_told_about(line, tokens, at) or REPEAT.match(line, tokens[at].start()):
            continue
        start, stop = tokens[at].start(), tokens[end - 1].end()
        # “Stem gilt lane, 119”
        drawn = at == 1 and end == len(tokens) and is_drawn(fold(tokens[0].group())) and beside(line, tokens, at)
        before = drawn or _comes_before(line, (start, stop), read.ends, end - at == 1, labelled)
        opens = not line[part[0] : start].strip() and (end - at > 1 or not begins_sentence(line, start))
        before = before or (end - at == 1 and _fills_its_place(line, (start, stop), bool(read.begins)))
        if before or _comes_after(line, stop, read.begins, opens) or is_quoted(line, start, stop):
            yield start, stop
            done = end


def _name_from(line: str, tokens: Sequence[re.Match[str]], at: int) -> int:
    """Where the longest run of words from one on ends that may be a name; at, where none may."""
    end = at
    while end < len(tokens) and end < at + _MOST and (end == at or beside(line, tokens, end)):
        if ends_a_name(tokens[end].group()):
            break
        end += 1
    # “a layer of gilt reed covers it”
    return next((stop for stop in range(end, at, -1) if _may_name([t.group() for t in tokens[at:stop]])), at)


def _may_name(words: Sequence[str]) -> bool:
    """Whether words are a name with a capital, or two or three with small letters that are not known otherwise."""
    folded = [fold(word) for word in words]
    if folded[0] in DONE | GROUND or all(is_drawn(word) or word in TONES for word in folded):
        return False
    if len(words) > 1:
        return may_be_a_name([word.lower() for word in words] if all(word.isupper() for word in words) else words)
    word = words[0]
    # “Blending”, “Shading”
    doing = folded[0].removesuffix("ing")
    done = doing != folded[0] and (not {doing, f"{doing}e"}.isdisjoint(DONE) or is_beside(doing))
    known = folded[0] in OF_WORK | DAYS | _NO_COLOURS or is_beside(folded[0]) or done
    return word[:1].isupper() and not word.isupper() and len(word) >= _LONG and not known


def _comes_before(line: str, at: tuple[int, int], ends: AbstractSet[int], single: bool, labelled: bool) -> bool:
    """Whether what stands before a name says that it is laid."""
    start, stop = at
    before = line[max(start - _BACK, 0) : start]
    if _BEFORE.search(before) or (line[start].isupper() and _MOST_OF.search(before)):
        return True
    if _NEXT.search(before) and (
        single or (_WHERE.match(line, stop) and not is_laying(line[start:stop].split(maxsplit=1)[0]))
    ):
        return True
    label, joined = _LABELLED.search(before), _JOINED.search(before)
    if label and is_drawn(fold(label[1])):
        return True
    # “Spade: 119, old iron”
    if joined is None and labelled and before.endswith(", "):
        return start - 2 in ends and not _WORKED_WITH.match(line, stop)
    return joined is not None and start - len(joined.group()) in ends


def _fills_its_place(line: str, at: tuple[int, int], among_others: bool) -> bool:
    """Whether a name of one word is all that a label in the line is followed by, or what a German “mit” is."""
    start, stop = at
    before = line[max(start - _BACK, 0) : start]
    in_german = _WITH_IN_GERMAN.search(before)
    if not _ENDS.match(line, stop) and not (in_german and _DONE_IN_GERMAN.match(line, stop)):
        return False
    if in_german or _is_one_of_several(line, start):
        return True
    label = _LABELLED.search(before)
    # What stands in brackets by itself says which: “wheat (Steadfast)”.
    labelled = label is not None and not before.endswith("(") and not _tells(label[1])
    return among_others and labelled


def _is_one_of_several(line: str, start: int) -> bool:
    """Whether what stands there is one of several names, and all that a bracket holds or a label is followed by."""
    return any(begins <= start < ends for begins, ends in _lists_of_names(line))


@lru_cache(maxsize=64)
def _lists_of_names(line: str) -> tuple[tuple[int, int], ...]:
    """Where a line has nothing but names in brackets or after its label: “(Mustard, Custard)”, “heart: Cordial, Lamp”.

    Kept, since a line is asked about for each of its words.
    """
    places = [found.span(1) for found in _BRACKETS.finditer(line)]
    label = _LABEL_OF_WORDS.match(line)
    if label and not any(_tells(word) for word in TOKEN.findall(label[1])):
        places.append((label.end(), len(line)))
    return tuple(place for place in places if _are_names(line[slice(*place)].rstrip(" .").split(",")))


def _tells(word: str) -> bool:
    """Whether a label with such a word tells of the drawing: “Techniques: …”."""
    return not {fold(word), fold(word).removesuffix("s")}.isdisjoint(ABOUT | DAYS)


def _are_names(parts: Sequence[str]) -> bool:
    names = [part.split() for part in parts]
    return len(names) > 1 and all(0 < len(name) <= _MOST and all(w[:1].isupper() for w in name) for name in names)


def _comes_after(line: str, end: int, begins: AbstractSet[int], opens: bool) -> bool:
    """Whether what stands after a name, which opens its part, says that it is laid."""
    joining = _JOINING.match(line, end)
    if joining and joining.end() in begins:
        return True
    return opens and bool(_AFTER.match(line, end) or LAYERS.match(line, end + 1))
