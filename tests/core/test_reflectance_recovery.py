"""Reflectance from Lab: exact on the way back, inside (0, 1), smooth, and near to real spectra."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance

smooth = st.tuples(
    st.floats(0.05, 0.9), st.floats(-0.25, 0.25), st.floats(-0.15, 0.15), st.floats(-0.1, 0.1)
)  # fmt: skip


@given(smooth)
@settings(max_examples=60, deadline=None)
def test_there_and_back_is_exact_for_colours_that_surfaces_have(parts: tuple[float, float, float, float]) -> None:
    """Any smooth spectrum's Lab has a recovery with exactly that Lab."""
    x = np.linspace(0, 1, BANDS.size)
    R = np.clip(sum(p * np.cos(i * np.pi * x) for i, p in enumerate(parts)), 0.02, 0.98)
    lab = reflectance_to_lab(np.asarray(R))
    found = recover_reflectance(lab)
    assert np.all((found > 0) & (found < 1))
    assert float(delta_e_2000(reflectance_to_lab(found), lab)) < 1e-4


def test_pinned_value() -> None:
    """A regression value (1e-4), first computed with an independent implementation; from memory."""
    found = recover_reflectance([50.0, 40.0, 20.0])[::5]
    assert np.allclose(found, [0.11687, 0.10795, 0.07886, 0.10525, 0.34995, 0.54483, 0.55971], atol=1e-4)


def test_greys_are_flat_and_many_at_once_are_each_their_own() -> None:
    labs = np.array([[[50.0, 0, 0], [20.0, 0, 0]], [[80.0, 0, 0], [50.0, 40, 20]]])
    found = recover_reflectance(labs)
    assert found.shape == (2, 2, 31)
    assert np.ptp(found[0, 0]) < 0.004
    assert np.allclose(found[1, 1], recover_reflectance(labs[1, 1]), atol=1e-8)


def test_it_is_near_the_24_patch_chart() -> None:
    """The 24-patch chart's spectra, as colour-science ships them (BabelColor average): metamers, yet near."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour
    patches = colour.SDS_COLOURCHECKERS["BabelColor Average"].values()
    shape = colour.SpectralShape(400, 700, 10)
    true = np.array([sd.copy().align(shape).values for sd in patches])
    found = recover_reflectance(reflectance_to_lab(true))
    assert np.allclose(reflectance_to_lab(found), reflectance_to_lab(true), atol=1e-3)
    assert float(np.sqrt(np.mean((found - true) ** 2))) < 0.06


def test_an_impossible_colour_gives_the_nearest_and_no_nonsense() -> None:
    with pytest.raises(OutOfRangeError, match="no colour that a surface can have"):
        recover_reflectance([50.0, 150.0, -150.0])
    found = recover_reflectance([50.0, 150.0, -150.0], nearest=True)
    assert np.all(np.isfinite(found) & (found >= 0) & (found <= 1))
    with pytest.raises(OutOfRangeError):
        recover_reflectance([50.0, np.nan, 0.0])
    with pytest.raises(ShapeError):
        recover_reflectance([50.0, 0.0])
