"""The light that fell on a page: measured on its bare places, smooth between them.

A polynomial of degree 4 in the logarithm of the light takes the lamp and the camera's vignette, a local mean of what is
left (σ 9 mm) takes the edge of a shadow, for which a polynomial alone is too stiff (design page 6-sheet). Uneven places
count less; dark ones are never thrown away, for they are the shadow that is to be taken out.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.sheet.flattening import PX_PER_MM, FlatPage
from tidy_tinder.core.sheet.layout import Box, LayoutKind
from tidy_tinder.core.sheet.surface import powers

Light: TypeAlias = NDArray[np.float64]

_DEGREE = 4
_SIGMA_MM = 9.0
_RIDGE = 1e-3
# A site of this unevenness (standard deviation by mean) counts half.
_UNEVEN = 0.04
# How much of the polynomial's own word is kept where sites are far away, in sites.
_OWN_WORD = 0.35
# On a frame pencil strokes may run over the edge: of a site, the brighter part without its brightest.
_BRIGHT = (65.0, 92.0)
_DARKEST = 1e-5
# What no bare place is surer of: the grain of the paper and of the camera.
_LEAST_SD = 0.006
# How far bare places lie apart between which a step is looked for, in mm; and which of all steps is the steepest that
# counts, in per cent: a spot of dirt is none.
_STEP_MM = (6.0, 28.0)
_STEEP_SHARE = 98.0


@dataclass(frozen=True)
class LightField:
    """Light of bare paper at any place. sites: (n, 2) in mm; seen: (n, 3) in linear light; weight: (n,), how much each
    counts; terms: (15, 3) of the polynomial in the logarithm; left: (n, 3), what it leaves of each; off: (n,), square
    of how far each lies from what the others say of its place.
    """

    sites: Light
    seen: Light
    weight: Light
    terms: Light
    left: Light
    off: Light
    page_mm: tuple[float, float]

    def at(self, points_mm: Light) -> Light:
        """The light of bare paper at places (n, 2) in mm: (n, 3), linear, 1 the most that the camera can say."""
        smooth = powers(points_mm, _DEGREE, self.page_mm) @ self.terms
        far = ((points_mm[:, None] - self.sites[None]) ** 2).sum(-1)
        near = np.exp(-far / (2 * _SIGMA_MM**2)) * self.weight
        local = near @ self.left / (near.sum(-1, keepdims=True) + _OWN_WORD)
        return np.asarray(np.exp(smooth + local), dtype=np.float64)

    def sd_at(self, points_mm: Light) -> Light:
        """How far that may be off, (n,), as a standard deviation of its logarithm: what the bare places round about are
        off where each is told by the others.
        """
        far = ((points_mm[:, None] - self.sites[None]) ** 2).sum(-1)
        near = np.exp(-far / (2 * (_SIGMA_MM / 1.5) ** 2)) * self.weight + 1e-9
        return np.asarray(np.sqrt(near @ self.off / near.sum(-1) + _LEAST_SD**2), dtype=np.float64)

    @property
    def steepest(self) -> float:
        """The steepest step of the light, as a share of it in a millimetre, between bare places that lie near: a
        shadow's edge, whatever the brightest and the darkest place are.
        """
        between = np.sqrt(((self.sites[:, None] - self.sites[None]) ** 2).sum(-1))
        logs = np.log(np.maximum(self.seen.mean(-1), _DARKEST))
        near = (between > _STEP_MM[0]) & (between < _STEP_MM[1])
        if not near.any():
            return 0.0
        return float(np.percentile((np.abs(logs[:, None] - logs) / np.maximum(between, 1.0))[near], _STEEP_SHARE))

    @property
    def ratio(self) -> float:
        """The brightest of the bare places by the darkest."""
        luminance = self.seen.mean(-1)
        return float(luminance.max() / max(luminance.min(), _DARKEST))


def light_of(flat: FlatPage) -> LightField:
    """The light on a page that was made flat."""
    layout = flat.found.layout
    frame = layout.kind is LayoutKind.FRAME
    sites = np.array([site.middle for site in layout.light_sites])
    seen, uneven = [], []
    for site in layout.light_sites:
        linear = linear_part(flat, site.inset(0.15)).reshape(-1, 3)
        if frame:
            luminance = linear.mean(-1)
            low, high = np.percentile(luminance, _BRIGHT)
            linear = linear[(luminance >= low) & (luminance <= high)]
        seen.append(linear.mean(0))
        uneven.append(float(linear.mean(-1).std() / max(linear.mean(), _DARKEST)))
    weight = 1 / (1 + (np.array(uneven) / _UNEVEN) ** 2)
    at_sites, logs = powers(sites, _DEGREE, layout.page_mm), np.log(np.maximum(np.array(seen), _DARKEST))
    terms = _fitted(at_sites, logs, weight)
    left = np.asarray(logs - at_sites @ terms, dtype=np.float64)
    return LightField(sites, np.array(seen), weight, terms, left, _off(sites, weight, left), layout.page_mm)


def _off(sites: Light, weight: Light, left: Light) -> Light:
    """What each site is off where it is told by the others, squared, (n,)."""
    between = ((sites[:, None] - sites[None]) ** 2).sum(-1)
    others = np.exp(-between / (2 * _SIGMA_MM**2)) * weight * (1 - np.eye(len(sites)))
    told = others @ left / (others.sum(-1, keepdims=True) + _OWN_WORD)
    return np.asarray(((left - told).mean(-1)) ** 2, dtype=np.float64)


def linear_part(flat: FlatPage, box: Box) -> Light:
    """A part of a flat page in linear light, (height, width, 3), 1 the most that the camera can say."""
    top, left = round(box.y * PX_PER_MM), round(box.x * PX_PER_MM)
    bottom, right = max(round(box.bottom * PX_PER_MM), top + 1), max(round(box.right * PX_PER_MM), left + 1)
    return np.asarray(flat.space.curve[flat.image[top:bottom, left:right]], dtype=np.float64)


def _fitted(at_sites: Light, logs: Light, weight: Light) -> Light:
    ridge = _RIDGE * np.eye(at_sites.shape[1])
    ridge[0, 0] = 0.0  # the level itself is not held back
    weighted = at_sites * weight[:, None]
    return np.asarray(np.linalg.solve(at_sites.T @ weighted + ridge, weighted.T @ logs), dtype=np.float64)
