"""Views of a picture against exact reckonings of others: the blur of scipy, Otsu's borders of scikit-image, CAT16."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import gaussian_filter
from skimage.filters import threshold_multiotsu
from tests.core.painted_scenes import as_jpeg, photograph

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.reference.adjusting import (
    Adjustments,
    adjusted,
    neutralising,
    place_in_adjusted,
    place_in_original,
    with_contrast,
)
from tidy_tinder.core.reference.islands import without_islands
from tidy_tinder.core.reference.squint import squint
from tidy_tinder.core.reference.views import View, view_of
from tidy_tinder.core.reference.warmth import warmth
from tidy_tinder.core.reference.working import Light, light_of, picture_lab, working_copy
from tidy_tinder.core.reference.zones import ZONES_SIDE, Steps, smooth_lightness, thresholds_of, value_zones
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE
from tidy_tinder.core.reflectance.colorimetry import (
    WHITE_D65,
    lab_to_linear_rgb,
    lab_to_xyz,
    linear_rgb_to_lab,
    xyz_to_lab,
)


def light(name: str, longest: int | None = None) -> Light:
    return light_of(photograph(name), SRGB_SPACE, longest)


@pytest.mark.parametrize(("share", "within"), [(0.003, 0.25), (0.01, 0.25), (0.02, 1.0), (0.04, 1.5)])
@pytest.mark.parametrize("name", ["skimage/astronaut.png", "sklearn/china.jpg"])
def test_a_squint_is_the_exact_gauss_of_scipy_in_linear_light(name: str, share: float, within: float) -> None:
    sharp = light(name)
    exact = np.stack(
        [gaussian_filter(sharp[..., i].astype(float), share * sharp.shape[1], mode="nearest", truncate=6)
         for i in range(3)], -1,
    )  # fmt: skip
    off = np.abs(picture_lab(squint(sharp, share))[..., 0] - linear_rgb_to_lab(exact)[..., 0])
    assert np.percentile(off, 99) <= within


def test_blurring_coded_values_instead_would_be_wrong_by_a_value_step() -> None:
    """What the linear light is for: 7-reference gives 6 to 8 L* for it."""
    pixels = np.zeros((64, 256, 3), dtype=np.uint8)
    pixels[:, ::8] = 255
    linear = picture_lab(squint(light_of(pixels, SRGB_SPACE), 0.02))[32, 128, 0]
    assert linear == pytest.approx(linear_rgb_to_lab(np.full(3, 1 / 8))[0], abs=0.5)
    coded = linear_rgb_to_lab(np.full(3, (1 / 8 / 1.0) ** 2.2))[0]
    assert linear - coded > 6


def test_a_smaller_copy_keeps_the_light() -> None:
    """Lines of black and white have half of the light: level 188 in sRGB (IEC 61966-2-1), not 128."""
    pixels = np.zeros((400, 600, 3), dtype=np.uint8)
    pixels[:, ::2] = 255
    assert np.abs(working_copy(pixels, SRGB_SPACE, 150).pixels.astype(int) - 188).max() <= 1
    assert light_of(pixels, SRGB_SPACE, 150).mean() == pytest.approx(0.5, abs=1e-3)
    assert working_copy(pixels, SRGB_SPACE, 150).pixels.shape == (100, 150, 3)


def test_zones_where_they_must_agree_lie_where_otsu_puts_them() -> None:
    """Three plateaus with noise: fitted borders are those of scikit-image's multi-Otsu (Otsu 1979), which minimise the
    same variance; the histogram of 256 bins there leaves half a bin.
    """
    rng = np.random.default_rng(0)
    L = np.repeat([20.0, 45.0, 80.0], 4000).reshape(120, 100) + rng.normal(0, 4, (120, 100))
    fitted = thresholds_of(L.astype(np.float32), 3, Steps.FITTED)
    otsu = threshold_multiotsu(L, classes=3)
    counts = [np.bincount(np.digitize(L.ravel(), borders), minlength=3) for borders in (fitted, otsu)]
    assert np.abs(counts[0] - counts[1]).max() <= 20


@pytest.mark.parametrize("name", ["skimage/chelsea.png", "skimage/hubble_deep_field.jpg", "sklearn/flower.jpg"])
@pytest.mark.parametrize("count", [3, 9])
def test_zones_have_no_islands_and_hold_under_a_crop_and_a_jpeg(name: str, count: int) -> None:
    smooth = smooth_lightness(light(name, ZONES_SIDE))
    zones = value_zones(smooth, thresholds_of(smooth, count))
    again = without_islands(zones.zone, round(0.0005 * zones.zone.size))
    assert np.array_equal(again, zones.zone)
    assert zones.shares.sum() == pytest.approx(1.0)
    assert (np.diff(zones.means) > 0).all()
    poor = as_jpeg(photograph(name)[8:-8, 8:-8], 60)
    moved = thresholds_of(smooth_lightness(light_of(poor, SRGB_SPACE, ZONES_SIDE)), count)
    assert np.abs(moved - zones.thresholds).max() <= 2.0


def test_an_island_goes_to_the_neighbour_with_the_longest_border() -> None:
    zone = np.zeros((20, 20), dtype=np.uint8)
    zone[:, 10:] = 2
    zone[9:12, 8:11] = 1
    cleaned = without_islands(zone, 12)
    assert not (cleaned == 1).any()
    # Two of its three columns lie on the left.
    assert (cleaned[9:12, 8:11] == 0).all()


def test_warm_and_cool_are_told_against_the_pictures_own_middle() -> None:
    """Orange is warm and blue cool (common practice, no source); a warm light shifts the middle, not the two."""
    lab = np.full((10, 30, 3), (60.0, 0.0, 0.0))
    lab[:, :10], lab[:, 20:] = (60, 25, 35), (50, -5, -35)
    for warmer in (0.0, 15.0):
        found = warmth(lab + np.array([0, warmer, warmer]))
        assert found.warm[:, :10].all()
        assert found.cool[:, 20:].all()
        assert not (found.warm | found.cool)[:, 10:20].any()


def test_views_of_grey_are_grey_and_upside_down_is_a_half_turn() -> None:
    picture = light("skimage/coffee.png", 300)
    for view in (View(grey=True), View(zones=(30.0, 60.0)), View(warm_cool=True), View(grey=True, squint=0.01)):
        shown = view_of(picture, view)
        assert (shown.max(axis=-1) == shown.min(axis=-1)).all()
    plain, turned = view_of(picture, View()), view_of(picture, View(upside_down=True))
    assert np.array_equal(np.rot90(plain, 2), turned)
    # A grey has the picture's own L*: half a level of 8 bits is .3 L* at most above the darks.
    L = picture_lab(picture)[..., 0]
    greys = picture_lab(light_of(view_of(picture, View(grey=True)), SRGB_SPACE))[..., 0]
    assert np.abs(greys - L)[L > 10].max() < 0.35


def test_what_is_marked_is_hatched_and_nothing_else() -> None:
    picture = light("skimage/coffee.png", 300)
    marked = np.zeros((20, 30), dtype=bool)
    marked[:, :15] = True
    plain, shown = view_of(picture, View()), view_of(picture, View(), marked)
    half = plain.shape[1] // 2
    assert np.array_equal(plain[:, half:], shown[:, half:])
    assert 0.1 < (plain[:, :half] != shown[:, :half]).any(axis=-1).mean() < 0.3


@given(st.floats(20, 95), st.floats(-25, 25), st.floats(-25, 25))
def test_neutralising_is_the_von_kries_of_colour_science_in_cat16(L: float, a: float, b: float) -> None:
    tapped = np.array([L, a, b])
    xyz = lab_to_xyz(tapped)
    grey = linear_rgb_to_lab(neutralising(tapped) @ lab_to_linear_rgb(tapped))
    assert np.allclose(grey, (L, 0, 0), atol=1e-6)
    other = np.array([0.3, 0.25, 0.4])
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # colour-science warns of optional packages when it is imported
        from colour.adaptation import chromatic_adaptation_VonKries
    theirs = chromatic_adaptation_VonKries(other, xyz, WHITE_D65 * xyz[1], transform="CAT16")
    ours = linear_rgb_to_lab(neutralising(tapped) @ lab_to_linear_rgb(xyz_to_lab(other)))
    # Their matrices have six digits, as ours have.
    assert np.allclose(lab_to_xyz(ours), theirs, atol=2e-5)


@pytest.mark.parametrize(
    ("tapped", "said"),
    [((10, 0, 0), "too dark"), ((50, 60, 20), "too strong a colour"), ((np.nan, 0, 0), "is a colour")],
)
def test_what_can_be_no_grey_is_refused(tapped: tuple[float, float, float], said: str) -> None:
    with pytest.raises(OutOfRangeError, match=said):
        neutralising(np.array(tapped, dtype=float))


def test_contrast_leaves_the_middle_and_stretches_the_rest() -> None:
    lab = np.array([[[30.0, 10, 5], [50, -10, 5], [60, 0, 20]]])
    stretched = picture_lab(with_contrast(lab_to_linear_rgb(lab).astype(np.float32), 1.5))
    assert np.allclose(stretched[..., 0], [[20, 50, 65]], atol=0.01)
    assert np.allclose(stretched[..., 1:], lab[..., 1:], atol=0.05)


@given(
    st.integers(0, 3), st.booleans(), st.floats(0, 0.4), st.floats(0.6, 1), st.floats(0, 0.4), st.floats(0.6, 1),
    st.floats(0, 1), st.floats(0, 1),
)  # fmt: skip
def test_a_place_is_found_again_in_the_picture_as_it_came(
    turns: int, mirrored: bool, left: float, right: float, top: float, bottom: float, x: float, y: float
) -> None:
    steps = Adjustments(quarter_turns=turns, mirrored=mirrored, crop=(left, top, right, bottom))
    assert np.allclose(place_in_adjusted(*place_in_original(x, y, steps), steps), (x, y), atol=1e-9)


@pytest.mark.parametrize("turns", [0, 1, 2, 3])
@pytest.mark.parametrize("mirrored", [False, True])
def test_places_follow_the_pixels(turns: int, mirrored: bool) -> None:
    picture = np.zeros((40, 60, 3), dtype=np.float32)
    picture[5, 50] = 1.0
    steps = Adjustments(quarter_turns=turns, mirrored=mirrored)
    shown = adjusted(picture, steps)
    y, x = np.argwhere(shown[..., 0] == 1.0)[0]
    there = place_in_original((x + 0.5) / shown.shape[1], (y + 0.5) / shown.shape[0], steps)
    assert np.allclose(there, (50.5 / 60, 5.5 / 40))


@pytest.mark.parametrize(
    ("steps", "said"),
    [
        (Adjustments(crop=(0.5, 0, 0.4, 1)), "left before right"),
        (Adjustments(crop=(0.5, 0, 0.505, 1)), "at least 2%"),
        (Adjustments(contrast=3), "Contrast is"),
        (Adjustments(quarter_turns=5), "0 to 3 quarters"),
    ],
)
def test_steps_that_make_no_sense_are_refused(steps: Adjustments, said: str) -> None:
    with pytest.raises(OutOfRangeError, match=said):
        adjusted(np.zeros((9, 9, 3), dtype=np.float32), steps)


@pytest.mark.parametrize("borders", [(60.0, 30.0), (30.0,), tuple(range(1, 11)), (30.0, float("nan"))])
def test_borders_that_are_none_are_refused(borders: tuple[float, ...]) -> None:
    with pytest.raises(OutOfRangeError, match="rise from dark to light"):
        value_zones(np.zeros((9, 9), dtype=np.float32), borders)
    with pytest.raises(OutOfRangeError, match="3 to 9 value zones"):
        thresholds_of(np.zeros((9, 9), dtype=np.float32), 2)
    with pytest.raises(OutOfRangeError, match="squint blurs by"):
        squint(np.zeros((9, 9, 3), dtype=np.float32), 0.2)
