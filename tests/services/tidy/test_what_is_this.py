"""A measured mark, and which of her pencils it can be of."""

from __future__ import annotations

from importlib import resources

import pytest
from sqlalchemy import select
from tests.services.at_home import PRINT, VELLUM, card, colour_id

from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.services.tidy.what_is_this import what_is_this
from tidy_tinder.storage.models import Colour


def test_a_worn_stamp_is_found_by_its_mark(demo: Collection) -> None:
    moss = colour_id(demo, "Heron", "161")
    lab = card(demo, moss).mark.zones[0].lab
    found = what_is_this(demo, (lab[0] + 0.4, lab[1], lab[2] - 0.4), VELLUM, Pressure.HEAVY)
    best = max(found.here, key=lambda s: s.share)
    assert (best.colour.id, best.owning) == (moss, Owning.OWNED)
    assert best.share > 0.5
    assert found.by_chart == ()
    order = [s.owning is Owning.NOT_OWNED for s in found.here]
    assert order == sorted(order)


def test_on_a_paper_without_swatches_predictions_are_asked_and_say_their_band(demo: Collection) -> None:
    moss = card(demo, colour_id(demo, "Heron", "161"), PRINT)
    looks = moss.mark.zones[1]
    found = what_is_this(demo, looks.lab, PRINT, Pressure.MEDIUM)
    best = max(found.here, key=lambda s: s.share)
    assert best.colour.id == moss.colour.id
    assert best.band == pytest.approx(looks.band, abs=0.01)
    assert found.searched > 300
    # A guess on a new paper cannot tell it from its likes.
    assert len(found.alike) > 1


def test_without_any_swatch_the_chart_is_asked_and_said_so(empty: Collection) -> None:
    import_catalogue(empty, (resources.files("tidy_tinder.demo") / "data/catalogue.csv").read_bytes())
    with empty() as session:
        moss = session.scalars(select(Colour).where(Colour.code == "161")).first()
    assert moss is not None
    lab = (moss.lab_L or 0.0, moss.lab_a or 0.0, moss.lab_b or 0.0)
    found = what_is_this(empty, lab, 1, Pressure.HEAVY)
    assert (found.searched, found.here) == (0, ())
    assert moss.id in {s.colour.id for s in found.by_chart}
    # A chart says nothing of a light mark.
    assert what_is_this(empty, lab, 1, Pressure.LIGHT).by_chart == ()


def test_what_cannot_be_told_apart_is_said(demo: Collection) -> None:
    fly_cap, rosehip = colour_id(demo, "Heron", "119"), colour_id(demo, "Heron", "123")
    type_swatch(demo, NewTyped(fly_cap, PRINT, Pressure.HEAVY, (45.0, 50.0, 30.0)))
    type_swatch(demo, NewTyped(rosehip, PRINT, Pressure.HEAVY, (45.3, 50.0, 30.3)))
    found = what_is_this(demo, (45.1, 50.0, 30.1), PRINT, Pressure.HEAVY)
    assert {"Heron 119 Fly Cap", "Heron 123 Rosehip"} <= set(found.alike)
    assert what_is_this(demo, (60.0, -90.0, 60.0), PRINT, Pressure.HEAVY).none_share > 0.99
