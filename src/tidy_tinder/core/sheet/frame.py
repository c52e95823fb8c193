"""The frame for papers that go through no printer: cut out, laid over the paper, coloured through its windows."""

from __future__ import annotations

from tidy_tinder.core.sheet.furniture import (
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

SLOT = (78.0, 9.0)
"""Width and height of a window. Strips of 5.5 mm remain between them, which do not sag."""
ROW = 14.5
BETWEEN = 6.0
"""Bare paper between two columns of windows."""
CELLS_A_SLOT = 3
THICKNESS = 0.1
"""Of the paper that a frame is printed on, in mm."""
_DOT_OUTSIDE = 1.8
_STRIP = ROW - SLOT[1]
# Of each cell's label strip, the right end is bare: light is measured there.
_SITE = 12.0
_BESIDE = 1.5


def frame_layout(size: PageSize, slot: int = 0) -> Layout:
    """One frame: two columns of windows, one on A5. The first cell and the last one stay bare art paper.

    slot: which page of its set it is. Raises OutOfRangeError.
    """
    width, height = PAGE_MM[size]
    markers = markers_of(size, slot)
    columns = 1 if size is PageSize.A5 else 2
    across = columns * SLOT[0] + (columns - 1) * BETWEEN
    left = (width - across) / 2
    top = PAGE_MARGIN + MARKER + MARKER_BLANK + _STRIP
    room = height - PAGE_MARGIN - MARKER - MARKER_BLANK - _foot_height(columns) - top
    rows = int((room + _STRIP) // ROW)
    windows = [
        Box(left + c * (SLOT[0] + BETWEEN), top + r * ROW, *SLOT) for r in range(rows) for c in range(columns)
    ]  # fmt: skip
    last = CELLS_A_SLOT * len(windows) - 1
    cells = tuple(
        _cell(window, CELLS_A_SLOT * i + part, part, bare=CELLS_A_SLOT * i + part in (0, last))
        for i, window in enumerate(windows)
        for part in range(CELLS_A_SLOT)
    )
    foot = windows[-1].bottom + _STRIP
    texts = texts_between(markers)
    right = left + across
    second = (left, foot + RAMP_HEIGHT) if columns == 1 else (right - RAMP_WIDTH, foot)
    return Layout(
        kind=LayoutKind.FRAME,
        size=size,
        slot=slot,
        markers=markers,
        cells=cells,
        dots=tuple(d for d in _dots(windows, rows, columns) if clear_of_markers(*d, markers, DOT / 2)),
        dot_mm=DOT,
        ramp=ramp_at((left, foot), second),
        light_sites=tuple(
            site
            for site in _light_sites(cells, windows, rows, columns)
            if not any(m.box.inset(-MARKER_BLANK).meets(site) for m in markers)
        ),
        code=Box(texts[3].right - MARKER, texts[3].y, MARKER, MARKER),
        texts=(*texts[:3], Box(texts[3].x, texts[3].y, texts[3].width - MARKER - _BESIDE, MARKER)),
        windows=tuple(windows),
    )


def _foot_height(columns: int) -> float:
    """What stands below the windows: the two ramps side by side, or below one another where the frame is narrow."""
    return _STRIP + RAMP_HEIGHT * (1 if columns > 1 else 2)


def _cell(window: Box, index: int, part: int, bare: bool) -> Cell:
    """One of the cells that share a window; its label stands on the strip above."""
    width = SLOT[0] / CELLS_A_SLOT
    box = Box(window.x + part * width, window.y, width, SLOT[1])
    zone = width / len(MARK_PRESSURES)
    return Cell(
        index=index,
        box=box,
        label=Box(box.x + DOT, box.y - _STRIP, width - _SITE - DOT, _STRIP),
        zones=tuple(Zone(p, Box(box.x + i * zone, box.y, zone, SLOT[1])) for i, p in enumerate(MARK_PRESSURES)),
        bar=None,
        bare=bare,
    )


def _dots(windows: list[Box], rows: int, columns: int) -> list[tuple[float, float]]:
    """In the middle of the strips at the cells' boundaries, in the middle strip, and outside the windows."""
    first, last = windows[0], windows[columns - 1]
    inner = [w.x + part * SLOT[0] / CELLS_A_SLOT for w in windows[:columns] for part in range(1, CELLS_A_SLOT)]
    middle = [first.right + BETWEEN / 2] if columns > 1 else []
    found = [
        (x, first.y - _STRIP / 2 + row * ROW) for row in range(rows + 1) for x in (*inner, *middle)
    ]  # fmt: skip
    for row in range(rows):
        y = first.y + row * ROW + SLOT[1] / 2
        found += [(first.x - _DOT_OUTSIDE, y), (last.right + _DOT_OUTSIDE, y)]
    return found


def _light_sites(cells: tuple[Cell, ...], windows: list[Box], rows: int, columns: int) -> list[Box]:
    """Bare printed paper: the end of each label, the strip between the columns, the margins beside the windows."""
    sites = [Box(c.label.right + 1.0, c.label.y + 1.0, _SITE - 2.0 - DOT, c.label.height - 2.0) for c in cells]
    first, last = windows[0], windows[columns - 1]
    for row in range(rows):
        y = first.y + row * ROW + 1.0
        if columns > 1:
            sites.append(Box(first.right + 1.5, y, BETWEEN - 3.0, SLOT[1] - 2.0))
        sites.append(Box(last.right + _DOT_OUTSIDE + 1.0, y, 2.0, SLOT[1] - 2.0))
        sites.append(Box(first.x - _DOT_OUTSIDE - 3.0, y, 2.0, SLOT[1] - 2.0))
    return sites
