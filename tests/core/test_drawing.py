"""The drawing pair: what the browser will blend has the mean that was asked for."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.marks.drawing import drawing_pairs
from tidy_tinder.core.reflectance.colorimetry import (
    decode_srgb,
    encode_srgb,
    lab_to_linear_rgb,
    linear_rgb_to_lab,
    on_screen,
)

GRAIN = Path(__file__).parents[2] / "frontend/public/grain"
BUFF = (77.7, 0.8, 17.5)


def blended_mean(mask: int, film: np.ndarray, paper: tuple[float, float, float]) -> np.ndarray:
    """What a browser shows, pixel by pixel from the shipped tile, averaged in linear light."""
    if mask == 100:
        opacity = np.ones((4, 4))
    else:
        opacity = np.asarray(Image.open(GRAIN / f"{mask:02d}.png").convert("RGBA"))[..., 3] / 255.0
    behind = np.rint(encode_srgb(lab_to_linear_rgb(paper)) * 255)
    shown = np.rint(film * opacity[..., None] + behind * (1 - opacity[..., None])) / 255
    return np.asarray(linear_rgb_to_lab(decode_srgb(shown).mean(axis=(0, 1))))


lab = st.tuples(st.floats(20, 95), st.floats(-60, 60), st.floats(-60, 60))


@given(lab, st.sampled_from([0.9, 0.7, 0.45, 0.3]), st.sampled_from([BUFF, (96.0, 0.0, 1.0), (25.4, 0.0, 0.6)]))
def test_the_tiles_give_the_mean_that_was_asked_for(
    wanted: tuple[float, ...], coverage: float, paper: tuple[float, float, float]
) -> None:
    pairs = drawing_pairs(np.array([wanted]), paper, coverage)
    assert bool(pairs.on_screen[0]) == bool(on_screen(lab_to_linear_rgb(wanted)))
    if pairs.on_screen[0]:
        mean = blended_mean(int(pairs.mask_step[0]), pairs.film[0], paper)
        # Dark films have coarse 8-bit codes; the eye sees nothing below 1 (the pixel test allows 1.5).
        assert float(delta_e_2000(mean, wanted)) < 1.0


def test_the_mask_starts_at_the_coverage_and_rises_only_as_far_as_needed() -> None:
    pale, dark = [73.0, 3.0, 20.0], [25.0, 0.0, 0.0]
    pairs = drawing_pairs(np.array([pale, dark]), BUFF, 0.3)
    assert pairs.mask_step[0] == 30
    assert pairs.mask_step[1] > 60
    assert np.all(pairs.film >= 0)
    assert np.all(pairs.film <= 255)


def test_a_colour_beyond_the_screen_is_flagged_and_covers_fully() -> None:
    pairs = drawing_pairs(np.array([[60.0, -50.0, -50.0]]), BUFF, 0.9)
    assert not pairs.on_screen[0]
    assert pairs.mask_step[0] == 100


def test_the_reported_mean_is_that_of_the_tiles() -> None:
    pairs = drawing_pairs(np.array([[50.0, 40.0, 20.0]]), BUFF, 0.7)
    assert np.allclose(pairs.mean[0], blended_mean(int(pairs.mask_step[0]), pairs.film[0], BUFF), atol=0.3)


def test_tiles_have_no_seam_and_cover_evenly() -> None:
    """Any window the size of a small mark's third covers about the same share."""
    tile = np.asarray(Image.open(GRAIN / "60.png").convert("RGBA"))[..., 3] / 255.0
    wrapped = np.tile(tile, (2, 2))
    shares = [wrapped[y : y + 24, x : x + 33].mean() for y in range(0, 180, 15) for x in range(0, 180, 15)]
    assert np.std(shares) < 0.02
    # A seam would be an edge: neighbouring rows across it differ no more than any others do.
    steps = np.abs(np.diff(np.vstack([tile, tile[:1]]), axis=0)).mean(axis=1)
    assert steps[-1] < steps[:-1].max()


def test_wrong_shape_is_refused() -> None:
    with pytest.raises(ShapeError):
        drawing_pairs(np.array([50.0, 0, 0]), BUFF, 0.9)
