"""What to buy, against all that can be put together: facility location has no published table, but small cases can be
tried out whole.
"""

from __future__ import annotations

from itertools import combinations, pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.restocking.buying import Purchase, buy_best, buy_greedily, most_helpful


def purchase(seed: int, calls: int, colours: int, least: float = 0.0, priced: bool = False) -> Purchase:
    rng = np.random.default_rng(seed)
    base = rng.uniform(1.0, 12.0, calls)
    offers = rng.uniform(0.5, 20.0, (calls, colours))
    prices = np.where(rng.random(colours) < 0.2, np.nan, rng.uniform(1.0, 5.0, colours)) if priced else None
    return Purchase(base, offers, rng.choice([0.25, 1.0], calls), least, prices)


def tried_out(of: Purchase, most: int, budget: float | None = None) -> float:
    """The most that any set of colours is worth."""
    prices = np.zeros(of.offers.shape[1]) if of.prices is None or budget is None else of.prices
    best = 0.0
    for count in range(most + 1):
        for chosen in combinations(range(of.offers.shape[1]), count):
            cost = sum(prices[u] for u in chosen)
            if budget is None or (np.isfinite(cost) and cost <= budget):
                best = max(best, of.worth(chosen))
    return best


@settings(max_examples=40, deadline=None)
@given(seed=st.integers(0, 10_000), calls=st.integers(1, 14), colours=st.integers(1, 8), most=st.integers(1, 3))
def test_the_best_is_the_best_of_all_that_can_be_put_together(seed: int, calls: int, colours: int, most: int) -> None:
    of = purchase(seed, calls, colours, least=0.7)
    found = buy_best(of, most)
    assert found.proven
    assert len(found.chosen) <= most
    assert of.worth(found.chosen) == pytest.approx(tried_out(of, most), abs=1e-6)
    assert found.gain == pytest.approx(of.gain(found.chosen))


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 10_000), budget=st.floats(0.0, 12.0))
def test_a_budget_is_kept_and_what_has_no_price_is_left_out(seed: int, budget: float) -> None:
    of = purchase(seed, 10, 7, priced=True)
    assert of.prices is not None
    found = buy_best(of, 3, budget)
    cost = sum(of.prices[u] for u in found.chosen)
    assert np.isfinite(cost)
    assert cost <= budget + 1e-6
    assert of.worth(found.chosen) == pytest.approx(tried_out(of, 3, budget), abs=1e-6)
    assert sum(of.prices[u] for u in buy_greedily(of, 3, budget).chosen) <= budget + 1e-6


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_greedy_never_beats_it_and_more_colours_never_gain_less(seed: int) -> None:
    of = purchase(seed, 30, 15)
    gains = []
    for most in range(1, 6):
        found = buy_best(of, most)
        assert found.gain >= buy_greedily(of, most).gain - 1e-9
        gains.append(found.gain)
    assert all(later >= before - 1e-9 for before, later in pairwise(gains))


def test_greedy_falls_for_what_is_good_at_everything_a_little() -> None:
    """Two colours that each serve half of the calls fully beat the one that serves all of them halfway, which greedy
    takes first: what the proof is for.
    """
    base = np.full(4, 10.0)
    # Alone the first gains 20.4, each of the others 20; the others together gain 40, with the first 30.2.
    offers = np.array([[4.9, 0.0, 10.0], [4.9, 0.0, 10.0], [4.9, 10.0, 0.0], [4.9, 10.0, 0.0]])
    of = Purchase(base, offers, np.ones(4))
    assert buy_greedily(of, 2).chosen[0] == 0
    assert set(buy_best(of, 2).chosen) == {1, 2}
    assert buy_best(of, 2).gain == pytest.approx(40.0)


def test_the_very_pencil_that_is_called_for_serves_its_call() -> None:
    of = Purchase(np.array([5.0, 3.0]), np.array([[0.0, 4.0], [9.0, 2.9]]), np.ones(2))
    assert of.serves((0, 1)).tolist() == [0, 1]
    assert of.serves((1,)).tolist() == [0, 0]
    assert of.serves(()).tolist() == [-1, -1]


def test_what_helps_most_alone_goes_first_and_then_what_comes_nearest() -> None:
    of = Purchase(np.array([5.0, 5.0]), np.array([[9.0, 4.0, 6.0, 1.0], [8.0, 5.0, 7.0, 9.0]]), np.ones(2))
    assert most_helpful(of, 4) == (3, 1, 2, 0)
    assert most_helpful(of, 2) == (3, 1)


def test_of_two_that_serve_alike_one_is_bought() -> None:
    """Without a least worth the program may take both: neither would be missed alone, and one is needed."""
    of = Purchase(np.array([5.0, 6.0]), np.array([[1.0, 1.0, 9.0], [2.0, 2.0, 9.0]]), np.ones(2))
    found = buy_best(of, 3)
    assert len(found.chosen) == 1
    assert found.gain == pytest.approx(8.0)


def test_nothing_is_bought_that_does_not_pay_or_where_nothing_helps() -> None:
    nothing = Purchase(np.array([1.0]), np.array([[2.0]]), np.ones(1))
    assert buy_best(nothing, 3) == buy_best(Purchase(np.zeros(0), np.zeros((0, 2)), np.zeros(0)), 3)
    assert buy_best(nothing, 3).chosen == ()
    little = Purchase(np.array([1.0]), np.array([[0.8]]), np.ones(1), least=0.5)
    assert buy_best(little, 1).chosen == ()
    assert buy_greedily(little, 1).chosen == ()


def test_what_makes_no_sense_is_refused() -> None:
    with pytest.raises(OutOfRangeError):
        Purchase(np.ones(2), np.ones((3, 1)), np.ones(2))
    with pytest.raises(OutOfRangeError):
        Purchase(np.ones(2), np.ones((2, 1)), np.ones(2), 0.0, np.ones(3))
    with pytest.raises(OutOfRangeError):
        buy_best(Purchase(np.ones(1), np.ones((1, 1)), np.ones(1)), 0)
