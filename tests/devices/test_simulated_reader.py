"""The simulated reader's measuring function: repeatable, noisy by about 0.3 ΔE, on its own truth only."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.devices.simulated_reader import Placed, measure
from tidy_tinder.devices.truth.world import demo_world

WORLD = demo_world()
FLY_CAP = Placed("Vellum board", (("Heron 119", "medium"),))


def test_the_same_patch_and_reading_give_the_same_values() -> None:
    assert np.array_equal(measure(WORLD, FLY_CAP).reflectance, measure(WORLD, FLY_CAP).reflectance)


def test_a_reading_holds_31_bands_and_their_lab() -> None:
    seen = measure(WORLD, FLY_CAP)
    assert seen.reflectance.shape == (31,)
    assert np.allclose(seen.lab, reflectance_to_lab(seen.reflectance))


def test_readings_of_one_patch_differ_by_about_a_third_of_a_delta_e() -> None:
    labs = np.array([measure(WORLD, FLY_CAP, reading).lab for reading in range(40)])
    apart = delta_e_2000(labs, labs.mean(axis=0))
    assert 0.08 < float(np.median(apart)) < 0.5


def test_making_a_patch_again_differs_more_than_reading_it_again() -> None:
    makings = np.array([
        measure(WORLD, Placed(FLY_CAP.paper, FLY_CAP.passes, making=m)).lab for m in range(30)
    ])  # fmt: skip
    again = np.array([measure(WORLD, FLY_CAP, reading).lab for reading in range(30)])
    assert makings.std(axis=0).sum() > 2 * again.std(axis=0).sum()


def test_bare_paper_can_be_read() -> None:
    assert measure(WORLD, Placed("Black paper", ())).lab[0] < 30


def test_what_is_not_of_this_world_is_an_error() -> None:
    with pytest.raises(KeyError):
        measure(WORLD, Placed("Vellum board", (("Heron 999", "light"),)))
