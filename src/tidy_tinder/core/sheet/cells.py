"""The zones of a flat page beside the light of bare paper: what a camera can say before any colour is spoken of.

A zone is a plain mean in linear light, as a colour reader's aperture makes one: the tooth is a part of the colour.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.sheet.flattening import PX_PER_MM, FlatPage
from tidy_tinder.core.sheet.layout import Box, Cell, LayoutKind
from tidy_tinder.core.sheet.light import Light, LightField, linear_part
from tidy_tinder.core.vocabulary import Pressure

# Of a zone, what is left away at its edges: strokes end there, and neighbours run over.
_INSET = 0.9
# Of a frame's zone: at the cut edge, whose waves and shadow reach in; and towards its neighbours.
_CUT_INSET, _SIDE_INSET = 1.6, 1.0
_BAR_INSET = 0.5
# Level of 255 from which a channel may have been brighter than it can say.
FULL = 254


@dataclass(frozen=True)
class ZoneLight:
    """One place on the page. seen: its mean linear light, (3,); bare: that of bare paper there, (3,); light_sd: how far
    the latter may be off, as a standard deviation of its logarithm; full: share of its pixels of which a channel is as
    bright as can be; white: share of those of which all are; parts: the mean light of its left, middle and right
    third, (3, 3).
    """

    seen: Light
    bare: Light
    light_sd: float
    full: float
    white: float
    parts: Light

    @property
    def share(self) -> Light:
        """Its light as a share of that of bare paper, (3,)."""
        return self.seen / self.bare


@dataclass(frozen=True)
class CellLight:
    """One cell. zones: by pressure; bar: None on a frame."""

    index: int
    zones: dict[Pressure, ZoneLight]
    bar: ZoneLight | None


def cells_of(flat: FlatPage, light: LightField) -> tuple[CellLight, ...]:
    """Every cell of a flat page, bare ones too."""
    layout = flat.found.layout
    return tuple(_cell(flat, light, cell, layout.kind) for cell in layout.cells)


def zone_inset(kind: LayoutKind, box: Box) -> Box:
    """What of a zone is measured."""
    return box.inset(_CUT_INSET, _SIDE_INSET) if kind is LayoutKind.FRAME else box.inset(_INSET)


def light_in(flat: FlatPage, light: LightField, box: Box) -> ZoneLight:
    """The light in a box of the page, beside that of bare paper there."""
    pixels, middle = linear_part(flat, box), np.array([box.middle])
    top, left = round(box.y * PX_PER_MM), round(box.x * PX_PER_MM)
    levels = flat.image[top : top + pixels.shape[0], left : left + pixels.shape[1]]
    return ZoneLight(
        seen=np.asarray(pixels.reshape(-1, 3).mean(0), dtype=np.float64),
        bare=np.asarray(light.at(middle)[0], dtype=np.float64),
        light_sd=float(light.sd_at(middle)[0]),
        full=float((levels >= FULL).any(-1).mean()),
        white=float((levels >= FULL).all(-1).mean()),
        parts=np.array([part.reshape(-1, 3).mean(0) for part in np.array_split(pixels, 3, axis=1)]),
    )


def _cell(flat: FlatPage, light: LightField, cell: Cell, kind: LayoutKind) -> CellLight:
    zones = {zone.pressure: light_in(flat, light, zone_inset(kind, zone.box)) for zone in cell.zones}
    bar = None if cell.bar is None else light_in(flat, light, cell.bar.inset(_BAR_INSET))
    return CellLight(cell.index, zones, bar)
