"""A sitting and its clock: what counts, what does not, and what a clock that was set back or a night does."""

from __future__ import annotations

import pytest
from tests.services.bench.conftest import DRAWING, Time

from tidy_tinder.core.vocabulary import Wetting
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import IDLE_SECONDS, alive, begin_sitting, end_sitting, give_back, pause
from tidy_tinder.services.bench.drying import begin_drying
from tidy_tinder.services.bench.view import BenchView, bench
from tidy_tinder.services.collection.preferences import set_rest
from tidy_tinder.services.drawings.store import put_away, remove_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo


def seconds(collection: Collection) -> float:
    found = bench(collection, DRAWING).clock
    assert found is not None
    return found.seconds


def seen(collection: Collection) -> BenchView:
    return bench(collection, DRAWING)


def test_looking_at_a_bench_writes_nothing(drawn: Collection) -> None:
    before = seen(drawn)
    assert before.clock is None
    assert seen(drawn) == before


def test_the_clock_counts_while_something_happens(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    time.passes(minutes=4)
    alive(drawn, DRAWING)
    time.passes(minutes=3)
    assert seconds(drawn) == pytest.approx(7 * 60)
    begin_sitting(drawn, DRAWING)  # it goes on; another is not begun
    assert seen(drawn).sittings == 1


def test_after_ten_quiet_minutes_it_stands_still_and_they_can_be_given_back(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    time.passes(minutes=5)
    alive(drawn, DRAWING)
    time.passes(hours=9)  # a browser asleep for a night
    stood = seen(drawn).clock
    assert stood is not None
    assert (stood.seconds, stood.running, stood.not_counted) == (300.0, False, int(IDLE_SECONDS))
    alive(drawn, DRAWING)
    time.passes(minutes=1)
    again = seen(drawn).clock
    assert again is not None
    assert (again.seconds, again.running) == (360.0, True)
    give_back(drawn, DRAWING)
    assert seconds(drawn) == pytest.approx(360.0 + IDLE_SECONDS)
    with pytest.raises(RefusedError, match="no minutes to give back"):
        give_back(drawn, DRAWING)


def test_a_timer_keeps_the_clock_running(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    begin_drying(drawn, DRAWING, 0, Wetting.SOLVENT, "wet")
    time.passes(minutes=25)
    assert seconds(drawn) == pytest.approx(25 * 60)


def test_a_clock_that_is_set_back_takes_nothing_away(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    time.passes(minutes=6)
    alive(drawn, DRAWING)
    time.passes(hours=-2)
    assert seconds(drawn) == pytest.approx(360.0)
    alive(drawn, DRAWING)
    time.passes(minutes=2)
    assert seconds(drawn) == pytest.approx(480.0)


def test_a_pause_is_a_pause_and_fifty_minutes_ask_for_a_rest(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    pause(drawn, DRAWING)
    time.passes(minutes=8)
    assert seconds(drawn) == 0.0
    for _ in range(10):
        alive(drawn, DRAWING)
        time.passes(minutes=5.1)
    due = seen(drawn).clock
    assert due is not None
    assert due.rest
    for minutes, asked in ((0, False), (52, False), (45, True)):
        set_rest(drawn, minutes)
        again = seen(drawn).clock
        assert again is not None
        assert again.rest is asked
    with pytest.raises(RefusedError):
        set_rest(drawn, 3)


def test_an_ended_sitting_can_go_on_again_by_undo(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    time.passes(minutes=5)
    change = end_sitting(drawn, DRAWING)
    assert seen(drawn).clock is None
    assert seen(drawn).minutes == pytest.approx(5.0)
    undo(drawn, change.change_id)
    assert seconds(drawn) == pytest.approx(300.0)


def test_a_removed_drawing_comes_back_with_its_hours(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    time.passes(minutes=5)
    end_sitting(drawn, DRAWING)
    change = remove_drawing(drawn, DRAWING)
    with pytest.raises(NotFoundError):
        seen(drawn)
    undo(drawn, change.change_id)
    assert seen(drawn).minutes == pytest.approx(5.0)


def test_without_a_sitting_what_needs_one_is_refused(drawn: Collection) -> None:
    alive(drawn, DRAWING)
    for act in (pause, give_back, end_sitting):
        with pytest.raises(RefusedError, match="Begin one first"):
            act(drawn, DRAWING)
    with pytest.raises(NotFoundError):
        begin_sitting(drawn, 99)
    put_away(drawn, DRAWING, True)
    with pytest.raises(RefusedError, match="put away"):
        begin_sitting(drawn, DRAWING)
