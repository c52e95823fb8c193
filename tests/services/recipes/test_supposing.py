"""Plans with other pencils than those at hand: a range, a box, one more; written as a recipe of its own."""

from __future__ import annotations

import time

import pytest
from tests.services.at_home import VELLUM, calls, colour_id

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.choices import choose_standin
from tidy_tinder.services.recipes.looking_through import look_through
from tidy_tinder.services.recipes.plan_view import PlanView
from tidy_tinder.services.recipes.planning import plan_for
from tidy_tinder.services.recipes.putting_into import put_into
from tidy_tinder.services.recipes.supposing import NOTHING, Supposed, other_hands
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.recipes.view import Answer, open_recipe

SCARLET_CAP = 1


def planned(collection: Collection, supposed: Supposed, recipe: int = SCARLET_CAP) -> PlanView:
    for _ in range(900):
        found = plan_for(collection, recipe, VELLUM, Closest.OVERALL, 1.0, supposed=supposed)
        if found.ended:
            assert found.plan is not None
            return found.plan
        time.sleep(0.05)
    raise AssertionError("the plan did not come to an end")


def pencils(plan: PlanView) -> set[str]:
    return {one.pencil.colour.range_name for p in plan.passages for c in p.calls for one in c.laid}


def box(collection: Collection, name: str) -> int:
    return next(one.id for one in other_hands(collection)[1] if one.name == name)


def test_a_plan_with_one_range_lays_nothing_else(demo: Collection) -> None:
    ranges, _ = other_hands(demo)
    scholar = next(one for one in ranges if one.name == "Scholar")
    plan = planned(demo, Supposed(range_id=scholar.id))
    assert pencils(plan) == {"Scholar"}
    assert not any(call.settled for passage in plan.passages for call in passage.calls)
    assert plan.expected <= plan.by_itself


def test_a_recipe_put_into_a_box_is_a_recipe_of_its_own(demo: Collection) -> None:
    supposed = Supposed(set_id=box(demo, "Heron 24"))
    plan = planned(demo, supposed)
    laid = [(one.pencil.colour.id, one.layers) for p in plan.passages for c in p.calls for one in c.laid]
    number, change = put_into(demo, SCARLET_CAP, VELLUM, Closest.OVERALL, supposed)
    view = open_recipe(demo, number, VELLUM, Closest.OVERALL)
    assert view.title == "Scarlet cap with pale warts, with the box Heron 24"
    assert [(c.colour.id, c.layers) for s in view.steps for c in s.calls if c.colour] == laid
    assert [s.area for s in view.steps if s.calls] == [
        s.area for s in open_recipe(demo, SCARLET_CAP, VELLUM, Closest.OVERALL).steps if s.calls
    ]
    undo(demo, change.change_id)
    with pytest.raises(NotFoundError):
        open_recipe(demo, number, VELLUM, Closest.OVERALL)


def test_a_recipe_is_put_into_a_box_when_its_lines_are_answered_and_asks_no_more_then(demo: Collection) -> None:
    """A line that is written out with other pencils has nothing but its calls: what was not read would be gone."""
    recipe, _ = save_recipe(demo, "A leaf\nHeron\n126 light\nround the rim moonmilk comes in, 119 heavy\n")
    supposed = Supposed(set_id=box(demo, "Heron 24"))
    planned(demo, supposed, recipe)
    with pytest.raises(RefusedError, match="1 line is still to be looked through"):
        put_into(demo, recipe, VELLUM, Closest.OVERALL, supposed)
    step = next(s for s in open_recipe(demo, recipe, VELLUM, Closest.OVERALL).steps if s.to_look_through)
    look_through(demo, step.id, step.revision)
    planned(demo, supposed, recipe)
    number, _ = put_into(demo, recipe, VELLUM, Closest.OVERALL, supposed)
    assert open_recipe(demo, number, VELLUM, Closest.OVERALL).card.to_look_through == 0


def test_what_she_chose_with_her_pencils_does_not_count_for_others(demo: Collection) -> None:
    asked = next(c for c in calls(demo, SCARLET_CAP) if c.answer is Answer.OPEN)
    choose_standin(demo, asked.id, VELLUM, colour_id(demo, "Heron", "119"))
    plan = planned(demo, Supposed(set_id=box(demo, "Scholar 24")))
    mine = next(c for p in plan.passages for c in p.calls if c.call_id == asked.id)
    assert not mine.settled


def test_a_pencil_that_would_be_bought_never_makes_a_plan_worse(demo: Collection) -> None:
    wanted = next(c.colour.id for c in calls(demo, SCARLET_CAP) if c.answer is Answer.OPEN and c.colour)
    now, then = planned(demo, NOTHING), planned(demo, Supposed(bought=wanted))
    assert then.cost <= now.cost + 1e-6
    assert then.changes < now.changes


def test_a_plan_without_black_beside_one_with_it(demo: Collection) -> None:
    with_black, without = (planned(demo, Supposed(no_black=no)) for no in (False, True))
    assert with_black.cost <= without.cost + 1e-6


def test_what_cannot_be_supposed_is_refused(demo: Collection) -> None:
    ask = (demo, SCARLET_CAP, VELLUM, Closest.OVERALL)
    with pytest.raises(RefusedError, match="not both"):
        plan_for(*ask, supposed=Supposed(range_id=1, set_id=1))
    for gone in (Supposed(range_id=99), Supposed(set_id=99), Supposed(bought=9_999)):
        with pytest.raises(NotFoundError):
            plan_for(*ask, supposed=gone)
    with pytest.raises(RefusedError, match="into which range"):
        put_into(*ask, NOTHING)
