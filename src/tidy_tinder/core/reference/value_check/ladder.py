"""How much of a picture and of its drawing lies at each step of value: two ladders beside each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.components import value_step
from tidy_tinder.core.reference.value_check.check import ValueCheck, Verdict

_RUNGS = 11


@dataclass(frozen=True)
class Rung:
    """One step of value, 0 to 10 of Munsell: the share of what is drawn that lies there, in picture and drawing."""

    value: int
    picture: float
    drawing: float


def ladder_of(check: ValueCheck) -> tuple[Rung, ...]:
    """The eleven rungs, black first; only of zones that are drawn."""
    drawn = [zone for zone in check.zones if zone.verdict is not Verdict.NOT_DRAWN]
    shares = np.array([zone.share for zone in drawn])
    picture, drawing = (
        np.bincount(_rungs([getattr(zone, of) for zone in drawn]), shares / shares.sum(), _RUNGS)
        for of in ("reference_L", "drawing_L")
    )
    return tuple(Rung(i, float(picture[i]), float(drawing[i])) for i in range(_RUNGS))


def _rungs(lightness: list[float]) -> np.ndarray[tuple[int], np.dtype[np.intp]]:
    values = value_step(np.array([[L, 0.0, 0.0] for L in lightness]))
    return np.clip(np.rint(values), 0, _RUNGS - 1).astype(np.intp)
