"""The words of recipes: what says how hard, how often, with which finish and to which end, and what parts a line."""

from __future__ import annotations

import re
from collections.abc import Sequence

from tidy_tinder.core.names.finding import fold
from tidy_tinder.core.vocabulary import MOST_LAYERS, Finish, Pressure, Role, SaidPressure
from tidy_tinder.formats.recipe_negations import what_is_done

TOKEN = re.compile(r"%|[^\W_]+(?:['’-][^\W_]+)*%?", re.UNICODE)
# A picture in the place of a bullet, with what may choose its look.
PICTURE = re.compile("[\u2600-\u27bf\u2b50\U0001f300-\U0001faff][\ufe0f\U0001f3fb-\U0001f3ff]?\\s+")
BULLET = re.compile(
    r"^\s*(?:>\s+(?=[-*•\[]))?"  # quoted in an answer
    r"(?:(?:step\s+)?\(?[1-9]\d?\s*[.):]\s+|step\s+\d+\s+(?:[-–—]\s+)?|\(?(?:[a-z]|i{2,3}|i?[vx]|vi{1,3}|xi{1,2})[.)]\s+|"
    r"\[[ x]?\]\s+|"
    rf"[-*•–—‣▪◦●○■□☐☑✓✔»]\s+|{PICTURE.pattern})",
    re.IGNORECASE,
)
# “Go over the leaf with 119” lays one colour, not two.
_GONE = "".join(rf"(?<!\b{verb} )" for verb in ("go", "goes", "going", "went", "gone", "work", "working", "worked"))
_PART_WORDS = (
    f"then|{_GONE}over|"
    "under|and|or|plus|dann|danach|über|unter|und|oder|puis|ensuite|sur|sous|et|ou|luego|después|sobre|bajo|"
    "daarna|dan|onder"
)
# “# Cap” or “#Cap” is a heading, “#119” is a number.
# “#Liver Fungus #Mulled Wine” is a list.
HASH_HEADING = re.compile(r"#+(?:\s|$|[^\W\d]{3}(?!.*\s#[^\W\d]))")
SEPARATOR = re.compile(rf"\s*(?:→|⇒|->|=>|[,;+&/|>•·=*]|\b(?:{_PART_WORDS})\b|[.!?]+\s)\s*", re.IGNORECASE)
SENTENCE = re.compile(r"\w{2}[.!?]\s")
"""The end of a sentence, and not the full stop of “No. 3”."""
OVER = frozenset(("over", "über", "sur", "sobre"))
UNDER = frozenset(("under", "unter", "sous", "bajo", "onder"))
OR = frozenset(("or", "oder", "ou"))
FIRST = re.compile(r"^[\s,]*(?:goes |down |laid )*(?:first|zuerst|d'abord|primero|eerst)[\s,.]*$", re.IGNORECASE)
CODE = r"[A-Za-z]{0,2}\d{1,4}"
# What a line begins with before a colon: “First reds: …”.
DASH = re.compile(r"\s[-–—]\s")
LABEL = re.compile(r"[^:\d]{1,60}:\s")
_SMALL = r"[^\W\d_A-ZÀ-ÖØ-Þ]+"
SMALL_LABEL = re.compile(rf"(?:{_SMALL} ){{0,2}}{_SMALL}\s[-–—=]\s")
"""The same with a dash or an equals sign: “mid – ”. What begins with a capital is as often a colour."""
SPAN = re.compile(
    rf"(?<![\w-])(?P<first>{CODE})(?:[-–—]|\s(?:to|bis|à|hasta|tot)\s)(?P<last>{CODE})(?![\w-])"
    r"(?!\s?(?:%|(?:\w+\s)?(?:layers?|coats?|pass(?:es)?|times|strokes|min(?:utes)?|hours|days|mm|cm|schichten|lagen|"
    r"couches|capas)\b))",
    re.IGNORECASE,
)
"""A span of codes, and not of counts: “4-5 layers”; with blanks round it a dash parts two colours."""
# All of it or none: of “4-5 times” the 4 names no step.
_STEPS_NAMED = r"(?>\d{1,2}(?:\s?(?:[-–,&+]|and|to|und|bis|et|y|en)\s?\d{1,2})*)(?!\d|[/.]\d|\s?%)"
_STEPS = r"(?:steps?|schritte?|étapes?|pasos?|stap(?:pen)?)"
REPEAT = re.compile(
    # “steps 1-2 again”, “Schritte 1 bis 2 wiederholen”
    rf"\b{_STEPS}\s?(?P<ahead>{_STEPS_NAMED})\s(?:again|once more|wiederhol\w*|noch ?(?:ein)?mal|herhaal\w*|herhal\w*|"
    r"opnieuw|de nouveau|otra vez)\b|"
    r"\b(?:repeat|again|same(?: as(?: above| before)?)?|as (?:before|above)|wiederhol\w*|wie (?:oben|vorher)|répét\w*|"
    r"recommenc\w*|comme avant|repet\w*|igual que|herhaal\w*|zoals)\b"
    rf"(?:[^\d]{{0,24}}?{_STEPS}\s?(?P<step>{_STEPS_NAMED})|"
    rf"(?<=repeat)\s(?P<bare>{_STEPS_NAMED})(?!\s?(?:x\b|×|more|times|layers?|coats?|pass(?:es)?|strokes)))?",
    re.IGNORECASE,
)
PART_STRENGTH = re.compile(r"\b(?:half|quarter|part|reduced)[- ]strength\b", re.IGNORECASE)
HEAVIER = re.compile(r"\b(?:heavier|harder|kräftiger|plus fort|más fuerte|steviger)\b", re.IGNORECASE)
LIGHTER = re.compile(r"\b(?:lighter|softer|leichter|plus léger|más suave|lichter)\b", re.IGNORECASE)
LEADS = frozenset(
    (
        "pencils pencil colours colors colour all using used use with and in from the i unless noted "
        "otherwise mostly some mainly only range ranges set brand a few hint touch bit little dab of w"
    ).split()
)
_HOW = re.compile(r"^(?:burnish|glaz|blend|lift|highlight)\w*$", re.IGNORECASE)
OF_LAYERS = frozenset("layer layers coat coats pass passes x times".split())
UNITS = OF_LAYERS | frozenset(
    "% mm cm minute minutes min hour hours h gsm g step steps percent stroke strokes light medium heavy".split()
)
_PRESSURES = {
    Pressure.LIGHT: (
        "light lightly soft softly gently gentle faint faintly leicht zart sanft léger légère légèrement doux suave "
        "suavemente ligero ligera licht zacht lt"
    ).split(),
    Pressure.MEDIUM: (
        "medium moderate moderately middling mittel moyen moyenne medio media gemiddeld middel middelmatig med"
    ).split(),
    Pressure.HEAVY: (
        "heavy heavily hard firm firmly kräftig fest fort forte fortement fuerte firme stevig zwaar hvy"
    ).split(),
}
PRESSURE_OF = {word: pressure for pressure, words in _PRESSURES.items() for word in words}
PRESSURE_BY_LETTER = {"L": Pressure.LIGHT, "M": Pressure.MEDIUM, "H": Pressure.HEAVY}
# Where in a film a line is said: “2:10 First layer”.
TIME = re.compile(r"^\s*[\[(]?\d{1,2}(?::[0-5]\d){1,2}[\])]?\s*(?:[-–—|]\s)?")
# “L pressure”
_LETTER_OF_PRESSURE = re.compile(r"\b([LMH])\s(?:pressure|druck|pression|presión|druk)\b")
# Right after a colour and by itself: “119 H”. A small letter has nothing behind it but brackets or an arrow: “119 h”.
_LETTER = re.compile(r"^\s*\(?([LMH])(?=$|[\s),;x×])|^\s+\(?([lmh])(?=\s*(?:$|[),;(→]|->))")
_COUNTS = {
    "one": 1,
    "two": 2,
    "three": 3,
    "four": 4,
    "five": 5,
    "six": 6,
    "double": 2,
    "triple": 3,
    "zwei": 2,
    "drei": 3,
    "vier": 4,
    "deux": 2,
    "trois": 3,
    "quatre": 4,
    "dos": 2,
    "tres": 3,
    "cuatro": 4,
    "twee": 2,
    "drie": 3,
}
_TWICE = {"twice": 2, "thrice": 3, "zweimal": 2, "dreimal": 3, "tweemaal": 2, "driemaal": 3}
LAYERS = re.compile(
    r"\b(?:(?<!\d:)(\d{1,2})|(" + "|".join(_COUNTS) + r"))\s+(?:\w+\s+)?"
    r"(?:layers?|coats?|pass(?:es)?|schicht(?:en)?|lagen?|couches?|capas?|laag)\b|\bx\s?(\d)\b|"
    r"\b(\d)\s?x\b|\b(" + "|".join(_TWICE) + r")\b",
    re.IGNORECASE,
)
OF_WHAT_WAS_NAMED = re.compile(rf"(?:{LAYERS.pattern})\s+of (?:it|that|this|these|those|them|both)\b", re.IGNORECASE)
"""“four layers of it” speaks of the colour before, whatever comes after it."""
FINISHES = {
    Finish.BURNISHED: re.compile(r"\b(?:burnish|polier|lustr|bruñ|polijst)\w*", re.IGNORECASE),
    Finish.SOLVENT: re.compile(r"\b(?:solvent|lösungsmittel|solvant|disolvente|oplosmiddel)\b", re.IGNORECASE),
    # Water by itself is as often what is drawn: “shade the water with 145”.
    Finish.WET: re.compile(
        r"\b(?:wet(?:ted|ting)?|damp(?:en\w*)?|nass|mouillé\w*|húmed[oa]|nat)\b|\bwater ?brush\w*|\bwater wash\w*|"
        r"\b(?:with|add|adding|use|using|(?:drops?|bit|touch|brush) of|mit|etwas|avec|con|met)\s"
        r"(?:(?:a|little|some|more|only|just|clean|clear|plain|sauberem|wenig|un|peu|poco|wat)\s)*"
        r"(?:d['’]|de\s)?(?:water|wasser|eau|agua)\b(?!\s(?:lil|line|surface|edge|mark|drop))|"
        r"\bà l['’]eau\b",
        re.IGNORECASE,
    ),
}
ROLES = {
    Role.GLAZE: re.compile(r"\bglaz\w*", re.IGNORECASE),
    Role.HIGHLIGHT: re.compile(r"\bhighlights?\b", re.IGNORECASE),
    Role.BURNISHER: FINISHES[Finish.BURNISHED],
    Role.BASE: re.compile(r"\b(?:undercoat|base|first layer)\b", re.IGNORECASE),
    Role.DETAIL: re.compile(r"\b(?:fine (?:details?|lines?|point|hairs?)|hairlines?)\b", re.IGNORECASE),
}
# What may go on after how a colour is laid.
_SAID_OF_IT = frozenset("pressure druck pression presión druk of each it again".split())
# What stands before the first word of a sentence, and in how many characters.
_BEGINS, _BEFORE = re.compile(r"(?:^|[.!?])\s*[\"“„«‘(]?$"), 4
# After a range and a number: “the Heron 36 set”.
SETS = frozenset("set tin box pencils colours colors piece pieces count".split())
# What begins a clause beside colours: “119, it shouts”.
CLAUSES = frozenset("it this that they which".split())
_TIMES = re.compile(r"x\d{1,2}|\d{1,2}x")
# Nothing dries for more hours than have so many digits.
_DIGITS_COUNTED = 2
YEAR = re.compile(r"^(?:19|20)\d\d$")
CODE_LIKE = re.compile(r"^(?:[A-Za-z]{1,2}\d{1,4}|\d{3,4})$")


def counts_something(tokens: Sequence[re.Match[str]], i: int) -> bool:
    """Whether a number counts something: “10 minutes”."""
    unit = unit_in(tokens[i + 1].group()) if i + 1 < len(tokens) else ""
    return tokens[i].group().isdecimal() and counts_in(tokens[i].group(), unit)


def counts_in(number: str, unit: str) -> bool:
    """Whether a number counts what the word after it says; “124 h” is a code and how hard it is laid."""
    return unit in UNITS - set(PRESSURE_OF) and not (unit == "h" and len(number) > _DIGITS_COUNTED)


def unit_in(word: str) -> str:
    """A word as a unit would be written; nothing for a letter that says how hard."""
    return "" if word in PRESSURE_BY_LETTER else word.lower()


def without_label(words: str) -> str:
    """The words without those before a colon, unless these only say how: “light skin:” says nothing of the pressure."""
    label = LABEL.match(words.lstrip())
    if label is None or all(is_qualifier(word) for word in TOKEN.findall(label.group())):
        return words
    return words.lstrip()[label.end() :]


def begins_sentence(line: str, at: int) -> bool:
    """Whether a sentence begins at a place of a line."""
    return bool(_BEGINS.search(line[max(at - _BEFORE, 0) : at]))


def is_qualifier(word: str) -> bool:
    """A word that says how, not what."""
    low = word.lower()
    counts = low in _COUNTS or low in _TWICE or bool(_TIMES.fullmatch(low))
    return low in PRESSURE_OF or low in UNITS or counts or low in _SAID_OF_IT


def is_lead(word: str) -> bool:
    """A word that may stand before a colour in a list."""
    return is_qualifier(word) or fold(word) in LEADS or bool(_HOW.match(word))


def pressure_in(text: str) -> SaidPressure:
    """The pressure that the words give, or ""; “light to dark” is an order, “no hard edges” a look."""
    plain = re.sub(
        r"\blight (?:to|side|areas?|edge|tips?)\b|\b(?:hard|soft|firm) edges?\b",
        " ",
        what_is_done(text),
        flags=re.IGNORECASE,
    )
    pressures = (PRESSURE_OF.get(word.lower()) for word in re.findall(r"[^\W\d_]+", plain))
    letter = _LETTER.match(plain) or _LETTER_OF_PRESSURE.search(plain)
    by_letter: SaidPressure = PRESSURE_BY_LETTER[letter[letter.lastindex or 0].upper()] if letter else ""
    return next((pressure for pressure in pressures if pressure), by_letter)


def layers_in(text: str) -> int:
    """How many layers the words give; 1 where they say nothing."""
    counted = LAYERS.search(text)
    if not counted:
        return 1
    digits, word, times, multiple, twice = counted.groups()
    said = word or twice
    count = (_COUNTS | _TWICE)[said.lower()] if said else int(digits or times or multiple)
    return min(max(count, 1), MOST_LAYERS)
