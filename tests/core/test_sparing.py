"""What would not be missed and what to pack, against all tins that there are."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.restocking.spare import Need, Option, can_go, missed_alone, pack, total

OWNED = frozenset(range(7))


def needs(seed: int, count: int = 8) -> tuple[Need, ...]:
    rng = np.random.default_rng(seed)
    made = []
    for _ in range(count):
        options = {}
        for _ in range(int(rng.integers(1, 6))):
            pencils = tuple(sorted(rng.choice(7, int(rng.integers(1, 3)), replace=False).tolist()))
            options[pencils] = float(rng.uniform(0.0, 9.0))
        ordered = sorted((Option(pencils, cost) for pencils, cost in options.items()), key=lambda one: one.cost)
        made.append(Need(tuple(ordered), float(rng.choice([0.25, 1.0])), 30.0))
    return tuple(made)


@settings(max_examples=40, deadline=None)
@given(seed=st.integers(0, 10_000), count=st.integers(1, 7))
def test_a_packed_tin_is_the_best_of_all_tins(seed: int, count: int) -> None:
    of = needs(seed)
    packed = pack(of, OWNED, count)
    best = min(total(of, frozenset(tin)) for tin in combinations(OWNED, count))
    assert len(packed.pencils) <= count
    assert packed.proven
    assert packed.cost == pytest.approx(best, abs=1e-4)
    assert total(of, frozenset(packed.pencils)) == pytest.approx(packed.cost)
    assert packed.best == pytest.approx(total(of, OWNED))


@settings(max_examples=40, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_what_is_missed_is_what_all_comes_out_worse_by(seed: int) -> None:
    of = needs(seed)
    whole = total(of, OWNED)
    for pencil, worse in missed_alone(of, OWNED).items():
        assert worse == pytest.approx(total(of, OWNED - {pencil}) - whole)
        assert worse >= 0.0


@settings(max_examples=40, deadline=None)
@given(seed=st.integers(0, 10_000), within=st.floats(0.0, 20.0))
def test_what_can_go_together_is_not_missed_together(seed: int, within: float) -> None:
    of = needs(seed)
    gone = can_go(of, OWNED, within)
    assert total(of, OWNED - set(gone)) <= total(of, OWNED) + within + 1e-9
    assert len(set(gone)) == len(gone)


def test_of_two_twins_either_can_go_but_not_both() -> None:
    of = (Need((Option((1,), 0.0), Option((2,), 0.1)), 1.0, 30.0),)
    assert missed_alone(of, {1, 2}) == {1: pytest.approx(0.1), 2: 0.0}
    assert can_go(of, {1, 2}, within=0.05) == (2,)
    assert can_go(of, {1, 2}, within=0.2) == (2,)  # then only 1 is left, and that is missed


def test_of_two_twins_one_is_packed_and_what_nothing_needs_stays() -> None:
    of = (Need((Option((1,), 0.0), Option((2,), 0.0), Option((3,), 9.0)), 1.0, 30.0),)
    packed = pack(of, {1, 2, 3}, 3)
    assert len(packed.pencils) == 1
    assert packed.cost == 0.0


def test_a_tin_for_nothing_is_empty_and_none_of_no_pencils_is_packed() -> None:
    assert pack((), OWNED, 3).pencils == ()
    with pytest.raises(OutOfRangeError):
        pack(needs(1), OWNED, 0)
