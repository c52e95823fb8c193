"""Recipes edited through their services: lines, calls, versions, undone and refused; text out that reads back."""

from __future__ import annotations

import json
from dataclasses import replace
from random import Random

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.services.at_home import BUFF, VELLUM, call, calls

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Pressure, Purpose, StepKind
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, undo
from tidy_tinder.services.recipes.choices import choose_standin, exclude
from tidy_tinder.services.recipes.editing import Line, Written, lay_call, write_lines
from tidy_tinder.services.recipes.settling import settle_call
from tidy_tinder.services.recipes.sharing import RecipeKind, recipe_as_file, take_in_recipe
from tidy_tinder.services.recipes.text import remove_recipe, save_recipe
from tidy_tinder.services.recipes.versions import AS_TAKEN_IN, compare_versions, go_back, keep_version, versions_of
from tidy_tinder.services.recipes.view import Answer, RecipeView, open_recipe
from tidy_tinder.storage.models import Choice, RecipeVersion

SCARLET_CAP = 1


def recipe(collection: Collection, recipe_id: int = SCARLET_CAP) -> RecipeView:
    return open_recipe(collection, recipe_id, VELLUM, Closest.OVERALL)


def lines(view: RecipeView) -> list[Line]:
    return [Line(step.text, step.kind, step.id) for step in view.steps]


def write(collection: Collection, wanted: list[Line], recipe_id: int = SCARLET_CAP) -> Written:
    view = recipe(collection, recipe_id)
    return write_lines(collection, recipe_id, view.revision, view.title, wanted)


def texts(collection: Collection, recipe_id: int = SCARLET_CAP) -> list[str]:
    return [step.text for step in recipe(collection, recipe_id).steps]


def meaning(view: RecipeView) -> list[tuple[object, ...]]:
    """What a recipe asks for, whatever its words."""
    return [
        (
            step.area, step.finish, step.purpose, step.waits,
            tuple((c.colour.id, c.pressure, c.layers, c.role) for c in step.calls if c.colour is not None),
        )
        for step in view.steps
        if any(c.colour is not None for c in step.calls)
    ]  # fmt: skip


def changed(written: Written) -> Changed:
    assert written.change is not None
    return written.change


def test_a_line_is_moved_with_all_that_was_decided_about_its_calls(demo: Collection) -> None:
    open_call = next(c for c in calls(demo, SCARLET_CAP) if c.answer is Answer.OPEN)
    owned = call(demo, "119").colour
    assert owned is not None
    choose_standin(demo, open_call.id, VELLUM, owned.id)
    before = recipe(demo)
    wanted = lines(before)
    at = next(i for i, s in enumerate(before.steps) if any(c.id == open_call.id for c in s.calls))
    wanted.insert(2, wanted.pop(at))
    made = write(demo, wanted)
    after = recipe(demo)
    assert [step.id for step in after.steps] == [line.id for line in wanted] == list(made.step_ids)
    assert next(c for c in calls(demo, SCARLET_CAP) if c.id == open_call.id).answer is Answer.STAND_IN
    undo(demo, changed(made).change_id)
    assert recipe(demo).steps == before.steps


def test_what_is_the_same_changes_nothing(demo: Collection) -> None:
    view = recipe(demo)
    made = write(demo, lines(view))
    assert made.change is None
    assert (made.revision, recipe(demo).edited) == (view.revision, False)
    assert versions_of(demo, SCARLET_CAP) == ()


def test_a_line_split_in_two_has_the_calls_of_both_halves(demo: Collection) -> None:
    view = recipe(demo)
    at, step = next((i, s) for i, s in enumerate(view.steps) if len(s.calls) == 2 and "→" in s.text)
    first, second = (part.strip() for part in step.text.split("→"))
    wanted = lines(view)
    wanted[at : at + 1] = [replace(wanted[at], text=first), Line(second)]
    write(demo, wanted)
    after = recipe(demo)
    assert [c.colour.code for c in after.steps[at].calls if c.colour] == [step.calls[0].colour.code]  # type: ignore[union-attr]
    assert [c.colour.code for c in after.steps[at + 1].calls if c.colour] == [step.calls[1].colour.code]  # type: ignore[union-attr]
    assert after.steps[at].calls[0].id == step.calls[0].id
    assert after.steps[at + 1].area == step.area


def test_lines_joined_keep_the_calls_that_are_still_named(demo: Collection) -> None:
    number, _ = save_recipe(demo, "Small\nHeron\nCap:\n- 119, heavy\n- 107, light")
    view = recipe(demo, number)
    wanted = lines(view)
    kept = view.steps[-2].calls[0].id
    wanted[-2:] = [replace(wanted[-2], text="119, heavy; light 107")]
    write(demo, wanted, number)
    joined = recipe(demo, number).steps[-1].calls
    assert [(c.as_written, c.pressure) for c in joined] == [("119", Pressure.HEAVY), ("107", Pressure.LIGHT)]
    assert joined[0].id == kept


def test_a_doubled_line_is_laid_as_the_one_that_it_doubles(demo: Collection) -> None:
    view = recipe(demo)
    step = view.steps[3]
    lay_call(demo, step.calls[0].id, Pressure.LIGHT, 4)
    wanted = lines(recipe(demo))
    wanted.insert(4, Line(step.text, copy_of=step.id))
    write(demo, wanted)
    after = recipe(demo)
    assert [(c.pressure, c.layers) for c in after.steps[4].calls] == [(Pressure.LIGHT, 4)]
    assert after.steps[4].id != step.id


def test_a_heading_that_stood_by_itself_stays_one_after_an_edit(demo: Collection) -> None:
    """An edit reads the lines without the empty ones between, where “Lower Gills” might pass for a colour."""
    made, _ = save_recipe(demo, "Study\nHeron\n119\n107\n\nLower Gills\n\n101\n169\n")
    view = recipe(demo, made)
    wanted = lines(view)
    wanted[1] = replace(wanted[1], text="119, heavy")
    write(demo, wanted, made)
    after = recipe(demo, made)
    assert [(s.kind, s.area) for s in after.steps] == [(s.kind, s.area) for s in view.steps]
    assert [s.area for s in after.steps if s.kind is StepKind.HEADING] == ["Lower Gills"]


def test_a_step_under_another_heading_belongs_to_its_area(demo: Collection) -> None:
    view = recipe(demo)
    wanted = lines(view)
    assert (view.steps[2].area, view.steps[-1].area) == ("Cap", "Warts")
    wanted.append(wanted.pop(2))
    write(demo, wanted)
    assert recipe(demo).steps[-1].area == "Warts"
    heading = next(i for i, line in enumerate(wanted) if line.text == "Warts")
    wanted[heading] = replace(wanted[heading], text="Pale spots")
    write(demo, wanted)
    assert {step.area for step in recipe(demo).steps} >= {"Cap", "Pale spots"}


def test_other_words_leave_what_was_settled_by_hand(demo: Collection) -> None:
    number, _ = save_recipe(demo, "Leaf\nHeron\n- 119 Bracken, medium\n- 107")
    asked = calls(demo, number)[0]
    meant = asked.candidates[0]
    settle_call(demo, asked.id, meant.id)
    wanted = lines(recipe(demo, number))
    wanted[-2] = replace(wanted[-2], text="119 Bracken in the folds, heavy, two layers")
    write(demo, wanted, number)
    again = calls(demo, number)[0]
    assert (again.id, again.colour) == (asked.id, meant)
    assert (again.pressure, again.layers) == (Pressure.HEAVY, 2)


def test_what_is_no_longer_named_goes_with_its_choice_and_comes_back_by_undo(demo: Collection) -> None:
    open_call = next(c for c in calls(demo, SCARLET_CAP) if c.answer is Answer.OPEN)
    owned = call(demo, "119").colour
    assert owned is not None
    choose_standin(demo, open_call.id, VELLUM, owned.id)
    exclude(demo, open_call.id, BUFF, owned.id, excluded=True)
    before = recipe(demo)
    made = write(demo, [line for line in lines(before) if not line.text.startswith(open_call.as_written[:3])][:1])
    with demo() as session:
        assert session.query(Choice).count() == 0
    undo(demo, changed(made).change_id)
    assert recipe(demo).steps == before.steps


def test_two_windows_never_overwrite_each_other(demo: Collection) -> None:
    view = recipe(demo)
    write(demo, lines(view)[:-1])
    with pytest.raises(ChangedMeanwhileError) as late:
        write_lines(demo, SCARLET_CAP, view.revision, "Mine", lines(view))
    assert late.value.revision == recipe(demo).revision
    assert len(texts(demo)) == len(view.steps) - 1


@pytest.mark.parametrize(
    ("line", "says"),
    [
        (Line("119", id=9_999), "Line 1 is no line of this recipe"),
        (Line("x" * 2_001), "Line 1 has 2001 characters"),
        (Line("119", copy_of=9_999), "Line 1 is no line of this recipe"),
    ],
)
def test_lines_that_cannot_be_are_refused_with_their_number(demo: Collection, line: Line, says: str) -> None:
    before = texts(demo)
    with pytest.raises(RefusedError, match=says):
        write(demo, [line])
    assert texts(demo) == before


def test_too_much_or_twice_is_refused(demo: Collection) -> None:
    view = recipe(demo)
    with pytest.raises(RefusedError, match="Line 2 stands twice"):
        write(demo, [lines(view)[2]] * 2)
    with pytest.raises(RefusedError, match="401 lines"):
        write(demo, [Line("119")] * 401)
    with pytest.raises(RefusedError, match="more than 16000 characters"):
        write(demo, [Line("y" * 1_999)] * 9)
    with pytest.raises(RefusedError, match="title has 201"):
        write_lines(demo, SCARLET_CAP, view.revision, "t" * 201, lines(view))
    with pytest.raises(NotFoundError):
        write_lines(demo, 99, 1, "t", [])
    with pytest.raises(RefusedError, match="1 to 12 layers"):
        lay_call(demo, view.steps[2].calls[0].id, Pressure.LIGHT, 13)
    assert recipe(demo) == view


def test_versions_are_kept_compared_and_gone_back_to(demo: Collection) -> None:
    first = recipe(demo)
    wanted = lines(first)
    wanted[2] = replace(wanted[2], text="Map with Oxlip 101, heavy")
    write(demo, [*wanted[:-1], Line("then 107, light", StepKind.STEP)])
    (taken_in,) = versions_of(demo, SCARLET_CAP)
    assert taken_in.name == AS_TAKEN_IN
    assert taken_in.calls == first.card.calls
    compared = compare_versions(demo, SCARLET_CAP, taken_in.id, None)
    differing = [(one.before and one.before.text, one.after and one.after.text) for one in compared if not one.same]
    assert (first.steps[2].text, "Map with Oxlip 101, heavy") in differing
    assert (first.steps[-1].text, "then 107, light") in differing
    assert len(differing) == 2
    second, _ = keep_version(demo, SCARLET_CAP, "  with   a glaze ")
    assert versions_of(demo, SCARLET_CAP)[0].name == "with a glaze"
    back = go_back(demo, SCARLET_CAP, taken_in.id)
    assert back is not None
    assert meaning(recipe(demo)) == meaning(first)
    assert texts(demo) == [step.text for step in first.steps]
    assert go_back(demo, SCARLET_CAP, taken_in.id) is None
    assert all(line.same for line in compare_versions(demo, SCARLET_CAP, taken_in.id, None))
    assert not all(line.same for line in compare_versions(demo, SCARLET_CAP, taken_in.id, second))
    undo(demo, back.change_id)
    assert texts(demo)[2] == "Map with Oxlip 101, heavy"


def test_a_call_laid_otherwise_is_seen_as_that(demo: Collection) -> None:
    lay_call(demo, recipe(demo).steps[2].calls[0].id, Pressure.HEAVY, 3)
    (version,) = versions_of(demo, SCARLET_CAP)
    (line,) = [one for one in compare_versions(demo, SCARLET_CAP, version.id, None) if not one.same]
    assert line.before is not None
    assert line.after is not None
    assert line.before.text == line.after.text
    assert line.after.calls == ("Heron 101 Oxlip, heavy, 3 layers",)


def test_versions_that_are_not_there_are_said_to_be_so(demo: Collection) -> None:
    number, _ = keep_version(demo, SCARLET_CAP, "")
    for wrong in (lambda: compare_versions(demo, 2, number, None), lambda: go_back(demo, SCARLET_CAP, 999)):
        with pytest.raises(NotFoundError, match="not kept any more"):
            wrong()
    with pytest.raises(RefusedError, match="81 characters"):
        keep_version(demo, SCARLET_CAP, "n" * 81)
    with pytest.raises(NotFoundError):
        versions_of(demo, 99)


def test_a_removed_recipe_takes_its_versions_along_and_brings_them_back(demo: Collection) -> None:
    keep_version(demo, SCARLET_CAP, "kept")
    removed = remove_recipe(demo, SCARLET_CAP)
    with demo() as session:
        assert session.query(RecipeVersion).count() == 0
    undo(demo, removed.change_id)
    assert [version.name for version in versions_of(demo, SCARLET_CAP)] == ["kept"]


@pytest.mark.parametrize("number", range(1, 8))
def test_an_edited_recipe_goes_out_as_text_that_reads_back_the_same(demo: Collection, number: int) -> None:
    view = recipe(demo, number)
    wanted = lines(view)
    at = next(i for i, step in enumerate(view.steps) if step.calls)
    wanted[at] = replace(wanted[at], purpose=Purpose.GLAZE, waits=True)
    wanted.append(wanted.pop(at))
    write(demo, wanted, number)
    for step in recipe(demo, number).steps[::2]:
        for one in step.calls:
            if one.role != "burnisher":
                lay_call(demo, one.id, Pressure.LIGHT, 3)
    _, text = recipe_as_file(demo, number, VELLUM, RecipeKind.TEXT)
    again, _ = save_recipe(demo, text)
    assert meaning(recipe(demo, again)) == meaning(recipe(demo, number))
    _, file = recipe_as_file(demo, number, VELLUM, RecipeKind.JSON)
    from_file, _ = take_in_recipe(demo, file.encode())
    assert recipe(demo, from_file).steps[-1].said_purpose == Purpose.GLAZE


PIECES = st.sampled_from(
    [
        "119",
        "107, light",
        "Heron 126 heavy",
        "Cap:",
        "burnish with 213",
        "let it dry",
        "M12 → M09",
        "glaze 139",
        "a note",
    ]
)


@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.tuples(PIECES, st.sampled_from(Pressure), st.integers(1, 5)), min_size=1, max_size=6), st.randoms())
def test_however_lines_are_turned_round_the_text_reads_back(
    demo: Collection, drawn: list[tuple[str, Pressure, int]], turn: Random
) -> None:
    number, _ = save_recipe(demo, "Anything\nHeron and Tallow\n" + "\n".join(f"- {text}" for text, _, _ in drawn))
    wanted = lines(recipe(demo, number))
    turn.shuffle(wanted)
    write(demo, wanted, number)
    for one, (_, pressure, layers) in zip(calls(demo, number), drawn, strict=False):
        if one.role == "" and pressure != Pressure.BURNISH:
            lay_call(demo, one.id, pressure, layers)
    _, text = recipe_as_file(demo, number, VELLUM, RecipeKind.TEXT)
    again, _ = save_recipe(demo, text)
    assert meaning(recipe(demo, again)) == meaning(recipe(demo, number))


@pytest.mark.parametrize("title", ["Fly Cap", "119", "Heron", "# Cap"])
def test_a_title_that_names_a_colour_stays_a_title(demo: Collection, title: str) -> None:
    view = recipe(demo)
    write_lines(demo, SCARLET_CAP, view.revision, title, lines(view)[:-1])
    _, text = recipe_as_file(demo, SCARLET_CAP, VELLUM, RecipeKind.TEXT)
    again, _ = save_recipe(demo, text)
    assert recipe(demo, again).title == title.lstrip("# ")
    assert meaning(recipe(demo, again)) == meaning(recipe(demo))


def test_a_file_with_lines_without_words_can_be_edited_and_sent_on(demo: Collection) -> None:
    bare = {"kind": "note", "text": ""}
    call_of = {"as_written": "119", "start": 0, "maker": "Quillfen", "range": "Heron", "code": "119"}
    steps = [bare, {"kind": "step", "text": "", "calls": [call_of]}]
    file = {"format": "tidy-tinder recipe", "version": 1, "title": "Bare", "steps": steps}
    number, _ = take_in_recipe(demo, json.dumps(file).encode())
    write(demo, [*lines(recipe(demo, number)), Line("107, light")], number)
    _, text = recipe_as_file(demo, number, VELLUM, RecipeKind.TEXT)
    assert "Heron 119" in text
    assert [c.as_written for c in calls(demo, number)][:1] == ["119"]


def test_a_recipe_of_as_many_calls_as_a_text_may_name_is_kept_and_edited(demo: Collection) -> None:
    long = " ".join(["119"] * 480)
    number, _ = save_recipe(demo, "\n".join(["Long", "Heron", *(f"- {long}" for _ in range(8))]))
    version, _ = keep_version(demo, number, "long")
    assert versions_of(demo, number)[0].calls == 8 * 480
    write(demo, lines(recipe(demo, number))[:-1], number)
    assert go_back(demo, number, version) is not None
    assert len(calls(demo, number)) == 8 * 480
