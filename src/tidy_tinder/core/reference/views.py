"""Ways to look at a picture that combine: squinted, in value zones, in greys, warm and cool, upside down, with a grid.

The result is what a screen shows, 8 bits of sRGB: nothing is reckoned from it.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reference.squint import squint
from tidy_tinder.core.reference.warmth import warmth
from tidy_tinder.core.reference.working import Light, Pixels, picture_lab
from tidy_tinder.core.reference.zones import ValueZones, smooth_lightness, value_zones
from tidy_tinder.core.reflectance.colorimetry import encode_srgb, lab_to_linear_rgb

# Hatching: one line every so many pixels, this wide, lighter or darker than what it lies on by so much L*.
_EVERY, _WIDE, _CONTRAST = 11, 2, 26.0

# A line is one of so many parts of the picture's longer side wide, on either side of a border.
_LINES = 700

Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class View:
    """squint: share of the width, None for sharp; zones: borders in L*, None for none; grid: columns and rows."""

    grey: bool = False
    squint: float | None = None
    zones: tuple[float, ...] | None = None
    warm_cool: bool = False
    upside_down: bool = False
    grid: tuple[float, float] | None = None


def view_of(light: Light, view: View, marked: Mask | None = None, sections: NDArray[np.uint8] | None = None) -> Pixels:
    """The picture (h, w, 3) as it is looked at. marked: places (any height and width) to be hatched; sections: which
    one each place (any height and width) belongs to, of which the borders are drawn.

    Raises OutOfRangeError for a squint or zones that are not offered.
    """
    seen = light if view.squint is None else squint(light, view.squint)
    if view.zones is not None:
        shown = _zoned(value_zones(smooth_lightness(seen), view.zones))
    elif view.grey or view.warm_cool:
        shown = _greys(picture_lab(seen)[..., 0])
    else:
        shown = seen
    if view.warm_cool:
        found = warmth(picture_lab(seen))
        shown = _hatched(_hatched(shown, found.warm, rising=True), found.cool, rising=False)
    if marked is not None:
        shown = _hatched(shown, _as_large(marked, shown), rising=True)
    coded = coded_for_screen(shown)
    if view.grid is not None:
        coded = _with_grid(coded, *view.grid)
    if sections is not None:
        coded = _with_borders(coded, sections)
    return np.ascontiguousarray(coded[::-1, ::-1]) if view.upside_down else coded


def coded_for_screen(light: Light) -> Pixels:
    """8 bits of sRGB, clipped to the screen."""
    return np.rint(encode_srgb(light) * 255.0).astype(np.uint8)


def _greys(L: NDArray[np.float64]) -> Light:
    """Light of greys of these L*: equal in all channels to the last digit."""
    neutral = np.stack([L, np.zeros_like(L), np.zeros_like(L)], axis=-1)
    green = lab_to_linear_rgb(neutral)[..., 1]
    return np.repeat(green[..., None], 3, axis=-1).astype(np.float32)


def _zoned(zones: ValueZones) -> Light:
    return _greys(zones.means)[zones.zone]


def _hatched(light: Light, where: Mask, rising: bool) -> Light:
    """Lines of 45° where the mask holds, lighter on dark and darker on light."""
    height, width = where.shape
    ys, xs = np.mgrid[0:height, 0:width]
    line = ((xs + ys if rising else xs - ys) % _EVERY) < _WIDE
    on = where & line
    lab = picture_lab(light[on])
    lab[:, 0] = np.where(lab[:, 0] < 50.0, lab[:, 0] + _CONTRAST, lab[:, 0] - _CONTRAST)
    result = light.copy()
    result[on] = lab_to_linear_rgb(lab) if light.ndim and not _is_grey(light[on]) else _greys(lab[:, 0])
    return result


def _is_grey(light: Light) -> bool:
    return bool((light == light[:, :1]).all())


def _as_large(mask: Mask, picture: Light) -> Mask:
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    height, width = picture.shape[:2]
    return np.asarray(cv2.resize(mask.astype(np.uint8), (width, height), interpolation=cv2.INTER_NEAREST) > 0)


def _with_grid(coded: Pixels, columns: float, rows: float) -> Pixels:
    """Thin lines between columns and rows: a dark one beside a light one, seen on whatever lies below."""
    result = coded.copy()
    height, width = coded.shape[:2]
    wide = max(1, round(max(height, width) / _LINES))
    for x in (round(width * i / columns) for i in range(1, ceil(columns))):
        result[:, max(0, x - wide) : x], result[:, x : x + wide] = 255, 0
    for y in (round(height * i / rows) for i in range(1, ceil(rows))):
        result[max(0, y - wide) : y], result[y : y + wide] = 255, 0
    return result


def _with_borders(coded: Pixels, sections: NDArray[np.uint8]) -> Pixels:
    """A dark line inside a light one where two sections meet, as wide as it takes to be seen."""
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    result, (height, width) = coded.copy(), coded.shape[:2]
    large = cv2.resize(sections, (width, height), interpolation=cv2.INTER_NEAREST)
    step = max(1, round(width / sections.shape[1]))
    if step < width // 20:
        # The map is coarse; a median takes its steps away and never names a section that is not there.
        large = cv2.medianBlur(large, 2 * step + 1)
    wide = max(1, round(max(height, width) / _LINES))
    for reach, shade in ((2 * wide + 1, 255), (wide + 1, 0)):
        square = np.ones((reach, reach), dtype=np.uint8)
        result[cv2.dilate(large, square) != cv2.erode(large, square)] = shade
    return result
