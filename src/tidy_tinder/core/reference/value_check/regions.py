"""Zones that lie together and are wrong alike, as one region with its outline."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reference.value_check.check import ValueCheck, Verdict, ZoneChecked

# Zones that are parted by no more than this share of the width are one place to work on.
_TOUCHING = 0.05
# Of the picture's area: what is smaller is a crumb of a zone and no place to work on.
_LEAST_SHARE = 0.001
# An outline that is off by so much, as a share of the width, is still its outline.
_SMOOTH = 0.006


@dataclass(frozen=True)
class Region:
    """verdict: darker or lighter; off: L* by which it is too light (above 0) or too dark, the mean of its zones by
    area; share: of the picture; x, y: its middle; outline: (n, 2), all from 0 to 1 of width and height; labels: of its
    zones.
    """

    verdict: Verdict
    off: float
    share: float
    x: float
    y: float
    outline: tuple[tuple[float, float], ...]
    labels: tuple[int, ...]


def regions_of(check: ValueCheck) -> tuple[Region, ...]:
    """What should go darker or lighter, what weighs most (by how much and how large) first;
    crumbs are left out.
    """
    found = [
        region for verdict in (Verdict.DARKER, Verdict.LIGHTER) for region in _of_kind(check, verdict)
    ]  # fmt: skip
    found = [region for region in found if region.share >= _LEAST_SHARE]
    return tuple(sorted(found, key=lambda region: -abs(region.off) * region.share))


def _of_kind(check: ValueCheck, verdict: Verdict) -> list[Region]:
    import cv2  # noqa: PLC0415 -- loaded when a drawing is checked

    zones = {zone.label: zone for zone in check.zones if zone.verdict is verdict}
    high, wide = check.labels.shape
    marked = np.isin(check.labels, list(zones)).astype(np.uint8)
    size = 2 * round(_TOUCHING * wide / 2) + 1
    joined = cv2.morphologyEx(marked, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    count, parts = cv2.connectedComponents(joined)
    regions = []
    for part in range(1, count):
        labels = np.unique(check.labels[(parts == part) & (marked > 0)])
        contours, _ = cv2.findContours((parts == part).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
        outline = cv2.approxPolyDP(max(contours, key=cv2.contourArea), _SMOOTH * wide, closed=True)[:, 0]
        regions.append(_region(verdict, [zones[int(label)] for label in labels], np.asarray(outline / (wide, high))))
    return regions


def _region(verdict: Verdict, zones: list[ZoneChecked], outline: NDArray[np.float64]) -> Region:
    shares = np.array([zone.share for zone in zones])
    off, x, y = (float(np.average([getattr(zone, of) for zone in zones], weights=shares)) for of in ("off", "x", "y"))
    points = tuple((float(u), float(v)) for u, v in outline)
    return Region(verdict, off, float(shares.sum()), x, y, points, tuple(zone.label for zone in zones))
