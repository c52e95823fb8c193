"""What is made of each cell: its colours, how far each may be off, and whether it is clean, doubtful, empty or left
out."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.sheet.cells import CellLight
from tidy_tinder.core.sheet.correction import Array, Correction
from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.sheet.layout import Cell, Layout, LayoutKind
from tidy_tinder.core.sheet.reflections import BLINDS, SHINES, Reflections
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure


class CellState(StrEnum):
    """What is to be done with a cell: clean ones can be taken together, doubtful ones are looked at."""

    CLEAN = "clean"
    DOUBTFUL = "doubtful"
    EMPTY = "empty"
    LEFT_OUT = "left_out"


class Flag(StrEnum):
    """Why a cell is doubtful, empty or left out."""

    REFLECTION = "reflection"
    BLINDED = "blinded"
    TOO_BRIGHT = "too_bright"
    LIGHT = "light"
    ORDER = "order"
    BARE_ZONE = "bare_zone"
    UNEVEN = "uneven"
    BEYOND = "beyond"
    WHITE_OR_EMPTY = "white_or_empty"
    OTHERWISE = "otherwise"


@dataclass(frozen=True)
class ZoneReading:
    """lab: (3,); covariance: (3, 3) of it; spread: ΔE00 within which the colour lies with 90 %."""

    lab: Lab
    covariance: Array
    spread: float


@dataclass(frozen=True)
class BarReading(ZoneReading):
    """The heavy mark on the black bar. bare: as black as where nothing is laid."""

    bare: bool


@dataclass(frozen=True)
class CellReading:
    """One cell as it was read. off: ΔE00 from what a reader measured, by pressure, where it did; bar: the heavy mark on
    the black bar, where it can be told.
    """

    index: int
    state: CellState
    flags: tuple[Flag, ...]
    zones: Mapping[Pressure, ZoneReading]
    off: Mapping[Pressure, float]
    bar: BarReading | None = None


# Bare paper: all zones so near to it (design page 6-sheet), and the printed bar not paler than twice black.
_EMPTY = 2.5
_BAR_HIDDEN = 2.0
# One zone that is bare beside a heavier one that is not: so near to the paper, in ΔE00, or so small a part of the way
# that the heavier one went (a light hand goes a fifth of a medium one's and more).
_BARE_ZONE, _BARE_SHARE = 0.6, 0.08
# Heavier pressure goes farther from the paper; by how much in ΔE00 it may seem not to before it is told.
_WRONG_WAY = 2.5
# Share of a zone's pixels of which a channel is as bright as can be, that is told; of which all are, though the zone is
# clearly darker than paper, so that a lamp is mirrored in its wax.
_FULL, _WHITE, _COLOURED = 0.02, 0.05, 0.8
# Doubt of the light, as a share, from which it is told: about 1.5 L* near white. Less is in the spread.
_UNSURE_LIGHT = 0.05
HALVES = 10.0
"""ΔE00 by which the two ends of a zone part more than strokes do: half of it was left bare."""
# Linear light of a channel below which a camera has no levels left to tell by: 4 of 255 (IEC 61966-2-1).
_CHANNEL_END = 0.0012
# A value and a reader's part by more than both may be off together.
_OTHERWISE = 1.4

_LEAVES_OUT = frozenset({Flag.BLINDED})


@dataclass(frozen=True)
class _Page:
    """What all cells of a page are judged by. black: light of its printed bars, as a share of bare paper's."""

    kind: LayoutKind
    reflections: Reflections
    known: PageKnowledge
    black: float


@dataclass(frozen=True)
class _Coloured:
    """One cell's light, what it comes to, and how far the two ends of each zone part, in ΔE00."""

    light: CellLight
    zones: Mapping[Pressure, ZoneReading]
    halves: tuple[float, ...]


def cells_judged(
    layout: Layout,
    seen: tuple[CellLight, ...],
    correction: Correction,
    reflections: Reflections,
    known: PageKnowledge,
) -> tuple[CellReading, ...]:
    """Every cell that a pencil goes into, in order."""
    by_index = {cell.light.index: cell for cell in _coloured(seen, correction)}
    page = _Page(layout.kind, reflections, known, _printed_black(seen))
    return tuple(_judged(page, cell, by_index[cell.index]) for cell in layout.places)


def _coloured(seen: tuple[CellLight, ...], correction: Correction) -> list[_Coloured]:
    """The colours of all zones, in one go."""
    zones = [cell.zones[p] for cell in seen for p in MARK_PRESSURES]
    bare = np.array([zone.bare for zone in zones])
    lab, covariance = correction.colours(
        np.array([zone.seen for zone in zones]), bare, np.array([zone.light_sd for zone in zones])
    )
    spread = radius(covariance, lab)
    first, last = (correction.labs(np.array([zone.parts[end] for zone in zones]), bare) for end in (0, 2))
    halves = [float(far) for far in delta_e_2000(first, last)]
    count = len(MARK_PRESSURES)
    return [
        _Coloured(
            cell,
            {
                p: ZoneReading(lab[i], covariance[i], float(spread[i]))
                for i, p in enumerate(MARK_PRESSURES, start=count * place)
            },
            tuple(halves[count * place : count * (place + 1)]),
        )
        for place, cell in enumerate(seen)
    ]


def _judged(page: _Page, cell: Cell, seen: _Coloured) -> CellReading:
    known, zones = page.known, seen.zones
    off = {
        pressure: float(delta_e_2000(zones[pressure].lab, np.array(known.cells[cell.index, pressure])))
        for pressure in MARK_PRESSURES
        if (cell.index, pressure) in known.cells
    }
    from_paper = [float(delta_e_2000(zones[p].lab, np.array(known.paper))) for p in MARK_PRESSURES]
    flags = [*_flags_of_light(cell, seen.light, page.reflections), *_flags_of_colour(seen, from_paper, off)]
    if max(from_paper) < _EMPTY:
        bar = seen.light.bar
        if bar is None or float(bar.share.mean()) <= _BAR_HIDDEN * page.black:
            # On a frame there is no bar to tell a white pencil on white paper: the artist is asked.
            asked = (Flag.WHITE_OR_EMPTY,) if page.kind is LayoutKind.FRAME else ()
            return CellReading(cell.index, CellState.EMPTY, asked, zones, off)
        flags.append(Flag.WHITE_OR_EMPTY)
    elif any(
        lighter < max(_BARE_ZONE, _BARE_SHARE * heavier) < heavier / 4 for lighter, heavier in pairwise(from_paper)
    ):
        flags.append(Flag.BARE_ZONE)
    state = CellState.DOUBTFUL if flags else CellState.CLEAN
    if _LEAVES_OUT & set(flags):
        state = CellState.LEFT_OUT
    return CellReading(cell.index, state, tuple(dict.fromkeys(flags)), zones, off)


def _flags_of_light(cell: Cell, light: CellLight, reflections: Reflections) -> list[Flag]:
    flags = []
    shine = reflections.beside(cell.box)
    if shine > BLINDS:
        flags.append(Flag.BLINDED)
    elif shine > SHINES:
        flags.append(Flag.REFLECTION)
    if any(zone.white > _WHITE and zone.share.min() < _COLOURED for zone in light.zones.values()):
        flags.append(Flag.BLINDED)
    elif max(zone.full for zone in light.zones.values()) > _FULL:
        flags.append(Flag.TOO_BRIGHT)
    if max(zone.light_sd for zone in light.zones.values()) > _UNSURE_LIGHT:
        flags.append(Flag.LIGHT)
    return flags


def _flags_of_colour(seen: _Coloured, from_paper: list[float], off: Mapping[Pressure, float]) -> list[Flag]:
    flags = []
    if any(later < earlier - _WRONG_WAY for earlier, later in pairwise(from_paper)):
        flags.append(Flag.ORDER)
    if max(seen.halves) > HALVES:
        flags.append(Flag.UNEVEN)
    if any(zone.seen.min() < _CHANNEL_END for zone in seen.light.zones.values()):
        flags.append(Flag.BEYOND)
    if any(far > _OTHERWISE * max(seen.zones[pressure].spread, 2.0) for pressure, far in off.items()):
        flags.append(Flag.OTHERWISE)
    return flags


def _printed_black(seen: tuple[CellLight, ...]) -> float:
    """Light of a printed bar that nothing covers, as a share of bare paper: the darker ones of the page's own."""
    bars = [float(cell.bar.share.mean()) for cell in seen if cell.bar is not None]
    return max(float(np.percentile(bars, 20)), 0.004) if bars else 0.0
