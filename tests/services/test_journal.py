"""The journal: before and after of every write, versions, and undo that never overwrites."""

from __future__ import annotations

import pytest
from sqlalchemy import func, select

from tidy_tinder.core.vocabulary import Tooth
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.context import context
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.journal import (
    collection_version,
    past_changes,
    revise,
    tables_version,
    undo,
    undoable,
    writing,
)
from tidy_tinder.services.papers import PaperAs, add_paper, remove_paper
from tidy_tinder.services.recipes.text import remove_recipe
from tidy_tinder.services.recipes.view import recipe_cards
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import Colour, JournalChange, JournalEntry, Pencil, RecipeCall

CATALOGUE = b"maker,range,code,name,L,a,b\nM,L,1,One,50,0,0\nM,L,2,Two,60,0,0\n"


def version(collection: Collection) -> int:
    with collection() as session:
        return collection_version(session)


def count(collection: Collection, table: type[Pencil] | type[RecipeCall]) -> int:
    with collection() as session:
        return session.scalar(select(func.count(table.id))) or 0


@pytest.fixture
def stocked(empty: Collection) -> Collection:
    import_catalogue(empty, CATALOGUE)
    return empty


def test_a_write_is_recorded_with_before_and_after(stocked: Collection) -> None:
    before = version(stocked)
    with writing(stocked, "renamed") as session:
        session.get_one(Colour, 1).name = "First"
    assert version(stocked) == before + 1
    with stocked() as session:
        entry = session.scalars(select(JournalEntry).order_by(JournalEntry.id.desc())).first()
        assert entry is not None
        assert entry.before is not None
        assert entry.after is not None
        assert (entry.before["name"], entry.after["name"]) == ("One", "First")
        assert (entry.before["revision"], entry.after["revision"]) == (1, 2)


def test_nothing_written_is_no_change(stocked: Collection) -> None:
    before = version(stocked)
    with writing(stocked, "nothing") as session:
        session.get_one(Colour, 1).name = "One"
    assert version(stocked) == before


def test_a_setting_leaves_the_version_of_the_collection(stocked: Collection) -> None:
    from tidy_tinder.services.collection.at_work import set_closest

    before = version(stocked)
    set_closest(stocked, "hue")
    assert version(stocked) == before
    assert context(stocked).closest.value == "hue"


def test_undo_of_new_rows_removes_them_and_undo_of_that_brings_them_back(stocked: Collection) -> None:
    done = mark_owned(stocked, [1, 2], True)
    assert done is not None
    undone = undo(stocked, done.change_id)
    assert count(stocked, Pencil) == 0
    undo(stocked, undone.change_id)
    assert count(stocked, Pencil) == 2


def test_undo_brings_a_removed_recipe_back_whole(demo: Collection) -> None:
    before = recipe_cards(demo, 1), count(demo, RecipeCall)
    done = remove_recipe(demo, 1)
    assert len(recipe_cards(demo, 1)) == len(before[0]) - 1
    undo(demo, done.change_id)
    assert (recipe_cards(demo, 1), count(demo, RecipeCall)) == before


def test_changes_are_taken_back_one_after_another(stocked: Collection) -> None:
    changes = []
    for name in ("First", "Second", "Third"):
        with writing(stocked, name) as session:
            session.get_one(Colour, 1).name = name
            changes.append(session.info["change_id"])
    for change in reversed(changes):
        undo(stocked, change)
    with stocked() as session:
        assert session.get_one(Colour, 1).name == "One"


def test_what_was_changed_since_is_not_overwritten(stocked: Collection) -> None:
    with writing(stocked, "first") as session:
        session.get_one(Colour, 1).name = "First"
        change = session.info["change_id"]
    with writing(stocked, "in another window") as session:
        session.get_one(Colour, 1).name = "Other"
    with pytest.raises(ChangedMeanwhileError, match="changed since"):
        undo(stocked, change)
    with stocked() as session:
        assert session.get_one(Colour, 1).name == "Other"


def test_a_change_is_taken_back_once(stocked: Collection) -> None:
    done = mark_owned(stocked, [1], True)
    assert done is not None
    undo(stocked, done.change_id)
    with pytest.raises(RefusedError, match="already"):
        undo(stocked, done.change_id)


def test_an_unknown_change_is_said_to_be_unknown(stocked: Collection) -> None:
    with pytest.raises(NotFoundError, match="999"):
        undo(stocked, 999)


def test_ids_are_never_given_twice(stocked: Collection) -> None:
    """Else undo could bring a row back over another one."""
    done = mark_owned(stocked, [1], True)
    assert done is not None
    undo(stocked, done.change_id)
    mark_owned(stocked, [2], True)
    with stocked() as session:
        assert [p.id for p in session.scalars(select(Pencil))] == [2]


def test_every_change_has_its_words(demo: Collection) -> None:
    with demo() as session:
        assert all(label for label in session.scalars(select(JournalChange.label)))


def test_an_undo_is_not_offered_to_be_taken_back(stocked: Collection) -> None:
    """`u` again and again goes back through the changes; it does not toggle the last one."""
    first, second = (mark_owned(stocked, [number], True) for number in (1, 2))
    assert first is not None
    assert second is not None
    for change in (second, first):
        with stocked() as session:
            offered = undoable(session)
        assert offered is not None
        assert (offered.change_id, offered.undone) == (change.change_id, False)
        undo(stocked, change.change_id)
    with stocked() as session:
        assert [(c.undone, c.label.startswith("Undo: ")) for c in past_changes(session, 4)] == [
            (False, True), (False, True), (True, False), (True, False),
        ]  # fmt: skip


def test_what_a_collection_begins_with_is_not_offered_and_not_undone(empty: Collection, demo: Collection) -> None:
    for collection in (empty, demo):
        with collection() as session:
            assert undoable(session) is None
            assert past_changes(session) == ()
            first = session.scalar(select(func.min(JournalChange.id)))
        assert first is not None
        with pytest.raises(RefusedError, match="began with, and stays"):
            undo(collection, first)
        assert context(collection).papers


def test_a_collection_keeps_a_paper_whatever_is_undone(empty: Collection) -> None:
    paper = PaperAs("Second", "", "", (95.0, 0.0, 2.0), Tooth.SMOOTH, 9, False, False)
    added = add_paper(empty, paper)[1]
    remove_paper(empty, 1)
    with pytest.raises(RefusedError, match="always has a paper"):
        undo(empty, added.change_id)
    assert [paper.id for paper in context(empty).papers] == [2]


def test_hundreds_of_changes_are_taken_back_in_their_order(stocked: Collection) -> None:
    """Undo ended after fifteen, since the undoings were counted among the newest thirty. Two thousand go too; they
    take as long as the rest of this file twenty times over.
    """
    made = [mark_owned(stocked, [number % 2 + 1], number % 4 < 2) for number in range(300)]
    changes = [change.change_id for change in made if change is not None]
    assert len(changes) == 300
    for expected in reversed(changes):
        with stocked() as session:
            newest = undoable(session)
        assert newest is not None
        assert newest.change_id == expected
        undo(stocked, newest.change_id)
    assert count(stocked, Pencil) == 0


def test_a_version_is_read_once_a_reading_and_anew_in_the_next(stocked: Collection) -> None:
    """One reading sees nothing of what others write, so its version stays; the next one sees it."""
    with stocked() as session:
        before = tables_version(session, ("pencil",))
        change = mark_owned(stocked, [1], True)
        assert change is not None
        assert tables_version(session, ("pencil",)) == before
        session.rollback()
        assert tables_version(session, ("pencil",)) == change.change_id
        assert tables_version(session, ("paper",)) < change.change_id


def test_who_writes_sees_the_version_of_her_own_change(stocked: Collection) -> None:
    with writing(stocked, "Two pencils") as session:
        before = tables_version(session, ("pencil",))
        session.add(Pencil(colour_id=1))
        session.flush()
        assert tables_version(session, ("pencil",)) == before
    with stocked() as session:
        assert tables_version(session, ("pencil",)) > before


def test_of_what_was_changed_meanwhile_all_that_differs_is_told_and_nothing_else(stocked: Collection) -> None:
    with stocked() as session:
        colour = session.get_one(Colour, 1)
        wanted = {"name": "Another", "code": colour.code, "lab_L": 10.0, "lab_a": colour.lab_a, "lab_b": 20.0}
        with pytest.raises(ChangedMeanwhileError) as told:
            revise(colour, colour.revision + 1, wanted, "This colour")
        assert told.value.revision == 1
        assert [one.field for one in told.value.versions] == ["name", "lab_L", "lab_b"]
        assert (told.value.versions[0].yours, told.value.versions[0].theirs) == ("Another", "One")
        # Nothing of it was written, and with the revision that is there all of it is.
        assert (colour.name, colour.lab_L) == ("One", 50.0)
        revise(colour, 1, wanted, "This colour")
        assert (colour.name, colour.lab_L, colour.lab_b) == ("Another", 10.0, 20.0)
