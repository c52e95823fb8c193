"""What lists write beside a name: stars and classes of lightfastness, signs of cover, effects, prices, counts."""

from __future__ import annotations

import re
from collections.abc import Callable
from enum import StrEnum

from tidy_tinder.core.names.finding import fold
from tidy_tinder.core.vocabulary import Effect, Opacity


class Says(StrEnum):
    """What a mark says something of."""

    LIGHTFASTNESS = "lightfastness"
    OPACITY = "opacity"
    EFFECT = "effect"
    HEX = "hex"
    COUNT = "count"
    NOTHING = "nothing"


_CLASS = r"(?:I{1,3}|IV|VI{0,3}|V|[1-8](?:\s?[-/–]\s?[1-8])?|[*★+]{1,5}|excellent|very good|good|fair|poor)"
# In order: what comes first is tried first.
MARKS = (
    ("hex", r"#[0-9A-Fa-f]{6}(?![0-9A-Za-z])"),
    ("price", r"[£€$]\s?\d{1,4}(?:[.,]\d{2})?(?!\d)|(?<![\w.,])\d{1,4}[.,]\d{2}\s?(?:[£€$]|(?:EUR|GBP|USD|CHF)\b)"),
    ("rated", rf"(?i:\b(?:LF|L/F|ASTM|lightfast(?:ness)?|lichtechtheit|BWS?|blue wool))\s?[:=.]?\s?{_CLASS}(?!\w)"),
    ("rated_after", r"(?i:\b(?:excellent|very good|good|fair|poor) lightfastness\b)"),
    ("stars", r"[*★☆✩⭐✶]{1,6}(?!\w)|(?<!\S)\+{1,5}(?!\S)"),
    ("cover", "[□○◻◯⬜■●◼⬛◪◩◨◧◐◑◒◓◫]"),
    ("count", r"(?<![\w.])(?:[xX×]\s?[2-9]|[2-9]\s?[xX×])(?!\w)"),
)  # fmt: skip
_LABEL = re.compile(r"(?i)^(?:LF|L/F|ASTM|lightfast(?:ness)?|lichtechtheit)\s?[:=.]?\s?")
_WOOL = re.compile(r"(?i)^(?:BWS?|blue wool)\s?[:=.]?\s?")
_COVER = {
    **dict.fromkeys("□○◻◯⬜", Opacity.TRANSPARENT),
    **dict.fromkeys("◪◩◨◧◐◑◒◓◫", Opacity.SEMI),
    **dict.fromkeys("■●◼⬛", Opacity.OPAQUE),
}
_OPACITY_WORDS = {
    **dict.fromkeys(("transparent", "t", "tr", "lasierend"), Opacity.TRANSPARENT),
    **dict.fromkeys(
        ("semi", "semi transparent", "semitransparent", "semi opaque", "semiopaque", "translucent", "st", "so",
         "halbdeckend", "halbtransparent"),
        Opacity.SEMI,
    ),
    **dict.fromkeys(("opaque", "o", "op", "deckend"), Opacity.OPAQUE),
}  # fmt: skip
_EFFECT_WORDS = {
    **dict.fromkeys(("metallic", "metal"), Effect.METALLIC),
    **dict.fromkeys(("neon", "fluorescent", "fluo"), Effect.NEON),
    **dict.fromkeys(("pearl", "pearlescent", "iridescent"), Effect.PEARL),
}
# Inside a name only words that never name an ordinary colour: “Pearl Grey” is one.
_EFFECT_IN_NAME = re.compile(r"\b(metallic|neon|fluorescent|pearlescent|iridescent)\b")
_ROMAN = frozenset({"I", "II", "III", "IV", "V"})
_RATINGS = frozenset({"excellent", "very good", "good", "fair", "poor"})
_WOOL_CLASS = re.compile(r"[1-8](?:\s?[-/–]\s?[1-8])?")


def mark_of(kind: str, text: str) -> tuple[Says, str]:
    """What a mark of this kind (a name in MARKS) says, and its value."""
    what, read = _READ[kind]
    return what, read(text)


def _rated(text: str) -> str:
    return _WOOL.sub("blue wool ", _LABEL.sub("", text))


def _stars(text: str) -> str:
    """The filled ones of filled and hollow stars."""
    return re.sub("[★⭐✶]", "*", re.sub("[☆✩]", "", text) or text)


_READ: dict[str, tuple[Says, Callable[[str], str]]] = {
    "hex": (Says.HEX, str.lower),
    "price": (Says.NOTHING, str),
    "rated": (Says.LIGHTFASTNESS, _rated),
    "rated_after": (Says.LIGHTFASTNESS, lambda text: text.rsplit(" ", 1)[0].lower()),
    "stars": (Says.LIGHTFASTNESS, _stars),
    "cover": (Says.OPACITY, lambda text: _COVER[text]),
    "count": (Says.COUNT, lambda text: re.sub(r"\D", "", text)),
}


def said_alone(words: str) -> tuple[Says, str] | None:
    """What words say that stand in a cell, a bracket or behind a comma by themselves; None where they say nothing."""
    plain = fold(words)
    if words in _ROMAN or plain in _RATINGS:
        return Says.LIGHTFASTNESS, words if words in _ROMAN else plain
    if plain in _OPACITY_WORDS:
        return Says.OPACITY, _OPACITY_WORDS[plain]
    if plain in _EFFECT_WORDS:
        return Says.EFFECT, _EFFECT_WORDS[plain]
    return None


def said_last(word: str) -> tuple[Says, str] | None:
    """What the last word of a name says where most names of the list end so; None where it can say nothing."""
    if _WOOL_CLASS.fullmatch(word):
        return Says.LIGHTFASTNESS, word
    return said_alone(word)


def effect_in(name: str) -> str:
    """The effect that a name speaks of; "" for none."""
    found = _EFFECT_IN_NAME.search(fold(name))
    return _EFFECT_WORDS[found.group(1)] if found else ""
