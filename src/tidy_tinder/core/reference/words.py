"""What the eye gets wrong of a colour among others, in words: its value, its temperature, what its surround does to it.

That a colour looks lighter in the dark, and cooler among warm ones, is simultaneous contrast (Chevreul 1839); the
limits from which it is said are ours.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.components import Difference, chroma, difference, hue_angle, temperature, value_step
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.names.colour_words import colour_noun
from tidy_tinder.core.quantities import Lab, as_lab

# Munsell values from which a colour is very light, light, middle, dark; below: very dark.
_LIGHTNESS = ((8.5, "very light"), (6.8, "light"), (4.5, "middle"), (2.5, "dark"), (0.0, "very dark"))
# Chroma below which a hue is dull, and from which it is vivid.
_DULL, _VIVID, _GREY = 22.0, 55.0, 10.0
_LEANS = 1.0
# A grey up to this value is taken for white among darker ones; down to that one for black among lighter ones.
_WHITE_FROM, _WHITE_TO, _BLACK_FROM, _BLACK_TO = 7.0, 9.3, 1.6, 4.0
# From here on a surround changes what is seen: L*, and temperature.
_SURROUND_L, _SURROUND_T = 15.0, 8.0


@dataclass(frozen=True)
class PickWords:
    """value: Munsell, 0 to 10; name: “a light warm grey”; beware: what the eye gets wrong, in sentences; nearest: the
    index of the pick that it parts from least and how, None where it is the only one.
    """

    value: float
    name: str
    beware: tuple[str, ...]
    nearest: tuple[int, Difference] | None


def words_of(lab: Lab, surround: Lab | None, others: Lab) -> PickWords:
    """What is to be known of one colour (3,): what lies around it (3,) in the picture, and the other picks (n, 3).

    Raises ShapeError for other shapes.
    """
    colour, rest = as_lab(lab), as_lab(others).reshape(-1, 3)
    if colour.shape != (3,):
        raise ShapeError(f"One colour is (3,), not {colour.shape}.")
    value = float(value_step(colour))
    beware = (*_value_words(value, float(chroma(colour))), *_surround_words(colour, surround))
    return PickWords(value, name_of(colour), beware, _nearest(colour, rest))


def name_of(lab: Lab) -> str:
    """A colour in plain words, such as “a dark dull green”; it names nothing that is sold."""
    value, C, hue = float(value_step(lab)), float(chroma(lab)), float(hue_angle(lab))
    noun = colour_noun(value, C, hue)
    light = next(word for least, word in _LIGHTNESS if value >= least)
    if C < _GREY:
        lean = float(temperature(lab))
        leaning = "warm " if lean >= _LEANS else "cool " if lean <= -_LEANS else ""
        return _with_article(f"{leaning}{noun}" if noun in ("white", "black") else f"{light} {leaning}{noun}")
    strength = "dull " if C < _DULL else "vivid " if C >= _VIVID else ""
    return _with_article(f"{light} {strength}{noun}")


def _with_article(words: str) -> str:
    return f"{'an' if words[0] in 'aeiou' else 'a'} {words}"


def _value_words(value: float, C: float) -> tuple[str, ...]:
    if C < _DULL and _WHITE_FROM <= value < _WHITE_TO:
        return (f"Value {value:.0f}: not white.",)
    if C < _DULL and _BLACK_FROM <= value < _BLACK_TO:
        return (f"Value {value:.0f}: not black.",)
    return ()


def _surround_words(colour: Lab, surround: Lab | None) -> tuple[str, ...]:
    if surround is None:
        return ()
    said = []
    lighter = float(surround[0] - colour[0])
    if abs(lighter) >= _SURROUND_L:
        said.append("Looks darker than it is: it stands in light." if lighter > 0 else
                    "Looks lighter than it is: it stands in the dark.")  # fmt: skip
    warmer = float(temperature(surround) - temperature(colour))
    if abs(warmer) >= _SURROUND_T:
        said.append("Looks cooler than it is among warmer colours." if warmer > 0 else
                    "Looks warmer than it is among cooler colours.")  # fmt: skip
    return tuple(said)


def _nearest(colour: Lab, rest: Lab) -> tuple[int, Difference] | None:
    if not len(rest):
        return None
    apart = [difference(colour, other) for other in rest]
    at = int(np.argmin([d.delta_e for d in apart]))
    return at, apart[at]
