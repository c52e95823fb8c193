"""What a colour difference is made of: lightness, chroma, hue and temperature, in numbers and words.

The thresholds stand in one table (`WORD_STEPS`). Value is Munsell value by ASTM D1535.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import ArrayLike

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import Scalar, as_lab

# The orange–blue axis of artists' warm and cool: hue angle 50° is warmest, 230° coolest (ours).
WARM_HUE_DEGREES = 50.0
_WARM = np.array([np.cos(np.radians(WARM_HUE_DEGREES)), np.sin(np.radians(WARM_HUE_DEGREES))])
# And the axis across it, from violet (320°) to green (140°): what warm and cool leave unsaid of a grey.
_GREEN = np.array([-_WARM[1], _WARM[0]])


class Band(StrEnum):
    """What the eye makes of a difference: a rule of thumb, common practice, no source."""

    UNSEEN = "not seen side by side"
    ABUTTING = "seen only edge to edge"
    CLOSE = "close"
    PLAIN = "plainly different"
    ANOTHER = "another colour"


# Upper limits in ΔE00 of the bands above (ours: a rule of thumb, said to be one).
_BAND_LIMITS = ((1.0, Band.UNSEEN), (2.0, Band.ABUTTING), (3.5, Band.CLOSE), (5.0, Band.PLAIN))

# When a component earns "a touch" of a word, the bare word, and "much": in units of that component.
# Ours: about one, two and a half and seven just noticeable steps of each.
WORD_STEPS: dict[str, tuple[float, float, float]] = {
    "lightness": (1.0, 3.0, 9.0),
    "chroma": (1.5, 4.5, 13.0),
    "hue": (1.5, 4.5, 13.0),
    "temperature": (1.5, 4.5, 13.0),
}

# Below this chroma a hue has no name of its own: a grey is warmer or cooler, or leans to green or to violet.
_GREY_CHROMA = 6.0

# Which way a hue goes when its angle rises or falls, by sector: (from °, to °, rising, falling).
# The four unitary hues of CIELAB lie near 24°, 90°, 163° and 246° (Hering's, as tabulated for CIECAM97s;
# from memory); violet is put near 310°.
_HUE_SECTORS = (
    (24.0, 90.0, "yellower", "redder"),
    (90.0, 163.0, "greener", "yellower"),
    (163.0, 246.0, "bluer", "greener"),
    (246.0, 310.0, "more violet", "bluer"),
    (310.0, 384.0, "redder", "more violet"),
)


@dataclass(frozen=True)
class Difference:
    """How an offered colour differs from a wanted one; offered minus wanted throughout.

    delta_e: CIEDE2000, 1:1:1. delta_L, delta_C: CIELAB differences. delta_H: metric hue difference, its
    sign that of the change of hue angle (ISO/CIE 11664-4). delta_value: Munsell value steps.
    delta_temperature: along the orange–blue axis, positive is warmer. words: plain words, the largest
    first; empty where nothing can be seen. band: what the eye makes of it.
    """

    delta_e: float
    delta_L: float
    delta_C: float
    delta_H: float
    delta_value: float
    delta_temperature: float
    words: tuple[str, ...]
    band: Band


def chroma(lab: ArrayLike) -> Scalar:
    """C*ab = √(a*² + b*²) of `lab` (…, 3)."""
    values = as_lab(lab)
    return np.asarray(np.hypot(values[..., 1], values[..., 2]))


def hue_angle(lab: ArrayLike) -> Scalar:
    """h_ab in degrees, from 0 to below 360, of `lab` (…, 3); 0 where there is no chroma."""
    values = as_lab(lab)
    turned = np.degrees(np.arctan2(values[..., 2], values[..., 1])) % 360.0
    # A turn by less than the last digit below 0° is rounded to 360 by the remainder.
    return np.asarray(np.where(turned >= 360.0, 0.0, turned))


def temperature(lab: ArrayLike) -> Scalar:
    """Signed projection of the chroma vector on the orange–blue axis; positive is warm (ours)."""
    result: Scalar = np.asarray(as_lab(lab)[..., 1:] @ _WARM)
    return result


def hue_difference(wanted: ArrayLike, offered: ArrayLike) -> Scalar:
    """ΔH*ab = 2 √(C₁C₂) sin(Δh/2), signed as the change of hue angle (ISO/CIE 11664-4; Sève 1991)."""
    a, b = as_lab(wanted, "wanted"), as_lab(offered, "offered")
    product = chroma(a) * chroma(b)
    scalar = (a[..., 1:] * b[..., 1:]).sum(axis=-1)
    vector = a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1]
    size = np.sqrt(np.maximum(2.0 * (product - scalar), 0.0))
    return np.asarray(np.where(vector < 0, -size, size))


def luminance_from_value(value: ArrayLike) -> Scalar:
    """Luminous reflectance Y (0 to 1) of a Munsell value 0 to 10, by the polynomial of ASTM D1535-08."""
    V = np.asarray(value, dtype=np.float64)
    percent = V * (1.1914 + V * (-0.22533 + V * (0.23352 + V * (-0.020484 + V * 0.00081939))))
    return np.asarray(percent / 100.0)


def value_from_luminance(Y: ArrayLike) -> Scalar:
    """Munsell value 0 to 10 of a luminous reflectance Y (0 to 1): ASTM D1535-08, inverted by Newton.

    Raises OutOfRangeError where Y lies outside 0 to 1 by more than rounding.
    """
    target = np.asarray(Y, dtype=np.float64)
    if bool(np.any((target < -1e-9) | (target > 1.0 + 1e-9))):
        raise OutOfRangeError("Luminous reflectance Y lies between 0 and 1.")
    target = np.clip(target, 0.0, 1.0)
    # L*/10 is never further than half a step off, so five steps reach 1e-12.
    V = np.clip(_lightness(target) / 10.0, 0.0, 10.0)
    for _ in range(6):
        slope = 1.1914 + V * (-0.45066 + V * (0.70056 + V * (-0.081936 + V * 0.00409695)))
        V = V - (luminance_from_value(V) - target) * 100.0 / slope
    return np.asarray(np.clip(V, 0.0, 10.0))


def value_step(lab: ArrayLike) -> Scalar:
    """Munsell value 0 to 10 of `lab` (…, 3), from its L* alone."""
    return value_from_luminance(_luminance(as_lab(lab)[..., 0]))


def band_of(delta_e: float) -> Band:
    """The band of the eye in which a CIEDE2000 difference falls."""
    return next((band for limit, band in _BAND_LIMITS if delta_e < limit), Band.ANOTHER)


def difference(wanted: ArrayLike, offered: ArrayLike) -> Difference:
    """Every component of the difference between two colours, each of shape (3,), D65, 2°.

    Raises ShapeError for other shapes.
    """
    a, b = as_lab(wanted, "wanted"), as_lab(offered, "offered")
    delta_e = float(delta_e_2000(a, b))
    delta_L = float(b[0] - a[0])
    delta_C = float(chroma(b) - chroma(a))
    delta_H = float(hue_difference(a, b))
    delta_temperature = float(temperature(b) - temperature(a))
    return Difference(
        delta_e=delta_e,
        delta_L=delta_L,
        delta_C=delta_C,
        delta_H=delta_H,
        delta_value=float(value_step(b) - value_step(a)),
        delta_temperature=delta_temperature,
        words=_words(a, b, delta_e, delta_L, delta_C, delta_H),
        band=band_of(delta_e),
    )


def _words(a: Scalar, b: Scalar, delta_e: float, dL: float, dC: float, dH: float) -> tuple[str, ...]:
    """The words of a difference, the most noticeable first; at least one where ΔE00 exceeds 2."""
    dT, greened = _spoken_turn(a, b)
    spoken = [
        ("lightness", dL, "lighter" if dL > 0 else "darker"),
        ("chroma", dC, "more vivid" if dC > 0 else "duller"),
    ]
    grey = min(float(chroma(a)), float(chroma(b))) < _GREY_CHROMA
    if grey and abs(greened) > abs(dT):
        spoken.append(("hue", greened, "greener" if greened > 0 else "more violet"))
    else:
        spoken.append(("temperature", dT, "warmer" if dT > 0 else "cooler"))
    if not grey:
        spoken.append(("hue", dH, _hue_word(a, b, dH)))
    ranked = sorted(spoken, key=lambda item: -abs(item[1]) / WORD_STEPS[item[0]][0])
    words = [_with_degree(kind, amount, word) for kind, amount, word in ranked]
    said = tuple(word for word in words if word)
    if not said and delta_e > 2.0:
        return (f"a touch {ranked[0][2]}",)
    return said


def _spoken_turn(a: Scalar, b: Scalar) -> tuple[float, float]:
    """The parts of the difference toward warm, and toward green, that no other word says.

    A more vivid red projects farther on the orange axis, but nobody calls it warmer than the duller one: of
    two colours with a hue only the turn of the hue counts, at their mean chroma. And what loses its hue altogether
    is duller, not turned to the opposite one.
    """
    first, second = float(chroma(a)), float(chroma(b))
    if min(first, second) >= _GREY_CHROMA:
        warmed = float(temperature(b)) / second - float(temperature(a)) / first
        return 0.5 * (first + second) * warmed, 0.0
    moved = (b - a)[1:]
    if first >= _GREY_CHROMA > second:
        own = a[1:] / first
        moved = moved - (moved @ own) * own
    return float(moved @ _WARM), float(moved @ _GREEN)


def _hue_word(a: Scalar, b: Scalar, dH: float) -> str:
    """Redder, yellower, greener, bluer or more violet: by the sector midway and the way round."""
    middle = float(hue_angle(a / max(float(chroma(a)), 1e-9) + b / max(float(chroma(b)), 1e-9)))
    turned = middle if middle >= _HUE_SECTORS[0][0] else middle + 360.0
    rising, falling = next((up, down) for low, high, up, down in _HUE_SECTORS if low <= turned < high)
    return rising if dH > 0 else falling


def _with_degree(kind: str, amount: float, word: str) -> str:
    """The word with "a touch", nothing or "much" before it; empty below the first step."""
    touch, bare, much = WORD_STEPS[kind]
    size = abs(amount)
    if size < touch:
        return ""
    if size < bare:
        return f"a touch {word}"
    return f"much {word}" if size >= much else word


# CIE 15: the two branches of L* meet at (6/29)³; 24389/27 is the slope of the lower one.
_LINEAR_BELOW = (6.0 / 29.0) ** 3
_LINEAR_SLOPE = 24389.0 / 27.0


def _lightness(Y: Scalar) -> Scalar:
    """L* of a luminous reflectance Y (CIE 15)."""
    return np.asarray(np.where(Y > _LINEAR_BELOW, 116.0 * np.cbrt(Y) - 16.0, _LINEAR_SLOPE * Y))


def _luminance(L: Scalar) -> Scalar:
    """Y of an L* (CIE 15), the inverse of `_lightness`."""
    return np.asarray(np.where(L > 8.0, ((L + 16.0) / 116.0) ** 3, L / _LINEAR_SLOPE))
