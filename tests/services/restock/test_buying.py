"""What to buy on the demo: proposed, proven, as is wished; boxes, holes, prices."""

from __future__ import annotations

import time
from dataclasses import replace

import pytest
from tests.services.at_home import BUFF, colour_id

from tidy_tinder.core.reference.picking import band_of_spread
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import set_paper
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.restock.buying import SEEN, BuyWish
from tidy_tinder.services.restock.demands import DemandOf, demands_now
from tidy_tinder.services.restock.prices import PriceOf, all_prices, set_currency, set_price
from tidy_tinder.services.restock.view import BuysView, what_to_buy
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import BoxedSet, ColourRange

_SECONDS = 120.0


def buys(collection: Collection, wish: BuyWish | None = None) -> BuysView:
    """The whole answer."""
    end = time.monotonic() + _SECONDS
    while time.monotonic() < end:
        found = what_to_buy(collection, wish or BuyWish(), 0.5)
        if found.ended:
            assert not found.failed
            return found
        # Asked as a page asks: whoever asked all the time would leave no time to work it out.
        time.sleep(0.3)
    raise AssertionError("what to buy was never worked out")


def test_three_are_proposed_proven_and_serve_what_is_missing(demo: Collection) -> None:
    found = buys(demo)
    assert found.proven
    assert found.layered
    assert len(found.buys) == 3
    with demo() as session:
        missing = demands_now(session).missing
    assert found.missing == len(missing)
    for buy in found.buys:
        assert buy.serves
        assert buy.gain > 0.5
        assert buy.gain_alone >= buy.gain - 1e-9
        for one in buy.serves:
            assert one.before - one.after >= SEEN
            called = next(m for m in missing if (m.of, m.words, m.title) == (one.of, one.words, one.title))
            if buy.colour.id in called.meant:
                assert one.after == 0.0  # the very pencil that is called for


def test_what_was_bought_is_missing_no_more_and_others_are_proposed(demo: Collection) -> None:
    first = buys(demo)
    mine = [one.colour.id for one in first.buys]
    mark_owned(demo, mine, True)
    then = buys(demo)
    assert then.missing < first.missing
    assert not {one.colour.id for one in then.buys} & set(mine)
    assert sum(one.gain for one in then.buys) <= sum(one.gain for one in first.buys) + 1e-6


def test_more_colours_never_gain_less(demo: Collection) -> None:
    gains = [sum(one.gain for one in buys(demo, BuyWish(most=most)).buys) for most in (1, 2, 4)]
    assert gains == sorted(gains)


def test_only_what_is_wished_for_is_proposed(demo: Collection) -> None:
    with demo() as session:
        steadfast = session.query(ColourRange).filter_by(name="Steadfast").one().id
    found = buys(demo, BuyWish(ranges=frozenset({steadfast})))
    assert {one.colour.range_name for one in found.buys} <= {"Steadfast"}
    assert all(one.colour.lightfastness in ("I", "II") for one in buys(demo, BuyWish(lasting=True)).buys)
    assert all(not one.colour.water_soluble for one in buys(demo, BuyWish(dry=True)).buys)


def test_a_budget_leaves_out_what_has_no_price_and_keeps_within_it(demo: Collection) -> None:
    assert buys(demo, BuyWish(budget=10.0)).buys == ()
    assert buys(demo, BuyWish(budget=10.0)).without_price > 100
    with demo() as session:
        heron = session.query(ColourRange).filter_by(name="Heron").one().id
    set_price(demo, PriceOf(range_id=heron), 2.5)
    found = buys(demo, BuyWish(most=5, budget=6.0))
    assert 1 <= len(found.buys) <= 2
    assert all(one.price == 2.5 for one in found.buys)
    dearest = found.buys[0].colour.id
    set_price(demo, PriceOf(colour_id=dearest), 9.0)
    assert dearest not in [one.colour.id for one in buys(demo, BuyWish(most=5, budget=6.0)).buys]


def test_a_box_tells_what_is_new_what_twins_and_what_each_new_one_costs(demo: Collection) -> None:
    with demo() as session:
        box = session.query(BoxedSet).filter_by(name="Heron 120").one().id
    set_price(demo, PriceOf(set_id=box), 104.0)
    found = buys(demo)
    mine = next(one for one in found.boxes if one.set_id == box)
    assert (mine.name, mine.colours) == ("Heron 120", 120)
    assert mine.each_new == pytest.approx(104.0 / mine.new)
    assert mine.answered >= 10
    # All of Heron holds what any Heron alone would do.
    assert mine.gain >= max(one.gain for one in found.buys if one.colour.range_name == "Heron") - 1e-6
    assert [one.gain for one in found.boxes] == sorted((one.gain for one in found.boxes), reverse=True)


def test_a_hole_is_what_nothing_comes_near_to(demo: Collection) -> None:
    for hole in buys(demo).holes:
        assert hole.nearest > 6.0
        assert hole.of is DemandOf.CALL


def test_either_of_two_that_serve_answers_the_call(demo: Collection) -> None:
    """“A or B”: owning the second closes it, and nobody needs the first."""
    recipe, _ = save_recipe(demo, "Either\nCap:\nHeron 177 or Heron 139, heavy\n")
    peat, violet = colour_id(demo, "Heron", "177"), colour_id(demo, "Heron", "139")
    with demo() as session:
        [mine] = [one for one in demands_now(session, recipes=[recipe]).all if peat in one.meant]
    assert mine.meant == {peat, violet}
    assert mine.is_open
    mark_owned(demo, [violet], True)
    with demo() as session:
        [mine] = [one for one in demands_now(session, recipes=[recipe]).all if peat in one.meant]
        predicted = Scene.on(session, mine.paper_id).predicted().of(violet, Pressure.HEAVY)
    assert not mine.is_open
    assert predicted is not None
    assert mine.lab == predicted.lab  # it is to look as what she owns of the two


def test_recipes_without_a_drawing_are_answered_on_the_paper_at_hand(demo: Collection) -> None:
    before = buys(demo)
    set_paper(demo, BUFF)
    after = what_to_buy(demo, BuyWish(), 0.5)
    assert not (after.ended and after.layered)  # another paper is another question
    with demo() as session:
        assert {one.paper_id for one in demands_now(session).all} == {BUFF}
    assert before.missing > 0


def test_a_pick_is_in_doubt_as_the_answers_to_it_are(demo: Collection) -> None:
    """A spread is a root mean square in three dimensions: nine of ten lie within 1.44 of it (χ², from memory)."""
    assert band_of_spread(2.0) == pytest.approx(2.0 * (6.251 / 3.0) ** 0.5)


def test_without_recipes_nothing_is_missing(empty: Collection) -> None:
    found = what_to_buy(empty, BuyWish(), 5.0)
    while not found.ended:
        found = what_to_buy(empty, BuyWish(), 1.0)
    assert (found.missing, found.buys, found.boxes, found.failed) == (0, (), (), False)


def test_prices_are_set_changed_forgotten_and_undone(demo: Collection) -> None:
    of = PriceOf(colour_id=colour_id(demo, "Heron", "177"))
    assert set_price(demo, of, 2.0) is not None
    assert set_price(demo, of, 2.0) is None
    changed = set_price(demo, of, None)
    assert changed is not None
    undo(demo, changed.change_id)
    set_currency(demo, " kr ")
    ranges, sets, currency = all_prices(demo)
    assert currency == "kr"
    assert all(one.price is None for one in (*ranges, *sets))
    for wrong in (PriceOf(), replace(of, range_id=1)):
        with pytest.raises(RefusedError):
            set_price(demo, wrong, 1.0)
    for amount in (-1.0, float("nan"), 1e9):
        with pytest.raises(RefusedError):
            set_price(demo, of, amount)
    with pytest.raises(NotFoundError):
        set_price(demo, PriceOf(colour_id=99_999), 1.0)
    with pytest.raises(RefusedError):
        set_currency(demo, "a currency")
