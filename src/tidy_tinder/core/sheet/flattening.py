"""A page made flat: what its printed dots say of how it curls, and the picture brought to the page's own millimetres.

The markers give a plane; paper is none. Each printed dot that is seen says how far the page lies from the plane there.
A smooth surface through them (a polynomial of degree 3 with a wide window, then of degree 5 with a narrow one, robust:
design page 6-sheet) takes the curl away.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE, CameraSpace
from tidy_tinder.core.sheet.finding import FoundPage, Picture, Points
from tidy_tinder.core.sheet.layout import Layout
from tidy_tinder.core.sheet.surface import powers

PX_PER_MM = 10
"""Of a page that was made flat."""

_PASSES = ((2.4, 3), (1.1, 5))  # window in mm, degree of the polynomial
_FEWEST_FOR = {3: 24, 5: 60}  # dots, so that no polynomial is bent by a few
# Of the area of a printed dot, what is seen of one that is whole, a little bled or a little worn.
_AREA = (0.3, 2.0)
_DARK = 0.65
_ROUND = 0.6  # of a spot's extent, the shorter part of the longer one
_RIDGE = 1e-3
_FAR = 3.0  # standard deviations beyond which a dot is not believed

Flat: TypeAlias = NDArray[np.uint8]


@dataclass(frozen=True)
class FlatPage:
    """A page made flat. image: (height, width, channels) at PX_PER_MM; dots: on how many printed dots the surface
    rests, of how many there are; curl_mm: the farthest that the page lay from its plane; off_mm: how far the dots then
    lie from where they should, root mean square; space: what the picture's numbers stand for.
    """

    found: FoundPage
    image: Flat
    dots: int
    dots_in_all: int
    curl_mm: float
    off_mm: float
    space: CameraSpace = SRGB_SPACE


@dataclass(frozen=True)
class _Bend:
    """How far the page lies from its plane at each place: polynomials in x and y, (terms, 2) in mm."""

    degree: int
    terms: Points
    page_mm: tuple[float, float]

    def at(self, points_mm: Points) -> Points:
        """The way in mm, (n, 2)."""
        way: Points = powers(points_mm, self.degree, self.page_mm) @ self.terms
        return way


def flatten(picture: NDArray[np.uint8], found: FoundPage, space: CameraSpace = SRGB_SPACE) -> FlatPage:
    """Bring a picture (height, width, 3) in which a page was found to that page's millimetres."""
    layout = found.layout
    true = np.array(layout.dots)
    bend = _Bend(0, np.zeros((1, 2)), layout.page_mm)
    at, seen = true[:0], true[:0]
    for window, degree in _PASSES:
        flat = _sampled(_grey(picture), found, bend)
        at, way = _dots_seen(flat, layout, window)
        if len(at) < _FEWEST_FOR[degree]:
            break
        seen = way + bend.at(at)
        bend = _fitted(at, seen, degree, layout.page_mm)
    off = seen - bend.at(at) if len(seen) == len(at) else np.zeros((0, 2))
    edge = _grid(layout, 20.0)
    return FlatPage(
        found,
        _sampled(picture, found, bend),
        dots=len(off),
        dots_in_all=len(true),
        curl_mm=float(np.linalg.norm(bend.at(edge), axis=-1).max()),
        off_mm=float(np.sqrt((off**2).sum(-1).mean())) if len(off) else 0.0,
        space=space,
    )


def _grey(picture: NDArray[np.uint8]) -> Picture:
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    return np.asarray(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), dtype=np.uint8)


def _sampled(picture: NDArray[np.uint8], found: FoundPage, bend: _Bend) -> Flat:
    """The page at PX_PER_MM: each of its points looked up where plane and bend put it in the picture."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    width, height = (round(mm * PX_PER_MM) for mm in found.layout.page_mm)
    # Plane and bend are smooth: they are worked out at every eighth pixel and filled in between.
    step = 8
    xs, ys = np.arange(0, width + step, step), np.arange(0, height + step, step)
    points = (np.stack(np.meshgrid(xs, ys), -1).reshape(-1, 2) + 0.5) / PX_PER_MM
    places = (found.places(points + bend.at(points)) - 0.5).astype(np.float32).reshape(len(ys), len(xs), 2)
    whole = [
        np.asarray(_between(places[..., axis], step, width, height), dtype=np.float32) for axis in (0, 1)
    ]  # fmt: skip
    return np.asarray(cv2.remap(picture, whole[0], whole[1], cv2.INTER_LINEAR), dtype=np.uint8)


def _between(coarse: NDArray[np.float32], step: int, width: int, height: int) -> NDArray[np.float32]:
    """Values given at every `step` pixels, from the first pixel on, filled in between, (height, width)."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    xs = np.broadcast_to(np.arange(width, dtype=np.float32) / step, (height, width))
    ys = np.broadcast_to((np.arange(height, dtype=np.float32) / step)[:, None], (height, width))
    filled = cv2.remap(coarse, np.ascontiguousarray(xs), np.ascontiguousarray(ys), cv2.INTER_LINEAR)
    return np.asarray(filled, dtype=np.float32)


def _dots_seen(flat: Picture, layout: Layout, window: float) -> tuple[Points, Points]:
    """Of each dot that is seen as a round dark spot within its window: where it should be, and how far off it lies."""
    at, way = [], []
    for x, y in layout.dots:
        off = _spot(flat, x, y, window, layout.dot_mm)
        if off is not None:
            at.append((x, y))
            way.append(off)
    return np.array(at).reshape(-1, 2), np.array(way).reshape(-1, 2)


def _spot(flat: Picture, x: float, y: float, window: float, dot_mm: float) -> tuple[float, float] | None:
    """How far in mm a spot lies from (x, y); None where there is none that is a dot."""
    import cv2  # noqa: PLC0415 -- loaded only when a page is read

    half = round((window + dot_mm / 2) * PX_PER_MM)
    column, row = round(x * PX_PER_MM), round(y * PX_PER_MM)
    patch = flat[max(row - half, 0) : row + half + 1, max(column - half, 0) : column + half + 1].astype(np.float64)
    if patch.shape != (2 * half + 1, 2 * half + 1):
        return None
    paper, ink = np.percentile(patch, 90), patch.min()
    if paper - ink < 0.25 * max(paper, 1.0):
        return None
    # A bar or a line beside it is darker than a blurred dot: what counts is being darker than paper.
    dark = (patch < _DARK * paper + (1 - _DARK) * ink).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(dark, connectivity=8)
    expected = np.pi / 4 * (dot_mm * PX_PER_MM) ** 2
    rows, columns = np.indices(patch.shape)
    best: tuple[float, float] | None = None
    for i in range(1, count):
        left, top, wide, high, area = stats[i]
        inside = left > 0 and top > 0 and left + wide < dark.shape[1] and top + high < dark.shape[0]
        whole = _AREA[0] < area / expected < _AREA[1] and min(wide, high) > _ROUND * max(wide, high)
        if not (inside and whole):
            continue
        weight = np.clip(paper - patch, 0, None) * cv2.dilate((labels == i).astype(np.uint8), np.ones((3, 3), np.uint8))
        middle = ((weight * columns).sum() / weight.sum(), (weight * rows).sum() / weight.sum())
        off = (
            (column - half + middle[0] + 0.5) / PX_PER_MM - x,
            (row - half + middle[1] + 0.5) / PX_PER_MM - y,
        )
        if best is None or np.hypot(*off) < np.hypot(*best):
            best = off
    return best


def _fitted(at: Points, way: Points, degree: int, page_mm: tuple[float, float]) -> _Bend:
    """A polynomial through the dots, without those that lie far from what the others say."""
    kept = np.ones(len(at), dtype=bool)
    terms = np.zeros((1, 2))
    for _ in range(4):
        terms_at = powers(at[kept], degree, page_mm)
        ridge = _RIDGE * np.eye(terms_at.shape[1])
        ridge[:3, :3] = 0.0  # shift and tilt are not held back
        terms = np.asarray(np.linalg.solve(terms_at.T @ terms_at + ridge, terms_at.T @ way[kept]), dtype=np.float64)
        off = np.linalg.norm(way - powers(at, degree, page_mm) @ terms, axis=-1)
        scale = 1.4826 * float(np.median(off[kept])) + 0.01
        now = off < _FAR * scale
        if (now == kept).all() or now.sum() < _FEWEST_FOR[degree]:
            break
        kept = now
    return _Bend(degree, terms, page_mm)


def _grid(layout: Layout, every: float) -> Points:
    width, height = layout.page_mm
    return np.stack(np.meshgrid(np.arange(0, width, every), np.arange(0, height, every)), -1).reshape(-1, 2)
