"""Sheets and frames: which pencils go on them, in which order, on which page; made, printed, removed, undone."""

from __future__ import annotations

import json
from dataclasses import replace

import pypdfium2
import pytest
from tests.services.at_home import PRINT, VELLUM, colour_id

from tidy_tinder.core.sheet.layout import LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount
from tidy_tinder.core.vocabulary import Pressure, Source
from tidy_tinder.formats.sheet_json import page_from_json
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo, writing
from tidy_tinder.services.papers import edit_paper, paper_pages, remove_paper
from tidy_tinder.services.predicting.first_swatches import first_swatches
from tidy_tinder.services.sheets.plan import For, Order, SheetPlan, count_sheet
from tidy_tinder.services.sheets.store import prepare_sheet, remove_sheet
from tidy_tinder.services.sheets.view import printed_pages, sheet_as_json, sheet_as_pdf, sheet_cards
from tidy_tinder.services.swatches.store import MadeMark, Measurement, store_swatch
from tidy_tinder.services.tidy.charts import remove_colour
from tidy_tinder.services.tidy.pencils import lose
from tidy_tinder.services.tidy.written_chart import ListToWrite, write_chart
from tidy_tinder.services.tray import put_in_tray

BUFF = 4


def codes(collection: Collection, ids: tuple[int, ...]) -> list[str]:
    with collection() as session:
        rows = chart_by_id(session)
        return [f"{rows[i].range_name} {rows[i].code}" for i in ids]


def test_all_at_hand_in_chart_order_over_several_pages(demo: Collection) -> None:
    planned = count_sheet(demo, SheetPlan(VELLUM))
    assert planned.pages == 2
    assert list(planned.colour_ids) == sorted(planned.colour_ids)
    before = len(planned.colour_ids)
    # What is lost cannot be swatched.
    lose(demo, [planned.colour_ids[0]])
    assert len(count_sheet(demo, SheetPlan(VELLUM)).colour_ids) == before - 1


def test_only_what_is_not_swatched_on_that_paper(demo: Collection) -> None:
    owned = count_sheet(demo, SheetPlan(BUFF)).colour_ids
    missing = count_sheet(demo, SheetPlan(BUFF, which=For.UNSWATCHED)).colour_ids
    here = count_sheet(demo, SheetPlan(VELLUM, which=For.UNSWATCHED)).colour_ids
    assert set(missing) < set(owned)
    assert len(here) < len(missing)


def test_the_tray_a_set_and_what_to_swatch_first(demo: Collection) -> None:
    put_in_tray(demo, [5, 3], True)
    assert count_sheet(demo, SheetPlan(VELLUM, which=For.TRAY)).colour_ids == (3, 5)
    heron_60 = count_sheet(demo, SheetPlan(VELLUM, which=For.SET, set_id=3)).colour_ids
    assert len(heron_60) == 60
    assert {code.split()[0] for code in codes(demo, heron_60)} == {"Heron"}
    demo.fit_once()
    assert len(count_sheet(demo, SheetPlan(PRINT, which=For.FIRST)).colour_ids) == 8
    # Where those that are swatched already tell as much, nothing more is asked for.
    assert all(one.done for one in first_swatches(demo, BUFF).advised)
    assert count_sheet(demo, SheetPlan(BUFF, which=For.FIRST)).colour_ids == ()
    with pytest.raises(NotFoundError, match="no set number 999"):
        count_sheet(demo, SheetPlan(VELLUM, which=For.SET, set_id=999))


def test_in_order_of_value_and_of_the_tin(demo: Collection) -> None:
    by_value = codes(demo, count_sheet(demo, SheetPlan(VELLUM, order=Order.VALUE)).colour_ids)
    by_chart = codes(demo, count_sheet(demo, SheetPlan(VELLUM)).colour_ids)
    assert sorted(by_value) == sorted(by_chart)
    assert by_value != by_chart
    assert by_value.index("Heron 101") < by_value.index("Heron 119")  # a pale yellow before a red
    by_tin = count_sheet(demo, SheetPlan(VELLUM, order=Order.TIN)).colour_ids
    assert sorted(codes(demo, by_tin)) == sorted(by_chart)


def test_a_sheet_is_made_printed_removed_and_brought_back(empty: Collection) -> None:
    write_chart(empty, ListToWrite("\n".join(f"{i} Oxlip {i}" for i in range(101, 201)), "", "Heron"))
    number, change = prepare_sheet(empty, SheetPlan(1))
    assert change.label == "Sheet of 100 pencils for White paper made"
    first, second = printed_pages(empty, number)
    assert [len(first.labels), len(second.labels)] == [90, 10]
    assert (first.labels[0].code, second.labels[0].code) == ("101", "191")
    assert [m.number for m in second.layout.markers] == list(range(8, 16))
    assert len(pypdfium2.PdfDocument(sheet_as_pdf(empty, number))) == 2
    again = [page_from_json(page) for page in json.loads(sheet_as_json(empty, number))]
    assert [page.labels for page in again] == [first.labels, second.labels]
    (card,) = sheet_cards(empty)
    assert (card.pencils, card.pages, card.token) == (100, 2, first.token)
    # A colour and a paper that stand on a printed sheet stay.
    with pytest.raises(RefusedError, match="1 place on a printed sheet"):
        remove_colour(empty, colour_id(empty, "Heron", "101"))
    removed = remove_sheet(empty, number)
    assert sheet_cards(empty) == ()
    undo(empty, removed.change_id)
    assert [page.labels for page in printed_pages(empty, number)] == [first.labels, second.labels]


def test_four_pencils_in_three_layers_come_last_where_they_are_asked_for(empty: Collection) -> None:
    write_chart(empty, ListToWrite("\n".join(f"{i} Oxlip {i}" for i in range(101, 189)), "", "Heron"))
    plain, plan = SheetPlan(1), SheetPlan(1, layered=True)
    assert count_sheet(empty, plain).in_layers == ()
    planned = count_sheet(empty, plan)
    assert [planned.pages, count_sheet(empty, plain).pages] == [2, 1]
    assert len(planned.in_layers) == 4
    assert set(planned.in_layers) < set(planned.colour_ids)
    number, change = prepare_sheet(empty, plan)
    assert change.label == "Sheet of 88 pencils for White paper made"
    first, second = printed_pages(empty, number)
    layers = [label.layers for page in (first, second) for label in page.labels.values()]
    assert layers == [1] * 88 + [3] * 4
    assert codes(empty, planned.in_layers) == [
        f"Heron {label.code}" for page in (first, second) for label in page.labels.values() if label.layers == 3
    ]
    assert sheet_cards(empty)[0].pencils == 88
    again = [page_from_json(page) for page in json.loads(sheet_as_json(empty, number))]
    assert [page.labels for page in again] == [first.labels, second.labels]
    words = pypdfium2.PdfDocument(sheet_as_pdf(empty, number))[1].get_textpage().get_text_range()
    assert words.count(" ×3 Oxlip ") == 2
    assert "lay 3 layers" in " ".join(words.split())
    without = pypdfium2.PdfDocument(sheet_as_pdf(empty, prepare_sheet(empty, plain)[0]))
    assert "×3" not in without[0].get_textpage().get_text_range()


def test_a_paper_that_takes_fewer_layers_is_not_asked_for_three(empty: Collection) -> None:
    write_chart(empty, ListToWrite("\n".join(f"{i} Oxlip {i}" for i in range(101, 106)), "", "Heron"))
    plan = SheetPlan(1, layered=True)
    assert (len(count_sheet(empty, plan).in_layers), count_sheet(empty, plan).takes_layers) == (4, True)
    white = paper_pages(empty)[0]
    edit_paper(empty, white.id, white.revision, replace(white.said, most_layers=2))
    assert (len(count_sheet(empty, plan).in_layers), count_sheet(empty, plan).takes_layers) == (0, False)


def test_what_is_known_in_layers_on_the_paper_is_not_asked_for_again(empty: Collection) -> None:
    write_chart(empty, ListToWrite("\n".join(f"{i} Oxlip {i}" for i in range(101, 106)), "", "Heron"))
    first = count_sheet(empty, SheetPlan(1, layered=True))
    read = first.in_layers[0]
    with writing(empty, "read") as session:
        store_swatch(session, MadeMark(read, 1, Pressure.HEAVY, 3), Measurement((40.0, 10.0, 10.0), Source.READER))
    then = count_sheet(empty, SheetPlan(1, layered=True))
    assert (first.known_in_layers, then.known_in_layers) == (0, 1)
    assert read not in then.in_layers
    assert len(then.in_layers) == 4


def test_a_frame_leaves_its_two_cells_bare(empty: Collection) -> None:
    write_chart(empty, ListToWrite("\n".join(f"{i} Oxlip {i}" for i in range(101, 200)), "", "Heron"))
    number, _ = prepare_sheet(empty, SheetPlan(1, LayoutKind.FRAME))
    first, second = printed_pages(empty, number)
    assert len(first.labels) == 94
    assert min(first.labels) == 1
    assert [c.index for c in first.layout.cells if c.index not in first.labels] == [0, 95]
    assert len(second.labels) == 5


def test_tokens_differ(empty: Collection) -> None:
    write_chart(empty, ListToWrite("101 Oxlip\n102 Kettle", "", "Heron"))
    for _ in range(3):
        prepare_sheet(empty, SheetPlan(1))
    assert len({card.token for card in sheet_cards(empty)}) == 3


def test_what_cannot_be_printed_is_refused_in_words(demo: Collection, empty: Collection) -> None:
    with pytest.raises(RefusedError, match="No pencil is left"):
        prepare_sheet(empty, SheetPlan(1))
    with pytest.raises(RefusedError, match="A5 is for a frame"):
        count_sheet(demo, SheetPlan(VELLUM, size=PageSize.A5))
    with pytest.raises(NotFoundError, match="no paper number 99"):
        prepare_sheet(demo, SheetPlan(99))
    with pytest.raises(NotFoundError, match="no sheet number 7"):
        printed_pages(demo, 7)
    prepare_sheet(demo, SheetPlan(3, cells=CellCount.SIXTY))
    with pytest.raises(RefusedError, match="hang 1 printed sheet"):
        remove_paper(demo, 3)
