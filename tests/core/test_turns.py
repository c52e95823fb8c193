"""Which section comes next, and that going to a dry one leaves less waiting than working in order."""

from __future__ import annotations

from benchmarks.bench import waited, waiting
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.bench.turns import SectionNow, Turn, next_turn


def test_the_one_at_hand_goes_on_while_it_is_dry() -> None:
    sections = [SectionNow(1, False), SectionNow(2, False), SectionNow(3, True)]
    assert next_turn(sections, 2) == Turn(2)
    assert next_turn(sections) == Turn(1)


def test_without_one_at_hand_the_order_of_work_begins_at_its_beginning() -> None:
    sections = [SectionNow(1, False, 3.0), SectionNow(2, False), SectionNow(3, False)]
    assert next_turn(sections) == Turn(2)
    # One that is not there any more.
    assert next_turn(sections, 9) == Turn(2)


def test_while_one_dries_the_next_dry_one_is_offered_round_the_end() -> None:
    sections = [SectionNow(1, False), SectionNow(2, False, 4.0), SectionNow(3, True), SectionNow(4, False, 9.0)]
    assert next_turn(sections, 2) == Turn(1)
    assert next_turn(sections, 4) == Turn(1)


def test_where_all_is_wet_it_says_how_long() -> None:
    sections = [SectionNow(1, True), SectionNow(2, False, 6.5), SectionNow(3, False, 2.5)]
    assert next_turn(sections, 2) == Turn(None, 2.5)
    assert next_turn([SectionNow(1, True)]) == Turn(None)
    assert next_turn([]) == Turn(None)


@given(st.lists(st.tuples(st.booleans(), st.none() | st.floats(0, 60)), max_size=12), st.integers(0, 12))
def test_what_is_offered_is_never_wet_and_never_done(states: list[tuple[bool, float | None]], at: int) -> None:
    sections = [SectionNow(i, done, waits) for i, (done, waits) in enumerate(states)]
    turn = next_turn(sections, at)
    could = {s.key for s in sections if not s.done and s.waits is None}
    assert (turn.key in could) if could else turn.key is None


def test_the_offered_order_waits_less_than_working_in_order() -> None:
    """Simulated drawings: 6 to 20 sections, three passes with drying of a median of 8 minutes after each."""
    in_order, offered = waiting(40, seed=5)
    assert offered < 0.2 * in_order
    assert waited([5.0], [[8.0], [8.0]], True) == 0.0  # nothing is waited for after the last pass
    assert waited([5.0, 5.0], [[8.0, 8.0]], True) == 8.0  # one section by itself is waited for


@given(st.lists(st.lists(st.floats(0.5, 40.0), min_size=2, max_size=2), min_size=1, max_size=8))
def test_it_never_waits_longer_than_working_in_order(dry: list[list[float]]) -> None:
    work = [6.0, 9.0]
    assert waited(work, dry, True) <= waited(work, dry, False) + 1e-9
