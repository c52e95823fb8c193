"""Reflections, told by the printed dots: black ink that shines is lit by a lamp, and so is the wax beside it.

Blur lifts all dots of a picture alike, so a dot's rise is counted from what most of them show, and
from how much these differ.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.sheet.flattening import PX_PER_MM, FlatPage
from tidy_tinder.core.sheet.layout import Box
from tidy_tinder.core.sheet.light import Light, LightField

# Rise of a dot from black, as a share of the light of bare paper (design page 6-sheet).
SHINES = 0.012
"""Over this a cell beside it is told."""
BLINDS = 0.06
"""Over this a cell beside it is left out."""
_CORE = 0.3  # half the side, in mm, of what is looked at in the middle of a dot
_NEAR_MM = 4.0  # a dot so near to a cell speaks for it
# A place so bright is no dot at all: a finger or a strip of tape lies on it.
_HIDDEN = 0.5
_SCATTER = 2.5  # standard deviations that dots differ by without a reflection: a blurred dot is no even black


@dataclass(frozen=True)
class Reflections:
    """dots: (n, 2) in mm; rise: (n,), each one's light above the others', as a share of that of bare paper."""

    dots: Light
    rise: Light

    def beside(self, box: Box) -> float:
        """The largest rise of the dots beside a cell; 0 where there are none."""
        x = np.maximum(np.maximum(box.x - self.dots[:, 0], self.dots[:, 0] - box.right), 0.0)
        y = np.maximum(np.maximum(box.y - self.dots[:, 1], self.dots[:, 1] - box.bottom), 0.0)
        near = np.hypot(x, y) < _NEAR_MM
        return float(self.rise[near].max()) if near.any() else 0.0


def reflections_on(flat: FlatPage, light: LightField) -> Reflections:
    """What the dots of a flat page tell; a dot that is hidden, paler than any reflection makes one, is left out."""
    dots = np.array(flat.found.layout.dots)
    half = round(_CORE * PX_PER_MM)
    shares = np.array([_share(flat, x, y, half) for x, y in dots]) / light.at(dots).mean(-1)
    usual = float(np.median(shares))
    scatter = 1.4826 * float(np.median(usual - shares[shares <= usual]))
    rise = shares - usual - _SCATTER * scatter
    seen = shares < _HIDDEN
    return Reflections(dots[seen], np.maximum(rise[seen], 0.0))


def _share(flat: FlatPage, x: float, y: float, half: int) -> float:
    column, row = round(x * PX_PER_MM), round(y * PX_PER_MM)
    levels = flat.image[row - half : row + half + 1, column - half : column + half + 1]
    return float(flat.space.curve[levels].mean())
