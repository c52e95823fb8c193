"""Strips worth making: of what is at hand and measured here, set out once, gone where they are read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import pytest
from sqlalchemy import select
from tests.services.at_home import VELLUM

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Effect, Pressure
from tidy_tinder.services.background.inputs import Inputs, inputs_of
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.journal import undo
from tidy_tinder.services.layering.table import lay_out
from tidy_tinder.services.papers import edit_paper, paper_pages
from tidy_tinder.services.reader import ReaderLink
from tidy_tinder.services.scraps.reading import read_strip, type_strip
from tidy_tinder.services.scraps.store import NewScrap, begin_scrap
from tidy_tinder.services.scraps.telling import StripToMake, TellingView, strips_to_make
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.storage.models import Colour, Paper


def set_out(collection: Collection, strip: StripToMake) -> tuple[int, int]:
    """The scrap, and the change that began it."""
    layers = tuple(one.of(one.pencil.colour.id) for one in strip.laid)
    number, change = begin_scrap(collection, NewScrap(VELLUM, layers))
    return number, change.change_id


def read_all(collection: Collection, strips: Sequence[StripToMake]) -> None:
    """Set these out and read them with the simulated reader."""
    link = ReaderLink()
    link.start_simulated()
    link.calibrate()
    for strip in strips:
        number, _ = set_out(collection, strip)
        read_strip(collection, link, number, is_turned=False, keep=True)
    link.close()


def test_they_are_of_ordinary_pencils_at_hand_that_are_measured_here(demo: Collection) -> None:
    told = strips_to_make(demo, VELLUM)
    assert told.ready
    assert len(told.strips) == 3
    with demo() as session:
        scene = Scene.on(session, VELLUM)
        for strip in told.strips:
            for one in strip.laid:
                assert one.pressure == Pressure.HEAVY
                assert one.pencil.colour.id in scene.at_hand
                assert (Pressure.HEAVY, 1) in scene.measured[one.pencil.colour.id]
                assert one.pencil.colour.effect == Effect.ORDINARY
    gone = told.strips[0].laid[1].pencil.colour.id
    mark_owned(demo, [gone], False)
    others = strips_to_make(demo, VELLUM)
    assert others.strips
    assert gone not in {one.pencil.colour.id for strip in others.strips for one in strip.laid}


def test_one_that_is_set_out_is_not_set_out_twice(demo: Collection) -> None:
    first = strips_to_make(demo, VELLUM).strips[0]
    assert first.scrap_id is None
    number, change = set_out(demo, first)
    assert [one.scrap_id for one in strips_to_make(demo, VELLUM).strips] == [number, None, None]
    undo(demo, change)
    assert strips_to_make(demo, VELLUM).strips[0].scrap_id is None


def test_where_they_are_read_layers_are_surer_and_less_is_left_to_tell(demo: Collection) -> None:
    told = strips_to_make(demo, VELLUM)
    read_all(demo, told.strips)
    after = strips_to_make(demo, VELLUM)
    assert after.band == pytest.approx(last_band(told), rel=0.15)
    # Nobody is asked for three more, which would tell next to nothing.
    assert after.strips == ()


def last_band(told: TellingView) -> float:
    band = told.strips[-1].band_after
    assert band is not None
    return band


def test_there_are_none_where_nothing_is_measured_or_a_paper_takes_too_few_layers(demo: Collection) -> None:
    with demo() as session:
        papers = {paper.id for paper in session.scalars(select(Paper))}
        bare = next(i for i in papers if not Scene.on(session, i).measured)
    assert strips_to_make(demo, bare).strips == ()
    vellum = next(page for page in paper_pages(demo) if page.id == VELLUM)
    edit_paper(demo, VELLUM, vellum.revision, replace(vellum.said, most_layers=2))
    assert strips_to_make(demo, VELLUM).strips == ()
    with pytest.raises(NotFoundError):
        strips_to_make(demo, 999)


def test_a_burnished_mark_tells_how_hard_others_are_burnished(demo: Collection) -> None:
    """Read as a strip, it is a mark for the fit: bands of all that is burnished on the paper shrink by it."""
    told = strips_to_make(demo, VELLUM)
    assert len(told.burnished) == 2
    assert all([one.pressure for one in strip.laid] == [Pressure.BURNISH] for strip in told.burnished)
    named = [f"{strip.laid[0].pencil.colour.range_name} {strip.laid[0].pencil.colour.code}" for strip in told.burnished]
    assert [strip.said for strip in told.burnished] == [f"{name}, burnished by itself" for name in named]
    mine = {strip.laid[0].pencil.colour.id for strip in told.burnished}
    other = next(one.pencil.colour.id for one in told.strips[0].laid if one.pencil.colour.id not in mine)
    before = burnished_band(demo, other)
    read_all(demo, told.burnished[:1])
    assert strips_to_make(demo, VELLUM).burnished == told.burnished[1:]
    read_all(demo, told.burnished[1:])
    marks = [mark for mark in inputs(demo).marks if mark.kind.pressure == Pressure.BURNISH]
    assert {mark.pencil for mark in marks} == mine
    assert inputs(demo).strips == ()
    assert burnished_band(demo, other) < 0.9 * before
    assert strips_to_make(demo, VELLUM).burnished == ()


def test_what_is_not_modelled_is_burnished_for_itself_only(demo: Collection) -> None:
    with demo() as session:
        special = session.scalars(select(Colour.id).where(Colour.effect == Effect.METALLIC)).first()
    assert special is not None
    number, _ = begin_scrap(demo, NewScrap(VELLUM, (Layer(special, Pressure.BURNISH),)))
    type_strip(demo, number, False, (60.0, 1.0, 2.0), keep=True)
    assert special not in {mark.pencil for mark in inputs(demo).marks}
    assert strips_to_make(demo, VELLUM).ready


def inputs(collection: Collection) -> Inputs:
    with collection() as session:
        return inputs_of(session)


def burnished_band(collection: Collection, of: int) -> float:
    seen = lay_out(collection, VELLUM, [Layer(of, Pressure.BURNISH)]).orders[0].result
    assert seen.band is not None
    return seen.band
