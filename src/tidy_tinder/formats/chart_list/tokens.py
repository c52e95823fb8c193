"""A line of a list taken apart: words, what may be codes, marks, and what parts them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum

from tidy_tinder.formats.chart_list.marks import MARKS


class Kind(StrEnum):
    """What a piece of a line is. CODE: what may be a code; whether it is one, the whole list decides."""

    WORD = "word"
    CODE = "code"
    MARK = "mark"
    CELL = "cell"  # between cells: a tab, a bar, a semicolon
    PART = "part"  # between parts: a comma, a colon, a dash, brackets, several spaces


@dataclass(frozen=True)
class Token:
    """One piece; mark names its kind among MARKS."""

    kind: Kind
    text: str
    mark: str = ""


_UNITS = r"mm|cm|ml|pcs?|pieces?|pencils?|colou?rs?|sets?|stück|farben|%"
# “No. 101”, “Nr 101”, “№101”, “#101”, “Art. 101”: what only announces a code.
_BEFORE_A_CODE = r"no|nr|num|number|nummer|numéro|art|article|artikel|ref|item|sku|code|col"
_ANNOUNCED = rf"(?:(?i:\b(?:{_BEFORE_A_CODE})\b)\s?[.:°º#]{{0,2}}|n[°º]|№|#)\s?(?=[A-Za-z]{{0,4}}[- ]?\d)"
_CODE = (
    r"(?:(?:[A-Za-z]{1,4}-?|[A-Z]{1,2} )?\d{1,6}(?:[-./]\d{1,4})?[A-Za-z]?)"
    rf"(?![\w%])(?!\s?(?i:{_UNITS})(?!\w))"
)
_TOKEN = re.compile(
    "|".join(
        (
            r"(?P<cell>\s*[\t|;]\s*)",
            *(f"(?P<{name}>{pattern})" for name, pattern in MARKS),
            rf"(?P<announced>{_ANNOUNCED})",
            rf"(?P<code>(?<![\w%]){_CODE})",
            r"(?P<part>\s*[,()\[\]{}“”\"«»]\s*|:(?=\s|$)|\s+[-–—•·]+(?=\s)|\.(?=\s|$)|\s{2,})",
            r"(?P<word>[^\s,;|()\[\]{}“”\"«»\t:.★☆✩⭐✶]+(?:[.:](?=\S)[^\s,;|()\[\]{}“”\"«»\t:.]*)*\*?(?<!\*)|.)",
        )
    )
)
_SPACE = re.compile(r"\s")
_HIDDEN = re.compile("[\u200b-\u200f\u2060\ufeff]")


def tokens_of(line: str) -> tuple[Token, ...]:
    """The pieces of a line in order."""
    found: list[Token] = []
    text = _HIDDEN.sub("", line.replace("\u00a0", " ")).strip(" ")
    for match in _TOKEN.finditer(text):
        name, piece = str(match.lastgroup), match.group().strip()
        if name == "announced" or (name == "word" and (not piece or _SPACE.fullmatch(match.group()))):
            continue
        if name == "word" and not piece.strip("-–—•·"):
            found.append(Token(Kind.PART, piece))
        elif name in ("cell", "part", "word", "code"):
            found.append(Token(Kind(name), piece))
        else:
            found.append(Token(Kind.MARK, piece, name))
    return tuple(found)
