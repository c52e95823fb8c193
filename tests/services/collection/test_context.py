"""What holds everywhere: paper, closest, counts, what undo would take back; the board; catalogues out and in."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.conftest import close
from tests.services.at_home import BUFF, PRINT, VELLUM, colour_id, shelf

from tidy_tinder.core.names.finding import fold_code
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.csv_catalogue import ExportRow, write_catalogue
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.at_work import set_closest, set_paper
from tidy_tinder.services.collection.context import changes, context
from tidy_tinder.services.collection.preferences import set_leads
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.exchange.catalogue import export_catalogue, import_catalogue
from tidy_tinder.services.journal import undo
from tidy_tinder.services.swatches.board import board
from tidy_tinder.services.swatches.session_plan import SessionPlan, Which, start_session
from tidy_tinder.services.swatches.sessions import close_session, skip_item
from tidy_tinder.services.swatches.sessions import open_session as session_of
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.services.tidy.pencils import lose
from tidy_tinder.services.tidy.places import move_to, only_with_me, take_along
from tidy_tinder.services.tidy.shelves import shelves


def test_what_the_artist_sets_is_kept_and_nonsense_refused(demo: Collection) -> None:
    set_paper(demo, BUFF)
    set_closest(demo, "hue")
    set_leads(demo, "name")
    now = context(demo)
    assert (now.paper_id, now.closest.value, now.leads, now.stub_mm) == (BUFF, "hue", "name", 50)
    with pytest.raises(NotFoundError):
        set_paper(demo, 99)
    for act, word in ((set_closest, "nearest"), (set_leads, "number")):
        with pytest.raises(RefusedError, match=word):
            act(demo, word)


def test_settings_are_no_changes_of_the_collection(demo: Collection) -> None:
    before = context(demo)
    set_paper(demo, BUFF)
    take_along(demo, "tin 2", True)
    after = context(demo)
    assert (after.version, after.last) == (before.version, before.last)
    assert after.travel == ("tin 2",)


def test_undo_offers_the_newest_change_that_still_holds(demo: Collection) -> None:
    first = mark_owned(demo, [colour_id(demo, "Wader", "101")], True)
    second = mark_owned(demo, [colour_id(demo, "Wader", "102")], True)
    assert first is not None
    assert second is not None
    last = context(demo).last
    assert last is not None
    assert (last.change_id, last.label) == (second.change_id, second.label)
    undo(demo, second.change_id)
    last = context(demo).last
    assert last is not None
    assert last.change_id == first.change_id
    listed = {c.change_id: c for c in changes(demo)}
    assert listed[second.change_id].undone
    assert not listed[first.change_id].undone
    assert listed[first.change_id].made_at.tzinfo is not None
    # An undoing can be undone itself, from the list.
    newest = max(listed)
    undo(demo, newest)
    assert shelf(demo, "Wader").owned == 2


def test_marks_that_wait_are_counted(demo: Collection) -> None:
    assert context(demo).waiting_marks == 0
    ids = (colour_id(demo, "Heron", "119"), colour_id(demo, "Heron", "123"))
    number, _ = start_session(demo, SessionPlan(PRINT, Which.CHOSEN, (Pressure.LIGHT, Pressure.HEAVY), colour_ids=ids))
    assert context(demo).waiting_marks == 4
    skip_item(demo, session_of(demo, number).items[0].id)
    assert context(demo).waiting_marks == 3
    close_session(demo, number)
    assert context(demo).waiting_marks == 0


def test_the_board_counts_what_is_at_hand(demo: Collection) -> None:
    def heron() -> tuple[int, tuple[int, int, int], int]:
        cell = next(r for r in board(demo).rows if r.paper_id == VELLUM).cells[0]
        return cell.owned, cell.measured, cell.missing

    owned, measured, missing = heron()
    assert missing == 3 * owned - sum(measured)
    lose(demo, [colour_id(demo, "Heron", "102")])
    assert heron()[0] == owned - 1
    move_to(demo, [colour_id(demo, "Heron", "119"), colour_id(demo, "Heron", "123")], "travel")
    take_along(demo, "travel", True)
    only_with_me(demo, True)
    assert heron() == (2, (2, 2, 2), 0)


names = st.text(st.characters(exclude_categories=["C", "Z"]), min_size=1, max_size=8)
labs = st.tuples(st.floats(0, 100), st.floats(-90, 90), st.floats(-90, 90))
charted = st.builds(
    ExportRow,
    maker=st.just("M"),
    range_name=st.sampled_from(["Lane", "Brook"]),
    code=names.filter(fold_code),
    name=names,
    lab=st.none() | labs,
    opacity=st.sampled_from(["", "semi"]),
    lightfastness=st.just(""),
    effect=st.just("ordinary"),
    owned=st.integers(0, 3),
)
colours = st.lists(charted, min_size=1, max_size=6, unique_by=lambda row: fold_code(row.code))


@given(colours)
@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_an_exported_catalogue_makes_the_same_collection_anew(
    empty_file: Path, tmp_path_factory: pytest.TempPathFactory, rows: list[ExportRow]
) -> None:
    """Charts and counts, in order; taken in once more it changes nothing."""

    def fresh() -> Collection:
        return open_collection(Path(shutil.copy(empty_file, tmp_path_factory.mktemp("c") / "collection.sqlite")))

    def whole(collection: Collection) -> list[tuple[object, ...]]:
        cards, shelved = shelves(collection, 1)
        rows = [(cards.by_id[c.colour_id].colour, len(c.places)) for s in shelved for c in s.colours]
        return [(r.range_name, r.code, r.name, r.lab, r.opacity, owned) for r, owned in rows]

    first, second = fresh(), fresh()
    try:
        import_catalogue(first, write_catalogue(rows))
        exported = export_catalogue(first)
        import_catalogue(second, exported)
        assert whole(second) == whole(first)
        preview, change = import_catalogue(first, exported)
        assert preview.changes_nothing
        assert change is None
    finally:
        close(first)
        close(second)
