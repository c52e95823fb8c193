"""The printed pages: everything on the page, nothing on top of another, and the measures that the design gives."""

from __future__ import annotations

from itertools import combinations

import pytest

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.furniture import MARKER_BLANK, PAGE_MARGIN
from tidy_tinder.core.sheet.layout import Box, Layout, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.vocabulary import Pressure

SHEETS = [sheet_layout(size, count) for size in (PageSize.A4, PageSize.LETTER) for count in CellCount]
FRAMES = [frame_layout(size) for size in PageSize]
EVERY = SHEETS + FRAMES


def named(layout: Layout) -> str:
    return f"{layout.kind} {layout.size} {len(layout.cells)}"


def dot_boxes(layout: Layout) -> list[Box]:
    half = layout.dot_mm / 2
    return [Box(x - half, y - half, layout.dot_mm, layout.dot_mm) for x, y in layout.dots]


def meeting(some: list[Box], others: list[Box]) -> list[tuple[Box, Box]]:
    return [(a, b) for a in some for b in others if a.inset(1e-6).meets(b)]


@pytest.mark.parametrize("layout", EVERY, ids=named)
def test_all_that_is_printed_stands_on_the_page_within_its_margin(layout: Layout) -> None:
    width, height = layout.page_mm
    page = Box(0, 0, width, height).inset(PAGE_MARGIN - 1e-6)
    boxes = [m.box for m in layout.markers] + [p.box for p in layout.ramp] + [c.box for c in layout.cells]
    for box in (*boxes, *layout.light_sites, *dot_boxes(layout), layout.code, *layout.texts):
        assert page.holds(box.x, box.y), box
        assert page.holds(box.right, box.bottom), box


@pytest.mark.parametrize("layout", EVERY, ids=named)
def test_nothing_stands_on_another_thing(layout: Layout) -> None:
    blanks = [m.box.inset(-MARKER_BLANK) for m in layout.markers]
    coloured = [zone.box for cell in layout.cells for zone in cell.zones] + [c.bar for c in layout.cells if c.bar]
    labels = [c.label for c in layout.cells]
    dots, ramp, sites = dot_boxes(layout), [p.box for p in layout.ramp], list(layout.light_sites)
    alone = [layout.code, *layout.texts]
    groups = (blanks, coloured, labels, dots, ramp, sites, alone)
    for one, other in combinations(groups, 2):
        assert meeting(one, other) == []
    for group in groups:
        assert [(a, b) for a, b in combinations(group, 2) if a.inset(1e-6).meets(b)] == []


@pytest.mark.parametrize("layout", EVERY, ids=named)
def test_a_cell_runs_from_light_to_heavy_and_ends_at_the_bar(layout: Layout) -> None:
    for cell in layout.cells:
        assert [z.pressure for z in cell.zones] == [Pressure.LIGHT, Pressure.MEDIUM, Pressure.HEAVY]
        edges = [cell.zones[0].box.x, *(z.box.right for z in cell.zones)]
        assert edges == sorted(edges)
        assert cell.bar is None or cell.bar.x == pytest.approx(edges[-1])
        # Inset by .9 mm a zone still shows the tooth of some square millimetres.
        assert min(z.box.inset(0.9).width * z.box.inset(0.9).height for z in cell.zones) > 15


# Design page 6-sheet: cells of 30.2 × 14.8, 24.8 × 10.7 and 18.0 × 10.7 mm, markers of 13 mm, 8 mm margin.
@pytest.mark.parametrize(
    ("count", "width", "height", "cells"),
    [
        (CellCount.SIXTY, 30.2, 14.8, 60),
        (CellCount.NINETY, 24.8, 10.7, 90),
        (CellCount.HUNDRED_TWENTY, 18.0, 10.7, 120),
    ],
)
def test_a4_sheets_are_as_designed(count: CellCount, width: float, height: float, cells: int) -> None:
    layout = sheet_layout(PageSize.A4, count)
    assert (layout.cells[0].box.width, layout.cells[0].box.height) == (width, height)
    assert len(layout.places) == cells
    assert [(m.box.x, m.box.y, m.box.width) for m in layout.markers[:3]] == [(8, 8, 13), (98.5, 8, 13), (189, 8, 13)]
    # A reader with an aperture of 8 mm fits into the zones of the largest cells.
    if count is CellCount.SIXTY:
        assert min(min(z.box.width, z.box.height) for c in layout.cells for z in c.zones) > 8


# Design page 6-sheet: slots of 78 × 9 mm, 14.5 apart, 6 between columns; A4 96 cells, two of them bare; 117 dots, of
# which those beside markers are left away here.
def test_the_a4_frame_is_as_designed() -> None:
    layout = frame_layout(PageSize.A4)
    assert {(w.width, w.height) for w in layout.windows} == {(78.0, 9.0)}
    assert (len(layout.windows), len(layout.cells), len(layout.places)) == (32, 96, 94)
    assert [c.index for c in layout.cells if c.bare] == [0, 95]
    assert layout.windows[2].y - layout.windows[0].y == 14.5
    assert layout.windows[1].x - layout.windows[0].right == 6.0
    assert 110 <= len(layout.dots) <= 117


def test_pages_of_a_set_are_told_apart_by_their_markers() -> None:
    numbers = [m.number for slot in range(31) for m in sheet_layout(PageSize.A4, CellCount.NINETY, slot).markers]
    assert numbers == list(range(248))
    with pytest.raises(OutOfRangeError, match="31 pages"):
        sheet_layout(PageSize.A4, CellCount.NINETY, 31)


@pytest.mark.parametrize("layout", EVERY, ids=named)
def test_light_is_measured_near_every_cell(layout: Layout) -> None:
    """A shadow's edge is narrower than a page: each cell has a bare place within a cell's length."""
    for cell in layout.cells:
        x, y = cell.box.middle
        near = min((s.middle[0] - x) ** 2 + (s.middle[1] - y) ** 2 for s in layout.light_sites)
        assert near**0.5 < 20
