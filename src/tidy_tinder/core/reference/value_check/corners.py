"""The picture in a photo taken out flat, with a ring of the bare paper round it, from its four corners."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reference.value_check.refusal import CannotCheckError, Gate
from tidy_tinder.core.reference.working import Light

_Array = NDArray[np.float64]

WIDTH = 700
"""Pixels of the flat picture's width; what is finer does not matter for values."""
RING = 0.05
"""The ring of bare paper round the picture, as a share of its width (the design's)."""
# Corners that enclose less than this share of the photo are a slip of the finger.
_LEAST_SHARE = 0.02


@dataclass(frozen=True, eq=False)
class Flat:
    """light: (h + 2r, w + 2r, 3) linear light of picture and ring; ring: r, its width in pixels; seen: which of its
    places (h + 2r, w + 2r) lie within the photo.
    """

    light: Light
    ring: int
    seen: NDArray[np.bool_]

    @property
    def picture(self) -> Light:
        """The picture alone (h, w, 3)."""
        r = self.ring
        return self.light[r : len(self.light) - r, r : self.light.shape[1] - r]


def flatten(photo: Light, corners: _Array, aspect: float) -> Flat:
    """The picture taken out of a photo (H, W, 3) in linear light, `WIDTH` wide, with its ring.

    corners: (4, 2) x and y in pixels of the photo, of the picture and not of the paper: top left, top right, bottom
    right, bottom left of the drawing as it is to be seen. aspect: height by width of the reference. Raises
    CannotCheckError for corners that enclose no picture.
    """
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    corners = _checked(np.asarray(corners, dtype=np.float64), photo.shape[:2])
    height = round(WIDTH * aspect)
    ring = round(RING * WIDTH)
    # A photo far larger than what is asked of it is averaged first: picking single pixels of it would keep its noise.
    wide = 0.5 * (np.hypot(*(corners[1] - corners[0])) + np.hypot(*(corners[2] - corners[3])))
    scale = min(1.0, 1.5 * WIDTH / wide)
    if scale < 1.0:
        size = (max(1, round(photo.shape[1] * scale)), max(1, round(photo.shape[0] * scale)))
        photo = np.asarray(cv2.resize(photo, size, interpolation=cv2.INTER_AREA), dtype=np.float32)
        corners = corners * scale
    target = np.array([[0, 0], [WIDTH, 0], [WIDTH, height], [0, height]], dtype=np.float32) + np.float32(ring)
    across = cv2.getPerspectiveTransform(corners.astype(np.float32), target)
    size = (WIDTH + 2 * ring, height + 2 * ring)
    light = cv2.warpPerspective(photo, across, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    inside = cv2.warpPerspective(np.ones(photo.shape[:2], np.float32), across, size, flags=cv2.INTER_LINEAR)
    return Flat(np.maximum(light, 0.0), ring, inside > 0.99)


def _checked(corners: _Array, shape: tuple[int, ...]) -> _Array:
    if corners.shape != (4, 2) or not np.isfinite(corners).all():
        raise CannotCheckError("Tap the four corners of the picture.", Gate.CORNERS)
    edges = np.roll(corners, -1, axis=0) - corners
    turns = edges[:, 0] * np.roll(edges[:, 1], -1) - edges[:, 1] * np.roll(edges[:, 0], -1)
    area = 0.5 * abs(
        float((corners[:, 0] * np.roll(corners[:, 1], -1) - np.roll(corners[:, 0], -1) * corners[:, 1]).sum())
    )
    if not ((turns > 0).all() or (turns < 0).all()):
        raise CannotCheckError("The corners cross each other: tap them in turn, round the picture.", Gate.CORNERS)
    if area < _LEAST_SHARE * shape[0] * shape[1]:
        raise CannotCheckError("The corners lie too close together: tap the four corners of the picture.", Gate.CORNERS)
    return corners
