"""The layering table: every order of two or three pencils on the paper at hand, and what speaks against it."""

from __future__ import annotations

import numpy as np
import pytest
from sqlalchemy import select
from tests.services.at_home import BUFF, HOT_PRESSED, PRINT, VELLUM, colour_id

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import difference
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Ground, Pressure
from tidy_tinder.devices.truth.world import demo_world
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.journal import writing
from tidy_tinder.services.layering.table import lay_out
from tidy_tinder.services.reader import ReaderLink
from tidy_tinder.services.swatches.session_plan import SessionPlan, Which, start_session
from tidy_tinder.services.swatches.sessions import open_session, read_item
from tidy_tinder.storage.models import Swatch


def layer(collection: Collection, name: str, pressure: Pressure = Pressure.MEDIUM, count: int = 1) -> Layer[int]:
    return Layer(colour_id(collection, *name.split(" ")), pressure, count)


def true(*laid: tuple[str, str]) -> Lab:
    return reflectance_to_lab(demo_world().reflectance("Vellum board", laid))


def test_two_pencils_have_two_orders_that_part_as_they_do_in_truth(demo: Collection) -> None:
    found = lay_out(demo, VELLUM, [layer(demo, "Heron 125"), layer(demo, "Tallow M02", Pressure.HEAVY)])
    assert (found.ready, found.problem, found.warnings, found.passes_left) == (True, "", (), 7)
    assert [order.said for order in found.orders] == [
        "one medium layer of Heron 125, then one heavy layer of Tallow M02 over it",
        "one heavy layer of Tallow M02, then one medium layer of Heron 125 over it",
    ]
    for order in found.orders:
        assert len(order.after) == 2
        assert order.after[-1].patch.lab == pytest.approx(order.result.patch.lab)
        assert order.result.trust is Trust.PREDICTED
        assert order.result.band is not None
    assert [one.seen.trust if one.seen else None for one in found.alone] == [Trust.MEASURED, Trust.MEASURED]
    # An opaque yellow over a pink hides it; under it, it does not (common practice, no source; and the hidden truth).
    truth = difference(
        true(("Heron 125", "medium"), ("Tallow M02", "heavy")), true(("Tallow M02", "heavy"), ("Heron 125", "medium"))
    )
    assert found.apart is not None
    assert found.plus_minus is not None
    # Without a strip it is unsure how much of the yellow misses where the pink lies; which way they part is not.
    assert found.apart.delta_e > 3.5
    assert found.plus_minus > 0.0
    for part in ("delta_L", "delta_C", "delta_H"):
        assert np.sign(getattr(found.apart, part)) == np.sign(getattr(truth, part))


def held_over(demo: Collection, dark: str) -> float:
    """Share of the pale pencils at hand that, laid heavily over a dark one, look as they truly do within their band."""
    with demo() as session:
        scene = Scene.on(session, VELLUM)
        predicted = scene.predicted()
        pale = {
            i: f"{scene.colours[i].range_name} {scene.colours[i].code}"
            for i in scene.at_hand
            if i in predicted.places and predicted.lab[predicted.places[i]][2, 0] > 80.0
        }
    assert len(pale) >= 10
    held = []
    for key, name in pale.items():
        seen = lay_out(demo, VELLUM, [layer(demo, dark), Layer(key, Pressure.HEAVY)]).orders[0].result
        assert seen.band is not None
        held.append(float(delta_e_2000(np.array(seen.patch.lab), true((dark, "medium"), (name, "heavy")))) <= seen.band)
    return float(np.mean(held))


def test_four_pencils_in_three_layers_make_what_is_layered_surer(demo: Collection) -> None:
    laid = [layer(demo, "Heron 129"), layer(demo, "Heron 215", Pressure.HEAVY)]
    before, held_before = lay_out(demo, VELLUM, laid), held_over(demo, "Heron 129")
    link = ReaderLink()
    link.start_simulated()
    link.calibrate()
    number, _ = start_session(demo, SessionPlan(VELLUM, Which.OWNED, (), layered=True))
    for item in open_session(demo, number).items:
        assert item.layers == 3
        read_item(demo, link, item.id)
    link.close()
    after = lay_out(demo, VELLUM, laid)
    assert (before.none_layered, after.none_layered) == (True, False)
    # Where nothing at all is swatched, single marks come first.
    assert not lay_out(demo, PRINT, laid).none_layered
    truth = true(("Heron 129", "medium"), ("Heron 215", "heavy"))
    then, now = (found.orders[0].result for found in (before, after))
    assert then.band is not None
    assert now.band is not None
    # A pale opaque pencil over a dark one, none of these four: how much of the dark one shows is what is unsure.
    assert now.band < then.band
    missed, misses = (float(delta_e_2000(np.array(seen.patch.lab), truth)) for seen in (then, now))
    assert misses < missed - 1.0
    assert held_before >= 0.86
    assert held_over(demo, "Heron 129") >= 0.86


def test_three_pencils_have_six_orders_and_turning_round_swaps_the_first_two(demo: Collection) -> None:
    laid = [
        layer(demo, "Heron 125"),
        layer(demo, "Tallow M02", Pressure.HEAVY),
        layer(demo, "Heron 148", Pressure.LIGHT, 2),
    ]
    found = lay_out(demo, VELLUM, laid)
    assert len({order.said for order in found.orders}) == len(found.orders) == 6
    turned = lay_out(demo, VELLUM, laid[::-1])
    assert [order.said for order in turned.orders[:2]] == [order.said for order in found.orders[1::-1]]
    for there, here in zip(turned.orders[:2], found.orders[1::-1], strict=True):
        np.testing.assert_allclose(there.result.patch.lab, here.result.patch.lab, atol=1e-9)


def test_burnishing_and_solvent_finish_every_order(demo: Collection) -> None:
    pair, pale = [layer(demo, "Heron 125"), layer(demo, "Heron 148")], layer(demo, "Tallow M02", Pressure.BURNISH)
    rubbed = lay_out(demo, VELLUM, [*pair, pale])
    assert len(rubbed.orders) == 2
    assert all(order.said.endswith("burnished with Tallow M02") for order in rubbed.orders)
    assert all(len(order.after) == 3 for order in rubbed.orders)
    assert rubbed.alone[-1].seen is None
    dark = lay_out(demo, VELLUM, [*pair, layer(demo, "Heron 212", Pressure.BURNISH)])
    assert any("dark for burnishing" in warning for warning in dark.warnings)
    wet = lay_out(demo, VELLUM, pair, solvent=True)
    assert any("at least three layers" in warning for warning in wet.warnings)
    dry = lay_out(demo, VELLUM, pair)
    # Fewer gaps, more solid (common practice, no source).
    assert wet.orders[0].result.patch.lab[0] < dry.orders[0].result.patch.lab[0]
    assert [seen.patch.lab for seen in wet.orders[0].after] == [seen.patch.lab for seen in dry.orders[0].after]
    # Of solvent the model is least sure.
    assert (wet.orders[0].result.band or 0) > 5.0


def test_what_the_paper_does_not_take_is_said(demo: Collection) -> None:
    many = [layer(demo, "Heron 125", Pressure.LIGHT, 4), layer(demo, "Heron 148", Pressure.LIGHT, 2)]
    found = lay_out(demo, HOT_PRESSED, many)
    assert found.passes_left == -1
    assert "Hot-pressed board takes 5" in found.warnings[0]
    assert lay_out(demo, VELLUM, many).warnings == ()
    assert lay_out(demo, BUFF, many).ground.lab != lay_out(demo, VELLUM, many).ground.lab


def test_what_is_not_modelled_or_not_there_is_said(demo: Collection, empty: Collection) -> None:
    neon = lay_out(demo, VELLUM, [layer(demo, "Tallow M94"), layer(demo, "Heron 125")])
    assert neon.orders == ()
    assert "M94 Night Glow Pink cannot be modelled" in neon.problem
    one = lay_out(demo, VELLUM, [layer(demo, "Heron 125")])
    assert len(one.orders) == 1
    assert one.apart is None
    with pytest.raises(NotFoundError):
        lay_out(empty, 1, [Layer(5, Pressure.LIGHT)])
    with pytest.raises(NotFoundError):
        lay_out(demo, 99, [layer(demo, "Heron 125")])


def test_who_has_read_nothing_over_black_is_told_where_to_begin(demo: Collection) -> None:
    laid = [layer(demo, "Heron 129"), layer(demo, "Heron 215", Pressure.HEAVY)]
    assert not lay_out(demo, VELLUM, laid).none_over_black
    with writing(demo, "None over black") as session:
        for swatch in session.scalars(select(Swatch).where(Swatch.over == Ground.BLACK)):
            session.delete(swatch)
    assert lay_out(demo, VELLUM, laid).none_over_black
