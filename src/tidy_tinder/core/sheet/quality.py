"""Whether a photo is good enough to be measured: what is only warned of, and what is refused, each with what to do.

The bounds are those of design page 6-sheet. Darkness is judged first: what is dark looks blurred too.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reflectance.colorimetry import encode_srgb, linear_rgb_to_lab
from tidy_tinder.core.sheet.cells import FULL, CellLight
from tidy_tinder.core.sheet.finding import USUAL_MARKERS, USUAL_PX_PER_MM
from tidy_tinder.core.sheet.flattening import PX_PER_MM, FlatPage
from tidy_tinder.core.sheet.layout import Box
from tidy_tinder.core.sheet.light import Light, LightField, linear_part


class Gate(StrEnum):
    """What is looked at."""

    MARKERS = "markers"
    RESOLUTION = "resolution"
    DARKNESS = "darkness"
    BRIGHTNESS = "brightness"
    SHARPNESS = "sharpness"
    LIGHT = "light"
    SHADOW = "shadow"
    BARE = "bare"
    LYING = "lying"


_ADVICE = {
    Gate.MARKERS: "Corner marks are hidden or cut off.",
    Gate.RESOLUTION: "Move closer.",
    Gate.DARKNESS: "Too dark: bring a lamp or go to a window.",
    Gate.BRIGHTNESS: "Too bright; lower the exposure.",
    Gate.SHARPNESS: "Too blurred: wipe the lens, hold still, tap on the page to focus.",
    Gate.LIGHT: "Uneven light or a shadow: turn the page or move the lamp.",
    Gate.SHADOW: "A shadow lies over the page: step aside, or move the lamp.",
    Gate.BARE: "The two bare windows differ: the light is uneven, or one of them is not bare.",
    Gate.LYING: "The page does not lie flat: press it down, or lay the frame on anew.",
}
# Level of bare paper in the picture, 0 to 255.
DARK = (120.0, 75.0)
# Share of bare paper that is as bright as the picture can say.
CLIPPED = (0.05, 0.25)
# Width of an edge from 10 to 90 %, in mm.
BLURRED = (0.6, 0.95)
UNEVEN = 2.0
# Steepest step of the light, as a share of it in a millimetre: a lamp at the side makes .004 at a ratio of 2 over a
# page (ln 2 / 200 mm), the soft edge of a hand's shadow that takes a third of the light over 20 mm three to four times
# as much.
STEEP = 0.009
# How far a frame's two bare windows part, in ΔE00.
PARTED = 1.0
# How far the dots lie from where they should once the page is flat, in mm.
OFF = 0.35
# How an edge of a marker is looked at, in mm: so far out on the paper, so far into its border, away from its corners.
_OFFICE = 0.85  # light of ordinary paper, as a share of a perfect white: only differences are asked for
_REACH, _INK, _FROM_CORNER = 2.0, 1.2, 2.0


@dataclass(frozen=True)
class Finding:
    """What one gate says. refused: the picture is not measured; value: what was measured."""

    gate: Gate
    value: float
    refused: bool
    advice: str


@dataclass(frozen=True)
class Quality:
    """All that was looked at. level: of bare paper, 0 to 255; clipped: share of it that is as bright as can be;
    edge_mm: width of an edge from 10 to 90 %; light_ratio: brightest by darkest bare place.
    """

    level: float
    clipped: float
    edge_mm: float
    light_ratio: float
    findings: tuple[Finding, ...]

    @property
    def refused(self) -> bool:
        """Whether the picture is not good enough."""
        return any(finding.refused for finding in self.findings)


def quality_of(flat: FlatPage, light: LightField, bare: Mapping[int, CellLight] | None = None) -> Quality:
    """Judge a page that was made flat, with the light on it. bare: the cells of a frame that stay art paper."""
    level = float(np.median(255 * encode_srgb(light.seen.max(-1))))
    clipped = _clipped(flat)
    edge = _edge_mm(flat)
    found = flat.found
    bounds = (
        (Gate.MARKERS, len(found.seen), len(found.seen) < USUAL_MARKERS, False),
        (Gate.RESOLUTION, found.px_per_mm, found.px_per_mm < USUAL_PX_PER_MM, False),
        (Gate.DARKNESS, level, level < DARK[0], level < DARK[1]),
        (Gate.BRIGHTNESS, clipped, clipped > CLIPPED[0], clipped > CLIPPED[1]),
        (Gate.SHARPNESS, edge, edge > BLURRED[0], edge > BLURRED[1]),
        (Gate.LIGHT, light.ratio, light.ratio > UNEVEN, False),
        (Gate.SHADOW, light.steepest, light.steepest > STEEP, False),
        (Gate.BARE, parted := _parted(bare or {}), parted > PARTED, False),
        (Gate.LYING, flat.off_mm, flat.off_mm > OFF, False),
    )
    findings = tuple(
        Finding(gate, float(value), refused, _ADVICE[gate]) for gate, value, told, refused in bounds if told
    )  # fmt: skip
    if any(one.gate is Gate.DARKNESS for one in findings):
        findings = tuple(one for one in findings if one.gate is not Gate.SHARPNESS)
    return Quality(level, clipped, edge, light.ratio, findings)


def _parted(bare: Mapping[int, CellLight]) -> float:
    """How far the bare windows part, in ΔE00, as if the camera's colours were the eye's."""
    shares = [np.mean([zone.share for zone in cell.zones.values()], axis=0) for cell in bare.values()]
    if len(shares) < 2:
        return 0.0
    labs = [linear_rgb_to_lab(np.clip(_OFFICE * share, 1e-4, None)) for share in shares]
    return float(delta_e_2000(labs[0], labs[-1]))


def _clipped(flat: FlatPage) -> float:
    """Share of the bare places' pixels of which a channel is full."""
    full = whole = 0
    for site in flat.found.layout.light_sites:
        pixels = _pixels(flat, site)
        full += int((pixels >= FULL).any(-1).sum())
        whole += pixels.shape[0] * pixels.shape[1]
    return full / max(whole, 1)


def _edge_mm(flat: FlatPage) -> float:
    """Width of an edge from 10 to 90 %: the median of the outer edges of all markers that are seen."""
    widths: list[float] = []
    for marker in flat.found.layout.markers:
        if marker.number not in flat.found.seen:
            continue
        box, length = marker.box, marker.box.width - 2 * _FROM_CORNER
        left = Box(box.x - _REACH, box.y + _FROM_CORNER, _REACH + _INK, length)
        right = Box(box.right - _INK, box.y + _FROM_CORNER, _REACH + _INK, length)
        above = Box(box.x + _FROM_CORNER, box.y - _REACH, length, _REACH + _INK)
        below = Box(box.x + _FROM_CORNER, box.bottom - _INK, length, _REACH + _INK)
        widths += _rises(_lightness(flat, left))
        widths += _rises(_lightness(flat, right)[:, ::-1])
        widths += _rises(_lightness(flat, above).T)
        widths += _rises(_lightness(flat, below)[::-1].T)
    return float(np.median(widths)) if widths else 0.0


def _lightness(flat: FlatPage, box: Box) -> Light:
    """A part of the page in linear light, (height, width): blur spreads light, not levels."""
    return np.asarray(linear_part(flat, box).mean(-1), dtype=np.float64)


def _rises(lines: Light) -> list[float]:
    """Of each line that runs from paper to ink: how many mm lie between a tenth and nine tenths of the way."""
    widths = []
    for line in lines:
        paper, ink = float(line[:8].mean()), float(line[-4:].mean())
        if paper < 2 * ink:
            continue
        way = np.maximum.accumulate(np.clip((paper - line) / (paper - ink), 0, 1))
        low, high = (_crossing(way, part) for part in (0.1, 0.9))
        widths.append((high - low) / PX_PER_MM)
    return widths


def _crossing(way: Light, part: float) -> float:
    """Where a way that only rises reaches a part of it, in pixels between the two where it does."""
    at = int(np.argmax(way >= part))
    if at == 0:
        return 0.0
    before, after = way[at - 1], way[at]
    return float(at - 1 + (part - before) / max(after - before, 1e-9))


def _pixels(flat: FlatPage, box: Box) -> NDArray[np.uint8]:
    top, left = max(round(box.y * PX_PER_MM), 0), max(round(box.x * PX_PER_MM), 0)
    return flat.image[top : round(box.bottom * PX_PER_MM), left : round(box.right * PX_PER_MM)]
