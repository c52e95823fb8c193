"""Spectra of other steps on our bands, against spectra that colour-science carries and its Sprague interpolation."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.other_bands import on_our_bands

with warnings.catch_warnings():
    warnings.simplefilter("ignore")  # colour-science warns of optional packages when it is imported
    import colour

# Measured patches of a colour chart, 380 to 730 nm in steps of 10 (data of colour-science).
CHART = [sd.copy() for sd in colour.SDS_COLOURCHECKERS["BabelColor Average"].values()]


def own(sd: colour.SpectralDistribution) -> np.ndarray:
    return np.array(sd.values[np.isin(sd.wavelengths, BANDS)])


def test_our_own_bands_are_taken_as_they_are_and_what_lies_beyond_does_not_matter() -> None:
    for sd in CHART:
        np.testing.assert_array_equal(on_our_bands(sd.wavelengths, sd.values), own(sd))


def test_steps_of_twenty_come_near_what_was_measured_between() -> None:
    errors = []
    for sd in CHART:
        taken = on_our_bands(sd.wavelengths[::2], sd.values[::2])
        errors.append(float(delta_e_2000(reflectance_to_lab(taken), reflectance_to_lab(own(sd)))))
    assert np.median(errors) < 0.15
    assert max(errors) < 0.6


def test_steps_of_one_agree_with_sprague_within_what_a_bandpass_of_ten_smooths() -> None:
    fine = colour.SpectralShape(380, 730, 1)
    for sd in CHART:
        sprague = sd.copy().interpolate(fine, interpolator=colour.SpragueInterpolator)
        taken = on_our_bands(sprague.wavelengths, sprague.values)
        assert delta_e_2000(reflectance_to_lab(taken), reflectance_to_lab(own(sd))) < 0.35
        # A triangle of 10 nm half width flattens a curve by its second difference over twelve, and no more.
        bent = np.abs(np.diff(sd.values, 2)).max()
        assert np.abs(taken - own(sd)).max() <= 0.2 * bent + 1e-6


@given(st.floats(-0.001, 0.001), st.floats(0.2, 0.6), st.sampled_from([1, 2, 5, 10, 20]), st.integers(0, 19))
def test_a_straight_line_stays_one(slope: float, level: float, step: int, shift: int) -> None:
    at = np.arange(360 + shift, 760, step, dtype=float)
    np.testing.assert_allclose(on_our_bands(at, level + slope * (at - 550)), level + slope * (BANDS - 550), atol=1e-9)


def test_a_cubic_is_followed_through_steps_of_twenty() -> None:
    at = np.arange(390.0, 730.0, 20.0)
    curve = np.polynomial.Polynomial([0.4, 2e-2, -1e-2, 4e-3])
    taken = on_our_bands(at, np.asarray(curve((at - 550) / 100)))
    np.testing.assert_allclose(taken, np.asarray(curve((BANDS - 550) / 100)), atol=1e-12)


@pytest.mark.parametrize(
    ("at", "words"),
    [
        (np.arange(410.0, 731.0, 10.0), "nothing is made up"),
        (np.arange(380.0, 691.0, 10.0), "nothing is made up"),
        (np.arange(380.0, 741.0, 30.0), "more than 20 nm"),
        (np.arange(730.0, 379.0, -10.0), "increase"),
        (np.array([400.0]), "increase"),
        (np.array([400.0, np.nan, 700.0]), "finite"),
    ],
)
def test_what_says_too_little_is_refused(at: np.ndarray, words: str) -> None:
    with pytest.raises(OutOfRangeError, match=words):
        on_our_bands(at, np.full(at.size, 0.5))
    with pytest.raises(ShapeError):
        on_our_bands(at, np.full(at.size + 1, 0.5))
