"""Pages photographed with a phone that works on its pictures: what is said of the doubt holds there too.

The phone is the tests' own (phone_camera.py); figures of more photos are in docs/benchmarks.md.
"""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
from benchmarks.phones import CONDITIONS, phoned
from benchmarks.sheets import Tally, count, knowledge_of, page_of

from tidy_tinder.core.sheet.frame import frame_layout
from tidy_tinder.core.sheet.layout import LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount, sheet_layout
from tidy_tinder.core.sheet.reading import SeenPage, see_page, tell_page

pytestmark = pytest.mark.slow

SEED = 57


@cache
def seen(condition: str, kind: LayoutKind = LayoutKind.SHEET) -> SeenPage:
    layout = frame_layout(PageSize.A4) if kind is LayoutKind.FRAME else sheet_layout(PageSize.A4, CellCount.NINETY)
    return see_page(phoned(page_of(layout, SEED, "white medium"), CONDITIONS[condition], SEED), [layout])


def told(condition: str, ramp: bool, cells: int, kind: LayoutKind = LayoutKind.SHEET) -> Tally:
    page_seen = seen(condition, kind)
    page = page_of(page_seen.flat.found.layout, SEED, "white medium")
    known = knowledge_of(page, ramp, cells, np.random.default_rng(SEED))
    tally = Tally()
    count(tally, page, tell_page(page_seen, known).cells, known)
    return tally


@pytest.mark.parametrize("condition", ["by the window", "a hand's shadow", "left alone"])
@pytest.mark.parametrize(("ramp", "cells"), [(False, 0), (True, 0), (False, 12)], ids=["paper", "ramp", "12 cells"])
def test_bands_hold_whatever_a_phone_does_with_its_picture(condition: str, ramp: bool, cells: int) -> None:
    found = told(condition, ramp, cells)
    assert len(found.every) > 80
    assert np.mean(found.held) >= 0.86


@pytest.mark.parametrize("kind", list(LayoutKind))
def test_a_measured_ramp_does_not_lead_away_where_brightness_alone_was_evened(kind: LayoutKind) -> None:
    """A ramp of greys tells how bright things are shown, not whether each channel was bent or all of them alike."""
    by_ramp, by_paper = told("by the window", True, 0, kind), told("by the window", False, 0, kind)
    assert np.median(by_ramp.every) < np.median(by_paper.every) + 0.2
