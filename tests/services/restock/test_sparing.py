"""What would not be missed, tins that are packed, twins that are owned; how long pencils last."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import TypeVar

import numpy as np
import pytest
from sqlalchemy import select
from tests.services.at_home import VELLUM, colour_id, pencils

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Blacks, LogKind, PencilState, WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.background.thinking import SoFar
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.context import context
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.drawings.store import DrawingAs, begin_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.reference.sections import part, sections_of
from tidy_tinder.services.restock.lasting import RunningOut, measure_pencil, running_out
from tidy_tinder.services.restock.sparing import Packing, pack_into, packing_so_far, sparing_so_far
from tidy_tinder.services.restock.twins import owned_twins
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.services.tidy.pencils import lose, remove_pencil
from tidy_tinder.services.tidy.places import only_with_me, tins
from tidy_tinder.storage.models import LogEntry, PencilLength, SectionKind, Sitting, SittingTime
from tidy_tinder.storage.queries.colours import colour_rows, drawable_colours

T = TypeVar("T")
_SECONDS = 120.0


def ended(ask: Callable[[], SoFar[T]]) -> T:
    """The whole answer."""
    end = time.monotonic() + _SECONDS
    while time.monotonic() < end:
        found = ask()
        if found.ended:
            assert not found.failed
            assert found.answer is not None
            return found.answer
        # Asked as a page asks: whoever asked all the time would leave no time to work it out.
        time.sleep(0.3)
    raise AssertionError("it was never worked out")


def packed(demo: Collection, count: int) -> Packing:
    return ended(lambda: packing_so_far(demo, [1, 2], count, 0.5))


def test_what_can_go_is_not_missed_and_what_is_called_for_is(demo: Collection) -> None:
    said = ended(lambda: sparing_so_far(demo, 0.5))
    assert said.demands > 20
    gone = {colour.id for colour in said.together}
    assert len(gone) > 40
    worse = {one.colour.id: one.worse for one in said.alone}
    assert colour_id(demo, "Heron", "101") not in gone  # called for, and owned
    assert worse[colour_id(demo, "Heron", "101")] > 0.5
    assert all(0.0 <= one < 25.0 for one in worse.values())  # something is always left that comes near
    assert [one.worse for one in said.alone] == sorted(one.worse for one in said.alone)


def test_a_tin_for_two_recipes_is_packed_and_the_travel_filter_follows(demo: Collection) -> None:
    tin = packed(demo, 24)
    assert len(tin.colours) <= 24
    assert tin.proven
    assert tin.middle == pytest.approx(tin.best, abs=0.3)
    small = packed(demo, 6)
    assert len(small.colours) == 6
    assert small.middle > tin.middle
    assert small.worse
    pack_into(demo, [colour.id for colour in tin.colours], "  Travel   tin ")
    mine = next(one for one in tins(demo) if one.name == "Travel tin")
    assert mine.travels
    assert mine.pencils >= len(tin.colours)
    only_with_me(demo, True)
    with demo() as session:
        assert {colour.id for colour in tin.colours} <= set(Scene.on(session, VELLUM).at_hand)
    assert context(demo).travel == ("Travel tin",)


def test_a_tin_of_nothing_or_for_nothing_is_refused(demo: Collection) -> None:
    for recipes, count in (([1], 0), ([1], 500), ([], 5), ([999], 5)):
        with pytest.raises(RefusedError):
            packing_so_far(demo, recipes, count, 0.0)
    with pytest.raises(RefusedError):
        pack_into(demo, [1], "   ")


def test_twins_are_exactly_those_that_nobody_would_tell_apart(demo: Collection) -> None:
    """Held against every pair of what is owned; Wader has the colours of Heron, so owning all of both makes some."""
    with demo() as session:
        both = [row.id for row in colour_rows(session) if row.range_name in ("Heron", "Wader")]
    mark_owned(demo, both, True)
    groups = owned_twins(demo)
    assert groups
    assert [len(one.colours) for one in groups] == sorted((len(one.colours) for one in groups), reverse=True)
    group_of = {colour.id: i for i, one in enumerate(groups) for colour in one.colours}
    with demo() as session:
        predicted = Scene.on(session, VELLUM).predicted()
        keys = [i for i in drawable_colours(session) if i in predicted.places]
    marks = predicted.lab[[predicted.places[i] for i in keys]]
    for at, key in enumerate(keys):
        light, heavy = (np.asarray(delta_e_2000(marks[at, kind], marks[:, kind])) for kind in (0, 2))
        twins = {keys[j] for j in np.flatnonzero((heavy <= 1.0) & (light <= 2.0))} - {key}
        assert (key in group_of) == bool(twins)
        assert all(group_of[other] == group_of[key] for other in twins)


@pytest.fixture
def logged(demo: Collection) -> tuple[Collection, int]:
    """A drawing with two sittings of two hours in which Heron 101 was used alone, its length typed before and after."""
    said = DrawingAs("Plate", VELLUM, 210, 297, Closest.OVERALL, False, Blacks.ALLOWED, False, WorkOrder.LIGHT_TO_DARK)
    drawing, _ = begin_drawing(demo, said)
    of = colour_id(demo, "Heron", "101")
    pencil = next(p.id for p in pencils(demo, of) if p.state is PencilState.IN_USE)
    start = datetime(2026, 11, 2, 9, 0)
    with demo() as session:
        for day in range(2):
            at = start + timedelta(days=day)
            sitting = Sitting(drawing_id=drawing, begun_at=at, ended_at=at + timedelta(hours=2))
            session.add(sitting)
            session.flush()
            session.add(SittingTime(sitting_id=sitting.id, step_id=0, section_id=0, seconds=7200.0))
            session.add(
                LogEntry(
                    drawing_id=drawing, sitting_id=sitting.id, key=f"k{day}", made_at=at, kind=LogKind.PENCIL,
                    colour_id=of,
                )
            )  # fmt: skip
        for days, length in ((-1, 160), (3, 140)):
            session.add(
                PencilLength(pencil_id=pencil, measured_at=start + timedelta(days=days), length_mm=length)
            )  # fmt: skip
        session.commit()
    return demo, pencil


def of_pencil(collection: Collection, pencil: int) -> RunningOut:
    return next(one for one in running_out(collection).pencils if one.pencil_id == pencil)


def test_two_lengths_and_the_hours_between_tell_how_long_it_lasts(logged: tuple[Collection, int]) -> None:
    demo, pencil = logged
    measure_pencil(demo, pencil, 140)
    one = of_pencil(demo, pencil)
    assert one.hours == pytest.approx(4.0)
    assert one.wear.stretches == 1  # 20 mm in 4 hours
    assert 4.0 < one.wear.mm < 5.0  # between what is usual and what was measured
    assert one.lasts is not None
    assert one.lasts.low < one.lasts.use < one.lasts.high
    assert one.sittings is not None
    assert one.sittings.use == pytest.approx(one.lasts.use / 2.0)
    another = next(p for p in running_out(demo).pencils if p.colour.range_name == "Tallow")
    assert another.wear.is_guess  # another range: nothing is known of it


def test_where_the_log_says_in_which_sections_layers_are_told_as_well(logged: tuple[Collection, int]) -> None:
    """20 mm for two lines of the log, each taken for a layer over its section."""
    demo, pencil = logged
    measure_pencil(demo, pencil, 140)
    assert of_pencil(demo, pencil).layers is None
    with demo() as session:
        drawing = session.scalars(select(LogEntry.drawing_id)).first()
        assert drawing is not None
    part(demo, drawing, SectionKind.GRID, None)
    sections = sections_of(demo, drawing).sections
    with demo() as session:
        lines = session.scalars(select(LogEntry)).all()
        lines[0].section_id = sections[0].id
        session.commit()
    assert of_pencil(demo, pencil).layers is None  # of one line it is not known what it covered
    with demo() as session:
        lines = session.scalars(select(LogEntry)).all()
        lines[1].section_id, lines[1].layers = sections[1].id, 3
        session.commit()
    layers = of_pencil(demo, pencil).layers
    assert layers is not None
    covered = (sections[0].cm2 + 3.0 * sections[1].cm2) / 100.0
    with demo() as session:
        stub_mm = at_hand_now(session).stub_mm
    measured = (140 - stub_mm) * covered / 20.0
    usual = (140 - stub_mm) / 4.0
    assert min(measured, usual) < layers.use < max(measured, usual)
    assert abs(layers.use - measured) < abs(layers.use - usual)


def test_a_sharpened_length_of_a_pencil_in_its_place_teaches_nothing(logged: tuple[Collection, int]) -> None:
    demo, pencil = logged
    measure_pencil(demo, pencil, 175)
    assert of_pencil(demo, pencil).wear.stretches == 1
    for wrong in (-1, 500):
        with pytest.raises(RefusedError):
            measure_pencil(demo, pencil, wrong)
    with pytest.raises(NotFoundError):
        measure_pencil(demo, 99_999, 100)
    remove_pencil(demo, pencil)
    assert all(one.pencil_id != pencil for one in running_out(demo).pencils)


def test_stubs_stand_first_and_what_is_lost_is_gone(demo: Collection) -> None:
    found = running_out(demo)
    assert found.pencils
    assert found.pencils[0].length_mm is not None
    assert found.pencils[0].length_mm < found.stub_mm
    gone = len(found.gone)
    lose(demo, [colour_id(demo, "Heron", "101")])
    now = running_out(demo).gone
    assert len(now) == gone + 1
    assert all(state in (PencilState.LOST, PencilState.USED_UP) for _, state in now)
