"""The main colours of a picture, found without chance: its darkest and lightest, its body, and its small accents.

The method is the one of docs/decisions/0022: a mean over clusters alone (k-means) loses the accents that a drawing
lives by, and gives another answer at another crop.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.working import (
    Light,
    Precision,
    nearest_colour,
    picture_lab,
    squared_distances,
    squared_lengths,
)

_Singles = NDArray[np.float32]

FEWEST_COLOURS, MOST_COLOURS = 4, 16
# Main colours are found on a picture of this longest side.
COLOURS_SIDE = 640
_MEDIAN = 3
# A pixel whose Lab changes by g a pixel counts 1 / (1 + 4 g² / 64): an edge is a mixture of its two sides.
_EDGE, _EDGE_WIDTH = 4.0, 64.0
# Cells of the histogram, in Lab; the heaviest of them that weigh something.
_CELL, _MOST_CELLS, _LEAST_MASS = 4.0, 2500, 2e-5
# The darkest and the lightest are looked for in this share of the picture.
_END_SHARE = 0.004
# So large a share of these that is another colour is told as well, as long as so many are left for the body.
_ALSO, _LEAST_BODY = 1 / 3, 2
# A median that fewer of them look like than this is none of theirs.
_LEAST_ALIKE = 0.1
# Large flat areas count less than their area, small strong colours more: mass to this power.
_MASS_POWER = 0.6
# Distances are taken with lightness and strong chroma somewhat less than Lab has them.
_LIGHTNESS, _CHROMA_BEND = 0.8, 0.010
_FIRST_ROUNDS, _LAST_ROUNDS = 6, 10
# So many cells are tried at a time for the body.
_AT_ONCE = 128
# Of all but the two ends this share are accents, with this support within so many units; with more colours than
# `_ACCENTS_UP_TO` the body reaches them itself.
_ACCENT_SHARE, _SUPPORT, _SUPPORT_WITHIN, _ACCENTS_UP_TO = 0.3, 0.001, 7.0, 14
# An accent stands alone: of all that lies within so many units most lies close about it. The far end of a shaded area
# does not, and without this it was taken for one in a quarter of the scenes.
_ALONE_WITHIN = 20.0
# A place that shows a colour lies up to so many pixels inside what belongs to it, each worth so much of Lab.
_DEEP, _INSIDE = 24.0, 0.6
# What is said of a cluster: mostly its mode, which the eye sees, and its mean.
_OF_MODE = 0.6
_MODE_STEPS, _MODE_WIDTH = 6, 5.0


class Part(StrEnum):
    """Which part in the picture a colour has."""

    DARKEST = "darkest"
    LIGHTEST = "lightest"
    BODY = "body"
    ACCENT = "accent"


@dataclass(frozen=True, eq=False)
class MainColours:
    """k colours from light to dark. lab: (k, 3); parts: (k,); shares: (k,) of the picture; spreads: (k,) rms distance
    in Lab of what looks like each, as a loupe weights it; nearest: (h, w), which colour each pixel is nearest to;
    places: (k, 2), x and y from 0 to 1 of a pixel that shows each well.
    """

    lab: Lab
    parts: tuple[Part, ...]
    shares: NDArray[np.float64]
    spreads: NDArray[np.float64]
    nearest: NDArray[np.uint8]
    places: NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class _Cells:
    """The histogram: Lab means (n, 3), the same bent for distances, masses that add up to 1."""

    lab: Lab
    bent: Lab
    mass: NDArray[np.float64]

    @property
    def pull(self) -> NDArray[np.float64]:
        """How strongly each cell draws a colour to itself."""
        return np.asarray(self.mass**_MASS_POWER)

    @cached_property
    def apart(self) -> _Singles:
        """(n, n) squared distances from cell to cell, bent: the body is chosen twice by them."""
        bent = self.bent.astype(np.float32)
        return squared_distances(bent, bent)


def main_colours(light: Light, count: int) -> MainColours:
    """The `count` main colours of a picture (h, w, 3) of about `COLOURS_SIDE`; the same picture has the same answer.

    Fewer are given where the picture has fewer. Raises OutOfRangeError for a count that is not offered.
    """
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    if not FEWEST_COLOURS <= count <= MOST_COLOURS:
        raise OutOfRangeError(f"{FEWEST_COLOURS} to {MOST_COLOURS} main colours can be found, not {count}.")
    picture = np.asarray(cv2.medianBlur(picture_lab(light).astype(np.float32), _MEDIAN), dtype=np.float32)
    lab = picture.astype(np.float64)
    cells = _cells(lab, _weights(lab))
    ends = _ends(lab)[: max(2, count - _accents_of(count) - _LEAST_BODY)]
    fixed = ends if count > _ACCENTS_UP_TO else _with_accents(cells, ends, count)
    # Chosen beside the accents, and not before them: one that an accent has emptied is better spent on another area,
    # and where fewer accents were found the body has more.
    body = _rounds(cells, _body(cells, fixed, count - len(fixed)), fixed, _LAST_ROUNDS)
    parts = [Part.DARKEST, Part.LIGHTEST, *[Part.ACCENT] * (len(fixed) - 2), *[Part.BODY] * len(body)]
    return _found(picture, np.concatenate([fixed, _said(cells, body, fixed)]), parts)


def _with_accents(cells: _Cells, ends: Lab, count: int) -> Lab:
    """The ends and the accents, which stand away from what the body would be without them."""
    accents = _accents_of(count)
    body = _rounds(cells, _body(cells, ends, count - len(ends) - accents), ends, _FIRST_ROUNDS)
    return np.concatenate([ends, _accents(cells, np.concatenate([ends, body]), accents)])


def _accents_of(count: int) -> int:
    """How many of the main colours are accents, at most."""
    return round(_ACCENT_SHARE * (count - 2))


def _weights(lab: Lab) -> NDArray[np.float64]:
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    across, down = (cv2.Sobel(lab, cv2.CV_64F, dx, 1 - dx, ksize=3) / 8.0 for dx in (1, 0))
    steepness = (np.square(across) + np.square(down)).sum(axis=-1)
    return np.asarray(1.0 / (1.0 + _EDGE * steepness / _EDGE_WIDTH))


def _cells(lab: Lab, weight: NDArray[np.float64]) -> _Cells:
    """The heaviest cells, each with the mean of what it holds."""
    flat, weights = lab.reshape(-1, 3), weight.ravel()
    at = np.floor(flat / _CELL).astype(np.int64) + 64
    _, cell = np.unique((at[:, 0] << 16) | (at[:, 1] << 8) | at[:, 2], return_inverse=True)
    mass = np.bincount(cell, weights=weights)
    means = np.stack([np.bincount(cell, weights=weights * flat[:, i]) / mass for i in range(3)], axis=-1)
    mass = mass / mass.sum()
    heaviest = np.lexsort((np.arange(len(mass)), -mass))[:_MOST_CELLS]
    kept = heaviest[mass[heaviest] >= _LEAST_MASS] if bool((mass >= _LEAST_MASS).any()) else heaviest
    return _Cells(means[kept], _bent(means[kept]), mass[kept])


def _bent(lab: NDArray[Precision]) -> NDArray[Precision]:
    """Lab for distances: lightness counts less, and steps of chroma count less the stronger it is."""
    bend = 1 + _CHROMA_BEND * np.hypot(lab[..., 1], lab[..., 2])
    bent = [_LIGHTNESS * lab[..., 0], lab[..., 1] / bend, lab[..., 2] / bend]
    return np.stack(bent, axis=-1).astype(lab.dtype, copy=False)


def _ends(lab: Lab) -> Lab:
    """The darkest and the lightest colour; then what is as dark or as light and another colour: a glint beside a pale
    area.
    """
    flat = lab.reshape(-1, 3)
    few = max(1, round(_END_SHARE * len(flat)))
    order = np.argpartition(flat[:, 0], [few - 1, len(flat) - few])
    dark, light = _colours_of(flat[order[:few]]), _colours_of(flat[order[-few:]])
    dark, light = dark[np.argsort(dark[:, 0])], light[np.argsort(-light[:, 0])]
    return np.concatenate([dark[:1], light[:1], dark[1:], light[1:]])


def _colours_of(points: Lab) -> Lab:
    """The colour of most of them, and where many look like another one, that as well (1 or 2, 3)."""
    most = _most_of(points)
    others = points[squared_lengths(points - most) > _ALONE_WITHIN**2]
    return np.stack([most, _most_of(others)] if len(others) >= _ALSO * len(points) else [most])


def _most_of(points: Lab) -> Lab:
    """The median; where hardly anything looks like it, that of what lies about the point with most others near it.

    Three colours may be equally light: what lies in the middle of each channel is then a colour that the picture has
    not.
    """
    middle = np.median(points, axis=0)
    alike = squared_lengths(points - middle) <= _SUPPORT_WITHIN**2
    if float(alike.mean()) >= _LEAST_ALIKE:
        return np.asarray(middle)
    near = squared_distances(points, points) <= _SUPPORT_WITHIN**2
    return np.asarray(np.median(points[near[int(near.sum(axis=1).argmax())]], axis=0))


def _body(cells: _Cells, fixed: Lab, count: int) -> Lab:
    """Greedily the cell that takes most off Σ pull · d² beside what is fixed.

    What a cell takes off only falls as others are chosen, so what was worked out before is the most that it can be, and
    only those that may still be best are worked out again (accelerated greedy, M. Minoux 1978, from memory).
    """
    pull, apart = cells.pull.astype(np.float32), cells.apart
    left = nearest_colour(cells.bent, _bent(fixed))[1].astype(np.float32)
    at_most = np.full(len(pull), np.inf)
    chosen: list[int] = []
    for _ in range(min(count, len(pull))):
        best = _takes_most(at_most, left, apart, pull)
        chosen.append(best)
        left = np.minimum(left, apart[best])
    return cells.lab[chosen]


def _takes_most(at_most: NDArray[np.float64], left: _Singles, apart: _Singles, pull: _Singles) -> int:
    """Which cell takes most off; `at_most` is brought up to date for those that were worked out."""
    while True:
        some = np.argsort(-at_most, kind="stable")[:_AT_ONCE]
        at_most[some] = np.maximum(left - apart[some], 0.0) @ pull
        best = int(np.argmax(at_most))
        if best in some:
            return best


def _rounds(cells: _Cells, moving: Lab, fixed: Lab, rounds: int) -> Lab:
    """Lloyd's rounds: each moving colour goes to the mean of the cells nearest to it; the fixed ones stay."""
    before = None
    for _ in range(rounds):
        nearest, _ = nearest_colour(cells.bent, _bent(np.concatenate([fixed, moving])))
        if before is not None and np.array_equal(nearest, before):
            break
        moving, before = _means(cells, nearest - len(fixed), moving), nearest
    return moving


def _means(cells: _Cells, cluster: NDArray[np.int64], before: Lab) -> Lab:
    """The mean of each cluster; one that holds nothing stays where it was."""
    mine = cluster >= 0
    weight = np.bincount(cluster[mine], weights=cells.pull[mine], minlength=len(before))
    sums = [
        np.bincount(cluster[mine], weights=(cells.pull * cells.lab[:, i])[mine], minlength=len(before))
        for i in range(3)
    ]
    means = np.stack(sums, axis=-1) / np.maximum(weight, 1e-12)[:, None]
    return np.where((weight > 0)[:, None], means, before)


def _accents(cells: _Cells, known: Lab, count: int) -> Lab:
    """One after the other the cell that lies farthest from all that is known and most alone, moved to its mode."""
    found: list[Lab] = []
    singles = cells.lab.astype(np.float32)
    apart = squared_distances(singles, singles)
    within = apart <= _SUPPORT_WITHIN**2
    mass = cells.mass.astype(np.float32)
    support, about = ((apart <= far**2).astype(np.float32) @ mass for far in (_SUPPORT_WITHIN, _ALONE_WITHIN))
    alone = support / about
    for _ in range(count):
        squared = nearest_colour(cells.bent, _bent(np.concatenate([known, *[f[None] for f in found]])))[1]
        worth = np.where(support >= _SUPPORT, np.sqrt(squared) * alone, -1.0)
        best = int(np.argmax(worth))
        if worth[best] <= 0:
            break
        found.append(_mode(cells, cells.lab[best], within[best]))
    return np.array(found).reshape(-1, 3)


def _mode(cells: _Cells, start: Lab, among: NDArray[np.bool_]) -> Lab:
    """Where most of the mass about a colour lies, by mean shift."""
    lab, mass, mode = cells.lab[among], cells.mass[among], start
    for _ in range(_MODE_STEPS):
        near = np.exp(-0.5 * ((lab - mode) ** 2).sum(axis=-1) / _MODE_WIDTH**2)
        mode = np.average(lab, axis=0, weights=mass * near + 1e-15)
    return np.asarray(mode)


def _said(cells: _Cells, body: Lab, fixed: Lab) -> Lab:
    """What is said of each body colour: its mode and its mean, mixed."""
    nearest, _ = nearest_colour(cells.bent, _bent(np.concatenate([fixed, body])))
    said = [
        _OF_MODE * _mode(cells, colour, mine) + (1 - _OF_MODE) * colour if bool(mine.any()) else colour
        for i, colour in enumerate(body)
        for mine in (nearest == i + len(fixed),)
    ]
    return np.array(said).reshape(-1, 3)


def _found(picture: _Singles, colours: Lab, parts: list[Part]) -> MainColours:
    """In order from light to dark, without twins, each with its share and a place that shows it.

    picture: its Lab (h, w, 3) in single precision, which tells a thousandth of a step and takes half the time.
    """
    kept = [
        i for i in range(len(colours)) if all(np.linalg.norm(colours[i] - colours[j]) > 1.0 for j in range(i))
    ]  # fmt: skip
    order = sorted(kept, key=lambda i: (-colours[i][0], i))
    colours = colours[order]
    flat, singles = picture.reshape(-1, 3), colours.astype(np.float32)
    nearest, _ = nearest_colour(_bent(flat), _bent(singles))
    away = np.sqrt(squared_lengths(flat - singles[nearest]))
    area = np.bincount(nearest, minlength=len(order))
    alike = np.exp(-0.5 * away**2 / _MODE_WIDTH**2)
    weight = np.bincount(nearest, weights=alike, minlength=len(order))
    squares = np.bincount(nearest, weights=alike * away**2, minlength=len(order))
    spreads = np.sqrt(squares / np.maximum(weight, 1e-12))
    image, off = nearest.reshape(picture.shape[:2]), away.reshape(picture.shape[:2])
    places = np.array([showing_place(image == i, off, picture, colour) for i, colour in enumerate(colours)])
    return MainColours(
        colours, tuple(parts[i] for i in order), area / len(flat), spreads, image.astype(np.uint8), places
    )  # fmt: skip


def showing_place(
    mine: NDArray[np.bool_], off: NDArray[np.floating[Any]], lab: NDArray[np.floating[Any]], colour: Lab
) -> tuple[float, float]:
    """A pixel well inside what belongs to a colour and near to it; the nearest of all where nothing belongs to it.

    off: how far each pixel lies from the colour that it belongs to.
    """
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    rows, columns = (np.flatnonzero(mine.any(axis=axis)) for axis in (1, 0))
    top, left = 0, 0
    if rows.size:
        # Only where something belongs to it: most colours have a part of the picture.
        top, left = int(rows[0]), int(columns[0])
        part = (slice(top, int(rows[-1]) + 1), slice(left, int(columns[-1]) + 1))
        inside = cv2.distanceTransform(np.pad(mine[part], 1).astype(np.uint8), cv2.DIST_L2, 3)[1:-1, 1:-1]
        worth = np.where(mine[part], off[part] - _INSIDE * np.minimum(inside, _DEEP), np.inf)
    else:
        worth = np.linalg.norm(lab - colour, axis=-1)
    y, x = np.unravel_index(int(np.argmin(worth)), worth.shape)
    return (left + float(x) + 0.5) / lab.shape[1], (top + float(y) + 0.5) / lab.shape[0]
