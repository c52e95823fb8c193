"""The zones of a flat page as a share of the light of bare paper: what a camera can say before any colour is spoken of.

A zone is a plain mean in linear light, as a colour reader's aperture makes one: the tooth is a part of the colour.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.sheet.flattening import FlatPage
from tidy_tinder.core.sheet.layout import Box, Cell, LayoutKind
from tidy_tinder.core.sheet.light import Light, LightField, linear_part
from tidy_tinder.core.vocabulary import Pressure

# Of a zone, what is left away at its edges: strokes end there, and neighbours run over.
_INSET = 0.9
# Of a frame's zone: at the cut edge, whose waves and shadow reach in; and towards its neighbours.
_CUT_INSET, _SIDE_INSET = 1.6, 1.0
_BAR_INSET = 0.5


@dataclass(frozen=True)
class CellLight:
    """One cell. zones: each pressure's light as a share of that of bare paper there, (3,) linear; bar: that of the bar,
    None on a frame.
    """

    index: int
    zones: dict[Pressure, Light]
    bar: Light | None


def cells_of(flat: FlatPage, light: LightField) -> tuple[CellLight, ...]:
    """Every cell of a flat page, bare ones too."""
    layout = flat.found.layout
    frame = layout.kind is LayoutKind.FRAME
    return tuple(_cell(flat, light, cell, frame) for cell in layout.cells)


def _cell(flat: FlatPage, light: LightField, cell: Cell, frame: bool) -> CellLight:
    inset = (_CUT_INSET, _SIDE_INSET) if frame else (_INSET, _INSET)
    zones = {zone.pressure: _share(flat, light, zone.box.inset(*inset)) for zone in cell.zones}
    bar = None if cell.bar is None else _share(flat, light, cell.bar.inset(_BAR_INSET))
    return CellLight(cell.index, zones, bar)


def _share(flat: FlatPage, light: LightField, box: Box) -> Light:
    here = light.at(np.array([box.middle]))[0]
    return np.asarray(linear_part(flat, box).reshape(-1, 3).mean(0) / here, dtype=np.float64)
