"""Photos of sheets: kept, read in a process of their own, looked through, taken; stopped, taken up, removed, undone."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
import pytest
from sqlalchemy import select
from tests.services.at_home import BUFF

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layering.fitting.evidence import READING_SD, Kind
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.sheet.judging import CellState
from tidy_tinder.core.sheet.layout import LayoutKind
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Ground, Pressure, PrintedOpacity, Source
from tidy_tinder.devices.truth.world import demo_world
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.services.background.inputs import inputs_of
from tidy_tinder.services.background.other_process import OtherProcess
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import colours_by_id
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo, writing
from tidy_tinder.services.photos.reading import PhotoReader
from tidy_tinder.services.photos.simulated import Condition, photograph_layout, photograph_sheet
from tidy_tinder.services.photos.store import add_photo, mark_stopped, read_again, remove_photo, take_up
from tidy_tinder.services.photos.taking import take_cells
from tidy_tinder.services.photos.view import PhotoCard, PhotoCell, flat_page, original, photo_cards, photo_view
from tidy_tinder.services.sheets.plan import For, SheetPlan
from tidy_tinder.services.sheets.store import prepare_sheet, remove_sheet
from tidy_tinder.services.sheets.view import sheet_as_json
from tidy_tinder.services.swatches.store import MadeMark, Measurement, store_swatch
from tidy_tinder.services.tray import put_in_tray
from tidy_tinder.storage.engine import WRITER
from tidy_tinder.storage.models import Colour, PhotoReading, PhotoState, Swatch
from tidy_tinder.storage.queries.swatches import tried_over_black

LONG = 60.0
GREY = 5


@pytest.fixture
def reader(demo: Collection) -> Iterator[PhotoReader]:
    reads = PhotoReader(demo)
    yield reads
    reads.close()


def sheet_of(collection: Collection, ids: list[int], paper: int = BUFF, kind: LayoutKind = LayoutKind.SHEET) -> int:
    """A sheet of these colours."""
    put_in_tray(collection, ids, True)
    return prepare_sheet(collection, SheetPlan(paper, kind, which=For.TRAY))[0]


def until_read(collection: Collection, reader: PhotoReader, sheet: int) -> PhotoCard:
    """The newest photo of a sheet, once it is read or refused."""
    reader.wake()
    end = time.monotonic() + LONG
    while (card := photo_cards(collection, sheet)[0]).state in (PhotoState.WAITING, PhotoState.READING):
        assert time.monotonic() < end
        time.sleep(0.05)
    return card


def photographed(
    collection: Collection, reader: PhotoReader, sheet: int, condition: Condition = Condition.WINDOW, filled: int = 100
) -> PhotoCard:
    add_photo(collection, sheet, "IMG 1.jpg", photograph_sheet(collection, sheet, 1, condition, filled))
    return until_read(collection, reader, sheet)


def read_otherwise(collection: Collection, photo: int, change: Callable[[dict[str, Any]], dict[str, Any]]) -> None:
    """Change what was read of each cell of a photo."""
    with collection() as session:
        session.connection(execution_options=WRITER)
        reading = session.get_one(PhotoReading, photo)
        assert reading.found is not None
        reading.found = reading.found | {"cells": [change(cell) for cell in reading.found["cells"]]}
        session.commit()


def swatches(collection: Collection, source: Source, over: Ground = Ground.PAPER) -> list[Swatch]:
    here = (Swatch.source == source, Swatch.paper_id == BUFF, Swatch.over == over)
    with collection() as session:
        return list(session.scalars(select(Swatch).where(*here)))


# Ordinary colours of the demo of which none is swatched on grey paper by a reader, in chart order.
IDS = [30, 31, 32, 33, 34, 35, 36, 37]


def test_a_photo_is_read_taken_and_undone(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    assert (card.state, card.page, card.pencils) == (PhotoState.READ, 1, len(IDS))
    view = photo_view(demo, card.id)
    assert [cell.colour_id for cell in view.cells] == IDS
    assert view.guide
    assert flat_page(demo, card.id).startswith(b"\xff\xd8\xff")
    assert original(demo, card.id)[0] == "IMG 1.jpg"
    clean = [cell.index for cell in view.cells if cell.state is CellState.CLEAN]
    assert len(clean) >= len(IDS) - 2
    before = {swatch.id for swatch in swatches(demo, Source.PHOTO)}
    change = take_cells(demo, card.id, clean)
    made = [swatch for swatch in swatches(demo, Source.PHOTO) if swatch.id not in before]
    by_reader = {(s.colour_id, s.pressure) for s in swatches(demo, Source.READER) if s.layers == 1}
    chosen = [view.cells[i].colour_id for i in range(len(view.cells)) if view.cells[i].index in clean]
    expected = {(colour, p) for colour in chosen for p in MARK_PRESSURES} - by_reader
    assert {(swatch.colour_id, swatch.pressure) for swatch in made} == expected
    assert all(swatch.doubt is not None and 0.2 < swatch.doubt < 8 for swatch in made)
    assert all(swatch.instrument.startswith("photo, ") for swatch in made)
    assert photo_cards(demo, sheet)[0].taken == len(clean)
    with pytest.raises(RefusedError, match="taken already"):
        take_cells(demo, card.id, clean[:1])
    undo(demo, change.change_id)
    assert {swatch.id for swatch in swatches(demo, Source.PHOTO)} == before
    assert photo_cards(demo, sheet)[0].taken == 0


def test_what_a_photo_says_counts_as_little_as_it_is_sure(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    index = next(cell.index for cell in photo_view(demo, card.id).cells if cell.state is CellState.CLEAN)
    take_cells(demo, card.id, [index])
    with demo() as session:
        swatch = session.scalars(
            select(Swatch).where(Swatch.doubt.is_not(None), Swatch.over == Ground.PAPER).order_by(Swatch.id.desc())
        ).first()
        assert swatch is not None
        assert swatch.doubt is not None
        noise = {
            mark.noise
            for mark in inputs_of(session).marks
            if (mark.pencil, mark.paper, mark.kind) == (swatch.colour_id, BUFF, Kind(swatch.pressure))
        }
        assert list(noise) == [pytest.approx(np.hypot(READING_SD, swatch.doubt))]
        scene = Scene.on(session, BUFF)
        zone = next(z for z in scene.marks[swatch.colour_id].zones if z.pressure == swatch.pressure)
        assert zone.trust is Trust.MEASURED
        assert zone.band is not None
        assert 0.3 * swatch.doubt < zone.band < 5 * swatch.doubt


def test_a_readers_value_is_never_written_over(demo: Collection, reader: PhotoReader) -> None:
    read_by = {s.colour_id for s in swatches(demo, Source.READER) if s.layers == 1 and s.pressure == Pressure.HEAVY}
    chosen = sorted(read_by)[:6]
    before = {s.id: (s.lab_L, s.lab_a, s.lab_b) for s in swatches(demo, Source.READER)}
    sheet = sheet_of(demo, chosen)
    card = photographed(demo, reader, sheet)
    view = photo_view(demo, card.id)
    beside = [zone for cell in view.cells for zone in cell.zones if zone.pressure is Pressure.HEAVY]
    assert all(zone.off is not None and zone.off < 6 for zone in beside)
    for cell in view.cells:
        tells_more = any(zone.off is None for zone in cell.zones) or cell.over_black is not None
        assert cell.can_be_taken is tells_more
    take_cells(demo, card.id, [cell.index for cell in view.cells if cell.state is not CellState.LEFT_OUT])
    assert {s.id: (s.lab_L, s.lab_a, s.lab_b) for s in swatches(demo, Source.READER)} == before
    assert not [s for s in swatches(demo, Source.PHOTO) if s.colour_id in chosen and s.pressure == Pressure.HEAVY]


def test_of_a_cell_that_a_reader_has_measured_the_black_bar_alone_is_taken(
    demo: Collection, reader: PhotoReader
) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    first = photo_view(demo, card.id).cells
    known = next(c for c in first if c.state is CellState.CLEAN and c.over_black is not None)
    assert known.over_black is not None
    # Whose every mark is known from a reader but the one over black.
    with writing(demo, "read") as session:
        for zone in known.zones:
            mark = MadeMark(known.colour_id, BUFF, zone.pressure)
            store_swatch(session, mark, Measurement(zone.colour.lab, Source.READER))
    read_again(demo, card.id)
    until_read(demo, reader, sheet)

    def cell() -> PhotoCell:
        return next(c for c in photo_view(demo, card.id).cells if c.index == known.index)

    assert all(zone.off is not None for zone in cell().zones)
    assert cell().can_be_taken
    change = take_cells(demo, card.id, [known.index])
    (made,) = (s for s in swatches(demo, Source.PHOTO, Ground.BLACK) if s.colour_id == known.colour_id)
    assert (made.lab_L, made.lab_a, made.lab_b) == pytest.approx(known.over_black.colour.lab, abs=3.0)
    assert not [s for s in swatches(demo, Source.PHOTO) if s.colour_id == known.colour_id and s.paper_id == BUFF]
    # Where the reader has measured that too, nothing is left to take.
    undo(demo, change.change_id)
    with writing(demo, "read") as session:
        mark = MadeMark(known.colour_id, BUFF, Pressure.HEAVY, over=Ground.BLACK)
        store_swatch(session, mark, Measurement(known.over_black.colour.lab, Source.READER))
    assert not cell().can_be_taken


def test_marks_of_several_layers_are_taken_as_such(demo: Collection, reader: PhotoReader) -> None:
    put_in_tray(demo, IDS, True)
    sheet, _ = prepare_sheet(demo, SheetPlan(BUFF, which=For.TRAY, layered=True))
    card = photographed(demo, reader, sheet)
    cells = photo_view(demo, card.id).cells
    assert [cell.layers for cell in cells] == [1] * len(IDS) + [3] * 4
    assert {cell.colour_id for cell in cells if cell.layers == 3} < set(IDS)
    # What a reader has measured of one of them in layers is known beside its photo, and stays.
    known = next(cell for cell in cells if cell.layers == 3)
    lab = known.zones[1].colour.lab
    with writing(demo, "read") as session:
        store_swatch(session, MadeMark(known.colour_id, BUFF, Pressure.MEDIUM, 3), Measurement(lab, Source.READER))
    read_again(demo, card.id)
    until_read(demo, reader, sheet)
    beside = next(cell for cell in photo_view(demo, card.id).cells if cell.index == known.index)
    assert [zone.off is not None for zone in beside.zones] == [False, True, False]
    take_cells(demo, card.id, [cell.index for cell in cells if cell.layers == 3])
    made = {(s.colour_id, s.pressure): s for s in swatches(demo, Source.PHOTO) if s.layers == 3}
    layered = {cell.colour_id for cell in cells if cell.layers == 3}
    assert set(made) == {(i, p) for i in layered for p in MARK_PRESSURES} - {(known.colour_id, Pressure.MEDIUM)}
    # Three light layers leave more wax than one: they lie farther from the paper.
    once = {cell.colour_id: cell.zones[0].colour.lab for cell in cells if cell.layers == 1}
    with demo() as session:
        buff = find_paper(session, BUFF)
        paper = np.array([buff.lab_L, buff.lab_a, buff.lab_b])
    for i in layered:
        light = made[i, Pressure.LIGHT]
        thrice = np.array([light.lab_L, light.lab_a, light.lab_b])
        assert np.linalg.norm(thrice - paper) > np.linalg.norm(np.array(once[i]) - paper)
    # The fit counts them as what they are.
    with demo() as session:
        kinds = {(m.pencil, m.kind.layers) for m in inputs_of(session).marks if m.paper == BUFF}
    assert {(i, 3) for i in layered} <= kinds


def test_heavy_marks_over_the_black_bars_are_taken_too(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    cells = [cell for cell in photo_view(demo, card.id).cells if cell.state is CellState.CLEAN]
    told = {cell.colour_id: cell.over_black for cell in cells if cell.over_black is not None}
    assert len(told) >= 5
    with demo() as session:
        before = tried_over_black(session)
    change = take_cells(demo, card.id, [cell.index for cell in cells])
    made = {swatch.colour_id: swatch for swatch in swatches(demo, Source.PHOTO, Ground.BLACK)}
    assert set(made) == set(told)
    names = {row.id: f"{row.range_name} {row.code}" for row in colours_by_id(demo).values()}
    for key, swatch in made.items():
        assert (swatch.pressure, swatch.layers, swatch.finish) == ("heavy", 1, "dry")
        assert [swatch.lab_L, swatch.lab_a, swatch.lab_b] == list(told[key].colour.lab)
        true = demo_world().reflectance("Buff sanded card", ((names[key], "heavy"),), over_black=True)
        assert delta_e_2000(np.array(told[key].colour.lab), reflectance_to_lab(true)) < told[key].spread
    # The fit counts them as what they are, with the doubt that the photo leaves.
    with demo() as session:
        marks = {m.pencil: m for m in inputs_of(session).marks if m.paper == BUFF and m.kind.over_black}
        assert tried_over_black(session) == before | set(told)
    assert set(marks) == set(told)
    assert all(marks[i].noise == pytest.approx(np.hypot(READING_SD, made[i].doubt or 0.0)) for i in marks)
    # What a camera errs by is alike in a pencil's marks on paper, and not in that on ink.
    with demo() as session:
        on_paper = [
            m for m in inputs_of(session).marks if m.paper == BUFF and m.pencil in told and not m.kind.over_black
        ]
    assert len(on_paper) >= 3 * len(told)
    assert all(0.8 * m.noise < m.alike < 0.9 * m.noise for m in on_paper if m.noise > 2.0)
    assert all((m.alike > 0.0) == (m.noise > READING_SD) for m in on_paper)
    assert not any(m.alike for m in marks.values())
    undo(demo, change.change_id)
    assert not swatches(demo, Source.PHOTO, Ground.BLACK)


def test_what_a_reader_measured_over_black_stays(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    cells = [cell for cell in photo_view(demo, card.id).cells if cell.over_black is not None]
    known = MadeMark(cells[0].colour_id, BUFF, Pressure.HEAVY, over=Ground.BLACK)
    with writing(demo, "read") as session:
        store_swatch(session, known, Measurement((40.0, 0.0, 0.0), Source.READER))
    take_cells(demo, card.id, [cell.index for cell in cells])
    assert {s.colour_id for s in swatches(demo, Source.PHOTO, Ground.BLACK)} == {c.colour_id for c in cells[1:]}


@pytest.mark.parametrize(("printed", "taken"), [("transparent", 1), ("semi", 0), ("opaque", 0), ("", 0)])
def test_a_bar_as_black_as_a_bare_one_is_believed_of_a_transparent_pencil_only(
    demo: Collection, reader: PhotoReader, printed: PrintedOpacity, taken: int
) -> None:
    sheet = sheet_of(demo, IDS[:1])
    card = photographed(demo, reader, sheet)
    with writing(demo, "what it is printed as") as session:
        session.get_one(Colour, IDS[0]).opacity = printed
    bare = {"lab": [24.0, 0.0, 0.0], "sd": 2.0, "spread": 5.0, "bare": True}
    read_otherwise(demo, card.id, lambda cell: cell | {"bar": bare})
    (seen,) = photo_view(demo, card.id).cells
    assert (seen.over_black is not None) == bool(taken)
    take_cells(demo, card.id, [seen.index])
    assert len(swatches(demo, Source.PHOTO, Ground.BLACK)) == taken
    assert len(swatches(demo, Source.PHOTO)) == 3


def test_what_an_earlier_program_read_has_no_bars(demo: Collection, reader: PhotoReader) -> None:
    card = photographed(demo, reader, sheet_of(demo, IDS))
    read_otherwise(demo, card.id, lambda cell: {name: said for name, said in cell.items() if name != "bar"})
    cells = photo_view(demo, card.id).cells
    assert {cell.over_black for cell in cells} == {None}
    take_cells(demo, card.id, [cell.index for cell in cells if cell.state is CellState.CLEAN])
    assert not swatches(demo, Source.PHOTO, Ground.BLACK)


@pytest.mark.parametrize(
    ("condition", "words"),
    [(Condition.DARK, "bring a lamp"), (Condition.BLURRED, "hold still"), (Condition.MIRRORED, "other camera")],
)
def test_a_photo_that_cannot_be_measured_says_what_to_do(
    demo: Collection, reader: PhotoReader, condition: Condition, words: str
) -> None:
    card = photographed(demo, reader, sheet_of(demo, IDS), condition)
    assert card.state is PhotoState.REFUSED
    assert words in card.message
    with pytest.raises(RefusedError, match="not read"):
        take_cells(demo, card.id, [0])


def test_empty_cells_and_reflections_are_not_taken(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    half = photographed(demo, reader, sheet, filled=50)
    assert half.empty == len(IDS) // 2
    empty = next(c for c in photo_view(demo, half.id).cells if c.state is CellState.EMPTY)
    assert not empty.can_be_taken
    with pytest.raises(RefusedError, match="empty"):
        take_cells(demo, half.id, [empty.index])
    with pytest.raises(NotFoundError):
        take_cells(demo, half.id, [89])


def test_a_page_of_another_sheet_is_never_read_as_this_one(demo: Collection, reader: PhotoReader) -> None:
    first, second = sheet_of(demo, IDS), sheet_of(demo, [1, 2, 3])
    add_photo(demo, second, "wrong.jpg", photograph_sheet(demo, first, 1, Condition.WINDOW))
    card = until_read(demo, reader, second)
    assert card.state is PhotoState.REFUSED
    assert "another sheet" in card.message


def test_a_frame_on_buff_sanded_card(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS, kind=LayoutKind.FRAME)
    view = photo_view(demo, photographed(demo, reader, sheet).id)
    assert not any("another one" in remark for remark in view.remarks)
    assert sum(cell.state is CellState.CLEAN for cell in view.cells) >= len(IDS) - 2


def test_another_paper_under_the_frame_is_noticed(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS, kind=LayoutKind.FRAME)
    layout = sheet_as_json(demo, sheet)
    add_photo(demo, sheet, "grey.jpg", photograph_layout(layout, 1, Condition.WINDOW, "Vellum board"))
    view = photo_view(demo, until_read(demo, reader, sheet).id)
    assert any("Is it another one?" in remark for remark in view.remarks)


def test_a_photo_is_read_again_with_what_is_known_by_then(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    read_again(demo, card.id)
    with pytest.raises(RefusedError, match="being read already"):
        read_again(demo, card.id)
    assert until_read(demo, reader, sheet).state is PhotoState.READ


def test_a_photo_is_stopped(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    number, _ = add_photo(demo, sheet, "a.jpg", photograph_sheet(demo, sheet, 1, Condition.WINDOW))
    reader.wake()
    end = time.monotonic() + LONG
    while photo_cards(demo, sheet)[0].step == "":  # until the other process has it
        assert time.monotonic() < end
        time.sleep(0.01)
    mark_stopped(demo, number)
    reader.stop(number)
    assert photo_cards(demo, sheet)[0].state is PhotoState.STOPPED
    # Another one is read after it, and what was stopped stays so.
    assert photographed(demo, reader, sheet).state is PhotoState.READ
    assert photo_cards(demo, sheet)[1].state is PhotoState.STOPPED


def test_the_next_program_takes_up_what_was_being_read(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    number, _ = add_photo(demo, sheet, "a.jpg", photograph_sheet(demo, sheet, 1, Condition.WINDOW))
    with demo() as session:  # as a program that was killed leaves it
        session.connection(execution_options=WRITER)
        session.get_one(PhotoReading, number).state = PhotoState.READING
        session.commit()
    reader.begin()
    assert until_read(demo, reader, sheet).state is PhotoState.READ
    with demo() as session:
        assert session.get_one(PhotoReading, number).taken_up == 1


def test_a_removed_photo_comes_back_until_the_program_ends(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    change = remove_photo(demo, card.id)
    assert photo_cards(demo, sheet) == ()
    undo(demo, change.change_id)
    assert photo_cards(demo, sheet) == (card,)
    remove_photo(demo, card.id)
    take_up(demo)
    with demo() as session:
        assert session.get(PhotoReading, card.id) is None


def test_photos_go_and_come_with_their_sheet(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    card = photographed(demo, reader, sheet)
    undo(demo, remove_sheet(demo, sheet).change_id)
    assert photo_cards(demo, sheet) == (card,)


@pytest.mark.parametrize(("content", "words"), [(b"", "empty"), (b"GIF89a", "GIF"), (b"hello", "no picture")])
def test_what_is_no_photo_is_refused_before_it_is_kept(demo: Collection, content: bytes, words: str) -> None:
    sheet = sheet_of(demo, IDS)
    with pytest.raises(UnreadableError, match=words):
        add_photo(demo, sheet, "x", content)
    assert photo_cards(demo, sheet) == ()


def test_a_damaged_photo_is_refused_and_the_next_one_read(demo: Collection, reader: PhotoReader) -> None:
    sheet = sheet_of(demo, IDS)
    whole = photograph_sheet(demo, sheet, 1, Condition.WINDOW)
    add_photo(demo, sheet, "/tmp/dir\\cut\noff.jpg", whole[:20_000])
    card = until_read(demo, reader, sheet)
    assert (card.state, card.name) == (PhotoState.REFUSED, "cutoff.jpg")
    assert "cut off" in card.message
    add_photo(demo, sheet, "whole.jpg", whole)
    assert until_read(demo, reader, sheet).state is PhotoState.READ


def test_a_process_that_dies_is_a_refusal(
    demo: Collection, reader: PhotoReader, monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet = sheet_of(demo, IDS)
    monkeypatch.setattr(OtherProcess, "answers", lambda *_: iter(()))
    card = photographed(demo, reader, sheet)
    assert card.state is PhotoState.REFUSED
    assert "time and memory" in card.message


def test_a_restored_collection_has_its_own_photos_read(demo: Collection, reader: PhotoReader) -> None:
    """What was being read belonged to the collection that was there before; what waits in the new one is read."""
    sheet = sheet_of(demo, IDS)
    number, _ = add_photo(demo, sheet, "a.jpg", photograph_sheet(demo, sheet, 1, Condition.WINDOW))
    reader.wake()
    end = time.monotonic() + LONG
    while photo_cards(demo, sheet)[0].step == "":
        assert time.monotonic() < end
        time.sleep(0.01)
    reader.exchanged()
    assert until_read(demo, reader, sheet).state is PhotoState.READ
    with demo() as session:
        assert session.get_one(PhotoReading, number).taken_up == 1
