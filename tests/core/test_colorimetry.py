"""Reflectance → XYZ → Lab → sRGB against colour-science and published data."""

from __future__ import annotations

import json
import warnings
from pathlib import Path
from types import ModuleType
from typing import cast

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.quantities import BANDS, check_lab
from tidy_tinder.core.reflectance.colorimetry import (
    WHITE_D65,
    adapt_d50_to_d65,
    decode_srgb,
    encode_srgb,
    hex_of,
    lab_from_hex,
    lab_to_linear_rgb,
    lab_to_xyz,
    linear_rgb_to_lab,
    on_screen,
    reflectance_to_lab,
    reflectance_to_xyz,
    weights,
    xyz_to_lab,
)

LABS = np.random.default_rng(5).uniform((1, -90, -90), (99, 90, 90), (500, 3))


@pytest.fixture(scope="module")
def colour() -> ModuleType:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour
    return cast(ModuleType, colour)  # it puts an object of its own in its module's place


def test_weights_are_what_their_script_derives() -> None:
    from tools.derive_weights import derive

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        assert np.allclose(derive(), weights(), atol=1e-9)


def test_a_perfect_white_is_white() -> None:
    assert reflectance_to_xyz(np.ones(31))[1] == pytest.approx(1.0, abs=1e-7)
    assert np.allclose(reflectance_to_lab(np.ones(31)), [100, 0, 0], atol=1e-4)
    # CIE 15: the white of D65, 2°.
    assert np.allclose(weights().sum(axis=0), [0.95047, 1.0, 1.08883], atol=5e-5)


def test_published_spectra_have_their_published_colours(colour: ModuleType) -> None:
    """The 24-patch chart's spectra: our 31 weights against a 1 nm summation by colour-science (CIE 15)."""
    chart = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"]
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    light = colour.SDS_ILLUMINANTS["D65"]
    for name, sd in chart.items():
        fine = sd.copy().interpolate(colour.SpectralShape(400, 700, 10))
        ours = reflectance_to_lab(np.array([fine[w] for w in BANDS]))
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            XYZ = colour.sd_to_XYZ(sd, cmfs, light, method="Integration") / 100
        theirs = xyz_to_lab(XYZ)
        assert float(np.linalg.norm(ours - theirs)) < 0.6, name


def test_lab_and_xyz_agree_with_colour_science(colour: ModuleType) -> None:
    xyz = lab_to_xyz(LABS)
    xy = colour.XYZ_to_xy(WHITE_D65)
    assert np.allclose(xyz, colour.Lab_to_XYZ(LABS, xy), atol=1e-9)
    assert np.allclose(xyz_to_lab(xyz), LABS, atol=1e-9)


def test_srgb_agrees_with_colour_science(colour: ModuleType) -> None:
    """IEC 61966-2-1; the standard prints its matrix with four digits, ours is exact."""
    linear = lab_to_linear_rgb(LABS)
    theirs = colour.XYZ_to_sRGB(lab_to_xyz(LABS), apply_cctf_encoding=False)
    assert np.allclose(linear, theirs, atol=2e-3)
    inside = LABS[on_screen(linear)]
    assert np.allclose(
        encode_srgb(lab_to_linear_rgb(inside)), colour.models.eotf_inverse_sRGB(lab_to_linear_rgb(inside)), atol=1e-3
    )


def test_d50_is_adapted_by_bradford(colour: ModuleType) -> None:
    xy = {w: colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"][w] for w in ("D50", "D65")}
    XYZ = colour.Lab_to_XYZ(LABS, xy["D50"])
    moved = colour.chromatic_adaptation(
        XYZ, colour.xy_to_XYZ(xy["D50"]), colour.xy_to_XYZ(xy["D65"]), method="Von Kries", transform="Bradford"
    )
    assert np.allclose(adapt_d50_to_d65(LABS), colour.XYZ_to_Lab(moved, xy["D65"]), atol=0.02)
    assert np.allclose(adapt_d50_to_d65([70.0, 0, 0]), [70, 0, 0], atol=1e-9)


@given(st.tuples(st.floats(0, 1), st.floats(0, 1), st.floats(0, 1)))
def test_what_the_screen_can_show_comes_back(rgb: tuple[float, ...]) -> None:
    linear = np.array(rgb)
    assert bool(on_screen(linear))
    assert np.allclose(lab_to_linear_rgb(linear_rgb_to_lab(linear)), linear, atol=1e-9)
    assert np.allclose(decode_srgb(encode_srgb(linear)), linear, atol=1e-9)


@given(st.text("0123456789abcdef", min_size=6, max_size=6))
def test_hex_comes_back(digits: str) -> None:
    lab = lab_from_hex(f"#{digits}")
    assert hex_of(lab_to_linear_rgb(lab)) == f"#{digits}"


def test_a_vivid_cyan_is_out_of_the_screens_range_and_said_so() -> None:
    assert not bool(on_screen(lab_to_linear_rgb([60, -50, -50])))
    assert bool(on_screen(lab_to_linear_rgb([60, 10, 10])))
    assert hex_of(lab_to_linear_rgb([60, -50, -50])).startswith("#00")


@pytest.mark.parametrize("text", ["#12345", "red", "", "#1234567", "12 456"])
def test_what_is_no_hex_colour_is_refused(text: str) -> None:
    with pytest.raises(OutOfRangeError, match="six hexadecimal digits"):
        lab_from_hex(text)


@pytest.mark.parametrize("lab", [[101, 0, 0], [-1, 0, 0], [50, 300, 0], [50, 0, float("nan")]])
def test_impossible_lab_is_refused(lab: list[float]) -> None:
    with pytest.raises(OutOfRangeError):
        check_lab(lab)


def test_wrong_shapes_are_refused() -> None:
    with pytest.raises(ShapeError):
        reflectance_to_xyz(np.ones(30))
    with pytest.raises(ShapeError):
        check_lab([1, 2])


def test_tables_say_where_they_come_from() -> None:
    core = Path(__file__).parents[2] / "src/tidy_tinder/core"
    for table in core.rglob("*.json"):
        assert "derived by tools/" in json.loads(table.read_text(encoding="utf-8"))["note"], table
