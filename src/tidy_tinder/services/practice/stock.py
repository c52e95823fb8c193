"""What can be asked about: one's own colours on a paper, measured or surely predicted, that a screen can show."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.practice.asking import Known
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.inputs import reading_noise
from tidy_tinder.services.collection.measured import band
from tidy_tinder.services.collection.patches import Seen, Trust
from tidy_tinder.services.collection.predictions import WELL_WITHIN
from tidy_tinder.services.collection.scene import Scene


@dataclass(frozen=True, eq=False)
class Stock:
    """Heavy marks that can be asked about. colours: their numbers; seen: how each looks; known: the same as figures."""

    colours: tuple[int, ...]
    seen: tuple[Seen, ...]
    known: Known


def stock_on(scene: Scene) -> Stock:
    """All owned colours of which it is known well enough how a heavy mark of them looks here."""
    found: list[tuple[int, Seen, float]] = []
    for colour in scene.colours:
        if colour not in scene.at_hand:
            continue
        seen = scene.look(Layer(colour, Pressure.HEAVY, 1))
        if seen is None or not seen.patch.on_screen:
            continue
        off = _off(scene, colour, seen)
        if off <= WELL_WITHIN:
            found.append((colour, seen, off))
    return Stock(
        tuple(colour for colour, _, _ in found),
        tuple(seen for _, seen, _ in found),
        Known(_labs([seen for _, seen, _ in found]), np.array([off for _, _, off in found])),
    )


def _off(scene: Scene, colour: int, seen: Seen) -> float:
    """The ΔE00 within which nine of ten lie: of a reading by its source, of a photo or prediction by itself."""
    if seen.band is not None:
        return seen.band
    if seen.trust is not Trust.MEASURED:
        return float("inf")
    return band(seen.patch.lab, reading_noise(scene.measured[colour][Pressure.HEAVY, 1].source, None))


def _labs(seen: Sequence[Seen]) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    return np.array([one.patch.lab for one in seen], dtype=np.float64).reshape(-1, 3)
