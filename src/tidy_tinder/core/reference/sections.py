"""Sections to work one after the other: a grid, or pieces by the picture's own shapes, of about one area each.

A hand rests and a layer dries over 26 to 32 cm² (common practice, no source).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reference.islands import without_islands
from tidy_tinder.core.vocabulary import LARGEST_DRAWING_MM, SMALLEST_DRAWING_MM

AIM_CM2, LEAST_CM2, MOST_CM2 = 29.0, 26.0, 32.0
# Within the usual areas a section may be this much longer than wide; beyond, another area is the lesser evil (ours).
_MOST_ASPECT = 1.6
# A section that is not square costs this much for each unit of |ln aspect|, beside each cm² off the aim.
_ASPECT_COST = 8.0
MOST_SECTIONS = 240
# By the picture's shapes: reckoned on so many pixels a section, colours up to this weight against places.
_PIXELS_EACH, _MOST_PIXELS = 250, 24_000
MOST_COLOUR_WEIGHT = 0.25
_ROUNDS, _RATE = 44, 0.6
# A unit of Lab and this share of a section's side count the same at full weight.
_LAB_UNIT = 0.04
# 1 / g and 1 / g² of the plastic number g.
_R2 = np.array([0.7548776662466927, 0.5698402909980532])


@dataclass(frozen=True)
class Grid:
    """columns × rows of equal sections; each width_mm × height_mm."""

    columns: int
    rows: int
    width_mm: float
    height_mm: float

    @property
    def cm2(self) -> float:
        """Area of each section."""
        return self.width_mm * self.height_mm / 100.0

    @property
    def usual(self) -> bool:
        """Whether the area lies in what is usual; some sizes of paper allow no such grid."""
        return LEAST_CM2 <= self.cm2 <= MOST_CM2


@dataclass(frozen=True, eq=False)
class Pieces:
    """section: (h, w), which section each place belongs to; cm2: (n,) area of each; centres: (n, 2), x and y from 0 to
    1, in the order of reading: from the left of the top to the right of the bottom.
    """

    section: NDArray[np.uint8]
    cm2: NDArray[np.float64]
    centres: NDArray[np.float64]


def section_grid(width_mm: float, height_mm: float) -> Grid:
    """The grid whose sections come nearest to 29 cm² and to squares. Raises OutOfRangeError for no usual size."""
    _check_size(width_mm, height_mm)
    counts = np.arange(1, MOST_SECTIONS + 1)
    columns, rows = np.meshgrid(counts, counts, indexing="ij")
    wide, high = width_mm / columns, height_mm / rows
    cost = np.abs(wide * high / 100.0 - AIM_CM2) + _ASPECT_COST * np.abs(np.log(wide / high))
    cost[columns * rows > MOST_SECTIONS] = np.inf
    usual = (wide * high >= LEAST_CM2 * 100) & (wide * high <= MOST_CM2 * 100) & np.isfinite(cost)
    usual &= np.maximum(wide / high, high / wide) <= _MOST_ASPECT
    if bool(usual.any()):
        cost[~usual] = np.inf
    n, m = (int(i[0]) + 1 for i in np.nonzero(cost == cost.min()))
    return Grid(n, m, width_mm / n, height_mm / m)


def picture_sections(lab: Lab, width_mm: float, height_mm: float, colour_weight: float = MOST_COLOUR_WEIGHT) -> Pieces:
    """Sections by the shapes of a picture (h, w, 3): a power diagram (Aurenhammer 1987) on place and colour.

    Weights are driven until the areas are equal. Raises OutOfRangeError for a size or weight that is not offered.
    """
    if not 0.0 <= colour_weight <= MOST_COLOUR_WEIGHT:
        raise OutOfRangeError(f"Colour counts 0 to {MOST_COLOUR_WEIGHT} against place; with more, sections fall apart.")
    grid, cm2 = section_grid(width_mm, height_mm), width_mm * height_mm / 100.0
    small = _reduced(lab, grid)
    height, width = small.shape[:2]
    ys, xs = np.mgrid[0:height, 0:width]
    side = (grid.width_mm * grid.height_mm) ** 0.5
    place = np.stack([(xs + 0.5) / width * width_mm, (ys + 0.5) / height * height_mm], axis=-1) / side
    features = np.concatenate([place, colour_weight * _LAB_UNIT * small], axis=-1).reshape(-1, 5)
    count = grid.columns * grid.rows if grid.usual else max(1, min(MOST_SECTIONS, round(cm2 / AIM_CM2)))
    begin = _begin(count, grid, features)
    nearest = _equalised(features, begin, count)
    section = without_islands(nearest.reshape(height, width).astype(np.uint8), _PIXELS_EACH // 8)
    return _pieces(section, cm2)


def grid_pieces(grid: Grid) -> Pieces:
    """The sections of a grid: one place each."""
    count = grid.columns * grid.rows
    x, y = (np.arange(grid.columns) + 0.5) / grid.columns, (np.arange(grid.rows) + 0.5) / grid.rows
    centres = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    section = np.arange(count, dtype=np.uint8).reshape(grid.rows, grid.columns)
    return Pieces(section, np.full(count, grid.cm2), centres)


def pieces_from(section: NDArray[np.uint8], width_mm: float, height_mm: float) -> Pieces:
    """Sections of which only the map (h, w) is kept; their numbers stay."""
    area = np.bincount(section.ravel())
    height, width = section.shape
    ys, xs = np.mgrid[0:height, 0:width]
    of = np.maximum(area, 1)
    x = np.bincount(section.ravel(), weights=xs.ravel() + 0.5) / of / width
    y = np.bincount(section.ravel(), weights=ys.ravel() + 0.5) / of / height
    return Pieces(section, area / section.size * width_mm * height_mm / 100.0, np.stack([x, y], axis=-1))


def _check_size(width_mm: float, height_mm: float) -> None:
    for mm in (width_mm, height_mm):
        if not SMALLEST_DRAWING_MM <= mm <= LARGEST_DRAWING_MM:
            raise OutOfRangeError(f"A drawing is {SMALLEST_DRAWING_MM} to {LARGEST_DRAWING_MM} mm a side, not {mm:g}.")


def _reduced(lab: Lab, grid: Grid) -> Lab:
    """The picture on about as many pixels as the sections need."""
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    pixels = min(_MOST_PIXELS, _PIXELS_EACH * grid.columns * grid.rows)
    aspect = grid.columns * grid.width_mm / (grid.rows * grid.height_mm)
    width = max(8, round((pixels * aspect) ** 0.5))
    size = (width, max(8, round(pixels / width)))
    return np.asarray(cv2.resize(lab.astype(np.float32), size, interpolation=cv2.INTER_AREA), dtype=np.float64)


def _begin(count: int, grid: Grid, features: NDArray[np.float64]) -> NDArray[np.float64]:
    """Sites with the picture's mean colour: at the middles of the grid, or where it has another count, spread evenly by
    the sequence R2 (Roberts 2018).
    """
    if count == grid.columns * grid.rows:
        across, down = (np.arange(grid.columns) + 0.5) / grid.columns, (np.arange(grid.rows) + 0.5) / grid.rows
        place = np.stack(np.meshgrid(across, down), axis=-1).reshape(-1, 2)
    else:
        place = (0.5 + np.arange(count)[:, None] * _R2) % 1.0
    size = features[:, :2].min(axis=0) + features[:, :2].max(axis=0)
    return np.concatenate([place * size, np.tile(features[:, 2:].mean(axis=0), (count, 1))], axis=-1)


def _equalised(features: NDArray[np.float64], sites: NDArray[np.float64], count: int) -> NDArray[np.int64]:
    """Which site each place belongs to, after sites and weights were moved until the areas are about equal."""
    weights, aim = np.zeros(count), len(features) / count
    squares = (features**2).sum(axis=-1)[:, None]
    nearest = np.zeros(len(features), dtype=np.int64)
    for turn in range(_ROUNDS):
        apart = squares - 2.0 * features @ sites.T + (sites**2).sum(axis=-1)[None] - weights[None]
        nearest = apart.argmin(axis=1)
        area = np.bincount(nearest, minlength=count)
        # A unit area has a radius of .56: a weight of r² moves borders by about that share of it.
        weights += _RATE * (1.0 - area / aim) * 0.3
        if turn < _ROUNDS // 2:
            sums = np.stack([np.bincount(nearest, weights=f, minlength=count) for f in features.T], axis=-1)
            sites = np.where((area > 0)[:, None], sums / np.maximum(area, 1)[:, None], sites)
    return nearest


def _pieces(section: NDArray[np.uint8], cm2: float) -> Pieces:
    """Numbered in the order of reading."""
    height, width = section.shape
    kept, numbered = np.unique(section, return_inverse=True)
    numbered = numbered.reshape(section.shape)
    area = np.bincount(numbered.ravel(), minlength=len(kept))
    ys, xs = np.mgrid[0:height, 0:width]
    x = np.bincount(numbered.ravel(), weights=xs.ravel() + 0.5) / area / width
    y = np.bincount(numbered.ravel(), weights=ys.ravel() + 0.5) / area / height
    order = np.lexsort((x, np.round(y * round(len(kept) ** 0.5))))
    place = np.empty(len(order), dtype=np.uint8)
    place[order] = np.arange(len(order))
    return Pieces(place[numbered], area[order] / section.size * cm2, np.stack([x, y], axis=-1)[order])
