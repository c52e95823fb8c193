"""How long something takes to dry here: what is learned, what is not; bands that hold for artists of many kinds."""

from __future__ import annotations

import math

import pytest
from benchmarks.bench import drying_bands
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.bench.drying import LONGEST_MINUTES, Answer, Said, drying_time
from tidy_tinder.core.errors import OutOfRangeError


def test_before_any_answer_it_is_eight_minutes_and_half_as_long_again_on_what_drinks() -> None:
    """The design's figures (common practice, no source): a median of 8 minutes, first passes on absorbent paper 12."""
    usual, slow = drying_time([]), drying_time([], slow=True)
    assert usual.median == pytest.approx(8.0, rel=0.01)
    assert slow.median == pytest.approx(12.0, rel=0.02)
    assert usual.low < 8.0 / 1.8
    assert usual.high > 8.0 * 1.8
    assert usual.answers == 0


def test_answers_move_the_median_to_them_and_narrow_the_band() -> None:
    known = [drying_time([Answer(20.0)] * n) for n in range(6)]
    medians = [one.median for one in known]
    assert medians == sorted(medians)
    assert medians[-1] == pytest.approx(20.0, rel=0.12)
    widths = [one.high / one.low for one in known]
    assert widths == sorted(widths, reverse=True)
    assert known[4].answers == 4


def test_dry_before_is_only_a_bound() -> None:
    """Who comes back after nine hours and finds it dry has learned almost nothing: it is not a time of nine hours."""
    late = drying_time([Answer(540.0, Said.DRY_BEFORE)])
    assert late.median == pytest.approx(drying_time([]).median, rel=0.02)
    assert drying_time([Answer(540.0)]).median > 2.0 * late.median
    # But who finds it dry after two minutes has.
    assert drying_time([Answer(2.0, Said.DRY_BEFORE)]).median < 5.0
    assert drying_time([Answer(30.0, Said.STILL_WET)]).median > 12.0


def test_what_is_told_of_slow_passes_serves_the_others_too() -> None:
    quick, slow = ([Answer(6.0, slow=s)] * 5 for s in (False, True))
    assert drying_time(slow).median < drying_time(quick).median < drying_time(quick, slow=True).median
    assert drying_time(slow, slow=True).median == pytest.approx(6.0, rel=0.15)


def test_mistaken_taps_and_nights_teach_nothing() -> None:
    assert drying_time([Answer(0.05), Answer(LONGEST_MINUTES + 1)]).answers == 0
    with pytest.raises(OutOfRangeError):
        drying_time([Answer(math.nan)])


@given(st.lists(st.floats(0.5, 600.0), max_size=5), st.floats(0.1, 2000.0))
def test_it_is_never_less_dry_later(times: list[float], minutes: float) -> None:
    told = drying_time([Answer(t) for t in times])
    assert 0.0 <= told.dry_by(minutes) <= told.dry_by(2.0 * minutes) <= 1.0
    assert told.low < told.median < told.high
    assert told.left_after(minutes) >= 0.0
    assert told.dry_by(told.median) == pytest.approx(0.5, abs=1e-6)


def test_after_three_answers_nine_of_ten_bands_hold_for_steady_and_restless_artists() -> None:
    """Medians of 3 to 25 minutes, answers that come late: not the prior's own world. The issue asks for 85 to 98 %."""
    held, _ = drying_bands(3, (0.15, 0.6), artists=400, seed=11)
    assert 0.85 <= held <= 0.98
