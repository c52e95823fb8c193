"""Plans of recipes through their services: worked out, taken and undone, locked, left out, stopped."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from datetime import date

import pytest
from tests.services.at_home import BUFF, PRINT, VELLUM, call, calls

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.certificate import Surety
from tidy_tinder.core.vocabulary import Blacks, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.background.thinking import Doing, GoOn, Thinking
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo, writing
from tidy_tinder.services.recipes.choices import choose_standin, exclude, lock_choice, take_plan
from tidy_tinder.services.recipes.plan_view import CallPlan, PlanView
from tidy_tinder.services.recipes.planning import PlanSoFar, plan_for, stop_planning
from tidy_tinder.services.recipes.settling import settle_call
from tidy_tinder.services.recipes.text import remove_recipe, save_recipe
from tidy_tinder.services.recipes.view import Answer
from tidy_tinder.storage.models import Drawing, Recipe
from tidy_tinder.storage.queries.colours import colour_rows

SCARLET_CAP, MOSS = 1, 6
TODAY = date(2026, 11, 1)


def ended(collection: Collection, recipe: int = SCARLET_CAP, paper: int = VELLUM) -> PlanSoFar:
    """What is known when the work on a plan is over."""
    for _ in range(600):
        found = plan_for(collection, recipe, paper, Closest.OVERALL, 1.0)
        if found.ended:
            return found
        time.sleep(0.05)
    raise AssertionError("the plan did not come to an end in half a minute")


def planned(collection: Collection, recipe: int = SCARLET_CAP, paper: int = VELLUM) -> PlanView:
    plan = ended(collection, recipe, paper).plan
    assert plan is not None
    return plan


def in_plan(plan: PlanView, call_id: int) -> CallPlan:
    return next(one for passage in plan.passages for one in passage.calls if one.call_id == call_id)


def changing(plan: PlanView) -> dict[int, tuple[Layer[int], ...]]:
    """What taking a plan lays, by call."""
    return {
        one.call_id: tuple(layer.of(layer.pencil.colour.id) for layer in one.laid)
        for passage in plan.passages
        for one in passage.calls
        if one.changes
    }


def test_a_plan_answers_every_open_call_together(demo: Collection) -> None:
    plan = planned(demo)
    waiting = [c.id for c in calls(demo, SCARLET_CAP) if c.answer is Answer.OPEN]
    assert sorted(changing(plan)) == sorted(waiting)
    assert plan.changes == len(waiting)
    assert plan.standing is Surety.PROVEN
    assert plan.gap == 0.0
    assert plan.expected < plan.by_itself
    assert [passage.area for passage in plan.passages] == ["Cap", "Warts"]
    owned = in_plan(plan, call(demo, "119").id)
    assert (owned.settled, owned.changes, owned.now) == (True, False, "")
    assert not plan.warnings
    for passage in plan.passages:
        last = passage.calls[-1]
        assert passage.difference == last.difference
        assert passage.plus_minus > 0.0


def test_the_first_answer_is_there_at_once_and_never_better_than_the_last(demo: Collection) -> None:
    first = plan_for(demo, SCARLET_CAP, VELLUM, Closest.OVERALL, 20.0)
    assert first.plan is not None
    assert planned(demo).cost <= first.plan.cost


def test_values_that_answers_call_by_call_would_swap_stay_in_order(demo: Collection) -> None:
    """Wet moss on cotton: with the nearest way for each call by itself the slate becomes lighter than the moss."""
    with demo() as session:
        assert "moss" in session.get_one(Recipe, MOSS).title.lower()
    plan = planned(demo, MOSS, PRINT)
    assert plan.by_itself > 2.0 * plan.expected
    assert not plan.warnings
    asked, laid = ([getattr(p, name) for p in plan.passages] for name in ("asked_value", "planned_value"))
    assert (asked[0] < asked[1]) == (laid[0] < laid[1])


def test_a_plan_is_taken_in_one_change_and_undone(demo: Collection) -> None:
    ways = changing(planned(demo))
    change = take_plan(demo, SCARLET_CAP, VELLUM, ways)
    assert "Scarlet cap" in change.label
    assert f"{len(ways)} stand-ins" in change.label
    assert [c.answer for c in calls(demo, SCARLET_CAP)].count(Answer.OPEN) == 0
    assert not any(c.locked for c in calls(demo, SCARLET_CAP))
    again = planned(demo)
    assert again.changes == 0
    assert all(in_plan(again, call_id).now for call_id in ways)
    undo(demo, change.change_id)
    assert [c.answer for c in calls(demo, SCARLET_CAP)].count(Answer.OPEN) == len(ways)


def test_what_she_chose_herself_stays_and_what_she_unlocks_does_not(demo: Collection) -> None:
    cherry = call(demo, "126")
    plan = planned(demo)
    other = next(i for i in sorted(pencils_in(demo)) if i not in {x.pencil for x in changing(plan)[cherry.id]})
    choose_standin(demo, cherry.id, VELLUM, other)
    assert call(demo, "126").locked
    kept = in_plan(planned(demo), cherry.id)
    assert kept.settled
    assert not kept.changes
    # Laid as the call asks: medium.
    assert [(x.pencil.colour.id, x.pressure) for x in kept.laid] == [(other, Pressure.MEDIUM)]
    with pytest.raises(RefusedError, match="locked meanwhile"):
        take_plan(demo, SCARLET_CAP, VELLUM, {cherry.id: changing(plan)[cherry.id]})
    lock_choice(demo, cherry.id, VELLUM, False)
    assert in_plan(planned(demo), cherry.id).changes


def pencils_in(collection: Collection) -> set[int]:
    """Colours that some plan could lay: those of the paper's nearest stand-ins."""
    plan = planned(collection, MOSS)
    return {layer.pencil.colour.id for passage in plan.passages for one in passage.calls for layer in one.laid}


def test_a_pencil_that_is_left_out_is_not_offered_until_it_is_again(demo: Collection) -> None:
    cherry = call(demo, "126")
    laid = changing(planned(demo))[cherry.id]
    exclude(demo, cherry.id, VELLUM, laid[0].pencil, True)
    assert [c.id for c in call(demo, "126").excluded] == [laid[0].pencil]
    without = changing(planned(demo))[cherry.id]
    assert laid[0].pencil not in {one.pencil for one in without}
    # On another paper she said nothing.
    assert call(demo, "126", paper=BUFF).excluded == ()
    exclude(demo, cherry.id, VELLUM, laid[0].pencil, False)
    assert changing(planned(demo))[cherry.id] == laid


def test_a_drawing_without_black_has_a_plan_without_black(demo: Collection) -> None:
    with writing(demo, "No black") as session:
        recipe = session.get_one(Recipe, 3)
        drawing = Drawing(name="Ink caps", position=9, paper_id=VELLUM, black=Blacks.NONE, begun_on=TODAY)
        session.add(drawing)
        session.flush()
        recipe.drawing_id = drawing.id
    with demo() as session:
        blacks = {c.id for c in colour_rows(session) if c.lab is not None and c.lab[0] < 20 and abs(c.lab[1]) < 4}
    laid = {layer.pencil for way in changing(planned(demo, 3)).values() for layer in way}
    assert blacks
    assert not laid & blacks


def test_what_cannot_be_planned_is_told_with_its_reason(demo: Collection) -> None:
    recipe_id, _ = save_recipe(demo, "Heron\nLeaf:\n126, medium\n119, Brambel, 107")
    plan = planned(demo, recipe_id)
    assert list(plan.left_out.values()) == ["it is not settled yet which colour is meant"]
    empty, _ = save_recipe(demo, "Only a note\nblend all of it")
    found = ended(demo, empty)
    assert found.plan is None
    assert "Nothing can be planned here" in found.problem
    unsettled, _ = save_recipe(demo, "Leaf\nHeron\n119 Bracken")
    assert "still to settle" in ended(demo, unsettled).problem


def test_bad_ways_are_refused_and_nothing_is_written(demo: Collection) -> None:
    plan = changing(planned(demo))
    one, laid = next(iter(plan.items()))
    unowned = call(demo, "126").colour
    assert unowned is not None
    elsewhere = next(c.id for c in calls(demo, MOSS) if c.answer is Answer.OPEN)
    for ways, why in (
        ({elsewhere: laid}, "no call of this recipe"),
        ({one: ()}, "one pencil or two"),
        ({one: (*laid, *laid, *laid)}, "one pencil or two"),
        ({one: (Layer(unowned.id, Pressure.LIGHT),)}, "not at hand"),
    ):
        with pytest.raises(RefusedError, match=why):
            take_plan(demo, SCARLET_CAP, VELLUM, {**plan, **ways})
    assert [c.answer for c in calls(demo, SCARLET_CAP)].count(Answer.OPEN) == len(plan)
    with pytest.raises(NotFoundError):
        plan_for(demo, 9999, VELLUM, Closest.OVERALL)
    with pytest.raises(NotFoundError):
        lock_choice(demo, one, VELLUM, True)


def test_settling_a_call_anew_and_removing_the_recipe_take_what_was_left_out_along(demo: Collection) -> None:
    cherry = call(demo, "126")
    assert cherry.colour is not None
    exclude(demo, cherry.id, VELLUM, 1, True)
    change = settle_call(demo, cherry.id, cherry.colour.id)
    assert call(demo, "126").excluded == ()
    undo(demo, change.change_id)
    assert [c.id for c in call(demo, "126").excluded] == [1]
    removed = remove_recipe(demo, SCARLET_CAP)
    undo(demo, removed.change_id)
    assert [c.id for c in call(demo, "126").excluded] == [1]


def test_a_plan_that_is_stopped_says_so_and_is_begun_again_when_asked(demo: Collection) -> None:
    plan_for(demo, MOSS, BUFF, Closest.HUE)
    stop_planning(demo, MOSS, BUFF, Closest.HUE)
    for _ in range(200):
        found = plan_for(demo, MOSS, BUFF, Closest.HUE)
        if found.ended:
            break
        time.sleep(0.05)
    assert found.stopped
    again = plan_for(demo, MOSS, BUFF, Closest.HUE, 20.0, again=True)
    assert not again.stopped
    assert again.plan is not None


def test_a_newer_question_stops_the_older_one_and_closing_waits() -> None:
    thinking: Thinking[int] = Thinking("testing")
    begun, stopped = threading.Event(), threading.Event()

    def forever(go_on: GoOn) -> Iterator[int | Doing]:
        yield Doing("counting", 1, 2)
        yield 1
        begun.set()
        while go_on():
            time.sleep(0.01)
        stopped.set()

    first = thinking.about("a", forever, 5.0)
    assert (first.answer, first.ended) == (1, False)
    assert begun.wait(5.0)
    second = thinking.about("b", lambda _: iter([2, 3]), 5.0)
    assert second.answer in (2, 3)
    assert stopped.wait(5.0)
    thinking.close()
    assert thinking.about("c", forever).ended


def test_a_mistake_while_thinking_is_kept_and_can_be_tried_again(caplog: pytest.LogCaptureFixture) -> None:
    thinking: Thinking[int] = Thinking("testing")

    def wrong(_: GoOn) -> Iterator[int | Doing]:
        yield 1
        raise ZeroDivisionError

    thinking.about("a", wrong, 5.0)
    while not (found := thinking.about("a", wrong)).ended:
        time.sleep(0.01)
    assert (found.answer, found.failed, found.stopped) == (1, True, False)
    assert "testing failed" in caplog.text
    assert thinking.about("a", lambda _: iter([5]), 5.0, again=True).answer == 5
    thinking.close()


def test_a_passage_that_the_paper_cannot_take_is_told(demo: Collection) -> None:
    """Hot-pressed board takes five layers; this one recipe asks for eight of pencils that she owns."""
    recipe_id, _ = save_recipe(demo, "Heron\nLeaf:\n119, four layers\n107, four layers\n126, light")
    warned = planned(demo, recipe_id, 2).warnings
    assert len(warned) == 1
    assert "“Leaf” has 9 layers in this plan, and the paper takes about 5" in warned[0]


def test_a_choice_of_two_is_kept_and_planned_as_one(demo: Collection) -> None:
    """Neither is at hand: the plan is for the one to which something comes nearer, and taking it says so."""
    first, second = [c.colour.code for c in calls(demo, SCARLET_CAP) if c.answer is Answer.OPEN and c.colour][:2]
    number, _ = save_recipe(demo, f"Either\nHeron and Tallow\nCap:\n- {first} or {second}, medium")
    asked = calls(demo, number)[0]
    assert asked.colour is not None
    assert asked.other is not None
    assert [asked.colour.code, asked.other.code] == [first, second]
    one = in_plan(planned(demo, number), asked.id)
    alone = []
    for code in (first, second):
        single, _ = save_recipe(demo, f"One\nHeron and Tallow\nCap:\n- {code}, medium")
        (only,) = planned(demo, single).passages[0].calls
        alone.append((only.difference.delta_e, only.said))
    assert one.said in {said for _, said in alone}
    ways = {asked.id: tuple(layer.of(layer.pencil.colour.id) for layer in one.laid)}
    taken = take_plan(demo, number, VELLUM, ways, {asked.id} if one.instead else set())
    now = calls(demo, number)[0]
    assert now.colour is not None
    assert now.colour.code == (second if one.instead else first)
    assert now.other is not None
    undo(demo, taken.change_id)
    assert calls(demo, number)[0].colour == asked.colour


def test_of_a_choice_of_two_the_one_at_hand_serves_until_she_decides(demo: Collection) -> None:
    missing = next(c.colour.code for c in calls(demo, SCARLET_CAP) if c.answer is Answer.OPEN and c.colour)
    number, _ = save_recipe(demo, f"Either\nHeron and Tallow\nCap:\n- {missing} or 119, heavy")
    asked = calls(demo, number)[0]
    assert asked.answer is Answer.OWNED
    assert asked.colour is not None
    assert asked.other is not None
    assert (asked.colour.code, asked.other.code) == ("119", missing)
    settle_call(demo, asked.id, asked.other.id)
    only = calls(demo, number)[0]
    assert (only.answer, only.other) == (Answer.OPEN, None)
