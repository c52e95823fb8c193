"""Figures and words of a line that are no codes, counts that are glued to codes, and lists of names with their codes.

What is found is masked: a sign that is part of no word takes its place, and everything else stays where it stood.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

from tidy_tinder.core.names.finding import Catalogue
from tidy_tinder.core.vocabulary import MOST_LAYERS
from tidy_tinder.formats.recipe_words import CODE, TOKEN, counts_something

_UNIT = (
    "mm|cm|m|inch|inches|gsm|g/m²|g|kg|ml|h|hrs?|hours?|min|mins|minutes?|secs?|seconds|days?|weeks?|months?|years?|"
    "grit|dpi|ppi|strokes?|times|kelvin|k|sheets?|pencils?|colou?rs?|euros?|pounds?|dollars?|eur|gbp|usd|stunden?|minuten?|tage?|heures?|jours?|horas?|"
    "minutos?|días?|uur|dagen|bl(?:a|ä)tter|feuilles?|hojas?|vellen"
)
_FIGURE = r"\d+(?:[.,]\d+)?"
# Shares of two that are laid: “50/50”.
_SHARES = "|".join(rf"\b{of}/{100 - of}\b" for of in range(5, 100, 5))
# Parts of the work that are counted: “FUR LAYER 1 — …”, “layer 1 Oat”. Two figures are a code where no label ends with
# them: “then layer 14 over 12”.
_COUNTED = (
    r"\b(?:layers?|coats?|pass|passes|stages?|parts?|rounds?|schichten?|durchgang|couches?|passage|capas?|laag)\s"
    r"(?:\d(?=\s?[-–—:.)=]|$|\s[^\W\d])|\d\d(?=\s?[-–—:=]\s?(?-i:[A-ZÀ-ÖØ-Þ])))"
)
# To whom and by whom a letter is: “Hi Maud, …”, “… Love, Ines”.
_GREETING = (
    r"^(?:hi|hello|hey|dear|hallo|liebe[rs]?|cher|chère|bonjour|hola|querid[oa]|beste|lieve)\s"
    r"[^\W\d_]+(?:\s[^\W\d_]+){0,2}(?=[,!])"
)
_FAREWELL = (
    r"(?:^|(?<=[.!?]\s))(?:with )?(?:(?:all my |much |lots of )?love|cheers|(?:kind |best |warm )?regards|best wishes|"
    r"yours|thanks|thank you|(?:viele |liebe )?(?:grüße|gruß|grüsse|gruss)|bisous|amicalement|saludos|besos|"
    r"groetjes|groeten)(?:,|\s[-–—])\s[^\W\d_]+(?:\s[^\W\d_]+)?\s?[.!]?$"
)
NO_CODES = re.compile(
    "|".join(
        (
            r"(?:https?://|www\.)\S+",
            r"\b\d{4}-\d{2}-\d{2}\b|\b\d{1,2}\.\d{1,2}\.(?:\d{4}|\d{2})\b|\b\d{1,2}/\d{1,2}/(?:19|20)\d{2}\b",
            r"\b\d{1,4}:\d{1,4}\b",  # a time of day, or a ratio
            _SHARES,
            _COUNTED,
            _GREETING,
            _FAREWELL,
            rf"[£$€]\s?{_FIGURE}|\b{_FIGURE}\s?[£$€]",
            r"\b(?:pp?\.|pages?|seiten?|página|pagina|blz\.?)\s?\d+(?:\s?[-–]\s?\d+)?",
            rf"\b{_FIGURE}(?:\s?[x×]\s?{_FIGURE})?\s?(?:{_UNIT})\b",
            r"\b(?:steps?|schritte?|étapes?|pasos?|stap(?:pen)?)\s?\d+(?:\s?(?:-|–|to|and|und)\s?\d+)?",
            r"\b\d{1,2},\d\b",  # a decimal comma
            r"\b\d{1,2} (?:of each|each|of them)\b",
            r"\bover (?:the )?top\b|\bover (?:it|them)(?: all)?\b",  # over what was said before
        )
    ),
    re.IGNORECASE,
)
# A size of paper, where no list of codes goes on beside it.
_PAPER_SIZE = re.compile(r"(?<![\w=/])(?<!\d[,+] )(?<!\d )A[3-6](?![\w/]|\s?[=+→]|,? A\d)")
# “heart ... Cordial”: dots that lead from a label to its colours; a colon stands in for them.
_LEADERS = re.compile(r"(?<=[\w)])\s?(?:\.{2,}|…)\s(?=\w)")
# What stands before a number and says that it is one: “no. 119”, “#119”.
_NUMBER_SIGN = re.compile(
    r"(?:\b(?:no|nos|nr|num|nummer|número|numéro)\b\.?|n[°º]|№|#)\s?(?=[A-Za-z]{0,2}\d)", re.IGNORECASE
)
# What stands between a name and its grade: “Lantern at 50 %”.
_AT_GRADE = re.compile(r"(?:\b(?:at|bei|à|al|op)\s|@\s?)(?=\d{1,3}\s?%)", re.IGNORECASE)
_TIMES = r"\s?[x×*]\s?"
_CODE_TIMES = re.compile(rf"(?<![\w.])(?P<code>{CODE}){_TIMES}(?P<count>\d{{1,2}})(?!\w)", re.IGNORECASE)
_TIMES_CODE = re.compile(rf"(?<![\w.])(?P<count>\d{{1,2}}){_TIMES}(?P<code>{CODE})(?!\w)", re.IGNORECASE)
# No line of a recipe is 122 m long; “for 120 h” is a time.
_LASTS = re.compile(r"\b(?:for|after|about|during|für|nach|pendant|après|durante|después de|voor|na)\s$", re.IGNORECASE)
_BACK = 16
_TWO = re.compile(r"(\d{1,2})/(\d{1,2})")
_CODE_AND_LETTER = re.compile(r"(?:\d{1,2}\s?[x×]\s?)?(?P<code>\d{3,4})\s[LMHmh]")
# Neither a blank, which would belong to the separator beside it, nor a letter.
_MASK = "\x00"
_NAMES_AND_CODES = re.compile(r"(?P<names>[^()/]+(?:/[^()/]+)+)\((?P<codes>[^()]+)\)")


@dataclass(frozen=True)
class Masked:
    """A line with its figures masked. counts: by where a code begins, how many layers are written to it."""

    line: str
    counts: dict[int, int]


def mask_figures(line: str, catalogue: Catalogue) -> Masked:
    """Mask what is no code in a line, keeping the place of everything else."""
    chars = list(line)
    counts: dict[int, int] = {}
    for found in NO_CODES.finditer(line):
        if not _are_codes(line, found, catalogue):
            _blank(chars, *found.span())
    for found in _LEADERS.finditer(line):
        chars[found.start() : found.end()] = ": ".rjust(len(found.group()))
    for found in _PAPER_SIZE.finditer(line):
        if not catalogue.has_code(found.group()):
            _blank(chars, *found.span())
    for sign in (_NUMBER_SIGN, _AT_GRADE):
        for found in sign.finditer("".join(chars)):
            _blank(chars, *found.span())
    for pattern in (_CODE_TIMES, _TIMES_CODE):
        for found in pattern.finditer("".join(chars)):
            if catalogue.has_code(found["code"]):
                counts[found.start("code")] = min(max(int(found["count"]), 1), MOST_LAYERS)
                _blank(chars, found.start(), found.start("code"))
                _blank(chars, found.end("code"), found.end())
    for start, end in _codes_of_names("".join(chars), catalogue):
        _blank(chars, start, end)
    return Masked("".join(chars), counts)


def _are_codes(line: str, found: re.Match[str], catalogue: Catalogue) -> bool:
    """Whether figures that mostly are none are codes here: “119 H” and “119 h”, with how hard; “35/65” of a chart that
    has both.
    """
    pressed, two = _CODE_AND_LETTER.fullmatch(found.group()), _TWO.fullmatch(found.group())
    lasts = _LASTS.search(line[max(found.start() - _BACK, 0) : found.start()])
    if pressed and not lasts:
        return catalogue.has_code(pressed["code"])
    return two is not None and all(map(catalogue.has_code, two.groups()))


def figures_left(text: str, taken: AbstractSet[int]) -> Iterator[re.Match[str]]:
    """The words of a line that no call has taken, and that neither count anything nor are figures of something else."""
    figures = {i for found in NO_CODES.finditer(text) for i in range(*found.span())}
    tokens = list(TOKEN.finditer(text))
    for at, token in enumerate(tokens):
        if token.start() not in taken and token.start() not in figures and not counts_something(tokens, at):
            yield token


def _codes_of_names(line: str, catalogue: Catalogue) -> Iterator[tuple[int, int]]:
    """Brackets that hold the codes of the names before them, one for each: “A/B/C (159/160/161)”."""
    for found in _NAMES_AND_CODES.finditer(line) if "(" in line else ():
        names, codes = found["names"].split("/"), re.split(r"\s*[/,]\s*", found["codes"].strip())
        # Before the first name may stand other words.
        first = names[0].split()
        starts = [" ".join(first[at:]) for at in range(len(first))]
        if len(names) != len(codes):
            continue
        if any(_belong(name, codes[0], catalogue) for name in starts) and all(
            _belong(name.strip(), code, catalogue) for name, code in zip(names[1:], codes[1:], strict=True)
        ):
            yield found.start("codes") - 1, found.end()


def _belong(name: str, code: str, catalogue: Catalogue) -> bool:
    return bool(catalogue.resolve(f"{code} {name}").hits)


def _blank(chars: list[str], start: int, end: int) -> None:
    chars[start:end] = _MASK * (end - start)
