"""Recipes shared as files and taken in elsewhere."""

from __future__ import annotations

import csv
import io

import pytest
from tests.services.at_home import VELLUM, call, calls

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.choices import choose_standin
from tidy_tinder.services.recipes.editing import lay_call
from tidy_tinder.services.recipes.settling import settle_call
from tidy_tinder.services.recipes.sharing import RecipeKind, recipe_as_file, take_in_recipe
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.recipes.view import open_recipe, recipe_cards


def as_said(collection: Collection, recipe: int) -> list[tuple[object, ...]]:
    """What each call of a recipe says."""
    return [
        (c.as_written, c.start, c.colour.code if c.colour else None, c.answer, c.pressure, c.layers, c.role)
        for c in calls(collection, recipe)
    ]


@pytest.mark.parametrize("recipe", range(1, 8))
def test_a_recipe_taken_in_again_says_the_same(demo: Collection, recipe: int) -> None:
    title, content = recipe_as_file(demo, recipe, VELLUM, RecipeKind.JSON)
    taken_in, change = take_in_recipe(demo, content.encode())
    assert as_said(demo, taken_in) == as_said(demo, recipe)
    before, after = (open_recipe(demo, i, VELLUM, Closest.OVERALL) for i in (recipe, taken_in))
    assert after.title == before.title == title
    assert after.source_text == before.source_text
    assert [(s.kind, s.area, s.text, s.finish) for s in after.steps] == [
        (s.kind, s.area, s.text, s.finish) for s in before.steps
    ]
    undo(demo, change.change_id)
    assert len(recipe_cards(demo, VELLUM)) == 7


def test_what_is_no_colour_stays_none(demo: Collection) -> None:
    settle_call(demo, call(demo, "126").id, None)
    taken_in, _ = take_in_recipe(demo, recipe_as_file(demo, 1, VELLUM, RecipeKind.JSON)[1].encode())
    assert as_said(demo, taken_in) == as_said(demo, 1)


def test_colours_that_are_on_no_chart_here_are_to_settle(demo: Collection, empty: Collection) -> None:
    taken_in, _ = take_in_recipe(empty, recipe_as_file(demo, 1, VELLUM, RecipeKind.JSON)[1].encode())
    there = calls(empty, taken_in, paper=1)
    assert {c.answer for c in there} == {"to settle"}
    assert "Quillfen Heron 101 Oxlip” is on no chart here" in there[0].problem


def test_text_csv_and_palette_tell_what_is_called_and_what_stands_in(demo: Collection) -> None:
    choose_standin(demo, call(demo, "126").id, VELLUM, 20)
    assert recipe_as_file(demo, 1, VELLUM, RecipeKind.TEXT)[1].startswith("Scarlet cap")
    rows = list(csv.DictReader(io.StringIO(recipe_as_file(demo, 1, VELLUM, RecipeKind.CSV)[1])))
    by_code = {row["code"]: row for row in rows}
    assert len(rows) == 10
    assert by_code["119"]["stands"] == "owned"
    assert by_code["126"]["stands"] == "stand-in"
    assert "medium layer of" in by_code["126"]["laid"]
    assert by_code["M12"]["stands"] == "open"
    palette = recipe_as_file(demo, 1, VELLUM, RecipeKind.PALETTE)[1].splitlines()
    assert palette[:2] == ["GIMP Palette", "Name: Scarlet cap with pale warts on Vellum board"]
    assert len(palette) == 4 + len({row["code"] for row in rows})


def test_a_recipe_that_is_gone_or_a_broken_file_are_refused(demo: Collection) -> None:
    with pytest.raises(NotFoundError):
        recipe_as_file(demo, 999, VELLUM, RecipeKind.JSON)
    with pytest.raises(UnreadableError):
        take_in_recipe(demo, b"{}")
    assert len(recipe_cards(demo, VELLUM)) == 7


def test_a_choice_of_two_stays_one_in_text_and_file(demo: Collection) -> None:
    number, _ = save_recipe(demo, "Either\nHeron\nCap:\n- 119 or 107, light")
    (step,) = [one for one in open_recipe(demo, number, VELLUM, Closest.OVERALL).steps if one.calls]
    lay_call(demo, step.calls[0].id, Pressure.HEAVY, 2)
    for kind in (RecipeKind.TEXT, RecipeKind.JSON):
        _, content = recipe_as_file(demo, number, VELLUM, kind)
        again = save_recipe(demo, content) if kind is RecipeKind.TEXT else take_in_recipe(demo, content.encode())
        (asked,) = [c for s in open_recipe(demo, again[0], VELLUM, Closest.OVERALL).steps for c in s.calls]
        assert asked.colour is not None
        assert asked.other is not None
        assert {asked.colour.code, asked.other.code} == {"119", "107"}
        assert (asked.pressure, asked.layers) == (Pressure.HEAVY, 2)
