"""Sticks: edited against what was looked at, lost and found, moved, with her today."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from tests.services.at_home import VELLUM, colour_id, owning, pencils, stick

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import AtHand, Owning
from tidy_tinder.services.collection.context import context
from tidy_tinder.services.collection.preferences import set_stub
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.view import open_recipe
from tidy_tinder.services.standins.mark_beside_mark import standins_for_text
from tidy_tinder.services.tidy.pencils import PencilAs, add_pencil, edit_pencil, find_again, lose, remove_pencil, use_up
from tidy_tinder.services.tidy.places import move_to, only_with_me, take_along, tins
from tidy_tinder.storage.queries.colours import PencilRow


def as_it_is(row: PencilRow) -> PencilAs:
    return PencilAs(row.tin, row.slot, row.length_mm, row.state, row.stamp_readable, row.notes)


def test_a_stick_is_said_anew_and_undo_brings_it_back(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    before = pencils(demo, fly_cap)[0]
    done = edit_pencil(demo, before.id, before.revision, replace(as_it_is(before), length_mm=40, notes="snaps"))
    assert done is not None
    now = pencils(demo, fly_cap)[0]
    assert (now.length_mm, now.notes, now.revision) == (40, "snaps", before.revision + 1)
    undo(demo, done.change_id)
    assert as_it_is(pencils(demo, fly_cap)[0]) == as_it_is(before)


def test_a_change_that_comes_too_late_is_told_with_both_versions(demo: Collection) -> None:
    row = pencils(demo, colour_id(demo, "Heron", "119"))[0]
    edit_pencil(demo, row.id, row.revision, replace(as_it_is(row), length_mm=90))
    with pytest.raises(ChangedMeanwhileError, match="another window") as told:
        edit_pencil(demo, row.id, row.revision, replace(as_it_is(row), length_mm=60))
    assert [(v.field, v.yours, v.theirs) for v in told.value.versions] == [("length_mm", "60", "90")]
    assert told.value.revision == row.revision + 1
    # Having looked at both, she keeps hers.
    edit_pencil(demo, row.id, row.revision + 1, replace(as_it_is(row), length_mm=60))
    assert pencils(demo, row.colour_id)[0].length_mm == 60


@pytest.mark.parametrize(("part", "value"), [("length_mm", 401), ("state", "chewed")])
def test_what_no_pencil_can_be_is_refused(demo: Collection, part: str, value: Any) -> None:
    row = pencils(demo, colour_id(demo, "Heron", "119"))[0]
    with pytest.raises(RefusedError):
        edit_pencil(demo, row.id, row.revision, replace(as_it_is(row), **{part: value}))
    with pytest.raises(NotFoundError):
        edit_pencil(demo, 99999, 1, as_it_is(row))


def test_a_lost_pencil_gives_its_place_to_the_spare(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    assert owning(demo, fly_cap) is Owning.SPARE
    lose(demo, [fly_cap])
    assert sorted(p.state for p in pencils(demo, fly_cap)) == ["in_use", "lost"]
    lose(demo, [fly_cap])
    assert owning(demo, fly_cap) is Owning.LOST
    find_again(demo, [fly_cap])
    assert sorted(p.state for p in pencils(demo, fly_cap)) == ["in_use", "spare"]
    assert find_again(demo, [fly_cap]) is None


def test_many_at_once_are_one_undo(demo: Collection) -> None:
    ids = [colour_id(demo, "Heron", code) for code in ("102", "103", "105")]
    done = lose(demo, ids)
    assert done is not None
    assert (done.label, done.rows) == ("3 colours lost", 3)
    undo(demo, done.change_id)
    assert all(owning(demo, i) is not Owning.LOST for i in ids)


def test_used_up_is_owned_no_more_unless_there_is_a_spare(demo: Collection) -> None:
    fly_cap, lemon = colour_id(demo, "Heron", "119"), colour_id(demo, "Heron", "102")
    use_up(demo, [fly_cap, lemon])
    assert owning(demo, fly_cap) is Owning.OWNED
    assert owning(demo, lemon) is Owning.NOT_OWNED


def test_one_more_is_a_spare_of_a_new_pencils_length(demo: Collection) -> None:
    lemon = colour_id(demo, "Heron", "102")
    add_pencil(demo, lemon)
    newest = pencils(demo, lemon)[-1]
    assert (newest.state, newest.length_mm) == ("spare", 175)
    remove_pencil(demo, newest.id)
    assert len(pencils(demo, lemon)) == 1


def test_moving_puts_them_behind_what_stands_in_the_tin(demo: Collection) -> None:
    ids = [colour_id(demo, "Heron", code) for code in ("119", "102")]
    move_to(demo, ids, " travel  tin ")
    places = [(p.tin, p.slot) for i in ids for p in pencils(demo, i)]
    assert places == [("travel tin", 1), ("travel tin", 2), ("travel tin", 3)]
    move_to(demo, [colour_id(demo, "Heron", "103")], "travel tin")
    assert pencils(demo, colour_id(demo, "Heron", "103"))[0].slot == 4
    assert [t.pencils for t in tins(demo) if t.name == "travel tin"] == [4]


def test_with_me_today_filters_stand_ins_recipes_and_counts(demo: Collection) -> None:
    with pytest.raises(RefusedError, match="No tin is marked"):
        only_with_me(demo, True)
    taken = [colour_id(demo, "Heron", code) for code in ("119", "123")]
    move_to(demo, taken, "travel tin")
    take_along(demo, "travel tin", True)
    everywhere = standins_for_text(demo, "Heron 126", "vellum", Pressure.HEAVY, Closest.OVERALL, limit=500)
    only_with_me(demo, True)
    here = standins_for_text(demo, "Heron 126", "vellum", Pressure.HEAVY, Closest.OVERALL, limit=500)
    assert {o.colour.id for o in here.on_paper + here.by_chart} == set(taken)
    assert len(everywhere.on_paper) > 100
    assert context(demo).owned == 2
    calls = [c for s in open_recipe(demo, 1, VELLUM, Closest.OVERALL).steps for c in s.calls]
    assert {c.colour.code: c.elsewhere for c in calls if c.colour}["117"] is True
    only_with_me(demo, False)
    assert context(demo).owned == 165


def test_the_artist_sets_what_a_stub_is(demo: Collection) -> None:
    before = sum(t.stubs for t in tins(demo))
    set_stub(demo, 90)
    assert sum(t.stubs for t in tins(demo)) > before
    assert AtHand(stub_mm=90).owning([stick(80)]) is Owning.STUB
    with pytest.raises(RefusedError):
        set_stub(demo, 500)
