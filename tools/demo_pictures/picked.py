"""Which colours the demo's artist has picked in her pictures: by the loupe at these places, or the main ones."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.reference.main_colours import COLOURS_SIDE, main_colours
from tidy_tinder.core.reference.picking import pick
from tidy_tinder.core.reference.working import light_of, picture_lab
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE


@dataclass(frozen=True)
class Place:
    """Where the loupe was laid: x, y from 0 to 1, radius in pixels; what the pick is called, and its area."""

    name: str
    area: str
    x: float
    y: float
    radius: float = 16.0


CAP = (
    Place("Wart in the light", "Warts", 0.449, 0.283, 9),
    Place("Wart in the shade", "Warts", 0.757, 0.362, 9),
    Place("Shine", "Cap", 0.324, 0.300, 12),
    Place("Body of the cap", "Cap", 0.478, 0.318),
    Place("Rim toward the light", "Cap", 0.198, 0.274, 10),
    Place("Cap in the shade", "Cap", 0.648, 0.432),
    Place("Ring in the light", "Stem", 0.500, 0.557),
    Place("Stem in the light", "Stem", 0.450, 0.750),
    Place("Stem in the shade", "Stem", 0.543, 0.680, 12),
    Place("Leaf", "Floor", 0.277, 0.896, 10),
    Place("Moss far off", "Floor", 0.928, 0.283, 24),
    Place("Between the leaves", "Floor", 0.072, 0.094, 24),
)


def picked_at(pixels: NDArray[np.uint8], places: tuple[Place, ...]) -> list[dict[str, Any]]:
    """What the loupe sees there."""
    lab = picture_lab(light_of(pixels, SRGB_SPACE))
    rows = []
    for place in places:
        seen = pick(lab, (place.x * pixels.shape[1] - 0.5, place.y * pixels.shape[0] - 0.5), place.radius)
        rows.append(_row(place.name, place.area, (place.x, place.y), place.radius, seen.lab, seen.spread, None))
    return rows


def main_ones(pixels: NDArray[np.uint8], count: int) -> list[dict[str, Any]]:
    """So many main colours; none are found where none are asked for."""
    if count == 0:
        return []
    found = main_colours(light_of(pixels, SRGB_SPACE, COLOURS_SIDE), count)
    return [
        _row("", "", (float(x), float(y)), 0.0, lab, float(spread), float(share))
        for lab, (x, y), spread, share in zip(found.lab, found.places, found.spreads, found.shares, strict=True)
    ]


def _row(
    name: str, area: str, at: tuple[float, float], radius: float, lab: NDArray[np.float64], spread: float,
    share: float | None,
) -> dict[str, Any]:  # fmt: skip
    return {
        "name": name, "area": area, "x": round(at[0], 4), "y": round(at[1], 4), "radius": radius,
        "lab": [round(float(v), 2) for v in lab], "spread": round(spread, 2), "share": share and round(share, 4),
    }  # fmt: skip
