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
    row, column = np.minimum(y * rows // high, rows - 1), np.minimum(x * columns // wide, columns - 1)
    points = np.concatenate([reference, (np.dstack([x, y]) * (_COMPACT / step))], axis=-1).reshape(-1, 5)
    own = (row * columns + column).ravel()
    labels = own.copy()
    for _ in range(_ROUNDS):
        counts = np.maximum(np.bincount(labels, minlength=rows * columns), 1)
        middles = np.stack([np.bincount(labels, points[:, c], rows * columns) / counts for c in range(5)], axis=-1)
        best = np.full(len(points), np.inf)
        for dy in (-1, 0, 1):
            for dx in (-1, 0, 1):
                near = np.clip(row + dy, 0, rows - 1) * columns + np.clip(column + dx, 0, columns - 1)
                away = ((points - middles[near.ravel()]) ** 2).sum(axis=1)
                nearer = away < best
                best[nearer], labels[nearer] = away[nearer], near.ravel()[nearer]
    return labels.reshape(high, wide).astype(np.int32), rows * columns
