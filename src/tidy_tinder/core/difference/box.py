"""A box round a colour that holds every colour within some CIEDE2000 of it: so that a search need not look at all.

Derived from the formula (Luo, Cui, Rigg 2001; Sharma, Wu, Dalal 2005). A difference is at least that of lightness
alone; and the quadratic form of chroma and hue, whose rotation couples them by R_T, is at least 1 − |R_T|/2 times the
squared step in a', b' over the larger weighting. Weightings and rotation are bounded over all colours in the box.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.quantities import Lab

_POW25_7 = 25.0**7
# S_H is at most 1 + .015 · C' · T with T ≤ 1 + .17 + .24 + .32 + .20.
_SLOPE_C, _SLOPE_H = 0.045, 0.015 * 1.93
# The box is narrowed as often: each time the rotation is bounded over the box as it is.
_ROUNDS = 4


@dataclass(frozen=True)
class Box:
    """Every colour within the bound has an L* within `lightness` of the centre's, and an a*, b* within `chroma` of
    the centre's, as a distance; infinite where nothing can be said.
    """

    lightness: float
    chroma: float


def box_round(centre: Lab, bound: float, closest: Closest = Closest.OVERALL) -> Box:
    """The box that holds all colours of L* 0 to 100 whose weighted difference from `centre` (3,) is within `bound`."""
    kL, kC, kH = closest.factors
    L, a, b = (float(v) for v in centre)
    off = max(abs((L + end) / 2.0 - 50.0) for end in (0.0, 100.0))
    lightness = bound * kL * (1.0 + 0.015 * off * off / np.sqrt(20.0 + off * off))
    most = float(np.hypot(1.5 * a, b))
    step = np.inf
    for _ in range(_ROUNDS):
        held = bound / np.sqrt(1.0 - _rotation(a, b, step) / 2.0)
        step = min(step, max(_reach(held * kC, _SLOPE_C, most), _reach(held * kH, _SLOPE_H, most)))
    return Box(float(lightness), float(step))


def _reach(scaled: float, slope: float, most: float) -> float:
    """The largest d with d ≤ scaled · (1 + slope · (most + d/2)), the mean chroma being at most most + d/2."""
    left = 1.0 - scaled * slope / 2.0
    return scaled * (1.0 + slope * most) / left if left > 0.0 else np.inf


def _rotation(a: float, b: float, step: float) -> float:
    """The largest |R_T| between the centre and any colour whose a', b' lie within `step` of its own."""
    mean = float(np.hypot(1.5 * a, b)) + step / 2.0
    strength = 2.0 if not np.isfinite(mean) else 2.0 * float(np.sqrt(mean**7 / (mean**7 + _POW25_7)))
    return strength * float(np.sin(np.radians(60.0 * np.exp(-((_from_blue(a, b, step) / 25.0) ** 2)))))


def _from_blue(a: float, b: float, step: float) -> float:
    """How near the mean hue of such a pair can come to 275°, in degrees; 0 where any hue can be."""
    least = float(np.hypot(a, b))
    if step >= least:
        return 0.0
    # The stretch of a* by 1 to 1.5 turns the centre's own hue; the mean hue turns by half as far as the other's.
    hues = np.degrees(np.arctan2(b, [a, 1.5 * a]))
    half = float(np.degrees(np.arcsin(step / least))) / 2.0
    away = [abs((float(h) - 275.0 + 180.0) % 360.0 - 180.0) for h in hues]
    between = abs(float(hues[0] - hues[1]))
    return max(0.0, min(away) - half - between)
