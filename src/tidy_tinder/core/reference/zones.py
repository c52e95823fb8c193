"""Value zones: a picture in a few steps of lightness, without the small islands that nobody would draw."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.reference.islands import without_islands
from tidy_tinder.core.reference.working import Light, picture_lab

FEWEST_ZONES, MOST_ZONES = 3, 9
# Zones are found on a picture of this longest side.
ZONES_SIDE = 1024
# Two bilateral passes smooth what the hand would: within σL of lightness and σs of the width.
_MEDIAN, _PASSES, _SIGMA_L, _SIGMA_SHARE = 5, 2, 9.0, 0.0036
# Steps run between these percentiles of L*: a speck of light is no zone.
_LOW, _HIGH = 1.0, 99.0
# Smaller islands go to a neighbour.
_ISLAND_SHARE = 0.0005
_LLOYD_ROUNDS = 60

Lightness = NDArray[np.float32]


class Steps(StrEnum):
    """How the borders between zones are laid."""

    EVEN = "even"
    FITTED = "fitted"


@dataclass(frozen=True, eq=False)
class ValueZones:
    """thresholds: (n - 1,) L* between neighbours, rising; zone: (h, w), 0 is the darkest; shares: (n,) of the area;
    means: (n,) L*, the middle of its borders for a zone without a pixel.
    """

    thresholds: NDArray[np.float64]
    zone: NDArray[np.uint8]
    shares: NDArray[np.float64]
    means: NDArray[np.float64]


def smooth_lightness(light: Light) -> Lightness:
    """L* (h, w) of a picture of `ZONES_SIDE`, smoothed so that zones have edges a hand can follow."""
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    smooth = cv2.medianBlur(picture_lab(light)[..., 0].astype(np.float32), _MEDIAN)
    space = max(1.0, _SIGMA_SHARE * light.shape[1])
    for _ in range(_PASSES):
        smooth = cv2.bilateralFilter(smooth, -1, _SIGMA_L, space)
    return np.asarray(smooth, dtype=np.float32)


def thresholds_of(smooth: Lightness, count: int, steps: Steps = Steps.EVEN) -> NDArray[np.float64]:
    """(count - 1,) borders in L*: in equal steps, or fitted to the picture (Lloyd 1957/1982, Max 1960).

    Raises OutOfRangeError for fewer than three zones or more than nine.
    """
    if not FEWEST_ZONES <= count <= MOST_ZONES:
        raise OutOfRangeError(f"A picture has {FEWEST_ZONES} to {MOST_ZONES} value zones, not {count}.")
    low, high = np.percentile(smooth, [_LOW, _HIGH])
    even = np.linspace(low, high, count + 1)[1:-1]
    return _fitted(smooth, even) if steps is Steps.FITTED else np.asarray(even)


def value_zones(smooth: Lightness, thresholds: Sequence[float] | NDArray[np.float64]) -> ValueZones:
    """The zones between these borders. Raises OutOfRangeError for borders that do not rise or are too many."""
    borders = np.asarray(thresholds, dtype=np.float64)
    usable = borders.ndim == 1 and bool(np.isfinite(borders).all()) and not bool((np.diff(borders) < 0).any())
    if not usable or not FEWEST_ZONES <= len(borders) + 1 <= MOST_ZONES:
        raise OutOfRangeError(
            f"Zones need {FEWEST_ZONES - 1} to {MOST_ZONES - 1} borders that rise from dark to light."
        )
    raw = np.digitize(smooth, borders).astype(np.uint8)
    zone = without_islands(raw, max(1, round(_ISLAND_SHARE * raw.size)))
    count = len(borders) + 1
    shares = np.bincount(zone.ravel(), minlength=count) / zone.size
    return ValueZones(borders, zone, shares, _means(smooth[zone == raw], borders))


def _means(smooth: Lightness, borders: NDArray[np.float64]) -> NDArray[np.float64]:
    """Mean L* of each zone; islands that it was given do not count, so that means rise as zones do."""
    zone = np.digitize(smooth, borders)
    area = np.bincount(zone, minlength=len(borders) + 1)
    light = np.bincount(zone, weights=smooth, minlength=len(borders) + 1)
    edges = np.concatenate([borders[:1], borders, borders[-1:]])
    return np.where(area > 0, light / np.maximum(area, 1), 0.5 * (edges[:-1] + edges[1:]))


def _fitted(smooth: Lightness, begin: NDArray[np.float64]) -> NDArray[np.float64]:
    """Borders half way between the means of their zones, until they stay."""
    levels, counts = np.unique(np.round(smooth.ravel(), 1), return_counts=True)
    borders = begin
    for _ in range(_LLOYD_ROUNDS):
        zone = np.digitize(levels, borders)
        area = np.bincount(zone, weights=counts, minlength=len(borders) + 1)
        light = np.bincount(zone, weights=counts * levels, minlength=len(borders) + 1)
        if bool((area == 0).any()):
            return borders
        means = light / area
        moved = 0.5 * (means[:-1] + means[1:])
        if np.allclose(moved, borders, atol=0.01):
            return np.asarray(moved)
        borders = moved
    return borders
