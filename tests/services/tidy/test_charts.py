"""Charts by hand: added, corrected against what was looked at, removed unless something hangs on them."""

from __future__ import annotations

import pytest
from tests.services.at_home import VELLUM, card, colour_id, shelf

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.vocabulary import Effect, Opacity
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.marks import RestsOn
from tidy_tinder.services.errors import ChangedMeanwhileError, NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.tidy.charts import (
    ColourAs,
    RangeAs,
    add_colour,
    add_range,
    add_set,
    correct_colour,
    edit_range,
    remove_colour,
    remove_range,
    remove_set,
)
from tidy_tinder.services.tidy.shelves import shelves
from tidy_tinder.services.tray import put_in_tray, tray

BRAMBLE = ColourAs("7", "Bramble", (32.0, 20.0, -8.0), Opacity.SEMI, "II", Effect.ORDINARY)


def test_a_range_its_colours_and_a_set_are_written_by_hand(empty: Collection) -> None:
    number, _ = add_range(empty, RangeAs("Mill", "Lane", "hard", 160))
    first, _ = add_colour(empty, number, BRAMBLE)
    add_colour(empty, number, ColourAs("8", "Sloe", None, "", "", Effect.ORDINARY))
    add_set(empty, number, "Lane 2", "7-8")
    cards, (lane,) = shelves(empty, 1)
    assert [cards.by_id[c.colour_id].colour.name for c in lane.colours] == ["Bramble", "Sloe"]
    assert cards.by_id[first].colour.lab == (32.0, 20.0, -8.0)
    assert [(s.name, s.colours) for s in lane.sets] == [("Lane 2", 2)]


def test_two_colours_of_a_range_cannot_share_a_code(empty: Collection) -> None:
    number, _ = add_range(empty, RangeAs("", "Lane", "", 175))
    add_colour(empty, number, BRAMBLE)
    with pytest.raises(RefusedError, match="is Bramble on this chart already"):
        add_colour(empty, number, ColourAs("007", "Sloe", None, "", "", Effect.ORDINARY))
    with pytest.raises(RefusedError, match="There is a range Lane already"):
        add_range(empty, RangeAs("", "Lane", "", 175))
    with pytest.raises(OutOfRangeError):
        add_colour(empty, number, ColourAs("9", "Sun", (130.0, 0.0, 0.0), "", "", Effect.ORDINARY))
    with pytest.raises(RefusedError, match="Not on the chart"):
        add_set(empty, number, "Lane 9", "7, 99")


def test_a_chart_is_corrected_and_too_late_is_told(demo: Collection) -> None:
    oxlip = card(demo, colour_id(demo, "Heron", "101")).colour
    right = ColourAs("101", "Oxlip", (88.0, -3.0, 45.0), Opacity.OPAQUE, "II", Effect.ORDINARY)
    done = correct_colour(demo, oxlip.id, oxlip.revision, right)
    assert done is not None
    now = card(demo, oxlip.id).colour
    assert (now.lab, now.opacity, now.chart_source) == ((88.0, -3.0, 45.0), "opaque", "typed")
    with pytest.raises(ChangedMeanwhileError) as told:
        correct_colour(
            demo, oxlip.id, oxlip.revision, ColourAs("101", "Cowslip", right.lab, Opacity.OPAQUE, "II", Effect.ORDINARY)
        )
    assert [(v.field, v.yours, v.theirs) for v in told.value.versions] == [("name", "Cowslip", "Oxlip")]
    undo(demo, done.change_id)
    assert card(demo, oxlip.id).colour.lab == oxlip.lab


def test_a_range_is_said_anew(demo: Collection) -> None:
    heron = shelf(demo, "Heron")
    edit_range(demo, heron.range_id, heron.revision, RangeAs("Quillfen", "Heron", "softer now", 180))
    assert (shelf(demo, "Heron").feel, shelf(demo, "Heron").new_length_mm) == ("softer now", 180)


def test_what_something_hangs_on_is_not_removed_and_says_why(demo: Collection) -> None:
    with pytest.raises(RefusedError, match="2 pencils that you own") as told:
        remove_colour(demo, colour_id(demo, "Heron", "119"))
    assert "swatches" in told.value.detail
    assert "call of a recipe" in told.value.detail
    with pytest.raises(RefusedError, match="The range Heron stays"):
        remove_range(demo, shelf(demo, "Heron").range_id)
    heron_60 = next(s for s in shelf(demo, "Heron").sets if s.name == "Heron 60")
    with pytest.raises(RefusedError, match="of your pencils came from the set"):
        remove_set(demo, heron_60.id)


def test_what_nothing_hangs_on_goes_with_its_places_and_comes_back(demo: Collection) -> None:
    free = next(
        c.colour_id for c in shelf(demo, "Wader").colours
        if card(demo, c.colour_id).mark.rests_on is RestsOn.CHART and card(demo, c.colour_id).colour.code == "104"
    )  # fmt: skip
    put_in_tray(demo, [free], True)
    before = {s.name: s.colours for s in shelf(demo, "Wader").sets}
    done = remove_colour(demo, free)
    assert free not in shelves(demo, VELLUM)[0].by_id
    assert tray(demo, VELLUM).cards == ()
    undo(demo, done.change_id)
    assert card(demo, free).colour.code == "104"
    assert {s.name: s.colours for s in shelf(demo, "Wader").sets} == before
    assert [c.colour.id for c in tray(demo, VELLUM).cards] == [free]


def test_an_empty_range_goes_whole(empty: Collection) -> None:
    number, _ = add_range(empty, RangeAs("", "Lane", "", 175))
    add_colour(empty, number, BRAMBLE)
    add_set(empty, number, "Lane 1", "7")
    done = remove_range(empty, number)
    assert shelves(empty, 1)[1] == ()
    undo(empty, done.change_id)
    assert [s.name for s in shelves(empty, 1)[1]] == ["Lane"]


def test_what_is_not_there_is_said_to_be_so(demo: Collection) -> None:
    for call in (
        lambda: remove_colour(demo, 9999),
        lambda: remove_range(demo, 9999),
        lambda: remove_set(demo, 9999),
        lambda: add_colour(demo, 9999, BRAMBLE),
        lambda: add_set(demo, 9999, "x", "1"),
    ):
        with pytest.raises(NotFoundError):
            call()
