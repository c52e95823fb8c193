"""A pasted list becomes range, colours, set and owned pencils in one change; what was not taken is handed back."""

from __future__ import annotations

import pytest
from tests.services.at_home import shelf

from tidy_tinder.core.vocabulary import Effect, Opacity
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.tidy.shelves import shelves
from tidy_tinder.services.tidy.written_chart import ListToWrite, Standing, preview_written, write_chart

TIN = "Quillfen Heron\n101 Oxlip *** □\n102 Fly Cap ** ■\nBlues\n103 Metallic Sedge\n104 Kettle x2 #336699"
WANTED = ListToWrite(TIN, "Quillfen", "Heron", "Heron 4")


def test_a_list_is_written_in_one_change(empty: Collection) -> None:
    done = write_chart(empty, WANTED)
    assert (done.colours, done.new, done.left) == (4, 4, "Blues")
    cards, (heron,) = shelves(empty, 1)
    colours = [cards.by_id[c.colour_id].colour for c in heron.colours]
    assert (heron.maker, heron.name) == ("Quillfen", "Heron")
    assert [(c.code, c.name, c.opacity, c.lightfastness, c.effect) for c in colours] == [
        ("101", "Oxlip", Opacity.TRANSPARENT, "***", Effect.ORDINARY),
        ("102", "Fly Cap", Opacity.OPAQUE, "**", Effect.ORDINARY),
        ("103", "Metallic Sedge", "", "", Effect.METALLIC),
        ("104", "Kettle", "", "", Effect.ORDINARY),
    ]
    # sRGB (51, 102, 153) as colour-science 0.4.7 has it (XYZ_to_Lab of sRGB_to_XYZ, D65).
    assert colours[3].lab == pytest.approx((42.010, -0.144, -32.842), abs=0.01)
    assert [(s.name, s.colours, s.owned) for s in heron.sets] == [("Heron 4", 4, 4)]
    assert [c.owning.value for c in heron.colours] == ["owned", "owned", "owned", "spare"]
    assert done.change is not None
    undo(empty, done.change.change_id)
    assert shelves(empty, 1)[1] == ()


def test_not_owning_and_no_set(empty: Collection) -> None:
    write_chart(empty, ListToWrite("1 Oxlip\n2 Kettle", "", "Lane", "", own=False))
    _, (lane,) = shelves(empty, 1)
    assert (lane.owned, lane.sets) == (0, ())


def test_a_list_of_a_range_that_is_here_adds_what_is_new(empty: Collection) -> None:
    write_chart(empty, ListToWrite("101 Oxlip\n102 Fly Cap", "Quillfen", "Heron", own=False))
    again = ListToWrite("102 Fly  cap\n0101 Kettle\n103 Sedge", "quillfen", "HERON", "Heron 2")
    seen = preview_written(empty, again)
    assert seen.range_here
    assert [[(c.standing, c.problem) for c in line.colours] for line in seen.lines] == [
        [(Standing.HERE, "")],
        [(Standing.LEFT, "The code 0101 is Oxlip on this chart already.")],
        [(Standing.NEW, "")],
    ]
    done = write_chart(empty, again)
    assert (done.colours, done.new, done.left) == (2, 1, "0101 Kettle")
    heron = shelf(empty, "Heron")
    assert len(heron.colours) == 3
    assert [c.owning.value for c in heron.colours] == ["not owned", "owned", "owned"]
    # The same list once more changes nothing, and its set is not made twice.
    assert write_chart(empty, again).change is None
    assert [(s.name, s.colours) for s in shelf(empty, "Heron").sets] == [("Heron 2", 2)]


def test_a_preview_changes_nothing(empty: Collection) -> None:
    seen = preview_written(empty, WANTED)
    assert (len(seen.colours), seen.range_here, seen.reading.title) == (4, False, "Quillfen Heron")
    assert shelves(empty, 1)[1] == ()


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        (ListToWrite("101 Oxlip", "", "  "), "Say which range"),
        (ListToWrite("", "", "Heron"), "No colour could be read"),
        (ListToWrite("101\n102", "", "Heron"), "No colour could be read"),
    ],
)
def test_what_cannot_be_written_is_refused_in_words(empty: Collection, wanted: ListToWrite, said: str) -> None:
    with pytest.raises(RefusedError, match=said):
        write_chart(empty, wanted)
    assert shelves(empty, 1)[1] == ()


def test_names_without_codes_are_numbered_in_a_new_chart_only(empty: Collection) -> None:
    names = ListToWrite("Oxlip\nKettle", "", "Lane")
    assert preview_written(empty, names).reading.numbered
    write_chart(empty, names)
    left = preview_written(empty, ListToWrite("Greys", "", "Lane"))
    assert (left.colours, left.lines[0].line.problem) == ((), "No code stands on this line.")
