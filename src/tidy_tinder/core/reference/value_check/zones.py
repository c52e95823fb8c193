"""The reference parted into small zones of one colour each: simple linear iterative clustering in Lab and place.

Source: R. Achanta, A. Shaji, K. Smith, A. Lucchi, P. Fua, S. Süsstrunk, “SLIC superpixels compared to state-of-the-art
superpixel methods”, IEEE Trans. Pattern Anal. Mach. Intell. 34 (2012) 2274.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab

_Labels = NDArray[np.int32]

COUNT = 220
"""About so many zones (the design's)."""
# How much a zone's roundness counts beside its colour, in Lab over a zone's width; the method's own usual value.
_COMPACT = 10.0
_ROUNDS = 8
# What is left of each zone is drawn in from its border by this share of the width, against what the map is off.
_ERODED = 0.006
_LEAST_PIXELS = 40


@dataclass(frozen=True, eq=False)
class Zones:
    """labels: (h, w), −1 at the borders of zones; count: how many numbers there are, some of them of no place."""

    labels: _Labels
    count: int


def zones_in(reference: Lab) -> Zones:
    """Zones of a reference's Lab (h, w, 3), drawn in from their borders."""
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    labels, count = _clustered(reference)
    size = 2 * max(1, round(_ERODED * reference.shape[1])) + 1
    shape = np.ones((size, size), np.uint8)
    kept = labels.astype(np.int16)
    same = (cv2.erode(kept, shape) == kept) & (cv2.dilate(kept, shape) == kept)
    labels = np.where(same, labels, -1).astype(np.int32)
    few = np.bincount(labels[labels >= 0], minlength=count) < _LEAST_PIXELS
    labels[(labels >= 0) & few[np.maximum(labels, 0)]] = -1
    return Zones(labels, count)


def _clustered(reference: Lab) -> tuple[_Labels, int]:
    """Each place goes to the nearest of the nine middles round it, in colour and place."""
    high, wide = reference.shape[:2]
    step = float(np.sqrt(high * wide / COUNT))
    rows, columns = max(1, round(high / step)), max(1, round(wide / step))
    y, x = np.mgrid[0:high, 0:wide]
    # Planes of single precision, each window of them in turn: a tenth of the time of all places at once.
    planes = np.stack([*np.moveaxis(reference, -1, 0), x * (_COMPACT / step), y * (_COMPACT / step)]).astype(np.float32)
    down, across = _edges(high, rows), _edges(wide, columns)
    labels = np.minimum(y * rows // high, rows - 1) * columns + np.minimum(x * columns // wide, columns - 1)
    for _ in range(_ROUNDS):
        middles = _middles(planes, labels, rows * columns)
        best = np.full((high, wide), np.inf, np.float32)
        for label in range(rows * columns):
            row, column = divmod(label, columns)
            window = (
                slice(down[max(row - 1, 0)], down[min(row + 2, rows)]),
                slice(across[max(column - 1, 0)], across[min(column + 2, columns)]),
            )
            off = planes[:, *window] - middles[label][:, None, None]
            away = np.einsum("chw,chw->hw", off, off)
            nearer = away < best[window]
            best[window][nearer] = away[nearer]
            labels[window][nearer] = label
    return labels.astype(np.int32), rows * columns


def _edges(length: int, parts: int) -> list[int]:
    """Where so many even parts of a length begin, and its end."""
    return [-(-length * i // parts) for i in range(parts + 1)]


def _middles(planes: NDArray[np.float32], labels: NDArray[np.int64], count: int) -> NDArray[np.float32]:
    """The mean of each zone (count, planes); zero for one that has no place any more."""
    flat = labels.ravel()
    sizes = np.maximum(np.bincount(flat, minlength=count), 1)
    sums = [np.bincount(flat, plane.ravel(), count) for plane in planes]
    return np.asarray(np.stack(sums, axis=-1) / sizes[:, None], dtype=np.float32)
