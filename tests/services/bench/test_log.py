"""The log: written once, in order, corrected, moved; what was called; drying that teaches; the recipe as done."""

from __future__ import annotations

from datetime import timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.services.at_home import VELLUM, colour_id
from tests.services.bench.conftest import DRAWING, Time

from tidy_tinder.core.bench.beside_plan import Use
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import LogKind, Pressure, StepState, Wetting
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import alive, begin_sitting, end_sitting
from tidy_tinder.services.bench.drying import begin_drying, say_of_drying
from tidy_tinder.services.bench.ending import as_done, keep_as_done
from tidy_tinder.services.bench.log import (
    MOST_ENTRIES,
    EntryAs,
    EntryView,
    NewEntry,
    correct_entry,
    pencil_called,
    remove_entry,
    whole_log,
    write_log,
)
from tidy_tinder.services.bench.place import PlaceAs, go_on, work_at
from tidy_tinder.services.bench.view import bench
from tidy_tinder.services.drawings.store import choose_drawing
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.view import open_recipe
from tidy_tinder.services.reference.sections import part
from tidy_tinder.services.tray import put_in_tray, tray
from tidy_tinder.storage.models import WHOLE, DryingState, SectionKind


def keys(collection: Collection) -> list[str]:
    return [str(one.note) for one in reversed(whole_log(collection, DRAWING))]


def note(key: str, **more: object) -> NewEntry:
    return NewEntry(key, LogKind.NOTE, note=key, **more)  # type: ignore[arg-type] # named as the entry has them


def as_said(entry: EntryView) -> EntryAs:
    return EntryAs(
        entry.pressure, entry.layers, entry.area, entry.note, entry.step_id, entry.section_id,
        entry.instead_of.id if entry.instead_of else None, entry.made_at,
    )  # fmt: skip


def test_what_is_sent_twice_is_written_once(drawn: Collection) -> None:
    assert write_log(drawn, DRAWING, [note("a"), note("b"), note("a")])[0] == 2
    count, change = write_log(drawn, DRAWING, [note("b"), note("c")])
    assert count == 1
    assert change is not None
    assert write_log(drawn, DRAWING, [note("c")]) == (0, None)
    assert keys(drawn) == ["a", "b", "c"]
    undo(drawn, change.change_id)
    assert keys(drawn) == ["a", "b"]


def test_a_phone_that_was_away_sends_its_lines_with_their_times(drawn: Collection, time: Time) -> None:
    write_log(drawn, DRAWING, [note("now")])
    early = time.at - timedelta(minutes=20)
    write_log(drawn, DRAWING, [note("before", at=early), note("future", at=time.at + timedelta(days=2))])
    assert keys(drawn) == ["before", "now", "future"]
    assert whole_log(drawn, DRAWING)[0].made_at == time.at


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=15)
@given(st.lists(st.lists(st.sampled_from("abcdefgh"), min_size=1, max_size=4), max_size=5))
def test_however_often_it_is_sent_each_line_stands_once(drawn: Collection, sent: list[list[str]]) -> None:
    for some in sent:
        write_log(drawn, DRAWING, [note(key) for key in some])
    found = keys(drawn)
    assert len(set(found)) == len(found)
    assert set(found) >= {key for some in sent for key in some}


def test_a_line_is_corrected_moved_and_taken_out(drawn: Collection) -> None:
    bracken = colour_id(drawn, "Heron", "169")
    write_log(drawn, DRAWING, [NewEntry("a", colour_id=bracken)])
    [entry] = whole_log(drawn, DRAWING)
    steps = bench(drawn, DRAWING).steps
    said = EntryAs(Pressure.HEAVY, 3, "Warts", "", steps[6].id, 0, None, entry.made_at)
    correct_entry(drawn, entry.id, entry.revision, said)
    [moved] = whole_log(drawn, DRAWING)
    assert (moved.pressure, moved.layers, moved.area, moved.step_id) == (Pressure.HEAVY, 3, "Warts", steps[6].id)
    with pytest.raises(ChangedMeanwhileError):
        correct_entry(drawn, entry.id, entry.revision, as_said(entry))
    assert correct_entry(drawn, moved.id, moved.revision, said) is None
    gone = remove_entry(drawn, entry.id)
    assert whole_log(drawn, DRAWING) == ()
    undo(drawn, gone.change_id)
    assert len(whole_log(drawn, DRAWING)) == 1
    with pytest.raises(NotFoundError):
        remove_entry(drawn, 99)


@pytest.mark.parametrize(
    "wrong",
    [
        NewEntry("k"), NewEntry("k", LogKind.NOTE, colour_id=1), NewEntry("", LogKind.NOTE),
        NewEntry("k" * 65, LogKind.NOTE),
        NewEntry("k", colour_id=1, layers=13), NewEntry("k", colour_id=1, pressure="hard"),  # type: ignore[arg-type]
        NewEntry("k", LogKind.NOTE, note="x" * 501),
    ],
)  # fmt: skip
def test_what_is_no_line_is_refused_and_nothing_of_it_written(drawn: Collection, wrong: NewEntry) -> None:
    with pytest.raises(RefusedError):
        write_log(drawn, DRAWING, [note("good"), wrong])
    assert whole_log(drawn, DRAWING) == ()
    with pytest.raises(NotFoundError):
        write_log(drawn, DRAWING, [NewEntry("x", colour_id=99999)])


def test_a_log_of_two_thousand_lines_is_shown_in_part_and_read_whole(drawn: Collection) -> None:
    write_log(drawn, DRAWING, [note(str(i)) for i in range(2000)])
    view = bench(drawn, DRAWING)
    assert (len(view.log), view.log_count) == (40, 2000)
    assert as_done(drawn, DRAWING).entries == 2000
    with pytest.raises(RefusedError, match=str(MOST_ENTRIES)):
        write_log(drawn, DRAWING, [note(f"x{i}") for i in range(MOST_ENTRIES)])


def test_a_code_a_name_or_the_trays_number_is_a_pencil(drawn: Collection) -> None:
    bracken, wader = colour_id(drawn, "Heron", "169"), colour_id(drawn, "Wader", "169")
    sure, found = pencil_called(drawn, DRAWING, "169")
    assert sure is None
    assert [one.id for one in found] == [bracken, wader]
    assert pencil_called(drawn, DRAWING, "Heron 169")[0] == bracken
    assert pencil_called(drawn, DRAWING, "M12")[0] == colour_id(drawn, "Tallow", "M12")
    choose_drawing(drawn, DRAWING)
    put_in_tray(drawn, [wader], True)
    assert pencil_called(drawn, DRAWING, "#1")[0] == wader
    assert pencil_called(drawn, DRAWING, "169")[1][0].id == wader  # what lies in the tray comes first
    # Counted as the tray is shown, from light to dark, whatever was put in first.
    cream = colour_id(drawn, "Tallow", "M12")
    put_in_tray(drawn, [cream], True)
    assert [card.colour.id for card in tray(drawn, VELLUM).cards] == [cream, wader]
    assert [pencil_called(drawn, DRAWING, number)[0] for number in ("#1", "#2")] == [cream, wader]
    assert pencil_called(drawn, DRAWING, "#3") == (None, ())
    assert pencil_called(drawn, DRAWING, "xyzzy") == (None, ())


def test_drying_is_told_from_what_was_said_on_this_paper(drawn: Collection, time: Time) -> None:
    for number in range(4):
        begin_drying(drawn, DRAWING, 0, Wetting.SOLVENT, f"w{number}")
        time.passes(minutes=20)
        [dries] = bench(drawn, DRAWING).dryings
        assert dries.minutes == pytest.approx(20.0)
        assert dries.answers == number
        say_of_drying(drawn, dries.id, DryingState.DRY)
    begin_drying(drawn, DRAWING, 0, Wetting.SOLVENT, "last")
    [dries] = bench(drawn, DRAWING).dryings
    assert 10.0 < dries.low < 20.0 < dries.high < 40.0
    assert dries.left == pytest.approx(20.0, rel=0.15)
    # Another finish has its own times; so has what is not to be learned from.
    say_of_drying(drawn, dries.id, DryingState.DROPPED)
    begin_drying(drawn, DRAWING, 0, Wetting.FIXATIVE, "spray")
    assert bench(drawn, DRAWING).dryings[0].answers == 0


def test_a_section_dries_once_and_is_dry_once(drawn: Collection, time: Time) -> None:
    change = begin_drying(drawn, DRAWING, 0, Wetting.WASH, "w")
    with pytest.raises(RefusedError, match="dries already"):
        begin_drying(drawn, DRAWING, 0, Wetting.WASH, "w2")
    [dries] = bench(drawn, DRAWING).dryings
    [wet] = whole_log(drawn, DRAWING)
    assert (wet.kind, wet.area) == (LogKind.WASH, "Cap")
    assert say_of_drying(drawn, dries.id, DryingState.DRY_BEFORE) is not None
    assert say_of_drying(drawn, dries.id, DryingState.DRY) is None
    with pytest.raises(RefusedError):
        say_of_drying(drawn, dries.id, DryingState.WET)
    with pytest.raises(NotFoundError):
        say_of_drying(drawn, 99, DryingState.DRY)
    with pytest.raises(ChangedMeanwhileError):
        undo(drawn, change.change_id)


def test_what_was_done_is_a_recipe_that_reads_back_and_the_plan_stays(drawn: Collection, time: Time) -> None:
    begin_sitting(drawn, DRAWING)
    view = bench(drawn, DRAWING)
    assert view.step is not None
    [oxlip] = view.step.pencils
    write_log(
        drawn,
        DRAWING,
        [NewEntry("a", colour_id=oxlip.colour.id, call_id=oxlip.call_id, pressure=Pressure.LIGHT, layers=1)],
    )
    go_on(drawn, DRAWING, view.step.id, StepState.DONE)
    for key, name, code in (("b", "Heron", "169"), ("c", "Tallow", "M12"), ("d", "Heron", "126")):
        write_log(
            drawn, DRAWING, [NewEntry(key, colour_id=colour_id(drawn, name, code), pressure=Pressure.MEDIUM, layers=2)]
        )
    time.passes(minutes=9)
    told = as_done(drawn, DRAWING)
    assert told.minutes == pytest.approx(9.0)
    assert [line.use for line in told.lines].count(Use.ADDED) == 3
    assert told.lines[0].use is Use.AS_PLANNED
    before = open_recipe(drawn, 1, 1, Closest.OVERALL)
    number, _ = keep_as_done(drawn, DRAWING, told.text)
    kept = open_recipe(drawn, number, 1, Closest.OVERALL)
    calls = [(c.colour.code, c.pressure, c.layers) for s in kept.steps for c in s.calls if c.colour is not None]
    assert calls == [("101", "light", 1), ("169", "medium", 2), ("M12", "medium", 2), ("126", "medium", 2)]
    assert {s.area for s in kept.steps if s.calls} == {"Cap"}
    # What the program wrote asks nothing of her.
    assert [s.text for s in kept.steps if s.to_look_through] == []
    assert open_recipe(drawn, 1, 1, Closest.OVERALL) == before


def test_what_was_used_instead_is_told_so(drawn: Collection) -> None:
    view = bench(drawn, DRAWING)
    assert view.step is not None
    [oxlip] = view.step.pencils
    other = colour_id(drawn, "Heron", "103")
    write_log(drawn, DRAWING, [NewEntry("a", colour_id=other, instead_of_id=oxlip.colour.id)])
    line = as_done(drawn, DRAWING).lines[0]
    assert line.use is Use.INSTEAD
    assert (line.planned and line.planned.code, line.used and line.used.code) == ("101", "103")


def test_as_one_goes_the_log_alone_becomes_a_recipe(drawn: Collection) -> None:
    work_at(drawn, DRAWING, PlaceAs(recipe_id=0))
    with pytest.raises(RefusedError, match="Nothing is logged"):
        as_done(drawn, DRAWING)
    write_log(drawn, DRAWING, [NewEntry("a", colour_id=colour_id(drawn, "Heron", "169"))])
    told = as_done(drawn, DRAWING)
    assert "Heron 169 Bracken" in told.text
    assert [line.use for line in told.lines] == [Use.ADDED]


def test_a_line_from_a_phone_that_names_a_section_of_before_is_kept(drawn: Collection) -> None:
    """The drawing was parted anew while the phone was away: what was written is not refused for that."""
    part(drawn, DRAWING, SectionKind.GRID, None)
    before = bench(drawn, DRAWING).sections[3].id
    part(drawn, DRAWING, SectionKind.GRID, None)
    write_log(drawn, DRAWING, [note("late", section_id=before)])
    assert [(one.note, one.section_id) for one in whole_log(drawn, DRAWING)] == [("late", WHOLE)]


def test_the_hours_are_told_by_sitting_step_and_section(drawn: Collection, time: Time) -> None:
    part(drawn, DRAWING, SectionKind.GRID, None)
    begin_sitting(drawn, DRAWING)
    write_log(drawn, DRAWING, [note("a")])
    begun = time.at
    time.passes(minutes=4)
    first = bench(drawn, DRAWING).step
    assert first is not None
    go_on(drawn, DRAWING, first.id, StepState.DONE)
    time.passes(minutes=7)
    end_sitting(drawn, DRAWING)
    time.passes(hours=5)
    begin_sitting(drawn, DRAWING)
    time.passes(minutes=2)
    alive(drawn, DRAWING)
    told = [(line.of.value, line.name, line.began, round(line.minutes, 6)) for line in as_done(drawn, DRAWING).times]
    assert told == [
        ("sitting", "", begun, 11.0),
        ("sitting", "", begun + timedelta(hours=5, minutes=11), 2.0),
        ("step", "1", None, 13.0),
        ("section", "1", None, 4.0),
        ("section", "2", None, 9.0),
    ]
