"""Lines with words that were read as nothing: flagged until the artist says what they are; undone, edited, shared."""

from __future__ import annotations

import json

import pytest
from tests.services.at_home import VELLUM, calls

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.editing import Line, write_lines
from tidy_tinder.services.recipes.looking_through import call_for_words, look_through
from tidy_tinder.services.recipes.settling import settle_call
from tidy_tinder.services.recipes.sharing import RecipeKind, recipe_as_file, take_in_recipe
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.recipes.versions import go_back, keep_version
from tidy_tinder.services.recipes.view import Answer, StepView, open_recipe, recipe_cards

TEXT = "A leaf\nHeron\n119 light\nDeepen with periwinkle + dove near the stalk\nstalk – Twig\nBlend it well.\n"


def kept(collection: Collection, text: str = TEXT) -> int:
    return save_recipe(collection, text)[0]


def steps(collection: Collection, recipe: int) -> tuple[StepView, ...]:
    return open_recipe(collection, recipe, VELLUM, Closest.OVERALL).steps


def step(collection: Collection, recipe: int, begins: str) -> StepView:
    return next(one for one in steps(collection, recipe) if one.text.startswith(begins))


def left(one: StepView) -> list[str]:
    return [one.text[start:end] for start, end in one.left]


def flagged(collection: Collection, recipe: int) -> list[str]:
    """The lines that are to be looked through, counted alike in the list of recipes."""
    found = [one.text for one in steps(collection, recipe) if one.to_look_through]
    assert open_recipe(collection, recipe, VELLUM, Closest.OVERALL).card.to_look_through == len(found)
    assert next(card for card in recipe_cards(collection, VELLUM) if card.id == recipe).to_look_through == len(found)
    return found


def test_a_line_is_flagged_until_the_artist_says_that_it_names_no_more(demo: Collection) -> None:
    recipe = kept(demo)
    assert flagged(demo, recipe) == ["Deepen with periwinkle + dove near the stalk", "stalk – Twig"]
    one = step(demo, recipe, "Deepen")
    assert left(one) == ["dove"]
    done = look_through(demo, one.id, one.revision)
    assert done.label == "“Deepen with periwinkle + dove near the…” names no more colours"
    assert flagged(demo, recipe) == ["stalk – Twig"]
    assert left(step(demo, recipe, "Deepen")) == []
    undo(demo, done.change_id)
    assert len(flagged(demo, recipe)) == 2


def test_the_demos_recipes_are_looked_through(demo: Collection) -> None:
    assert [card.to_look_through for card in recipe_cards(demo, VELLUM)] == [0] * 7


def test_words_of_it_become_a_call_in_their_place_that_is_to_be_settled(demo: Collection) -> None:
    recipe = kept(demo, "A leaf\nHeron\nmy dove goes under 119\nin the end dove, 3 layers, then 107\n")
    first, second = (one for one in steps(demo, recipe) if one.text.startswith(("my", "in the")))
    assert [left(one) for one in (first, second)] == [["dove"], ["dove"]]
    made = call_for_words(demo, first.id, "dove", 3)
    call_for_words(demo, second.id, " dove ")
    found = calls(demo, recipe)
    assert [c.as_written for c in found] == ["dove", "119", "dove", "107"]
    assert [(c.answer, c.layers) for c in found if c.as_written == "dove"] == [
        (Answer.UNSETTLED, 1),
        (Answer.UNSETTLED, 3),
    ]
    assert "Say which" in found[0].problem
    # The line has no words left, but it is the artist who says so.
    assert flagged(demo, recipe) == [first.text, second.text]
    assert left(step(demo, recipe, "my")) == []
    undo(demo, made.change_id)
    assert [c.as_written for c in calls(demo, recipe)] == ["119", "dove", "107"]


def test_a_call_has_what_its_words_say_of_how_it_is_laid(demo: Collection) -> None:
    text = "A leaf\nHeron\n107 heavy\nheavy stalk – Twig\nhere dove goes, then dove light and 119 heavy\n"
    recipe = kept(demo, text)
    # Where there is no other colour, the whole line; else what stands up to the next one.
    call_for_words(demo, step(demo, recipe, "heavy stalk").id, "Twig")
    call_for_words(demo, step(demo, recipe, "here").id, "dove", 21)
    made = {c.as_written: (c.start, c.pressure) for c in calls(demo, recipe) if c.answer is Answer.UNSETTLED}
    assert made == {"Twig": (14, "heavy"), "dove": (21, "light")}


def test_a_line_that_is_no_step_becomes_one_with_its_call_and_a_step_may_be_a_note(demo: Collection) -> None:
    recipe = kept(demo, "A leaf\nHeron\n119 light\nstalk – Twig\n- Signed by Harebell\n")
    twig, signed = step(demo, recipe, "stalk"), step(demo, recipe, "Signed")
    assert (twig.kind, signed.kind) == (StepKind.NOTE, StepKind.STEP)
    call_for_words(demo, twig.id, "Twig")
    assert step(demo, recipe, "stalk").kind == StepKind.STEP
    look_through(demo, signed.id, signed.revision, as_note=True)
    assert step(demo, recipe, "Signed").kind == StepKind.NOTE
    laid = step(demo, recipe, "stalk")
    with pytest.raises(RefusedError, match="A line that lays a colour is a step"):
        look_through(demo, laid.id, laid.revision, as_note=True)


def test_words_that_are_not_there_or_were_read_are_refused(demo: Collection) -> None:
    one = step(demo, kept(demo), "Deepen")
    for words, start, says in (
        ("moonmilk", None, "“moonmilk” does not stand in this line"),
        ("dov", None, "does not stand"),
        ("dove", 3, "does not stand"),
        ("  ", None, "does not stand"),
        ("periwinkle", None, "was read as a colour already"),
        ("periwinkle + dove", None, "was read as a colour already"),
        ("with periwinkle", None, "was read as a colour already"),
    ):
        with pytest.raises(RefusedError, match=says):
            call_for_words(demo, one.id, words, start)
    with pytest.raises(NotFoundError, match="This line is gone"):
        call_for_words(demo, 9_999, "dove")
    with pytest.raises(NotFoundError, match="This line is gone"):
        look_through(demo, 9_999, 1)


def test_a_line_that_was_changed_in_another_window_is_not_passed_over(demo: Collection) -> None:
    recipe = kept(demo)
    one = step(demo, recipe, "stalk")
    rewrite(demo, recipe, {one.text: "stalk – Twig & moonmilk"})
    with pytest.raises(ChangedMeanwhileError, match="another window"):
        look_through(demo, one.id, one.revision)
    assert len(flagged(demo, recipe)) == 2


def rewrite(collection: Collection, recipe: int, texts: dict[str, str]) -> None:
    """Put some lines in other words."""
    view = open_recipe(collection, recipe, VELLUM, Closest.OVERALL)
    lines = [Line(texts.get(one.text, one.text), one.kind, one.id) for one in view.steps]
    write_lines(collection, recipe, view.revision, view.title, lines)


def test_what_the_artist_named_outlives_other_words_of_its_line(demo: Collection) -> None:
    recipe = kept(demo)
    one = step(demo, recipe, "Deepen")
    call_for_words(demo, one.id, "dove")
    dove = next(c for c in calls(demo, recipe) if c.as_written == "dove")
    fly_cap = calls(demo, recipe)[0].colour
    assert fly_cap is not None
    settle_call(demo, dove.id, fly_cap.id)
    view = step(demo, recipe, "Deepen")
    look_through(demo, view.id, view.revision)
    # Other words are looked through again; the call moves with its own.
    rewrite(demo, recipe, {one.text: "Then dove, 107 and heather"})
    assert "Then dove, 107 and heather" in flagged(demo, recipe)
    found = {c.as_written: c for c in calls(demo, recipe)}
    assert list(found) == ["119", "dove", "107"] or list(found) == ["119", "dove", "107", "heather"]
    assert (found["dove"].id, found["dove"].start, found["dove"].answer) == (dove.id, 5, Answer.OWNED)
    rewrite(demo, recipe, {"Then dove, 107 and heather": "Then 107"})
    assert [c.as_written for c in calls(demo, recipe)] == ["119", "107"]


def test_a_doubled_line_is_as_far_looked_through_as_its_pattern(demo: Collection) -> None:
    recipe = kept(demo)
    view = open_recipe(demo, recipe, VELLUM, Closest.OVERALL)
    known = step(demo, recipe, "stalk")
    look_through(demo, known.id, known.revision)
    lines = [Line(one.text, one.kind, one.id) for one in view.steps]
    doubled = [Line(one.text, one.kind, copy_of=one.id) for one in view.steps if one.left]
    write_lines(demo, recipe, view.revision, view.title, [*lines, *doubled])
    assert flagged(demo, recipe) == ["Deepen with periwinkle + dove near the stalk"] * 2


def test_a_file_says_what_is_to_be_looked_through_and_an_older_one_nothing(demo: Collection) -> None:
    recipe = kept(demo)
    _, shared = recipe_as_file(demo, recipe, VELLUM, RecipeKind.JSON)
    again, _ = take_in_recipe(demo, shared.encode())
    assert flagged(demo, again) == flagged(demo, recipe)
    older = json.loads(shared)
    older["version"] = 2
    for one in older["steps"]:
        del one["to_look_through"]
    as_before, _ = take_in_recipe(demo, json.dumps(older).encode())
    assert flagged(demo, as_before) == []


def test_going_back_to_a_version_asks_about_no_line_again(demo: Collection) -> None:
    recipe = kept(demo)
    version, _ = keep_version(demo, recipe, "as read")
    one = step(demo, recipe, "stalk")
    look_through(demo, one.id, one.revision)
    # Nothing but that is otherwise.
    assert go_back(demo, recipe, version) is None
    rewrite(demo, recipe, {"Blend it well.": "Blend it."})
    assert go_back(demo, recipe, version) is not None
    assert [s.text for s in steps(demo, recipe)][-1] == "Blend it well."
    assert flagged(demo, recipe) == ["Deepen with periwinkle + dove near the stalk"]
    assert step(demo, recipe, "stalk").id == one.id
