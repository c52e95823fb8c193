"""A sheet's grey ramp as a reader measured it: kept, refused where it cannot be, and used."""

from __future__ import annotations

import pytest
from tests.services.at_home import VELLUM

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.sheets.plan import SheetPlan
from tidy_tinder.services.sheets.ramp import RAMP_STEPS, measure_ramp
from tidy_tinder.services.sheets.store import prepare_sheet
from tidy_tinder.services.sheets.view import sheet_card

GREYS = {15: (84.0, 0.1, 1.0), 30: (73.0, 0.0, 0.8), 50: (58.0, 0.0, 0.4), 100: (22.0, 0.2, 0.1)}


@pytest.fixture
def sheet(demo: Collection) -> int:
    return prepare_sheet(demo, SheetPlan(VELLUM))[0]


def test_a_ramp_is_kept_changed_forgotten_and_undone(demo: Collection, sheet: int) -> None:
    assert RAMP_STEPS == (15, 30, 50, 70, 85, 100)
    measure_ramp(demo, sheet, GREYS)
    assert dict(sheet_card(demo, sheet).ramp) == GREYS
    assert measure_ramp(demo, sheet, GREYS) is None
    change = measure_ramp(demo, sheet, {})
    assert sheet_card(demo, sheet).ramp == ()
    assert change is not None
    undo(demo, change.change_id)
    assert dict(sheet_card(demo, sheet).ramp) == GREYS


@pytest.mark.parametrize(
    ("steps", "words"),
    [
        ({20: (80.0, 0.0, 0.0)}, "no step of 20 %"),
        ({15: (80.0, 0.0, 0.0), 30: (70.0, 0.0, 0.0)}, "at least 3"),
        ({15: (60.0, 0.0, 0.0), 30: (70.0, 0.0, 0.0), 50: (50.0, 0.0, 0.0)}, "Are the two exchanged"),
    ],
)
def test_what_cannot_be_a_ramp_is_refused(
    demo: Collection, sheet: int, steps: dict[int, tuple[float, float, float]], words: str
) -> None:
    with pytest.raises(RefusedError, match=words):
        measure_ramp(demo, sheet, steps)
    assert sheet_card(demo, sheet).ramp == ()


def test_a_grey_that_cannot_be_and_a_sheet_that_is_not_there(demo: Collection, sheet: int) -> None:
    with pytest.raises(OutOfRangeError):
        measure_ramp(demo, sheet, {**GREYS, 15: (184.0, 0.0, 0.0)})
    with pytest.raises(NotFoundError):
        measure_ramp(demo, sheet + 1, GREYS)
