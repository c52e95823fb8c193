"""Which pencils to swatch first on a new paper, and why these.

A paper's grain, loads and bias show best in pencils that differ there: in colour as far as they can, and in cover,
since transparent and opaque pencils answer to another ground in opposite ways (ours). On black paper most marks look
alike, and those tell of it that do not.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.marks.arranging import arrange
from tidy_tinder.core.quantities import Lab, as_lab
from tidy_tinder.core.vocabulary import Opacity, PrintedOpacity

FEWEST, MOST = 4, 12
_CLASSES = tuple(Opacity)
# L* from which a colour is called pale, and to which dark: ours.
_PALE_FROM, _DARK_TO = 75.0, 40.0
# One that is swatched already is taken where it lies as far from those before it as this share of the best (ours): what
# is known of it has changed by that, and the list should not run away from whoever works it off.
_NEARLY = 0.8
# How far pencils part by their own colour beside how far they part on the paper (ours, decision 0053).
_OWN_COUNTS = 0.5


@dataclass(frozen=True)
class Advised:
    """One pencil to swatch: its place in what was given, why, and how far it lies from those before it."""

    index: int
    why: str
    apart: float


def next_swatches(
    lab: Lab, opacities: Sequence[PrintedOpacity], count: int = 8, done: Sequence[int] = (), own: Lab | None = None
) -> tuple[Advised, ...]:
    """`count` pencils by greatest least distance in Lab, each class of cover among the first four.

    lab: what they are taken to look like on the paper (N, 3), D65, 2°; own: their own colour (N, 3), which they are
    named by and which counts half, `lab` by default. done: those swatched there already, which are taken where they
    tell nearly as much as the best. Raises ShapeError where the lists differ in length.
    """
    colours, named = as_lab(lab), as_lab(lab if own is None else own)
    if colours.shape != (len(opacities), 3) or named.shape != colours.shape:
        raise ShapeError(
            f"{len(opacities)} classes of cover do not go with colours of shape {colours.shape} and {named.shape}."
        )
    both = np.hstack([colours, _OWN_COUNTS * named])
    chosen: list[int] = []
    advised: list[Advised] = []
    is_done = np.isin(np.arange(len(opacities)), np.asarray(done, dtype=np.int64))
    while len(advised) < min(count, len(opacities)):
        apart = _apart(both, chosen)
        missing = [c for c in _CLASSES if c in opacities and c not in {opacities[i] for i in chosen}]
        # The second, third and fourth place go to classes that are still missing.
        wanted = missing[0] if missing and chosen else None
        able = np.array([i not in chosen and (wanted is None or opacities[i] == wanted) for i in range(len(opacities))])
        nearly = able & is_done & (apart >= _NEARLY * apart[able].max())
        index = int(np.argmax(np.where(nearly if nearly.any() else able, apart, -1.0)))
        advised.append(Advised(index, _why(named, index, opacities[index] if wanted else ""), apart[index]))
        chosen.append(index)
    return tuple(advised)


def _apart(colours: NDArray[np.float64], chosen: Sequence[int]) -> NDArray[np.float64]:
    """Distance (N,) of each colour (N, 6) from the nearest chosen one; from the middle of all where none is chosen."""
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
