"""Fade tests of the demo: strips begun, read by the simulated reader and by photo, what they show, what follows."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta

import pytest
from tests.services.at_home import BUFF, VELLUM, card, colour_id

from tidy_tinder.core.fading.classes import FadeClass
from tidy_tinder.core.planning.checks.finding import Rule
from tidy_tinder.core.vocabulary import Effect, FadeHalf, FadePlace, MarkPressure, Pressure
from tidy_tinder.devices.errors import NotConnectedError
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.context import context
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.fading.store import (
    StripAs,
    begin_strip,
    end_strip,
    note_light,
    read_from_photo,
    read_half,
    remove_strip,
)
from tidy_tinder.services.fading.view import StripView, fade_strip, fade_strips
from tidy_tinder.services.journal import now, undo, writing
from tidy_tinder.services.papers import remove_paper
from tidy_tinder.services.photos.reading import PhotoReader
from tidy_tinder.services.photos.simulated import Condition, photograph_sheet
from tidy_tinder.services.photos.store import add_photo
from tidy_tinder.services.photos.view import photo_cards, photo_view
from tidy_tinder.services.reader import ReaderLink
from tidy_tinder.services.recipes.checking import check_recipe
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.sheets.plan import For, SheetPlan
from tidy_tinder.services.sheets.store import prepare_sheet
from tidy_tinder.services.standins.layered import Wish, unwished
from tidy_tinder.services.tidy.charts import ColourAs, RangeAs, add_colour, add_range, correct_colour, remove_colour
from tidy_tinder.services.tray import put_in_tray
from tidy_tinder.storage.models import Drawing, PhotoState, Recipe

FADES, HOLDS = "117", "107"
TODAY = now().date()
BEGUN = TODAY - timedelta(days=100)


@pytest.fixture
def link() -> Iterator[ReaderLink]:
    found = ReaderLink()
    found.start_simulated()
    found.calibrate()
    yield found
    found.close()


def strip_of(demo: Collection, *codes: str, begun: date = BEGUN, place: FadePlace = FadePlace.SOUTH) -> int:
    heavy: MarkPressure = Pressure.HEAVY
    marks = tuple((colour_id(demo, "Heron", code), heavy) for code in codes)
    return begin_strip(demo, StripAs(f"Strip {', '.join(codes)}", VELLUM, place, begun, marks))[0]


def read_all(
    demo: Collection, link: ReaderLink, strip: int, day: date, halves: tuple[FadeHalf, ...] = tuple(FadeHalf)
) -> None:
    for mark in view_of(demo, strip).marks:
        for half in halves:
            read_half(demo, link, mark.id, half, day, None)


def view_of(demo: Collection, strip: int) -> StripView:
    return fade_strip(demo, strip)[0]


def shown_of(demo: Collection, code: str) -> str:
    with demo() as session:
        return chart_by_id(session)[colour_id(demo, "Heron", code)].tested


def test_a_strip_is_read_twice_and_classed(demo: Collection, link: ReaderLink) -> None:
    strip = strip_of(demo, FADES, HOLDS)
    for day in (BEGUN + timedelta(days=30), TODAY):
        read_all(demo, link, strip, day)
    fades, holds = view_of(demo, strip).marks
    early, late = (one.change for one in fades.seen)
    assert 5.0 < early.delta_e_ab < late.delta_e_ab
    assert fades.held == late.classes
    assert fades.held[0] in (FadeClass.III, FadeClass.IV)
    assert holds.seen[-1].change.classes == (FadeClass.I,)
    assert fades.covered is not None
    assert fades.open is not None
    assert fades.covered.hex != fades.open.hex
    assert shown_of(demo, FADES) == " or ".join(fades.held)
    assert not any(one.by_first for one in fades.seen)


def test_a_covered_half_that_is_not_read_is_taken_from_the_first_day_and_said_so(
    demo: Collection, link: ReaderLink
) -> None:  # fmt: skip
    strip = strip_of(demo, FADES)
    read_all(demo, link, strip, BEGUN, (FadeHalf.OPEN,))
    assert view_of(demo, strip).marks[0].seen == ()
    read_all(demo, link, strip, TODAY, (FadeHalf.OPEN,))
    (seen,) = view_of(demo, strip).marks[0].seen
    assert seen.by_first
    assert seen.change.delta_e_ab > 8.0


def test_the_same_day_read_again_takes_the_first_readings_place(demo: Collection, link: ReaderLink) -> None:
    strip = strip_of(demo, HOLDS)
    (mark,) = view_of(demo, strip).marks
    read_half(demo, link, mark.id, FadeHalf.COVERED, TODAY, (60.0, 10.0, 40.0))
    for L in (50.0, 59.0):
        read_half(demo, link, mark.id, FadeHalf.OPEN, TODAY, (L, 10.0, 40.0))
    (seen,) = view_of(demo, strip).marks[0].seen
    assert seen.change.delta_e_ab == pytest.approx(1.0)
    assert len(view_of(demo, strip).looks[0].halves) == 2


def test_own_results_outrank_the_chart_wherever_only_what_lasts_is_asked_for(
    demo: Collection, link: ReaderLink
) -> None:
    fades = colour_id(demo, "Heron", FADES)
    with demo() as session:
        assert chart_by_id(session)[fades].lightfastness in ("I", "II", "III")
    recipe, _ = save_recipe(demo, f"Sold\nHeron\nCap:\n- {FADES}, medium")
    with writing(demo, "for sale") as session:
        drawing = Drawing(name="Sold", position=9, paper_id=VELLUM, for_sale=True, begun_on=TODAY)
        session.add(drawing)
        session.flush()
        session.get_one(Recipe, recipe).drawing_id = drawing.id
    assert card(demo, fades).colour.tested == ""
    strip = strip_of(demo, FADES)
    read_all(demo, link, strip, TODAY)
    assert card(demo, fades).colour.tested == shown_of(demo, FADES)
    (finding,) = [one for one in check_recipe(demo, recipe, VELLUM).findings if one.rule is Rule.WILL_FADE]
    assert f"came out as {shown_of(demo, FADES)} in your own fade test" in finding.saw
    with demo() as session:
        assert unwished(Scene.on(session, VELLUM), Wish(lasting=True), fades)
    change = remove_strip(demo, strip)
    assert shown_of(demo, FADES) == ""
    undo(demo, change.change_id)
    assert shown_of(demo, FADES) != ""


def test_what_has_not_faded_is_believed_only_with_a_wool_that_has(demo: Collection, link: ReaderLink) -> None:
    """A colour whose chart says nothing: four weeks in the light show nothing of it but that it is no worse."""
    line, _ = add_range(demo, RangeAs("Linnet", "Hedge", "", 175, True, False))
    plain, _ = add_colour(demo, line, ColourAs("1", "Bark", (40.0, 5.0, 10.0), "", "", Effect.ORDINARY))
    said = StripAs("Own", VELLUM, FadePlace.LAMP, BEGUN, ((plain, Pressure.HEAVY),))
    strip, _ = begin_strip(demo, said)
    (mark,) = view_of(demo, strip).marks
    for half in FadeHalf:
        read_half(demo, link, mark.id, half, TODAY, (40.0, 5.0, 10.0))
    assert view_of(demo, strip).marks[0].held == ()
    for wool, held in ((5, ()), (7, (FadeClass.I,)), (None, ())):
        note_light(demo, strip, TODAY, 400.0, wool)
        assert view_of(demo, strip).marks[0].held == held
        with demo() as session:
            assert chart_by_id(session)[plain].lasts == bool(held)
    with pytest.raises(RefusedError, match="mark of a fade test"):
        remove_colour(demo, plain)


def test_what_is_held_follows_the_chart_when_that_is_corrected(demo: Collection, link: ReaderLink) -> None:
    """A chart that said I and is corrected to IV: that nothing has faded here so far proves it no better."""
    line, _ = add_range(demo, RangeAs("Linnet", "Hedge", "", 175, True, False))
    said = ColourAs("1", "Bark", (40.0, 5.0, 10.0), "", "I", Effect.ORDINARY)
    plain, _ = add_colour(demo, line, said)
    strip, _ = begin_strip(demo, StripAs("Own", VELLUM, FadePlace.LAMP, BEGUN, ((plain, Pressure.HEAVY),)))
    (mark,) = view_of(demo, strip).marks
    for half in FadeHalf:
        read_half(demo, link, mark.id, half, TODAY, (40.0, 5.0, 10.0))
    with demo() as session:
        row = chart_by_id(session)[plain]
        assert (row.tested, row.lasts) == ("I", True)
    correct_colour(demo, plain, row.revision, replace(said, lightfastness="IV"))
    with demo() as session:
        row = chart_by_id(session)[plain]
        assert (row.tested, row.rated, row.lasts) == ("", "IV", False)


def test_a_wool_says_nothing_of_a_mark_that_was_first_read_after_weeks_in_the_light(
    demo: Collection, link: ReaderLink
) -> None:  # fmt: skip
    """What faded before the first reading is not seen; a covered half shows it whenever it is read."""
    line, _ = add_range(demo, RangeAs("Linnet", "Hedge", "", 175, True, False))
    plain, _ = add_colour(demo, line, ColourAs("1", "Bark", (40.0, 5.0, 10.0), "", "", Effect.ORDINARY))
    strip, _ = begin_strip(demo, StripAs("Own", VELLUM, FadePlace.LAMP, BEGUN, ((plain, Pressure.HEAVY),)))
    (mark,) = view_of(demo, strip).marks
    for day in (BEGUN + timedelta(days=40), TODAY):
        read_half(demo, link, mark.id, FadeHalf.OPEN, day, (40.0, 5.0, 10.0))
    note_light(demo, strip, TODAY, None, 8)
    assert view_of(demo, strip).marks[0].held == ()
    assert not view_of(demo, strip).marks[0].seen[-1].from_beginning
    read_half(demo, link, mark.id, FadeHalf.COVERED, TODAY, (40.0, 5.0, 10.0))
    assert view_of(demo, strip).marks[0].held == (FadeClass.I,)


def test_of_several_strips_the_worst_counts(demo: Collection, link: ReaderLink) -> None:
    for name, L in (("one", 80.0), ("two", 60.0)):
        said = StripAs(name, VELLUM, FadePlace.EAST, BEGUN, ((colour_id(demo, "Heron", HOLDS), Pressure.LIGHT),))
        (mark,) = view_of(demo, begin_strip(demo, said)[0]).marks
        read_half(demo, link, mark.id, FadeHalf.COVERED, TODAY, (80.0, 0.0, 0.0))
        read_half(demo, link, mark.id, FadeHalf.OPEN, TODAY, (L, 0.0, 0.0))
    assert shown_of(demo, HOLDS) == "IV"


def test_it_is_said_when_it_is_time_to_read_again(demo: Collection, link: ReaderLink) -> None:
    new = strip_of(demo, HOLDS, begun=TODAY - timedelta(days=29))
    assert context(demo).strips_due == 0
    old = strip_of(demo, FADES, begun=TODAY - timedelta(days=31))
    assert context(demo).strips_due == 1
    assert [one.id for one in fade_strips(demo)] == [old, new]
    read_all(demo, link, old, TODAY, (FadeHalf.OPEN,))
    assert context(demo).strips_due == 0
    assert view_of(demo, old).due == TODAY - timedelta(days=31) + timedelta(days=90)
    long = strip_of(demo, "119", begun=TODAY - timedelta(days=200))
    assert context(demo).strips_due == 1
    end_strip(demo, long, over=True)
    assert context(demo).strips_due == 0


def test_marks_are_read_from_a_photo_of_a_sheet(demo: Collection) -> None:
    codes = (FADES, HOLDS)
    ids = [colour_id(demo, "Heron", code) for code in codes]
    heavy: MarkPressure = Pressure.HEAVY
    put_in_tray(demo, ids, True)
    sheet, _ = prepare_sheet(demo, SheetPlan(BUFF, which=For.TRAY, layered=True))
    photo, _ = add_photo(demo, sheet, "open.jpg", photograph_sheet(demo, sheet, 1, Condition.WINDOW))
    marks = tuple((i, heavy) for i in [*ids, colour_id(demo, "Heron", "119")])
    strip, _ = begin_strip(demo, StripAs("Photographed", BUFF, FadePlace.SOUTH, BEGUN, marks))
    with pytest.raises(RefusedError, match="not read yet"):
        read_from_photo(demo, strip, photo, FadeHalf.OPEN, TODAY)
    reader = PhotoReader(demo)
    try:
        reader.wake()
        end = time.monotonic() + 60.0
        while photo_cards(demo, sheet)[0].state in (PhotoState.WAITING, PhotoState.READING):
            assert time.monotonic() < end
            time.sleep(0.05)
    finally:
        reader.close()
    assert [one.id for one in fade_strip(demo, strip)[1]] == [photo]
    read_from_photo(demo, strip, photo, FadeHalf.COVERED, TODAY)
    shown = view_of(demo, strip).marks
    assert [mark.covered is not None for mark in shown] == [True, True, False]
    # Both stand on the page in three layers, too: those are no marks of the strip.
    cells = photo_view(demo, photo).cells
    assert sorted(cell.layers for cell in cells) == [1, 1, 3, 3]
    once = {cell.colour_id: cell.zones[-1].colour.lab for cell in cells if cell.layers == 1}
    for mark in shown[:2]:
        assert mark.covered is not None
        assert mark.covered.lab == pytest.approx(once[mark.colour.id], abs=0.1)
    elsewhere, _ = begin_strip(demo, StripAs("Elsewhere", VELLUM, FadePlace.SOUTH, BEGUN, marks))
    assert fade_strip(demo, elsewhere)[1] == ()
    with pytest.raises(RefusedError, match="another paper"):
        read_from_photo(demo, elsewhere, photo, FadeHalf.OPEN, TODAY)
    with pytest.raises(RefusedError, match="None of the strip"):
        other, _ = begin_strip(
            demo, StripAs("Other", BUFF, FadePlace.SOUTH, BEGUN, ((colour_id(demo, "Heron", "119"), Pressure.HEAVY),))
        )
        read_from_photo(demo, other, photo, FadeHalf.OPEN, TODAY)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"name": "  "}, "Call the strip something"),
        ({"name": "x" * 61}, "Call the strip something"),
        ({"marks": ()}, "Choose the pencils"),
        ({"begun_on": TODAY + timedelta(days=3)}, "still to come"),
    ],
)
def test_a_strip_that_cannot_be_is_refused(demo: Collection, change: dict[str, object], words: str) -> None:
    said = {
        "name": "Strip", "paper_id": VELLUM, "place": FadePlace.SOUTH, "begun_on": BEGUN,
        "marks": ((colour_id(demo, "Heron", HOLDS), Pressure.HEAVY),), **change,
    }  # fmt: skip
    with pytest.raises(RefusedError, match=words):
        begin_strip(demo, StripAs(**said))  # type: ignore[arg-type] # handed through
    assert fade_strips(demo) == ()


def test_readings_that_cannot_be_are_refused(demo: Collection) -> None:
    strip = strip_of(demo, HOLDS)
    (mark,) = view_of(demo, strip).marks
    nobody = ReaderLink()
    for day, words in ((BEGUN - timedelta(days=1), "no earlier day"), (TODAY + timedelta(days=5), "still to come")):
        with pytest.raises(RefusedError, match=words):
            read_half(demo, nobody, mark.id, FadeHalf.OPEN, day, (50.0, 0.0, 0.0))
    with pytest.raises(NotConnectedError):
        read_half(demo, nobody, mark.id, FadeHalf.OPEN, TODAY, None)
    with pytest.raises(NotFoundError):
        read_half(demo, nobody, 999, FadeHalf.OPEN, TODAY, (50.0, 0.0, 0.0))
    for hours, wool in ((-1.0, None), (None, 9)):
        with pytest.raises(RefusedError):
            note_light(demo, strip, TODAY, hours, wool)
    assert view_of(demo, strip).looks == ()
    with pytest.raises(RefusedError, match="already"):
        strip_of(demo, HOLDS)
    with pytest.raises(NotFoundError):
        fade_strip(demo, 999)
    with pytest.raises(RefusedError, match="fade test"):
        remove_paper(demo, VELLUM)
