"""A drawing parted into sections: by fields and by shapes, named, put in order, worked, and let go."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image
from tests.core.painted_scenes import painted_scene
from tests.services.reference.pictures import as_file

from tidy_tinder.core.reference.views import View
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import edit_drawing, find_drawing, remove_drawing, said_of
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.reference.sections import describe_section, part, put_in_order, sections_of, unpart
from tidy_tinder.services.reference.store import remove_reference
from tidy_tinder.services.reference.view import picture_in_view
from tidy_tinder.storage.models import SectionKind, SectionState


@pytest.fixture
def picture(opened: Callable[[bytes], int]) -> int:
    return opened(as_file(painted_scene(3, 360, 480).pixels))


def test_fields_are_in_the_order_of_reading_and_of_usual_area(demo: Collection, drawing: int) -> None:
    assert sections_of(demo, drawing).kind is None
    part(demo, drawing, SectionKind.GRID, None)
    seen = sections_of(demo, drawing)
    assert seen.kind is SectionKind.GRID
    assert seen.words == ""
    assert [s.name for s in seen.sections] == [str(i + 1) for i in range(len(seen.sections))]
    assert sum(s.cm2 for s in seen.sections) == pytest.approx(21.0 * 29.7)
    assert all(26 <= s.cm2 <= 32 for s in seen.sections)
    places = [(round(s.y, 3), round(s.x, 3)) for s in seen.sections]
    assert places == sorted(places)


def test_shapes_of_a_picture_part_it_and_their_borders_are_drawn(demo: Collection, drawing: int, picture: int) -> None:
    bare = picture_in_view(demo, picture, View(), 400)
    part(demo, drawing, SectionKind.SHAPES, picture)
    seen = sections_of(demo, drawing)
    assert (seen.kind, seen.reference_id) == (SectionKind.SHAPES, picture)
    assert all(20 <= s.cm2 <= 40 for s in seen.sections)
    assert sum(s.cm2 for s in seen.sections) == pytest.approx(21.0 * 29.7)
    drawn, before = (
        np.asarray(Image.open(io.BytesIO(png)))
        for png in (picture_in_view(demo, picture, View(), 400, sections=True), bare)
    )
    changed = np.any(drawn != before, axis=-1)
    assert 0.02 < changed.mean() < 0.2
    assert set(np.unique(drawn[changed])) <= {0, 255}


def test_names_states_and_order_are_kept_and_undone(demo: Collection, drawing: int) -> None:
    part(demo, drawing, SectionKind.GRID, None)
    first, second, *rest = sections_of(demo, drawing).sections
    describe_section(demo, first.id, first.revision, "Cap, left", SectionState.BUILDING)
    change = put_in_order(demo, drawing, [second.id, first.id, *(s.id for s in rest)])
    now = sections_of(demo, drawing).sections
    assert [s.id for s in now[:2]] == [second.id, first.id]
    assert (now[1].name, now[1].state) == ("Cap, left", SectionState.BUILDING)
    assert change is not None
    undo(demo, change.change_id)
    assert sections_of(demo, drawing).sections[0].id == first.id
    with pytest.raises(RefusedError, match="each section"):
        put_in_order(demo, drawing, [first.id])
    with pytest.raises(RefusedError, match="1 to 60"):
        describe_section(demo, second.id, second.revision, "  ", SectionState.DONE)


def test_parting_anew_lets_the_old_sections_go_and_undo_brings_them_back(demo: Collection, drawing: int) -> None:
    part(demo, drawing, SectionKind.GRID, None)
    first = sections_of(demo, drawing).sections[0]
    describe_section(demo, first.id, first.revision, "Cap", SectionState.DONE)
    change = part(demo, drawing, SectionKind.GRID, None)
    assert sections_of(demo, drawing).sections[0].name == "1"
    undo(demo, change.change_id)
    assert sections_of(demo, drawing).sections[0].name == "Cap"
    gone = unpart(demo, drawing)
    assert gone is not None
    assert sections_of(demo, drawing).sections == ()
    assert unpart(demo, drawing) is None
    with pytest.raises(NotFoundError, match="parted anew"):
        describe_section(demo, first.id, first.revision, "Cap", SectionState.DONE)


def test_another_size_says_that_the_sections_are_of_the_old_one(demo: Collection, drawing: int) -> None:
    part(demo, drawing, SectionKind.GRID, None)
    with demo() as session:
        row = find_drawing(session, drawing)
        said, revision = said_of(row), row.revision
    edit_drawing(demo, drawing, revision, replace(said, width_mm=54.0, height_mm=62.0))
    assert "210 × 297 mm when it was parted" in sections_of(demo, drawing).words
    part(demo, drawing, SectionKind.GRID, None)
    assert "this size allows no such parting" in sections_of(demo, drawing).words


def test_a_picture_whose_shapes_part_the_drawing_asks_before_it_goes(
    demo: Collection, drawing: int, picture: int
) -> None:
    part(demo, drawing, SectionKind.SHAPES, picture)
    with pytest.raises(RefusedError, match="parted into sections by its shapes"):
        remove_reference(demo, picture)
    remove_reference(demo, picture, sure=True)
    kept = sections_of(demo, drawing)
    assert kept.sections
    assert kept.reference_id is None
    with pytest.raises(NotFoundError):
        part(demo, drawing, SectionKind.SHAPES, picture)
    with pytest.raises(RefusedError, match="Choose the picture"):
        part(demo, drawing, SectionKind.SHAPES, None)


def test_a_removed_drawing_takes_its_sections_along_and_brings_them_back(
    demo: Collection, drawing: int, picture: int
) -> None:
    part(demo, drawing, SectionKind.SHAPES, picture)
    before = sections_of(demo, drawing)
    change = remove_drawing(demo, drawing)
    with pytest.raises(NotFoundError):
        sections_of(demo, drawing)
    undo(demo, change.change_id)
    # What undo brings back is one revision newer.
    after = [replace(section, revision=section.revision - 1) for section in sections_of(demo, drawing).sections]
    assert after == list(before.sections)
