"""What is said of the columns of a file holds for the next one that is headed so, and is taken back with it."""

from __future__ import annotations

import pytest

from tidy_tinder.formats.swatch_file.record import Said
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import InvalidFileError
from tidy_tinder.services.exchange.catalogue import import_catalogue, preview_catalogue
from tidy_tinder.services.exchange.swatches import import_swatches, preview_swatches
from tidy_tinder.services.journal import undo
from tidy_tinder.storage.queries.colours import colour_rows

FIRST, NEXT = (f"Where,Key (mine),name\nHeron,{code},Oxlip\n".encode() for code in (101, 102))
SAID = {"Where": "range", "Key (mine)": "code"}
MARKS = "Ort,Lab_L,Lab_a,Lab_b,range,code,pressure,white\n{paper},50,20,10,{range},{code},heavy,D65\n"


def test_a_catalogue_headed_as_one_before_is_read_at_once(empty: Collection) -> None:
    assert preview_catalogue(empty, FIRST).problems[0].column == "range, code"
    seen = preview_catalogue(empty, FIRST, SAID)
    assert (seen.problems, seen.new_colours) == ((), 1)
    # Looking keeps nothing.
    assert preview_catalogue(empty, FIRST).problems != ()
    _, change = import_catalogue(empty, FIRST, SAID)
    assert change is not None
    remembered = preview_catalogue(empty, NEXT)
    assert (remembered.problems, remembered.new_colours) == ((), 1)
    assert {one.heading: one.as_said for one in remembered.read_as} == {
        "Where": True, "Key (mine)": True, "name": False,
    }  # fmt: skip
    # What is said now goes before what was said then.
    assert preview_catalogue(empty, NEXT, {"Where": ""}).problems[0].column == "range"
    undo(empty, change.change_id)
    assert preview_catalogue(empty, NEXT).problems != ()


def test_a_file_that_is_refused_teaches_nothing(empty: Collection) -> None:
    with pytest.raises(InvalidFileError):
        import_catalogue(empty, b"Where,Key (mine),name\nHeron,101,\n", SAID)
    assert preview_catalogue(empty, NEXT).problems != ()


def test_a_table_of_marks_headed_as_one_before_is_read_at_once(demo: Collection) -> None:
    with demo() as session:
        one, other = list(colour_rows(session))[:2]
    first, later = (
        MARKS.format(paper="Vellum board", range=row.range_name, code=row.code).encode() for row in (one, other)
    )
    assert preview_swatches(demo, first, Said()).asks == ("paper",)
    seen, change = import_swatches(demo, first, Said(columns={"Ort": "PAPER"}))
    assert (seen.new, seen.asks) == (1, ())
    assert change is not None
    assert preview_swatches(demo, later, Said()).new == 1
    undo(demo, change.change_id)
    assert preview_swatches(demo, later, Said()).asks == ("paper",)
    # A column that is said to be none is asked for, and a heading that was none becomes one.
    unread = preview_swatches(demo, later, Said(columns={"Ort": "PAPER", "pressure": ""}))
    assert (unread.asks, unread.ignored) == (("pressure",), ("pressure",))
