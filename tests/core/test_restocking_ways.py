"""Ways and the nearest of them: exactly those that comparing all would give, and new pairs mixed as all pairs are."""

from __future__ import annotations

import numpy as np
import pytest
from tests.core.test_pairs import PAPER, published_pencils

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.expected import expected_difference
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.optics.tooth import PencilModel
from tidy_tinder.core.restocking.ways import (
    NONE,
    PRICE_OF_A_PAIR,
    Ways,
    each_alone,
    joined,
    nearest_ways,
    pairs_as_ways,
    singles_as_ways,
    varied_ways,
)
from tidy_tinder.core.standins.pairs import PairTable, mix_new, mix_pairs


def few(count: int) -> dict[int, PencilModel]:
    """Pencils of published colours (`test_pairs`), numbered from 0."""
    return dict(enumerate(list(published_pencils().values())[:count]))


def rows_of(table: PairTable) -> dict[tuple[object, ...], np.ndarray]:
    """Labs of a table by which pencils lie how."""
    pairs = [table.pair(i) for i in range(len(table))]
    return {(p.below.pencil, p.below.pressure, p.above.pencil, p.above.pressure): p.lab for p in pairs}


def some(seed: int, count: int) -> Ways:
    rng = np.random.default_rng(seed)
    lab = np.stack([rng.uniform(10, 95, count), rng.uniform(-60, 60, count), rng.uniform(-60, 60, count)], axis=-1)
    second = np.where(rng.random(count) < 0.5, NONE, rng.integers(0, 30, count))
    return Ways(rng.integers(0, 30, count), second, lab, rng.uniform(0.0, 5.0, count))


def test_the_nearest_is_the_one_that_comparing_all_of_them_gives() -> None:
    ways, rng = some(1, 800), np.random.default_rng(2)
    wanted = np.stack([rng.uniform(10, 95, 40), rng.uniform(-50, 50, 40), rng.uniform(-50, 50, 40)], axis=-1)
    doubt = rng.uniform(0.0, 4.0, 40)
    cost = expected_difference(
        delta_e_2000(ways.lab[None], wanted[:, None]), np.hypot(ways.band[None], doubt[:, None])
    ) + np.where(ways.second == NONE, 0.0, PRICE_OF_A_PAIR)
    found = nearest_ways(ways, wanted, doubt)
    # Neighbours in Lab are looked at: of 40 colours no more than a few get one that is a little further.
    assert (found.best >= cost.min(axis=1) - 1e-9).all()
    assert (found.best - cost.min(axis=1)).max() < 0.6
    assert np.mean(found.best - cost.min(axis=1) < 1e-9) > 0.9


def test_doubt_makes_what_seems_alike_differ_and_a_pair_has_its_price() -> None:
    lab = np.array([[50.0, 0.0, 0.0], [50.0, 0.0, 0.0]])
    sure = Ways(np.array([1, 2]), np.array([NONE, 3]), lab, np.zeros(2))
    found = nearest_ways(sure, lab[:1], np.zeros(1), count=2)
    assert found.row.tolist() == [[0, 1]]
    assert found.cost[0].tolist() == pytest.approx([0.0, PRICE_OF_A_PAIR])
    unsure = Ways(sure.first, sure.second, lab, np.array([6.0, 0.0]))
    assert nearest_ways(unsure, lab[:1], np.zeros(1)).row[0, 0] == 1


def test_fewer_ways_than_are_asked_for_leave_places_empty() -> None:
    nothing = Ways(np.zeros(0, int), np.zeros(0, int), np.zeros((0, 3)), np.zeros(0))
    found = nearest_ways(nothing, np.zeros((2, 3)), np.zeros(2), count=3)
    assert np.isinf(found.cost).all()
    found = nearest_ways(some(3, 2), np.zeros((1, 3)), np.zeros(1), count=3)
    assert np.isinf(found.cost[0]).tolist() == [False, False, True]
    assert varied_ways(nothing, np.zeros((1, 3)), np.zeros(1), 3, 1) == [[]]


def test_varied_ways_need_no_pencil_too_often() -> None:
    ways = some(4, 600)
    [kept] = varied_ways(ways, np.array([[50.0, 0.0, 0.0]]), np.zeros(1), 30, 2)
    pencils = [pencil for one in kept for pencil in one.pencils]
    assert max(pencils.count(p) for p in pencils) <= 2
    costs = [one.cost for one in kept]
    assert costs == sorted(costs)
    assert len(kept) >= 10


def test_of_the_same_two_pencils_in_either_order_the_nearest_is_taken_once() -> None:
    """Five ways along L*: 3 over 7, 7 over 3, 7 over 3 again, 7 alone, 3 over 8."""
    first, second = np.array([3, 7, 7, 7, 3]), np.array([7, 3, 3, NONE, 8])
    L = np.array([52.0, 51.0, 53.0, 55.0, 50.5])
    ways = Ways(first, second, np.stack([L, 0 * L, 0 * L], axis=-1), np.zeros(5))
    [kept] = varied_ways(ways, np.array([[50.0, 0.0, 0.0]]), np.zeros(1), 5, 5)
    assert [one.pencils for one in kept] == [(3, 8), (7, 3), (7,)]
    [kept] = varied_ways(ways, np.array([[50.0, 0.0, 0.0]]), np.zeros(1), 2, 1)
    assert [one.pencils for one in kept] == [(3, 8), (7,)]  # after 3 and 8 only 7 alone is left


def test_each_alone_is_the_nearest_of_its_own_marks() -> None:
    lab = np.array([[[20.0, 0.0, 0.0], [80.0, 0.0, 0.0]], [[50.0, 40.0, 0.0], [50.0, 41.0, 0.0]]])
    alone = each_alone(lab, np.zeros((2, 2)), np.array([[79.0, 0.0, 0.0]]), np.zeros(1))
    assert alone.shape == (1, 2)
    assert alone[0, 0] == pytest.approx(float(delta_e_2000(np.array([79.0, 0.0, 0.0]), lab[0, 1])))
    assert each_alone(np.zeros((0, 2, 3)), np.zeros((0, 2)), np.zeros((1, 3)), np.zeros(1)).shape == (1, 0)


def test_new_over_owned_are_those_rows_of_the_whole_table() -> None:
    pencils = few(5)
    new, owned = {i: pencils[i] for i in (1, 3)}, {i: pencils[i] for i in (0, 2, 4)}
    whole, some_of_it = mix_pairs(pencils, PAPER), mix_new(new, owned, PAPER)
    all_of, found = rows_of(whole), rows_of(some_of_it)
    wanted = {key for key in all_of if (key[0] in new) != (key[2] in new)}
    assert set(found) == wanted
    assert all(found[key] == pytest.approx(all_of[key], abs=1e-9) for key in wanted)
    with pytest.raises(OutOfRangeError):
        mix_new(new, pencils, PAPER)


def test_singles_and_pairs_stand_together_and_some_pencils_alone() -> None:
    pencils = few(3)
    table = mix_pairs(pencils, PAPER)
    pairs = pairs_as_ways(table, {i: np.full(len(table.coats), float(i)) for i in pencils})
    singles = singles_as_ways(pencils, np.zeros((3, 2, 3)), np.ones((3, 2)))
    both = joined(singles, pairs)
    assert len(both) == 6 + len(table)
    assert set(both.of_only([0, 1]).first) == {0, 1}
    assert (np.isin(both.of_only([0, 1]).second, [0, 1, NONE])).all()
    one = np.flatnonzero((pairs.first == 1) & (pairs.second == 2))[0]
    assert pairs.band[one] == pytest.approx(np.hypot(1.0, 2.0))
