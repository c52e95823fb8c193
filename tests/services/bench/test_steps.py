"""One step at a time: what is shown of it, what is ticked, how it goes on, along a recipe and through sections."""

from __future__ import annotations

import pytest
from tests.services.at_home import VELLUM, call, colour_id
from tests.services.bench.conftest import DRAWING, SCARLET_CAP, Time

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import LogKind, Material, Pressure, StepState, Wetting
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import begin_sitting
from tidy_tinder.services.bench.drying import begin_drying
from tidy_tinder.services.bench.log import NewEntry, untick, write_log
from tidy_tinder.services.bench.place import PlaceAs, go_back, go_on, work_at
from tidy_tinder.services.bench.preparation import add_own_task, remove_own_task, tick
from tidy_tinder.services.bench.steps import StepAtBench, ToLay
from tidy_tinder.services.bench.view import BenchView, bench, look_at_step
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.choices import choose_standin
from tidy_tinder.services.recipes.editing import Line, write_lines
from tidy_tinder.services.recipes.text import remove_recipe, save_recipe
from tidy_tinder.services.reference.sections import describe_section, part, unpart
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import WHOLE, Recipe, SectionKind, SectionState


def seen(collection: Collection) -> BenchView:
    return bench(collection, DRAWING)


def step_at(collection: Collection) -> StepAtBench:
    step = seen(collection).step
    assert step is not None
    return step


def done(collection: Collection) -> None:
    go_on(collection, DRAWING, step_at(collection).id, StepState.DONE)


def laid(one: ToLay, key: str) -> NewEntry:
    return NewEntry(key, colour_id=one.colour.id, call_id=one.call_id, pressure=one.layer.pressure, layers=1)


def test_a_step_shows_its_pencils_where_they_stand_and_the_passage_before_and_after(drawn: Collection) -> None:
    first = step_at(drawn)
    assert (first.number, first.of, first.area) == (1, 8, "Cap")
    [oxlip] = first.pencils
    assert (oxlip.colour.code, oxlip.place, oxlip.layer.pressure, oxlip.ticked) == (
        "101",
        "tin 2, 61",
        Pressure.LIGHT,
        0,
    )
    assert first.now is not None
    assert first.after is not None
    assert first.now.patch.lab[0] > first.after.patch.lab[0]  # the bare paper, then the first layer on it
    done(drawn)
    second = step_at(drawn)
    assert second.now == first.after
    assert second.number == 2


def test_what_has_no_pencil_is_said_and_a_stand_in_shows_as_such(drawn: Collection) -> None:
    work_at(drawn, DRAWING, PlaceAs(step_id=seen(drawn).steps[4].id))
    step = step_at(drawn)
    assert step.missing == ("Cherry Stone (126)",)
    assert seen(drawn).missing == ("Cherry Stone (126)", "Cream Jug M12", "188")
    wanted = call(drawn, "126")
    choose_standin(drawn, wanted.id, VELLUM, colour_id(drawn, "Heron", "123"))
    standing_in = next(one for one in step_at(drawn).pencils if one.stands_in_for is not None)
    assert standing_in.stands_in_for is not None
    assert standing_in.stands_in_for.code == "126"
    assert standing_in.apart is not None
    assert standing_in.apart.delta_e > 1.0
    # A pair says what will be off as a whole, with its last pencil.
    below, above = (colour_id(drawn, "Heron", code) for code in ("123", "119"))
    pair = [Layer(below, Pressure.MEDIUM, 2), Layer(above, Pressure.LIGHT)]
    choose_standin(drawn, wanted.id, VELLUM, pair[0].pencil, pair)
    lower, upper = [one for one in step_at(drawn).pencils if one.stands_in_for is not None]
    assert lower.apart is None
    assert upper.apart is not None
    assert upper.apart.delta_e != standing_in.apart.delta_e


def test_ticks_fill_the_layers_of_a_call_and_are_the_log(drawn: Collection) -> None:
    begin_sitting(drawn, DRAWING)
    [oxlip] = step_at(drawn).pencils
    write_log(drawn, DRAWING, [laid(oxlip, "a")])
    assert step_at(drawn).pencils[0].ticked == 1
    [entry] = seen(drawn).log
    assert (entry.kind, entry.area, entry.layers) == (LogKind.PENCIL, "Cap", 1)
    untick(drawn, DRAWING, oxlip.call_id, WHOLE)
    assert step_at(drawn).pencils[0].ticked == 0
    assert untick(drawn, DRAWING, oxlip.call_id, WHOLE) is None


def test_done_skipped_back_and_undone(drawn: Collection) -> None:
    first = step_at(drawn)
    change = go_on(drawn, DRAWING, first.id, StepState.DONE)
    assert change is not None
    assert step_at(drawn).number == 2
    go_on(drawn, DRAWING, step_at(drawn).id, StepState.SKIPPED)
    assert [line.state for line in seen(drawn).steps[:3]] == [StepState.DONE, StepState.SKIPPED, StepState.TO_DO]
    go_back(drawn, DRAWING)
    go_back(drawn, DRAWING)
    assert step_at(drawn).number == 1
    undo(drawn, change.change_id)
    assert step_at(drawn).state is StepState.TO_DO


def test_two_who_press_at_once_go_one_step(drawn: Collection) -> None:
    first = step_at(drawn)
    go_on(drawn, DRAWING, first.id, StepState.DONE)
    with pytest.raises(RefusedError, match="other device has gone on"):
        go_on(drawn, DRAWING, first.id, StepState.DONE)
    assert step_at(drawn).number == 2


def test_after_the_last_step_it_is_finished(drawn: Collection) -> None:
    for _ in range(8):
        assert not seen(drawn).finished
        done(drawn)
    assert seen(drawn).finished


def test_a_step_is_looked_at_without_going_there(drawn: Collection) -> None:
    third = seen(drawn).steps[2]
    looked = look_at_step(drawn, DRAWING, third.id)
    assert looked is not None
    assert looked.number == 3
    assert step_at(drawn).number == 1
    assert look_at_step(drawn, DRAWING, 9999) is None


def test_step_by_step_goes_through_the_sections_and_section_by_section_through_the_steps(drawn: Collection) -> None:
    part(drawn, DRAWING, SectionKind.GRID, None)
    sections = [one.id for one in seen(drawn).sections]
    assert seen(drawn).section_id == sections[0]
    done(drawn)
    assert (step_at(drawn).number, seen(drawn).section_id) == (1, sections[1])
    work_at(drawn, DRAWING, PlaceAs(by_sections=True))
    for number in range(2, 9):
        done(drawn)
        assert (step_at(drawn).number, seen(drawn).section_id) == (number, sections[1])
    done(drawn)
    assert (step_at(drawn).number, seen(drawn).section_id) == (1, sections[2])


def test_a_wet_section_is_passed_over_and_the_next_dry_one_offered(drawn: Collection, time: Time) -> None:
    part(drawn, DRAWING, SectionKind.GRID, None)
    sections = [one.id for one in seen(drawn).sections]
    begin_drying(drawn, DRAWING, sections[0], Wetting.SOLVENT, "w0")
    begin_drying(drawn, DRAWING, sections[1], Wetting.SOLVENT, "w1")
    now = seen(drawn)
    assert now.wet_here is not None
    assert now.turn == sections[2]
    done(drawn)
    assert seen(drawn).section_id == sections[2]


def test_a_done_section_is_not_offered(drawn: Collection) -> None:
    part(drawn, DRAWING, SectionKind.GRID, None)
    first = seen(drawn).sections[0]
    describe_section(drawn, first.id, first.revision, first.name, SectionState.DONE)
    assert seen(drawn).turn == seen(drawn).sections[1].id


def test_the_bench_works_without_a_recipe_and_after_it_is_removed(drawn: Collection) -> None:
    work_at(drawn, DRAWING, PlaceAs(recipe_id=0))
    free = seen(drawn)
    assert (free.recipe_id, free.step, free.steps) == (None, None, ())
    with pytest.raises(RefusedError, match="no recipe at this bench"):
        go_back(drawn, DRAWING)
    work_at(drawn, DRAWING, PlaceAs(recipe_id=SCARLET_CAP))
    remove_recipe(drawn, SCARLET_CAP)
    assert seen(drawn).step is None
    with pytest.raises(NotFoundError):
        work_at(drawn, DRAWING, PlaceAs(recipe_id=SCARLET_CAP))
    with pytest.raises(NotFoundError):
        work_at(drawn, DRAWING, PlaceAs(section_id=77))


def test_a_pencil_that_is_owned_no_longer_is_missing_at_the_bench(drawn: Collection) -> None:
    [oxlip] = step_at(drawn).pencils
    mark_owned(drawn, [oxlip.colour.id], False)
    assert step_at(drawn).pencils == ()
    assert step_at(drawn).missing != ()


def test_solvent_and_blades_bring_their_cautions_and_their_timer(drawn: Collection) -> None:
    slowly = "Note: work slowly here and never press, or the tooth is gone"
    named = ("Blend with solvent, let it dry", "Scratch out the veins with a scalpel", "Spray all of it with fixative")
    text = "\n".join(("Leaf", slowly, *named))
    number, _ = save_recipe(drawn, text, drawing_id=DRAWING)
    work_at(drawn, DRAWING, PlaceAs(recipe_id=number))
    view = seen(drawn)
    looked = [look_at_step(drawn, DRAWING, line.id) for line in view.steps]
    told = [(one.wetting, [c.material for c in one.cautions]) for one in looked if one is not None]
    assert told == [
        (Wetting.SOLVENT, [Material.SOLVENT]), (None, [Material.BLADE]), (Wetting.FIXATIVE, [Material.SPRAY]),
    ]  # fmt: skip
    assert view.step is not None
    assert view.step.notes == (slowly,)
    assert "label" in view.first
    tasks = {task.task for task in view.preparation}
    assert {"scrap", "tissue", "window"} <= tasks


def test_the_preparation_is_ticked_for_a_drawing_and_own_lines_stay_for_the_next(drawn: Collection) -> None:
    assert {"scrap", "window"}.isdisjoint({task.task for task in seen(drawn).preparation})
    own, _ = add_own_task(drawn, "  Water the   plants ")
    tick(drawn, DRAWING, "sharpen", True)
    tick(drawn, DRAWING, f"own {own}", True)
    ticked = {task.words for task in seen(drawn).preparation if task.ticked}
    assert ticked == {"Sharpen the pencils", "Water the plants"}
    tick(drawn, DRAWING, "sharpen", False)
    assert not next(t for t in seen(drawn).preparation if t.task == "sharpen").ticked
    change = remove_own_task(drawn, own)
    assert all(task.own is None for task in seen(drawn).preparation)
    undo(drawn, change.change_id)
    assert any(task.own == own and task.ticked for task in seen(drawn).preparation)
    for wrong in ("dance", "own x", "own 99", f"own {'9' * 30}"):
        with pytest.raises(NotFoundError):
            tick(drawn, DRAWING, wrong, True)
    for words in ("  ", "x" * 121):
        with pytest.raises(RefusedError):
            add_own_task(drawn, words)


def test_the_passage_is_what_a_stack_of_its_layers_looks_like(drawn: Collection) -> None:
    """The step at hand stands on all that lies below it in its area, not on the paper."""
    for _ in range(3):
        done(drawn)
    step = step_at(drawn)
    assert step.area == "Cap"
    assert step.now is not None
    assert step.after is not None
    assert delta_e_2000(step.now.patch.lab, (97.0, 0.0, 0.0)) > 20.0
    assert step.changes is not None
    assert step.changes.delta_e == pytest.approx(float(delta_e_2000(step.now.patch.lab, step.after.patch.lab)))


def test_a_step_or_a_section_that_is_gone_gives_way_to_the_first_that_is_to_do(drawn: Collection) -> None:
    """Parted anew and edited while she works: what is marked from then on stands where it is seen."""
    part(drawn, DRAWING, SectionKind.GRID, None)
    done(drawn)
    part(drawn, DRAWING, SectionKind.GRID, None)
    now = seen(drawn)
    assert now.section_id == now.sections[0].id
    done(drawn)
    assert seen(drawn).section_id == now.sections[1].id
    unpart(drawn, DRAWING)
    assert seen(drawn).section_id == WHOLE
    remove_recipe(drawn, SCARLET_CAP)
    number, _ = save_recipe(drawn, "Leaf\nHeron 101, light\nHeron 123, heavy", drawing_id=DRAWING)
    work_at(drawn, DRAWING, PlaceAs(recipe_id=number))
    view = seen(drawn)
    with drawn() as session:
        recipe = session.get_one(Recipe, number)
        lines = [Line(step.text, step.kind, step.id) for step in recipe.steps if step.id != step_at(drawn).id]
        revision = recipe.revision
    write_lines(drawn, number, revision, "Leaf", lines)
    assert step_at(drawn).id == view.steps[1].id
    done(drawn)
    assert seen(drawn).finished


def test_sections_that_are_done_are_not_worked_again_step_by_step(drawn: Collection) -> None:
    part(drawn, DRAWING, SectionKind.GRID, None)
    for one in seen(drawn).sections[:-1]:
        describe_section(drawn, one.id, one.revision, one.name, SectionState.DONE)
    last = seen(drawn).sections[-1].id
    work_at(drawn, DRAWING, PlaceAs(section_id=last))
    for number in range(1, 9):
        assert (step_at(drawn).number, seen(drawn).section_id) == (number, last)
        done(drawn)
    assert seen(drawn).finished
