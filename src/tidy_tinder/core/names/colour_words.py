"""Colour words such as “dull green” or “pale warm grey”, as regions of value, chroma and hue.

The regions are ours: a rule of thumb about ordinary English colour words, laid between the unitary hues of CIELAB
(24°, 90°, 163° and 246°; Hering's, from memory). They find what may be meant; they name nothing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import TypeAlias

from tidy_tinder.core.names.finding import fold

Span: TypeAlias = tuple[float, float]

_ANY: Span = (0.0, 1000.0)
# A grey has less chroma than this; a grey that leans to a hue has up to the second.
_GREY_BELOW, _GREYED_BELOW, _GREYED_FROM = 10.0, 25.0, 4.0
# Darker than this a grey is called black.
_BLACK_TO = 1.6
# From here on a grey is called warm, up to here cool: along the orange–blue axis.
_LEANS = 1.0


@dataclass(frozen=True)
class Look:
    """How a colour must look: spans of Munsell value and chroma, a hue angle within so many degrees, warm or cool.

    hue: None where any will do; leans: 1 for warm, -1 for cool, 0 for either. words: as they were understood.
    """

    words: tuple[str, ...]
    value: Span = (0.0, 10.0)
    chroma: Span = _ANY
    hue: float | None = None
    within: float = 180.0
    leans: int = 0

    def apart(self, value: float, chroma: float, hue: float, temperature: float) -> float | None:
        """How far a colour lies from the middle of what is meant, 0 in the middle; None where it lies outside.

        value: Munsell; hue: degrees; temperature: as `components.temperature` has it.
        """
        turned = 0.0 if self.hue is None else abs((hue - self.hue + 180.0) % 360.0 - 180.0)
        inside = self.value[0] <= value <= self.value[1] and self.chroma[0] <= chroma <= self.chroma[1]
        if not inside or turned > self.within or (self.leans and temperature * self.leans < _LEANS):
            return None
        return turned / self.within + _from_middle(value, self.value) + _from_middle(chroma, self.chroma)


def _from_middle(figure: float, span: Span) -> float:
    """Share of a span by which a figure lies off its middle; nothing for a span without an end."""
    low, high = span
    return 0.0 if high >= _ANY[1] else abs(figure - 0.5 * (low + high)) / max(high - low, 1.0)


@dataclass(frozen=True)
class _Hue:
    """A hue word: centre and half width in degrees, and what else it asks for."""

    centre: float
    within: float
    value: Span = (0.0, 10.0)
    chroma: Span = field(default=(_GREY_BELOW, 1000.0))


_HUES = {
    "pink": _Hue(0.0, 32.0, (5.5, 10.0)),
    "red": _Hue(26.0, 20.0),
    "orange": _Hue(57.0, 16.0, (4.5, 10.0), (30.0, 1000.0)),
    "brown": _Hue(60.0, 28.0, (1.5, 5.5), (8.0, 48.0)),
    "ochre": _Hue(75.0, 16.0, (4.5, 7.5), (25.0, 75.0)),
    "yellow": _Hue(92.0, 16.0, (6.0, 10.0), (20.0, 1000.0)),
    "cream": _Hue(88.0, 25.0, (8.3, 10.0), (5.0, 32.0)),
    "olive": _Hue(105.0, 18.0, (2.5, 6.5), (10.0, 55.0)),
    "green": _Hue(148.0, 42.0),
    "turquoise": _Hue(205.0, 24.0),
    "blue": _Hue(262.0, 38.0),
    "violet": _Hue(312.0, 24.0),
    "magenta": _Hue(345.0, 18.0),
}
_SAME = {"purple": "violet", "teal": "turquoise", "gray": "grey", "rose": "pink", "ivory": "cream", "light": "pale",
         "deep": "dark", "muted": "dull", "soft": "dull", "bright": "vivid", "strong": "vivid", "clear": "vivid",
         "medium": "mid", "middle": "mid", "greyish": "grey", "grayish": "grey", "reddish": "red", "bluish": "blue",
         "greenish": "green", "yellowish": "yellow", "pinkish": "pink", "brownish": "brown", "purplish": "violet",
         "orangey": "orange"}  # fmt: skip
_VALUES: dict[str, Span] = {"pale": (7.0, 10.0), "mid": (4.0, 7.0), "dark": (0.0, 4.5)}
_CHROMAS: dict[str, Span] = {"dull": (_GREYED_FROM, 30.0), "vivid": (45.0, 1000.0)}
_LEAN = {"warm": 1, "cool": -1, "cold": -1}
_NEUTRALS = {
    "grey": Look((), (2.5, 9.0), (0.0, _GREY_BELOW)),
    "white": Look((), (8.8, 10.0), (0.0, _GREY_BELOW)),
    "black": Look((), (0.0, 2.6), (0.0, _GREY_BELOW)),
}


def read_colour_words(text: str) -> Look | None:
    """The look that a text asks for, None unless each of its words is a colour word; two hues are one between them."""
    words = [_SAME.get(word, word) for word in fold(text).split()]
    hues = list(dict.fromkeys(word for word in words if word in _HUES))
    neutrals = [word for word in words if word in _NEUTRALS]
    known = {*_HUES, *_NEUTRALS, *_VALUES, *_CHROMAS, *_LEAN}
    if not words or any(word not in known for word in words) or len(hues) > 2 or len(set(neutrals)) > 1:
        return None
    look = _hued(hues, bool(neutrals)) if hues else _NEUTRALS[neutrals[0]] if neutrals else Look(())
    for word in words:
        look = replace(
            look,
            value=_within(look.value, _VALUES[word]) if word in _VALUES else look.value,
            chroma=_within(look.chroma, _CHROMAS[word]) if word in _CHROMAS else look.chroma,
            leans=_LEAN.get(word, look.leans),
        )
    return replace(look, words=tuple(dict.fromkeys(words)))


def _hued(hues: Sequence[str], greyed: bool) -> Look:
    """One hue, or what lies between two; beside grey, white or black it is a grey that leans to it."""
    first, last = _HUES[hues[0]], _HUES[hues[-1]]
    turn = (last.centre - first.centre + 180.0) % 360.0 - 180.0
    value = first.value if len(hues) == 1 else (0.0, 10.0)
    chroma = (_GREYED_FROM, _GREYED_BELOW) if greyed else first.chroma if len(hues) == 1 else (_GREY_BELOW, _ANY[1])
    within = first.within if len(hues) == 1 else 0.5 * abs(turn) + 0.25 * min(first.within, last.within)
    return Look((), value, chroma, (first.centre + 0.5 * turn) % 360.0, min(within, 60.0))


def _within(span: Span, asked: Span) -> Span:
    """What is in both spans; what was asked for where they have nothing in common: a “vivid brown” is still vivid."""
    low, high = max(span[0], asked[0]), min(span[1], asked[1])
    return (low, high) if low < high else asked


def colour_noun(value: float, chroma: float, hue: float) -> str:
    """The plain word whose region a colour lies deepest in: “ochre”, “grey”; value: Munsell, hue: degrees."""
    if chroma < _GREY_BELOW:
        return "white" if value >= _NEUTRALS["white"].value[0] else "black" if value <= _BLACK_TO else "grey"
    inside = {
        word: off for word in _HUES if (off := _hued([word], greyed=False).apart(value, chroma, hue, 0.0)) is not None
    }
    if inside:
        return min(inside, key=lambda word: inside[word])
    # Between the regions: the nearest hue, whatever its value and chroma.
    return min(_HUES, key=lambda word: abs((hue - _HUES[word].centre + 180.0) % 360.0 - 180.0))
