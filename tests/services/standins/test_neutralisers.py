"""What greys a pencil without black, from those at hand."""

from __future__ import annotations

import numpy as np
import pytest
from tests.services.at_home import VELLUM, colour_id

from tidy_tinder.core.difference.components import chroma
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.devices.truth.world import demo_world
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.standins.neutralisers import neutralisers_of
from tidy_tinder.services.tidy.ownership import mark_owned


def test_opposites_grey_a_colour_in_the_hidden_truth_too(few: Collection) -> None:
    orange = colour_id(few, "Heron", "111")
    mark_owned(few, [orange], True)
    found = neutralisers_of(few, Layer(orange, Pressure.MEDIUM), VELLUM)
    assert found.ready
    assert found.found
    assert found.alone is not None
    left = [one.chroma_left for one in found.found]
    assert left == sorted(left)
    assert max(left) <= 0.6
    world = demo_world()
    alone = reflectance_to_lab(world.reflectance("Vellum board", (("Heron 111", "medium"),)))
    for one in found.found:
        assert one.said.startswith("one medium layer of Heron 111, then ")
        key = f"{one.over.pencil.colour.range_name} {one.over.pencil.colour.code}"
        passes = (("Heron 111", "medium"), *((key, one.over.pressure),) * one.over.layers)
        both = reflectance_to_lab(world.reflectance("Vellum board", passes))
        assert chroma(both) < 0.75 * chroma(alone)
        # No black and no grey is among them.
        assert one.over.pencil.colour.lab is not None
        assert np.hypot(*one.over.pencil.colour.lab[1:]) > 8
    softer = neutralisers_of(few, Layer(orange, Pressure.LIGHT), VELLUM)
    assert softer.alone != found.alone


def test_what_has_no_neutraliser_is_said(few: Collection) -> None:
    not_owned = colour_id(few, "Wader", "101")
    assert "Only a pencil that you own" in neutralisers_of(few, Layer(not_owned, Pressure.MEDIUM), VELLUM).problem
    with pytest.raises(NotFoundError):
        neutralisers_of(few, Layer(99999, Pressure.MEDIUM), VELLUM)
