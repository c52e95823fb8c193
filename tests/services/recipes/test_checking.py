"""Recipes checked through their services: the demo's, bad ones, advice followed and undone, checks switched off."""

from __future__ import annotations

from datetime import date

import pytest
from tests.services.at_home import HOT_PRESSED, PRINT, VELLUM, call, calls, colour_id

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.checks.finding import Finding, Rule
from tidy_tinder.core.vocabulary import Material, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo, writing
from tidy_tinder.services.recipes.checking import check_recipe, follow_advice, switch_check
from tidy_tinder.services.recipes.choices import choose_standin
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.recipes.versions import versions_of
from tidy_tinder.services.recipes.view import Answer
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import Drawing, Recipe

INK_CAP = 3
DAY = date(2026, 11, 1)
# Those of the demo's recipes that hold on the paper for which they were written; the others show what checks find.
GOOD = (1, 4, 5, 7)


def found(collection: Collection, recipe: int, paper: int = VELLUM) -> list[Finding]:
    return list(check_recipe(collection, recipe, paper).findings)


def rules(collection: Collection, recipe: int, paper: int = VELLUM) -> set[Rule]:
    return {finding.rule for finding in found(collection, recipe, paper)}


def follow(collection: Collection, recipe: int, rule: Rule, paper: int = VELLUM) -> int:
    """Follow the first advice of a check; the change."""
    finding = next(each for each in found(collection, recipe, paper) if each.rule is rule)
    return follow_advice(collection, recipe, paper, rule, finding.step, finding.call).change_id


@pytest.mark.parametrize("recipe", GOOD)
def test_nothing_is_found_in_good_recipes_of_the_demo(demo: Collection, recipe: int) -> None:
    assert found(demo, recipe) == []


def test_the_same_recipe_does_not_hold_on_every_paper(demo: Collection) -> None:
    assert Rule.PAPER_WITHOUT_SOLVENT in rules(demo, INK_CAP, PRINT)
    assert Rule.PAPER_WITHOUT_SOLVENT not in rules(demo, INK_CAP)
    assert Rule.TOO_MANY_LAYERS in rules(demo, 4, HOT_PRESSED)


BAD = {
    Rule.THIN_FOR_SOLVENT: "Heron\nCap:\n- 119, medium\n- blend with solvent",
    Rule.NOT_DRY: "Heron\nCap:\n- 119, medium, three layers\n- blend with solvent\n- 107, light",
    Rule.TOO_MANY_LAYERS: "Heron\nCap:\n- 119, light, 6 layers\n- 107, light, 5 layers",
    Rule.CLOSED_TOO_EARLY: "Heron\nCap:\n- 107, light\n- burnish with 213\n- 119, medium",
    Rule.RESIST_TOO_LATE: "Heron\nCap:\n- 119, medium\n- indent the hairs as a resist",
    Rule.DARKEST_FIRST: "Heron\nCap:\n- 212, heavy\n- 119, medium\n- 107, light",
    Rule.LIGHT_OVER_DARK: "Heron\nCap:\n- 212, medium, 2 layers\n- 212, heavy\n- 203, light",
}


@pytest.mark.parametrize("rule", BAD)
def test_following_advice_mends_what_was_found_and_is_undone(demo: Collection, rule: Rule) -> None:
    recipe, _ = save_recipe(demo, "Bad\n" + BAD[rule])
    before = len([each for each in found(demo, recipe) if each.rule is rule])
    assert before == 1
    change = follow(demo, recipe, rule)
    assert rule not in rules(demo, recipe) or rule is Rule.TOO_MANY_LAYERS
    assert len(versions_of(demo, recipe)) == 1
    undo(demo, change)
    assert rule in rules(demo, recipe)


def test_layers_are_thinned_until_the_paper_takes_them(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "Bad\n" + BAD[Rule.TOO_MANY_LAYERS])
    for _ in range(2):
        follow(demo, recipe, Rule.TOO_MANY_LAYERS)
    assert Rule.TOO_MANY_LAYERS not in rules(demo, recipe)


def test_advice_about_a_stand_in_changes_the_stand_in(demo: Collection) -> None:
    missing = next(c.colour.code for c in calls(demo, 1) if c.answer is Answer.OPEN and c.colour)
    recipe, _ = save_recipe(demo, f"Stand-in\nHeron and Tallow\nCap:\n- {missing}, light, 2 layers")
    asked, owned = call(demo, missing, recipe), call(demo, "119").colour
    assert owned is not None
    choose_standin(demo, asked.id, VELLUM, owned.id, [Layer(owned.id, Pressure.MEDIUM, 12)])
    follow(demo, recipe, Rule.TOO_MANY_LAYERS)
    now = call(demo, missing, recipe)
    assert now.layered is not None
    assert [one.layers for one in now.layered.laid] == [11]
    assert now.layers == 2


def test_what_is_laid_is_named_with_what_it_stands_in_for(demo: Collection) -> None:
    missing = next(c.colour.code for c in calls(demo, 1) if c.answer is Answer.OPEN and c.colour)
    recipe, _ = save_recipe(demo, f"Stand-in\nHeron and Tallow\nCap:\n- {missing}, light")
    fades = colour_id(demo, "Heron", "139")
    mark_owned(demo, [fades], True)
    choose_standin(demo, call(demo, missing, recipe).id, VELLUM, fades)
    with writing(demo, "for sale") as session:
        drawing = Drawing(name="Sold", position=9, paper_id=VELLUM, for_sale=True, begun_on=DAY)
        session.add(drawing)
        session.flush()
        session.get_one(Recipe, recipe).drawing_id = drawing.id
    (finding,) = [each for each in found(demo, recipe) if each.rule is Rule.WILL_FADE]
    assert finding.saw.startswith(f"Heron 139 Violet Hour (for {missing}) is rated III")


def test_cautions_stand_at_the_step_that_names_the_material(demo: Collection) -> None:
    (at,) = check_recipe(demo, INK_CAP, VELLUM).cautions
    assert [one.material for one in at.cautions] == [Material.SOLVENT]


def test_checks_are_switched_off_here_or_everywhere_and_on_again(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "Bad\n" + BAD[Rule.NOT_DRY])
    other, _ = save_recipe(demo, "Bad, too\n" + BAD[Rule.NOT_DRY])
    switch_check(demo, recipe, Rule.NOT_DRY, off=True, everywhere=False)
    assert Rule.NOT_DRY not in rules(demo, recipe)
    assert Rule.NOT_DRY in rules(demo, other)
    assert switch_check(demo, recipe, Rule.NOT_DRY, off=True, everywhere=False) is None
    switched = switch_check(demo, recipe, Rule.NOT_DRY, off=True, everywhere=True)
    assert switched is not None
    assert Rule.NOT_DRY not in rules(demo, other)
    view = check_recipe(demo, recipe, VELLUM)
    assert (view.off_here, view.off_everywhere) == ((Rule.NOT_DRY,), (Rule.NOT_DRY,))
    undo(demo, switched.change_id)
    switch_check(demo, recipe, Rule.NOT_DRY, off=False, everywhere=False)
    assert Rule.NOT_DRY in rules(demo, recipe) & rules(demo, other)


def test_a_drawing_for_sale_and_one_that_is_worked_dark_first_have_their_own_checks(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "Bad\n" + BAD[Rule.DARKEST_FIRST] + "\n- dots with a white gel pen\n- 139, light")
    before = rules(demo, recipe)
    with writing(demo, "for sale, and dark first") as session:
        drawing = Drawing(
            name="Sold", position=9, paper_id=VELLUM, for_sale=True, work_order="dark first", begun_on=DAY
        )  # fmt: skip
        session.add(drawing)
        session.flush()
        session.get_one(Recipe, recipe).drawing_id = drawing.id
    after = rules(demo, recipe)
    assert (Rule.DARKEST_FIRST in before, Rule.DARKEST_FIRST in after) == (True, False)
    fading = [each for each in found(demo, recipe) if each.rule is Rule.WILL_FADE]
    assert any("white by ink" in each.saw for each in fading)
    assert any("139" in each.saw for each in fading)


def test_what_is_not_known_is_not_judged(empty: Collection) -> None:
    recipe, _ = save_recipe(empty, "Nothing known\n- 119, heavy\n- blend with solvent\n- 107")
    assert rules(empty, recipe) <= {Rule.NOT_DRY, Rule.THIN_FOR_SOLVENT}


def test_advice_that_is_no_longer_given_is_refused(demo: Collection) -> None:
    recipe, _ = save_recipe(demo, "Bad\n" + BAD[Rule.NOT_DRY])
    finding = next(each for each in found(demo, recipe) if each.rule is Rule.NOT_DRY)
    follow(demo, recipe, Rule.NOT_DRY)
    with pytest.raises(RefusedError, match="not found any more"):
        follow_advice(demo, recipe, VELLUM, finding.rule, finding.step, finding.call)
    bad = next(each for each in found(demo, INK_CAP, PRINT) if each.rule is Rule.PAPER_WITHOUT_SOLVENT)
    with pytest.raises(RefusedError, match="by hand"):
        follow_advice(demo, INK_CAP, PRINT, bad.rule, bad.step, bad.call)
    with pytest.raises(NotFoundError):
        check_recipe(demo, 99, VELLUM)
