"""What is known on a paper: one scene for everybody who asks, measured before predicted, nothing made up."""

from __future__ import annotations

import pytest
from tests.services.at_home import BUFF, PRINT, VELLUM, card, colour_id

from tidy_tinder.core.layers import COATS, Coat, Layer
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Effect, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.collection.scene import Scene, Stock
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.services.tidy.pencils import lose
from tidy_tinder.storage.models import Paper


def test_a_measured_mark_goes_before_a_predicted_one(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    asked = Layer(fly_cap, Pressure.MEDIUM)
    with demo() as session:
        before = Scene.on(session, PRINT).look(asked)
    assert before is not None
    assert (before.trust, before.band is None) == (Trust.PREDICTED, False)
    type_swatch(demo, NewTyped(fly_cap, PRINT, Pressure.MEDIUM, (52.0, 41.0, 22.0)))
    with demo() as session:
        after = Scene.on(session, PRINT).look(asked)
    assert after is not None
    assert (after.trust, after.band, after.patch.lab) == (Trust.MEASURED, None, (52.0, 41.0, 22.0))


def test_the_scene_the_card_and_the_comparison_agree(demo: Collection) -> None:
    """Three readers of one truth: what is looked at, what is drawn on the shelf, what is ranked."""
    for code, paper in (("119", VELLUM), ("161", PRINT), ("178", BUFF)):
        number = colour_id(demo, "Heron", code)
        zones = {zone.pressure: zone for zone in card(demo, number, paper).mark.zones}
        with demo() as session:
            scene = Scene.on(session, paper)
            for pressure in MARK_PRESSURES:
                seen = scene.look(Layer(number, pressure))
                known = scene.compared(number, Coat(pressure))
                assert seen is not None
                assert known.on_paper is not None
                assert zones[pressure].trust is seen.trust
                assert zones[pressure].lab == pytest.approx(seen.patch.lab, abs=0.01)
                assert tuple(known.on_paper) == pytest.approx(seen.patch.lab, abs=0.01)
                assert (known.band is None) == (seen.trust is Trust.MEASURED)


def test_nothing_is_said_of_what_nobody_can_know(demo: Collection) -> None:
    neon = colour_id(demo, "Tallow", "M94")
    fly_cap = colour_id(demo, "Heron", "119")
    with demo() as session:
        scene = Scene.on(session, PRINT)
        # Burnishing is no mark by itself, and effects are not modelled.
        assert scene.look(Layer(fly_cap, Pressure.BURNISH)) is None
        assert scene.look(Layer(neon, Pressure.HEAVY)) is None
        assert scene.compared(neon, Coat(Pressure.HEAVY)).ordinary is False
        assert scene.modelled([Layer(fly_cap, Pressure.LIGHT), Layer(neon, Pressure.LIGHT)]) is None
        laid = scene.modelled([Layer(fly_cap, Pressure.LIGHT, 2)])
        assert laid is not None
        assert laid[0].coat == Coat(Pressure.LIGHT, 2)
        assert scene.spectra(Coat(Pressure.HEAVY), [neon]) == {}


def test_before_the_first_fit_a_scene_has_only_what_was_measured(empty: Collection) -> None:
    with empty() as session:
        scene = Scene(session, session.get_one(Paper, 1))
        assert (dict(scene.colours), scene.at_hand, dict(scene.measured)) == ({}, frozenset(), {})
        assert scene.modelled([]) == []


def test_who_is_not_there_is_said(demo: Collection) -> None:
    with demo() as session:
        with pytest.raises(NotFoundError, match="paper"):
            Scene.on(session, 999)
        with pytest.raises(NotFoundError, match="colour"):
            Scene.on(session, VELLUM).colour(99_999)
        with pytest.raises(NotFoundError, match="colour"):
            Stock(session).owned(Layer(99_999, Pressure.LIGHT))


def test_at_hand_follows_what_is_lost_found_and_owned(demo: Collection) -> None:
    wader = colour_id(demo, "Wader", "101")
    with demo() as session:
        mine = next(i for i, sticks in Stock(session).pencils.items() if len(sticks) == 1 and sticks[0].drawable)

    def stock() -> tuple[bool, Owning, bool]:
        with demo() as session:
            now = Stock(session)
            return mine in now.at_hand, now.owning(mine), wader in now.at_hand

    assert stock()[0]
    assert not stock()[2]
    lose(demo, [mine])
    assert stock()[:2] == (False, Owning.LOST)
    mark_owned(demo, [wader], True)
    assert stock()[2]
    mark_owned(demo, [mine], False)
    assert stock()[:2] == (False, Owning.NOT_OWNED)


def test_a_layer_keeps_how_it_is_laid_whatever_stands_for_its_pencil(demo: Collection) -> None:
    fly_cap = colour_id(demo, "Heron", "119")
    with demo() as session:
        stock = Stock(session)
        for coat in COATS:
            owned = stock.owned(Layer(fly_cap, coat.pressure, 3))
            assert owned.coat == Coat(coat.pressure, 3)
            assert (owned.pencil.colour.code, owned.pencil.owning) == ("119", stock.owning(fly_cap))
            assert owned.of(fly_cap) == Layer(fly_cap, coat.pressure, 3)
        assert all(row.effect in Effect for row in stock.colours.values())
