"""The working copy of a picture: small enough to reckon with at once, made smaller in linear light.

Coded values are no amounts of light; averaged, they make fine bright detail too dark. So a picture is made linear,
then smaller, then coded again by its own curve.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.camera_space import CameraSpace
from tidy_tinder.core.reflectance.colorimetry import linear_rgb_to_lab

Pixels = NDArray[np.uint8]
Light = NDArray[np.float32]
"""Linear-light sRGB (height, width, 3), not clipped."""

Precision = TypeVar("Precision", np.float32, np.float64)

# What the screen shows and all is reckoned from but the loupe.
WORKING_SIDE = 2048
# Rows of the original that are linear at one time: 60 megapixels of light would take 720 MB.
_ROWS_AT_ONCE = 256
# Steps of light: the darkest two levels of sRGB are 20 of them apart.
_FINE = 65535


@dataclass(frozen=True, eq=False)
class WorkingPicture:
    """pixels: (height, width, 3), upright, in its own channels; space: what they stand for."""

    pixels: Pixels
    space: CameraSpace

    def light(self, longest: int | None = None) -> Light:
        """Its light, made smaller to this longest side where one is given."""
        return light_of(self.pixels, self.space, longest)


def light_of(pixels: Pixels, space: CameraSpace, longest: int | None = None) -> Light:
    """Linear-light sRGB (h, w, 3) of coded pixels; of no more than `longest` pixels a side where it is given."""
    height, width = pixels.shape[:2]
    size = size_within(width, height, longest or max(width, height))
    linear = _smaller(pixels, space.curve.astype(np.float32), size)
    return np.asarray(linear @ space.matrix.T.astype(np.float32), dtype=np.float32)


def working_copy(pixels: Pixels, space: CameraSpace, longest: int = WORKING_SIDE) -> WorkingPicture:
    """A copy of at most `longest` pixels a side, in the picture's own channels."""
    height, width = pixels.shape[:2]
    if max(height, width) <= longest:
        return WorkingPicture(np.ascontiguousarray(pixels), space)
    linear = _smaller(pixels, space.curve.astype(np.float32), size_within(width, height, longest))
    # In place: each copy of the light in between would be 34 MB.
    linear *= _FINE
    np.rint(linear, out=linear)
    return WorkingPicture(_levels(space)[linear.astype(np.uint16)], space)


def _levels(space: CameraSpace) -> NDArray[np.uint8]:
    """The level whose light is nearest to each of 65,536 lights: the border of two lies at the mean of their lights."""
    borders = 0.5 * (space.curve[1:] + space.curve[:-1])
    return np.searchsorted(borders, np.arange(_FINE + 1) / _FINE).astype(np.uint8)


def size_within(width: int, height: int, longest: int) -> tuple[int, int]:
    """Width and height of a picture made smaller to `longest` pixels a side; never larger, never below one pixel."""
    scale = min(1.0, longest / max(width, height))
    return max(1, round(width * scale)), max(1, round(height * scale))


def picture_lab(light: Light) -> Lab:
    """Lab (…, 3), D65, 2°, of linear light, unclipped: a profile's colours may lie outside sRGB."""
    return linear_rgb_to_lab(light)


def nearest_colour(
    points: NDArray[Precision], colours: NDArray[Precision]
) -> tuple[NDArray[np.int64], NDArray[Precision]]:  # fmt: skip
    """Which of the colours (m, 3) is nearest to each point (n, 3), and the squared distance, in their precision."""
    apart = squared_distances(points, colours)
    at = apart.argmin(axis=1)
    return at, apart[np.arange(len(points)), at]


def squared_distances(one: NDArray[Precision], other: NDArray[Precision]) -> NDArray[Precision]:
    """(n, m) squared distances of points (n, 3) and (m, 3), in their precision.

    By one product of matrices: the differences of a picture's pixels from sixty colours would fill 400 MB. In place:
    memory that is touched for the first time costs as much as what is done with it.
    """
    apart = np.asarray(one @ other.T, dtype=one.dtype)
    apart *= -2.0
    apart += squared_lengths(one)[:, None]
    apart += squared_lengths(other)[None]
    return np.maximum(apart, 0.0, out=apart)


def squared_lengths(points: NDArray[Precision]) -> NDArray[Precision]:
    """Of each point (…, 3); three numbers are summed sooner so than by a sum over an axis."""
    return np.asarray(np.einsum("...i,...i->...", points, points), dtype=points.dtype)


def _smaller(pixels: Pixels, curve: Light, size: tuple[int, int]) -> Light:
    """Channels made linear and averaged over areas, in bands of rows so that memory stays small."""
    import cv2  # noqa: PLC0415 -- loaded only when a picture is opened

    height, width = pixels.shape[:2]
    out_width, out_height = size
    if (width, height) == size:
        return np.asarray(cv2.LUT(pixels, curve), dtype=np.float32)
    narrow = np.empty((height, out_width, 3), dtype=np.float32)
    # One band for all: memory that is touched for the first time costs as much as what is done with it.
    band = np.empty((min(_ROWS_AT_ONCE, height), width, 3), dtype=np.float32)
    for top in range(0, height, _ROWS_AT_ONCE):
        rows = pixels[top : top + _ROWS_AT_ONCE]
        lit = cv2.LUT(rows, curve, dst=band[: len(rows)])
        cv2.resize(lit, (out_width, len(rows)), dst=narrow[top : top + len(rows)], interpolation=cv2.INTER_AREA)
    return np.asarray(cv2.resize(narrow, (out_width, out_height), interpolation=cv2.INTER_AREA), dtype=np.float32)
