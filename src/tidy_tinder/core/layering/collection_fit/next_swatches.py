"""Which pencils to swatch first on a new paper, and why these.

A paper's grain, loads and bias show best in pencils that differ: in colour as far as they can, and in cover, since
transparent and opaque pencils answer to another ground in opposite ways (ours).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.marks.arranging import arrange
from tidy_tinder.core.quantities import Lab, as_lab
from tidy_tinder.core.vocabulary import Opacity, PrintedOpacity

FEWEST, MOST = 4, 12
_CLASSES = tuple(Opacity)
# L* from which a colour is called pale, and to which dark: ours.
_PALE_FROM, _DARK_TO = 75.0, 40.0


@dataclass(frozen=True)
class Advised:
    """One pencil to swatch: its place in what was given, why, and how far in ΔE*ab it lies from those before it."""

    index: int
    why: str
    apart: float


def next_swatches(
    lab: Lab, opacities: Sequence[PrintedOpacity], count: int = 8, done: Sequence[int] = ()
) -> tuple[Advised, ...]:
    """`count` pencils by greatest least distance in Lab (N, 3), each class of cover among the first four.

    done: those swatched already, which the rest keep away from. Raises ShapeError where the lists differ in length.
    """
    colours = as_lab(lab)
    if colours.shape != (len(opacities), 3):
        raise ShapeError(f"{len(opacities)} classes of cover do not go with colours of shape {colours.shape}.")
    chosen = list(done)
    advised: list[Advised] = []
    while len(advised) < count and len(chosen) < len(opacities):
        apart = _apart(colours, chosen)
        missing = [c for c in _CLASSES if c in opacities and c not in {opacities[i] for i in chosen}]
        # The second, third and fourth place go to classes that are still missing.
        wanted = missing[0] if missing and chosen else None
        able = np.array([i not in chosen and (wanted is None or opacities[i] == wanted) for i in range(len(opacities))])
        index = int(np.argmax(np.where(able, apart, -1.0)))
        advised.append(Advised(index, _why(colours, index, opacities[index] if wanted else ""), apart[index]))
        chosen.append(index)
    return tuple(advised)


def _apart(colours: Lab, chosen: Sequence[int]) -> Lab:
    """Distance of each colour from the nearest chosen one; from the middle of all where none is chosen."""
    if not chosen:
        return np.asarray(np.linalg.norm(colours - colours.mean(axis=0), axis=1))
    return np.asarray(np.linalg.norm(colours[:, None] - colours[list(chosen)], axis=2).min(axis=1))


def _why(colours: Lab, index: int, cover: PrintedOpacity) -> str:
    """The plain reason."""
    L, C = colours[:, 0], np.hypot(colours[:, 1], colours[:, 2])
    if cover:
        return f"the first {'semi-opaque' if cover == Opacity.SEMI else cover} one: cover tells on this ground"
    if index == int(np.argmin(L)):
        return "the darkest: shows how much wax the tooth takes"
    if index == int(np.argmax(L)):
        return "the palest: shows how much of the paper comes through"
    if index == int(np.argmax(C)):
        return "the most vivid: shows how much colour the gaps take away"
    depth = "pale" if L[index] > _PALE_FROM else "dark" if L[index] < _DARK_TO else "middle"
    return f"stands for your {depth} {arrange(colours[index][None]).family[0]}"
