"""The printed black bars that heavy strokes went on over: they tell how much each pencil covers, as far as that can be
believed of a photo.

A pencil that covers nothing looks as a bar that was left alone. So a page is believed where most of its pale pencils
show on their bars, and a bar that is as black as a bare one is named so: whether that is the pencil is for whoever
knows more of it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.sheet.cells import CellLight, ZoneLight
from tidy_tinder.core.sheet.correction import Correction
from tidy_tinder.core.sheet.judging import HALVES, BarReading, CellReading, CellState, Flag
from tidy_tinder.core.vocabulary import Pressure

# Light of a bar, in that of printed black: so much shows that something covers it; so little that nothing may. Of a bar
# of L* 23 these are L* 29 and 26; a camera tells greys so dark to about one or two (ours).
_COVERED, _AS_BARE = 1.5, 1.25
# Standard deviation of L*, a* and b* each by which what lies on a bar differs from what would lie there had it been
# laid for itself: strokes end on it, and wax takes to ink otherwise than to paper (ours; decision 0058).
_LAID_SD = 2.0
# A heavy mark darker than this L* may cover or not: black under it changes little.
_PALE = 50.0
# From so many pale pencils it can be told whether their bars were gone over, and so large a part of them says so.
_FEWEST_PALE, _MOST_OF_THEM = 3, 0.5
# A lamp on black shines more than wax does: where the light is doubted, what lies on black is not told.
_LIGHT_DOUBTED = frozenset({Flag.REFLECTION, Flag.BLINDED, Flag.TOO_BRIGHT, Flag.LIGHT})


def with_bars(
    cells: Sequence[CellReading], seen: Sequence[CellLight], correction: Correction, black: float | None
) -> tuple[CellReading, ...]:
    """Cells with what their heavy strokes look like on the black bar, where that can be told.

    black: light of printed black that nothing covers, as a share of bare paper's; None where none is seen.
    """
    bars = {cell.index: cell.bar for cell in seen if cell.bar is not None}
    shown = {cell.index: bars[cell.index] for cell in cells if cell.index in bars and _tells(cell)}
    if black is None or not shown or not _gone_over(cells, shown, black):
        return tuple(cells)
    told = _told(shown, correction, black)
    return tuple(replace(cell, bar=told.get(cell.index)) for cell in cells)


def _tells(cell: CellReading) -> bool:
    return cell.state in (CellState.CLEAN, CellState.DOUBTFUL) and not _LIGHT_DOUBTED & set(cell.flags)


def _gone_over(cells: Sequence[CellReading], bars: Mapping[int, ZoneLight], black: float) -> bool:
    """Whether whoever coloured this page went on over its bars."""
    pale = [c.index for c in cells if c.index in bars and c.zones[Pressure.HEAVY].lab[0] > _PALE]
    covered = sum(_times(bars[index], black) > _COVERED for index in pale)
    return len(pale) >= _FEWEST_PALE and covered > _MOST_OF_THEM * len(pale)


def _told(bars: Mapping[int, ZoneLight], correction: Correction, black: float) -> dict[int, BarReading]:
    """What bars look like, but for those of which only a part was gone over."""
    zones = list(bars.values())
    bare = np.array([zone.bare for zone in zones])
    lab, covariance = correction.colours(
        np.array([zone.seen for zone in zones]), bare, np.array([zone.light_sd for zone in zones])
    )
    first, last = (correction.labs(np.array([zone.parts[end] for zone in zones]), bare) for end in (0, 2))
    covariance = covariance + np.eye(3) * _LAID_SD**2
    spread, halves = radius(covariance, lab), delta_e_2000(first, last)
    return {
        index: BarReading(lab[i], covariance[i], float(spread[i]), _times(zones[i], black) < _AS_BARE)
        for i, index in enumerate(bars)
        if halves[i] < HALVES
    }


def _times(bar: ZoneLight, black: float) -> float:
    return float(bar.share.mean()) / black
