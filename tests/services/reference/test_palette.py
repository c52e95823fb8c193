"""Picks become a palette, a card, patches and a recipe; what was chosen is kept, what is open is said to be."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from PIL.GimpPaletteFile import GimpPaletteFile
from tests.services.at_home import VELLUM
from tests.services.reference.pictures import as_file, halves

from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.core.vocabulary import Blacks, Role, StepKind, WorkOrder
from tidy_tinder.formats.recipe_text import read_recipe
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.drawings.store import edit_drawing, find_drawing, said_of
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.reference.answering import PickWish
from tidy_tinder.services.reference.answers import answers_for_pick, choose_way
from tidy_tinder.services.reference.palette import Palette, palette_of, whole_palette
from tidy_tinder.services.reference.picks import add_pick, drop_picks, find_main_colours, name_pick, split_pick
from tidy_tinder.services.reference.picks_as_palette import picks_as_palette
from tidy_tinder.services.reference.picks_as_recipe import picks_as_recipe
from tidy_tinder.services.reference.printing import (
    GridWish,
    palette_card,
    palette_picture,
    patches_page,
    picture_at_size,
)
from tidy_tinder.services.reference.store import remove_reference
from tidy_tinder.services.reference.view import reference_cards, reference_view
from tidy_tinder.storage.models import Recipe

MOSS, CREAM = (48.0, -14.0, 30.0), (88.0, 2.0, 16.0)
# Darker than anything that is laid with a pencil on white.
BEYOND = (2.0, 0.0, 0.0)


@pytest.fixture
def picked(demo: Collection, opened: Callable[[bytes], int]) -> int:
    """A picture with two picks: moss at the left, cream at the right."""
    number = opened(as_file(halves(MOSS, CREAM)))
    add_pick(demo, number, 0.2, 0.5, 20)
    add_pick(demo, number, 0.8, 0.5, 20)
    return number


def palette(demo: Collection, number: int) -> Palette:
    return palette_of(demo, number, VELLUM, PickWish(), wait=None)


def words_on(pdf: bytes) -> str:
    with pypdfium2.PdfDocument(pdf) as document:
        return "\n".join(page.get_textpage().get_text_range() for page in document)


def called(demo: Collection, number: int, at: int, name: str, area: str) -> None:
    pick = next(p for p in reference_view(demo, number).picks if p.number == at)
    name_pick(demo, pick.id, pick.revision, name, area)


def test_a_palette_goes_from_light_to_dark_and_says_where_each_pencil_stands(demo: Collection, picked: int) -> None:
    made = palette(demo, picked)
    assert made.ready
    assert [row.number for row in made.rows] == [2, 1]
    for row in made.rows:
        assert row.way is not None
        assert row.way.difference.delta_e < 6
        assert len(row.places) == len(row.way.laid)
        assert all(place and place[-1].isdigit() for place in row.places)


@pytest.mark.parametrize(("order", "numbers"), [(WorkOrder.DARK_FIRST, [1, 2]), (WorkOrder.MIDDLE_OUT, [1, 2])])
def test_the_drawings_order_of_work_is_that_of_the_palette(
    demo: Collection, drawing: int, picked: int, order: WorkOrder, numbers: list[int]
) -> None:
    with demo() as session:
        row = find_drawing(session, drawing)
        said, revision = said_of(row), row.revision
    edit_drawing(demo, drawing, revision, replace(said, work_order=order))
    assert [row.number for row in palette(demo, picked).rows] == numbers


def test_a_chosen_way_is_kept_and_undone(demo: Collection, picked: int) -> None:
    before = palette(demo, picked).rows[1]
    offers = answers_for_pick(demo, before.pick_id, VELLUM, PickWish(), wait=None).offers
    third = [one.of(one.pencil.colour.id) for one in offers[3].laid]
    change = choose_way(demo, before.pick_id, third)
    after = palette(demo, picked).rows[1]
    assert after.chosen
    assert after.way is not None
    assert after.way.said == offers[3].said
    again = answers_for_pick(demo, before.pick_id, VELLUM, PickWish(), wait=None)
    assert again.chosen is not None
    assert again.offers[again.chosen].said == offers[3].said
    assert change is not None
    undo(demo, change.change_id)
    assert palette(demo, picked).rows[1] == before
    with pytest.raises(NotFoundError):
        choose_way(demo, before.pick_id, [replace(third[0], pencil=99_999)])
    with pytest.raises(RefusedError):
        choose_way(demo, before.pick_id, [replace(third[0], layers=40)])


def test_a_drawing_without_black_is_answered_without_and_a_role_is_heeded(
    demo: Collection, drawing: int, opened: Callable[[bytes], int]
) -> None:
    number = opened(as_file(halves((12.0, 0.0, 0.0), (12.0, 0.0, 0.0))))
    pick, _ = add_pick(demo, number, 0.5, 0.5, 20)

    def codes(wish: PickWish) -> set[str]:
        answers = answers_for_pick(demo, pick, VELLUM, wish, wait=None)
        return {
            f"{one.pencil.colour.range_name} {one.pencil.colour.code}" for way in answers.offers for one in way.laid
        }

    with_black = codes(PickWish())
    with demo() as session:
        row = find_drawing(session, drawing)
        said, revision = said_of(row), row.revision
    edit_drawing(demo, drawing, revision, replace(said, black=Blacks.NONE))
    assert with_black - codes(PickWish())
    assert codes(PickWish()) == codes(PickWish(no_black=True))
    answers = answers_for_pick(demo, pick, VELLUM, PickWish(role=Role.BURNISHER), wait=None)
    laid = [one.pencil.colour for way in answers.offers for one in way.laid]
    assert laid
    assert not {f"{c.range_name} {c.code}" for c in laid} & with_black


def test_what_nothing_comes_near_to_stays_open_and_says_so(demo: Collection, opened: Callable[[bytes], int]) -> None:
    number = opened(as_file(halves(BEYOND, BEYOND)))
    add_pick(demo, number, 0.5, 0.5, 20)
    (row,) = palette(demo, number).rows
    assert row.way is None
    assert "Nothing comes close: the nearest is" in row.why_open
    text = picks_as_recipe(demo, palette(demo, number))
    assert "is open" in text
    with demo() as session:
        assert read_recipe(text, catalogue_of(session)).calls == ()
    assert "open" in words_on(palette_card(palette(demo, number), PageSize.A4))


def test_picks_become_a_recipe_that_is_read_as_it_was_meant(demo: Collection, picked: int) -> None:
    called(demo, picked, 1, "Brambel 107, heavy", "Ground: moss")
    called(demo, picked, 2, "Wart", "Cap")
    made = palette(demo, picked)
    text = picks_as_recipe(demo, made)
    with demo() as session:
        reading = read_recipe(text, catalogue_of(session))
    wanted = [
        (one.pencil.colour.id, one.pressure, one.layers)
        for rows in made.areas.values()
        for row in rows
        if row.way is not None
        for one in row.way.laid
    ]
    maps = [step for step in reading.steps if step.text.startswith("Map")]
    assert len(maps) == 2
    laid = [step for step in reading.steps if step.calls and step not in maps]
    assert [(c.key, c.pressure or s.pressure, c.layers) for s in laid for c in s.calls] == wanted
    assert [step.area for step in laid] == ["Cap", "Ground moss"]
    assert all(call.key is not None for call in reading.calls)
    assert [step.text.split(":")[0] for step in laid] == ["Wart", "Colour 1"]


@pytest.mark.parametrize(
    "name", ["Heron", "119", "Tallow M33, heavy", "Oxlip 101 then 119", "1. Map: all", "# two", "– x"]
)
def test_whatever_drawing_picture_area_and_picks_are_called_the_recipe_calls_what_is_laid(
    demo: Collection, drawing: int, picked: int, name: str
) -> None:
    with demo() as session:
        row = find_drawing(session, drawing)
        said, revision = said_of(row), row.revision
    edit_drawing(demo, drawing, revision, replace(said, name=name))
    called(demo, picked, 1, name, name)
    made = palette(demo, picked)
    with demo() as session:
        reading = read_recipe(picks_as_recipe(demo, made), catalogue_of(session))
    ways = [row.way for rows in made.areas.values() for row in rows if row.way is not None]
    laid = [[one.pencil.colour.id for one in way.laid] for way in ways]
    steps = [[call.key for call in step.calls] for step in reading.steps if step.calls]
    assert steps == [[laid[0][0]], laid[0], [laid[1][0]], laid[1]]
    assert "olours of" in reading.title
    assert len([step for step in reading.steps if step.kind is StepKind.HEADING]) == 2


def test_a_picture_that_a_recipe_came_from_asks_before_it_goes_and_comes_back(
    demo: Collection, drawing: int, picked: int
) -> None:
    recipe, _ = save_recipe(demo, picks_as_recipe(demo, palette(demo, picked)), reference_id=picked)
    (card,) = reference_cards(demo, drawing)
    assert "was begun with its colours" in card.came_of[0]
    with pytest.raises(RefusedError, match="was begun with its colours"):
        remove_reference(demo, picked)
    change = remove_reference(demo, picked, sure=True)
    with demo() as session:
        assert session.get_one(Recipe, recipe).reference_id is None
        assert session.get_one(Recipe, recipe).drawing_id == drawing
    undo(demo, change.change_id)
    with demo() as session:
        assert session.get_one(Recipe, recipe).reference_id == picked
    with pytest.raises(NotFoundError, match="picture that this recipe began with is gone"):
        save_recipe(demo, "119, heavy", reference_id=9_999)


def test_a_card_shows_both_colours_of_each_pick_and_is_a_picture_too(demo: Collection, picked: int) -> None:
    made = palette(demo, picked)
    pdf = palette_card(made, PageSize.LETTER)
    words = words_on(pdf)
    for row in made.rows:
        assert row.way is not None
        for one, place in zip(row.way.laid, row.places, strict=True):
            assert one.pencil.colour.code in words
            assert place.split(",")[0] in words
    image = np.asarray(Image.open(io.BytesIO(palette_picture(made))).convert("RGB"))
    assert image.shape[:2] == pytest.approx((1754, 1240), abs=2)
    shown = {tuple(int(row.wanted.hex[i : i + 2], 16) for i in (1, 3, 5)) for row in made.rows}
    shown |= {tuple(int(row.way.offered.hex[i : i + 2], 16) for i in (1, 3, 5)) for row in made.rows if row.way}
    for colour in shown:
        assert (np.abs(image.astype(int) - colour).max(axis=-1) <= 1).sum() > 8000


def test_patches_are_large_and_say_what_a_printer_is_not(demo: Collection, picked: int) -> None:
    pdf = patches_page(demo, picked, PageSize.A4)
    assert "A printer is not a screen" in words_on(pdf)
    with pypdfium2.PdfDocument(pdf) as document:
        image = np.asarray(document[0].render(scale=1).to_pil().convert("RGB")).astype(int)
    first = reference_view(demo, picked).picks[0].colour.hex
    rgb = [int(first[i : i + 2], 16) for i in (1, 3, 5)]
    # About 90 × 78 mm at 72 dots an inch.
    assert (np.abs(image - rgb).max(axis=-1) <= 1).sum() > 50_000


def test_nothing_is_printed_of_nothing(demo: Collection, picked: int) -> None:
    drop_picks(demo, [pick.id for pick in reference_view(demo, picked).picks])
    with pytest.raises(RefusedError, match="Nothing is picked"):
        whole_palette(demo, picked, VELLUM, PickWish(), wait=20.0)
    with pytest.raises(RefusedError, match="Nothing is picked"):
        patches_page(demo, picked, PageSize.A4)


def test_a_picture_is_printed_at_its_drawings_size(demo: Collection, drawing: int, picked: int) -> None:
    """A4 with margins takes two pages on their side; the picture of 3 : 2 is 210 × 140 mm, in the middle."""
    with pypdfium2.PdfDocument(picture_at_size(demo, picked, GridWish(50.0), PageSize.A4)) as document:
        assert len(document) == 2
        image = np.asarray(document[0].render(scale=25.4 / 72 * 4).to_pil().convert("RGB")).astype(int)
    moss = [int(reference_view(demo, picked).picks[1].colour.hex[i : i + 2], 16) for i in (1, 3, 5)]
    # At that scale a mm is four dots.
    column = np.flatnonzero(np.abs(image[:, 4 * 18] - moss).max(axis=-1) <= 3)
    assert column.min() / 4 == pytest.approx(8 + (297 - 140) / 2, abs=0.6)
    with pytest.raises(RefusedError, match="5 mm apart"):
        picture_at_size(demo, picked, GridWish(2.0), PageSize.A4)
    with pytest.raises(RefusedError, match=r"not 3\.5"):
        picture_at_size(demo, picked, GridWish(columns=60, rows=60), PageSize.A4)


def test_a_pick_is_split_into_the_two_colours_that_it_was(demo: Collection, opened: Callable[[bytes], int]) -> None:
    number = opened(as_file(halves((60.0, 30.0, 20.0), (48.0, 34.0, 8.0))))
    pick, _ = add_pick(demo, number, 0.4, 0.5, 20)
    change = split_pick(demo, pick)
    light, dark = reference_view(demo, number).picks
    assert light.colour.lab == pytest.approx((60, 30, 20), abs=1.0)
    assert dark.colour.lab == pytest.approx((48, 34, 8), abs=1.0)
    assert light.share == pytest.approx(0.5, abs=0.02)
    assert light.x < 0.5 < dark.x
    undo(demo, change.change_id)
    (one,) = reference_view(demo, number).picks
    assert one.id == pick


def test_a_main_colour_that_she_has_made_hers_stays_when_they_are_found_anew(
    demo: Collection, opened: Callable[[bytes], int]
) -> None:
    number = opened(as_file(halves(MOSS, CREAM)))
    find_main_colours(demo, number, 4)
    before = reference_view(demo, number).picks
    name_pick(demo, before[0].id, before[0].revision, "Wart", "")
    find_main_colours(demo, number, 4)
    after = reference_view(demo, number).picks
    assert len(after) == len(before) + 1
    assert {p.id for p in before} & {p.id for p in after} == {before[0].id}


def test_picks_go_out_as_they_are_and_as_what_is_laid_for_them(demo: Collection, picked: int) -> None:
    whole = whole_palette(demo, picked, VELLUM, PickWish(), 60.0)
    content = picks_as_palette(whole)
    read, _ = GimpPaletteFile(io.BytesIO(content.encode())).getpalette()
    shown = [patch for row in whole.rows for patch in (row.wanted, *([row.way.offered] if row.way else []))]
    assert len(shown) > len(whole.rows)
    assert read[: 3 * len(shown)] == bytes.fromhex("".join(patch.hex.lstrip("#") for patch in shown))
    names = [line.split("\t")[1] for line in content.splitlines() if "\t" in line]
    assert len(names) == len(shown)
    assert names[0].endswith("in the picture")
    assert names[1].endswith("as predicted")
