"""Heavy marks over the printed black bars of a photographed sheet: told as near as other marks, and only where somebody
went over them.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

import numpy as np
import pytest
from numpy.typing import NDArray
from tests.core.sheet_camera import BLACK_INK, Camera, Shot
from tests.core.sheet_eyes import Eye, published_chart

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.judging import BarReading
from tidy_tinder.core.sheet.knowledge import PageKnowledge
from tidy_tinder.core.sheet.layout import Layout, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.reading import read_page
from tidy_tinder.core.vocabulary import Pressure

Array = NDArray[np.float64]
SHEET = sheet_layout(PageSize.A4, CellCount.NINETY)
PAPER = np.full(31, 0.87)
COVER = {Pressure.LIGHT: 0.3, Pressure.MEDIUM: 0.6, Pressure.HEAVY: 0.95}
EYE = Eye(lamp="D50", vivid=0.05)
GOOD = Shot(tilt=6, turn=2, contrast=0.25)
CELLS = range(72)


def pencil(index: int) -> Array:
    """The published chart's patches, in turn."""
    chart = published_chart("BabelColor Average")[:18]
    return np.asarray(chart[index % len(chart)], dtype=np.float64)


def over_black(index: int, hides: float) -> Array:
    """What a pencil that hides so much looks like over printed black (31,)."""
    return hides * pencil(index) + (1 - hides) * BLACK_INK * PAPER


def told(
    hides: Mapping[int, float], part: float = 1.0, shot: Shot = GOOD, layout: Layout = SHEET
) -> dict[int, BarReading | None]:
    """What is told of the bars of a page, by cell. hides: how much of the bar the heavy strokes hide, by cell, over
    this part of it; bars of other cells are left alone.
    """
    marks = {(i, p): (1 - cover) * PAPER + cover * pencil(i) for i in CELLS for p, cover in COVER.items()}
    bars = {i: over_black(i, hiding) for i, hiding in hides.items()}
    shares = EYE.shares(np.array([*marks.values(), *bars.values()]), PAPER)
    lights = [(float(r), float(g), float(b)) for r, g, b in shares]
    over = {i: (light, part) for i, light in zip(bars, lights[len(marks) :], strict=True)}
    photo = Camera(layout, shot, dict(zip(marks, lights, strict=False)), tooth=0.05, bars=over).photo()
    L, a, b = reflectance_to_lab(PAPER)
    read = read_page(photo, [(layout, PageKnowledge((float(L), float(a), float(b))))])
    return {cell.index: cell.bar for cell in read.cells if cell.index in CELLS}


HIDES = {i: (0.15, 0.45, 0.8)[i % 3] for i in CELLS}


@cache
def all_gone_over() -> dict[int, BarReading | None]:
    return told(HIDES)


def test_what_lies_over_black_is_told_within_its_spread() -> None:
    bars = {i: bar for i, bar in all_gone_over().items() if bar is not None}
    assert len(bars) >= 64
    far = np.array([delta_e_2000(bar.lab, reflectance_to_lab(over_black(i, HIDES[i]))) for i, bar in bars.items()])
    spread = np.array([bar.spread for bar in bars.values()])
    # As near as heavy marks beside the bar have to be by the paper alone (design page 6-sheet).
    assert np.median(far) < 3.2
    assert np.percentile(far, 95) < 8.0
    assert np.mean(far <= spread) > 0.85
    covered = np.array([np.trace(bar.covariance) for bar in bars.values()])
    assert covered.min() > 0.5


def test_a_page_whose_bars_were_left_alone_tells_nothing_of_cover() -> None:
    assert set(told({}).values()) == {None}
    # One or two that a stroke ran over do not say that all were gone over.
    assert set(told({0: 0.8, 1: 0.8}).values()) == {None}


def test_a_bar_left_alone_on_a_page_of_others_is_named_bare() -> None:
    pale = [i for i in CELLS if reflectance_to_lab(pencil(i))[0] > 60]
    left = pale[::5]
    bars = told({i: 0.6 for i in CELLS if i not in left})
    assert [bars[i] is not None and bars[i].bare for i in left] == [True] * len(left)  # type: ignore[union-attr] # told
    assert not any(bar.bare for i in pale if i not in left if (bar := bars[i]) is not None)


def test_a_bar_of_which_a_part_was_gone_over_is_not_told() -> None:
    whole = {i for i, bar in all_gone_over().items() if bar is not None}
    # Where little is hidden, half of it looks as all of it does.
    hiding = {i for i in whole if HIDES[i] > 0.4 and reflectance_to_lab(pencil(i))[0] > 50}
    half = told(HIDES, part=0.5)
    assert len(hiding) > 16
    assert all(half[i] is None for i in hiding)


@pytest.mark.parametrize("shine", [0.03, 0.25])
def test_where_a_lamp_is_mirrored_nothing_is_told_of_black(shine: float) -> None:
    bars = told(HIDES, shot=Shot(shine=shine, contrast=0.25))
    middle = min(SHEET.places[: len(CELLS)], key=lambda c: np.hypot(c.box.middle[0] - 105, c.box.middle[1] - 148.5))
    assert bars[middle.index] is None
    assert sum(bar is not None for bar in bars.values()) > 24


def test_a_frame_has_no_bars() -> None:
    frame = frame_layout(PageSize.A4)
    assert set(told({}, layout=frame).values()) == {None}
