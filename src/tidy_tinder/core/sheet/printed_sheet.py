"""The sheet that is coloured in itself: cells of three zones and a black bar, with gutters of bare paper between."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

from tidy_tinder.core.sheet.furniture import (
    CODE,
    DOT,
    MARKER,
    MARKER_BLANK,
    PAGE_MARGIN,
    RAMP_HEIGHT,
    RAMP_WIDTH,
    clear_of_markers,
    markers_of,
    ramp_at,
    texts_between,
)
from tidy_tinder.core.sheet.layout import PAGE_MM, Box, Cell, Layout, LayoutKind, PageSize, Zone
from tidy_tinder.core.vocabulary import MARK_PRESSURES

GUTTER = 2.4
BAR = 3.0
# Of a gutter, what lies clear of dots and of pencil strokes that go over the edge.
_SITE_WIDTH, _SITE_CLEAR = 1.2, 1.0
_GRID_TOP = PAGE_MARGIN + MARKER + MARKER_BLANK + GUTTER


class CellCount(IntEnum):
    """How many cells an A4 page has: 60 for a reader with an aperture of 8 mm, 120 to save paper."""

    SIXTY = 60
    NINETY = 90
    HUNDRED_TWENTY = 120


@dataclass(frozen=True)
class _Make:
    """Cells of one count: how they stand on A4, how large they are, how high their labels."""

    columns: int
    rows: int
    width: float
    height: float
    label: float


_MAKES = {
    CellCount.SIXTY: _Make(5, 12, 30.2, 14.8, 4.0),
    CellCount.NINETY: _Make(6, 15, 24.8, 10.7, 3.4),
    CellCount.HUNDRED_TWENTY: _Make(8, 15, 18.0, 10.7, 3.4),
}


def sheet_layout(size: PageSize, count: CellCount, slot: int = 0) -> Layout:
    """One page of a sheet. A page that is too short holds fewer rows.

    slot: which page of its set it is. Raises OutOfRangeError.
    """
    make, (width, height) = _MAKES[count], PAGE_MM[size]
    markers = markers_of(size, slot)
    across = make.columns * make.width + (make.columns - 1) * GUTTER
    left = (width - across) / 2
    below = height - PAGE_MARGIN - MARKER - MARKER_BLANK - RAMP_HEIGHT - 2 * GUTTER
    rows = min(make.rows, int((below - _GRID_TOP + GUTTER) // (make.height + GUTTER)))
    cells = tuple(
        _cell(i, left + column * (make.width + GUTTER), _GRID_TOP + row * (make.height + GUTTER), make)
        for i, (row, column) in enumerate((r, c) for r in range(rows) for c in range(make.columns))
    )
    foot = cells[-1].box.bottom + 2 * GUTTER
    right = left + across
    return Layout(
        kind=LayoutKind.SHEET,
        size=size,
        slot=slot,
        markers=markers,
        cells=cells,
        dots=tuple(
            (x, y)
            for y in (_GRID_TOP - GUTTER / 2 + row * (make.height + GUTTER) for row in range(rows + 1))
            for x in (left - GUTTER / 2 + column * (make.width + GUTTER) for column in range(make.columns + 1))
            if clear_of_markers(x, y, markers, DOT / 2)
        ),
        dot_mm=DOT,
        ramp=ramp_at((left, foot), (right - RAMP_WIDTH, foot)),
        light_sites=tuple(
            site for site in _gutter_sites(cells) if not any(m.box.inset(-MARKER_BLANK).meets(site) for m in markers)
        ),
        code=Box((width - CODE) / 2, foot, CODE, CODE),
        texts=texts_between(markers),
    )


def _cell(index: int, x: float, y: float, make: _Make) -> Cell:
    """The label above, the zones below it from light to heavy, the bar at the heavy end."""
    zone = (make.width - BAR) / len(MARK_PRESSURES)
    top, height = y + make.label, make.height - make.label
    return Cell(
        index=index,
        box=Box(x, y, make.width, make.height),
        label=Box(x, y, make.width, make.label),
        zones=tuple(Zone(p, Box(x + i * zone, top, zone, height)) for i, p in enumerate(MARK_PRESSURES)),
        bar=Box(x + make.width - BAR, top, BAR, height),
    )


def _gutter_sites(cells: tuple[Cell, ...]) -> list[Box]:
    """The bare gutter at each of a cell's four sides, each once."""
    sites: dict[tuple[float, float], Box] = {}
    off = GUTTER / 2
    for cell in cells:
        box = cell.box
        clear = DOT / 2 + _SITE_CLEAR - off  # a dot stands at each crossing, half a gutter outside the corners
        for x in (box.x - off, box.right + off):
            site = Box(x - _SITE_WIDTH / 2, box.y + clear, _SITE_WIDTH, box.height - 2 * clear)
            sites.setdefault((round(site.x, 3), round(site.y, 3)), site)
        for y in (box.y - off, box.bottom + off):
            site = Box(box.x + clear, y - _SITE_WIDTH / 2, box.width - 2 * clear, _SITE_WIDTH)
            sites.setdefault((round(site.x, 3), round(site.y, 3)), site)
    return list(sites.values())
