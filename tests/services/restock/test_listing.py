"""The list of what to buy: listed with a reason, ticked, bought into the tidy with one undo, on paper and as CSV."""

from __future__ import annotations

import csv
import io

import pypdfium2
import pytest
from tests.services.at_home import colour_id, pencils

from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.formats.shopping_list import shopping_list_csv, shopping_list_pdf
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.restock.listing import (
    bought,
    list_colours,
    listed_for_paper,
    say_of_listed,
    shopping_list,
    strike,
)
from tidy_tinder.services.restock.prices import PriceOf, set_currency, set_price
from tidy_tinder.services.tidy.charts import remove_colour
from tidy_tinder.services.tidy.ownership import mark_owned


def listed(demo: Collection) -> tuple[int, int]:
    """Two Herons on the list, in the order of asking; their numbers."""
    two = colour_id(demo, "Heron", "177"), colour_id(demo, "Heron", "139")
    list_colours(demo, two, "served twice")
    return two


def test_what_is_ticked_goes_into_the_tidy_and_off_the_list_with_one_undo(demo: Collection) -> None:
    peat, violet = listed(demo)
    lines = shopping_list(demo).lines
    assert [line.colour.code for line in lines] == ["139", "177"]  # by range and code
    assert {line.why for line in lines} == {"served twice"}
    with pytest.raises(RefusedError):
        bought(demo)
    row = lines[1].id
    say_of_listed(demo, row, 2, None)
    say_of_listed(demo, row, None, True)
    change = bought(demo)
    assert [line.colour.id for line in shopping_list(demo).lines] == [violet]
    assert [stick.state for stick in pencils(demo, peat)] == [PencilState.IN_USE, PencilState.SPARE]
    undo(demo, change.change_id)
    assert pencils(demo, peat) == []
    assert [(line.pieces, line.ticked) for line in shopping_list(demo).lines] == [(1, False), (2, True)]


def test_one_more_of_what_is_owned_is_a_spare(demo: Collection) -> None:
    owned = colour_id(demo, "Heron", "101")
    before = len(pencils(demo, owned))
    list_colours(demo, [owned])
    [line] = shopping_list(demo).lines
    say_of_listed(demo, line.id, None, True)
    bought(demo)
    assert [stick.state for stick in pencils(demo, owned)][before:] == [PencilState.SPARE]


def test_a_line_is_struck_and_put_back_and_listed_once(demo: Collection) -> None:
    peat, _ = listed(demo)
    assert list_colours(demo, [peat], "again") is None
    line = next(line for line in shopping_list(demo).lines if line.colour.id == peat)
    change = strike(demo, line.id)
    assert len(shopping_list(demo).lines) == 1
    undo(demo, change.change_id)
    assert next(one.why for one in shopping_list(demo).lines if one.colour.id == peat) == "served twice"
    strike(demo, line.id)
    with pytest.raises(NotFoundError):
        strike(demo, line.id)
    with pytest.raises(NotFoundError):
        say_of_listed(demo, line.id, 2, None)
    with pytest.raises(RefusedError):
        say_of_listed(demo, shopping_list(demo).lines[0].id, 100, None)
    with pytest.raises(NotFoundError):
        list_colours(demo, [99_999])


def test_a_listed_colour_stays_on_its_chart(demo: Collection) -> None:
    peat, _ = listed(demo)
    with pytest.raises(RefusedError, match="list of what to buy"):
        remove_colour(demo, peat)


def test_it_is_written_with_what_it_costs_and_what_is_owned_nearest(demo: Collection) -> None:
    with pytest.raises(RefusedError):
        listed_for_paper(demo)
    peat, _ = listed(demo)
    mark_owned(demo, [colour_id(demo, "Heron", "153")], True)
    list_colours(demo, [colour_id(demo, "Wader", "153")], "=1+1")
    set_currency(demo, "kr")
    set_price(demo, PriceOf(colour_id=peat), 24.5)
    printed = listed_for_paper(demo)
    assert printed.words == "3 pencils, 24.50 kr; 2 without a price"
    rows = list(csv.DictReader(io.StringIO(shopping_list_csv(printed))))
    assert [(row["range"], row["code"]) for row in rows] == [("Heron", "139"), ("Heron", "177"), ("Wader", "153")]
    assert rows[1]["price"] == "24.50 kr"
    assert rows[2]["why"] == "'=1+1"
    # Wader has the same colours as Heron: the twin is told.
    assert rows[2]["nearest owned"].startswith("twin of Heron 153")
    for size in PageSize:
        with pypdfium2.PdfDocument(shopping_list_pdf(printed, size)) as document:
            text = document[0].get_textpage().get_text_bounded()
        assert "Heron 177" in text
        assert "twin of Heron 153" in text
        assert "3 pencils, 24.50 kr" in text


def test_a_tick_stands_in_the_way_of_no_undo_and_is_not_taken_back_by_one(demo: Collection) -> None:
    """Ticks are no changes of the collection: there is none that could be taken back first."""
    peat = colour_id(demo, "Heron", "177")
    on_list = list_colours(demo, [peat], "served twice")
    row = shopping_list(demo).lines[0].id
    two = say_of_listed(demo, row, 2, None)
    say_of_listed(demo, row, None, True)
    assert on_list is not None
    assert two is not None
    undo(demo, two.change_id)
    [line] = shopping_list(demo).lines
    assert (line.pieces, line.ticked) == (1, True)
    undo(demo, on_list.change_id)
    assert shopping_list(demo).lines == ()
