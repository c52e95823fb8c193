"""Opacity, averages, doubts: what a reading is worth."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.reflectance.colorimetry import lab_to_xyz, reflectance_to_lab, xyz_to_lab
from tidy_tinder.core.swatching.averaging import average_readings
from tidy_tinder.core.swatching.opacity import opacity_test
from tidy_tinder.core.swatching.plausibility import Doubt, Expected, doubts, farthest_apart
from tidy_tinder.core.vocabulary import Opacity

WHITE, BLACK_BAR = np.array([95.0, 0.0, 2.0]), np.array([23.0, 0.0, 0.0])
RED = np.array([45.0, 55.0, 30.0])


def lab_of_Y(Y: float) -> np.ndarray:
    return xyz_to_lab(np.array([0.95047, 1.0, 1.08883]) * Y)


@pytest.mark.parametrize(
    ("over_white", "over_black", "ratio", "opacity"),
    [
        # The contrast ratio is Y over black divided by Y over white (ISO 6504-3, ASTM D2805); .98 and more is
        # called full hiding there.
        (0.80, 0.784, 0.98, Opacity.OPAQUE),
        (0.50, 0.25, 0.50, Opacity.SEMI),
        (0.80, 0.10, 0.125, Opacity.TRANSPARENT),
    ],
)
def test_the_contrast_ratio_is_that_of_the_standards(
    over_white: float, over_black: float, ratio: float, opacity: Opacity
) -> None:
    found = opacity_test(lab_of_Y(over_white), lab_of_Y(over_black))
    assert found.contrast_ratio == pytest.approx(ratio, abs=1e-3)
    assert found.opacity is opacity
    assert found.Y_over_white == pytest.approx(over_white, abs=1e-3)


def test_a_mark_that_is_nearly_black_tells_nothing() -> None:
    found = opacity_test(np.array([22.0, 0.0, 0.0]), np.array([20.0, 0.0, 0.0]))
    assert found.contrast_ratio > 0.8
    assert found.opacity is None
    with pytest.raises(OutOfRangeError):
        opacity_test(np.array([0.0, 0.0, 0.0]), np.array([0.0, 0.0, 0.0]))


spectra = st.lists(st.floats(0.01, 1.0), min_size=31, max_size=31)


@given(st.lists(spectra, min_size=1, max_size=5))
def test_an_average_is_that_of_the_light(readings: list[list[float]]) -> None:
    found = average_readings([np.array(r) for r in readings])
    assert found.count == len(readings)
    assert np.allclose(found.reflectance, np.mean(readings, axis=0))
    assert np.allclose(found.lab, reflectance_to_lab(found.reflectance))
    assert found.spread >= 0


def test_one_reading_is_its_own_average_and_none_is_none() -> None:
    only = np.linspace(0.1, 0.9, 31)
    assert average_readings([only]).spread == pytest.approx(0.0, abs=1e-9)
    for wrong in ([], [np.ones(30)]):
        with pytest.raises(ShapeError):
            average_readings(wrong)


def expected(**more: object) -> Expected:
    known: dict[str, object] = {"ground": WHITE, "full": RED, "earlier": None, "heavy": True}
    return Expected(**{**known, **more})  # type: ignore[arg-type] # parts of what is expected


def found(reading: np.ndarray, what: Expected) -> list[Doubt]:
    return [d.doubt for d in doubts(reading, what)]


def test_a_reading_as_expected_is_not_doubted() -> None:
    assert found(RED + np.array([1.5, 2.0, 0.5]), expected()) == []
    half = xyz_to_lab(0.5 * lab_to_xyz(WHITE) + 0.5 * lab_to_xyz(RED))
    assert found(half, expected(heavy=False)) == []


def test_bare_paper_is_noticed_but_not_for_a_pencil_that_looks_like_it() -> None:
    assert found(WHITE + 0.3, expected()) == [Doubt.BARE]
    assert found(WHITE + 0.3, expected(full=WHITE + 1.0)) == []


def test_another_colour_is_noticed() -> None:
    green = np.array([50.0, -40.0, 30.0])
    assert found(green, expected()) == [Doubt.COLOUR]
    assert found(green, expected(full=None)) == []
    assert found(green, expected(ordinary=False)) == []
    assert doubts(green, expected())[0].delta_e > 20


def test_on_a_pale_ground_a_heavy_mark_is_near_its_chart_and_elsewhere_it_need_not_be() -> None:
    # Some 10 to 14 ΔE00 from all mixes of the ground and the full colour.
    off = RED + np.array([0.0, 0.0, -25.0])
    [doubtful] = doubts(off, expected())
    assert doubtful.doubt is Doubt.COLOUR
    assert 8.0 < doubtful.delta_e < 16.0
    assert found(off, expected(heavy=False)) == []
    # A pale ground begins at L* 85.
    tan = np.array([84.0, 0.0, 0.0])
    assert found(off, expected(ground=tan)) == []
    assert found(off, expected(ground=tan + np.array([1.0, 0.0, 0.0]))) == [Doubt.COLOUR]


def test_an_earlier_reading_is_the_better_witness() -> None:
    assert found(RED + np.array([6.0, 0.0, 0.0]), expected(earlier=RED)) == [Doubt.EARLIER]
    # What was measured before may be far from the chart; agreeing with it is enough.
    odd = np.array([50.0, -40.0, 30.0])
    assert found(odd, expected(earlier=odd + 0.5)) == []


def test_how_far_apart_several_lie() -> None:
    assert farthest_apart([]) == farthest_apart([RED]) == 0.0
    assert farthest_apart([RED, RED + np.array([1.0, 0, 0])]) == pytest.approx(
        float(delta_e_2000(RED, RED + np.array([1.0, 0, 0])))
    )
    assert farthest_apart([RED, RED + np.array([1.0, 0, 0]), RED + np.array([9.0, 0, 0])]) > 6
