"""Which section comes next, and that going to a dry one leaves less waiting than working in order."""

from __future__ import annotations

import heapq

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.bench.turns import SectionNow, Turn, next_turn


def test_the_one_at_hand_goes_on_while_it_is_dry() -> None:
    sections = [SectionNow(1, False), SectionNow(2, False), SectionNow(3, True)]
    assert next_turn(sections, 2) == Turn(2)
    assert next_turn(sections) == Turn(1)


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


def waited(sections: int, work: list[float], dry: list[list[float]], offered: bool) -> float:
    """Minutes of waiting for a drawing whose sections are each worked in passes with drying between them."""
    clock = idle = 0.0
    left, wet_until, at = [len(work)] * sections, [0.0] * sections, 0
    while any(left):
        if offered:
            now = [
                SectionNow(i, left[i] == 0, wet_until[i] - clock if wet_until[i] > clock else None)
                for i in range(sections)
            ]
            turn = next_turn(now, at)
        else:
            turn = Turn(next(i for i in range(sections) if left[i]))
        if turn.key is None:
            idle, clock = idle + (turn.minutes or 0.0), clock + (turn.minutes or 0.0)
            continue
        assert isinstance(turn.key, int)
        at = turn.key
        wait = max(wet_until[at] - clock, 0.0)
        done = len(work) - left[at]
        idle, clock = idle + wait, clock + wait + work[done]
        left[at] -= 1
        wet_until[at] = clock + dry[at][done]
    return idle


def test_the_offered_order_waits_less_than_working_in_order() -> None:
    """Simulated drawings: 6 to 20 sections, three passes with drying of a median of 8 minutes after each."""
    rng = np.random.default_rng(5)
    shares = []
    for _ in range(60):
        sections = int(rng.integers(6, 21))
        work = rng.uniform(4.0, 20.0, 3).tolist()
        dry = (8.0 * np.exp(0.4 * rng.normal(size=(sections, 3)))).tolist()
        in_order, offered = waited(sections, work, dry, False), waited(sections, work, dry, True)
        assert offered <= in_order
        shares.append(offered / in_order)
    heapq.heapify(shares)
    assert float(np.median(shares)) < 0.2
