"""Corners found in a photo, on drawings and a camera of their own; what has no four sides gets no offer."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from benchmarks.value_check import PAPER, PICTURES, draw, photographed, reference_of

from tidy_tinder.core.reference.value_check.check import check_values
from tidy_tinder.core.reference.value_check.finding import find_picture
from tidy_tinder.core.reference.value_check.ladder import ladder_of


@pytest.mark.parametrize("hard", [False, True])
def test_what_is_offered_is_right_within_a_hundredth_of_the_width(hard: bool) -> None:
    """No offer is no harm, a wrong one would be: most are found, and each of these is right."""
    offered = 0
    for seed, name in enumerate((PICTURES[0], PICTURES[1], PICTURES[2], "101")):
        rng = np.random.default_rng(311 + seed)
        drawn = draw(reference_of(name), rng, 2)
        photo, corners = photographed(drawn, rng, hard)
        found = find_picture(photo, drawn.light.shape[0] / drawn.light.shape[1])
        if found is None:
            continue
        offered += 1
        off = np.hypot(*(found * (photo.shape[1], photo.shape[0]) - corners).T) / np.hypot(*(corners[1] - corners[0]))
        assert off.max() < 0.01
    assert offered >= 2


@pytest.mark.parametrize("name", [PICTURES[0], PICTURES[1], "100"])
def test_a_part_that_is_not_drawn_yet_is_not_cut_away(name: str) -> None:
    """A quarter is bare: the four straight sides that are seen are not those of the picture."""
    rng = np.random.default_rng(312)
    drawn = draw(reference_of(name), rng, 2, unfinished=True)
    photo, _ = photographed(drawn, rng)
    assert find_picture(photo, drawn.light.shape[0] / drawn.light.shape[1]) is None


def test_nothing_is_offered_for_a_disc_bare_paper_or_a_picture_that_is_cut_off() -> None:
    paper = np.full((600, 800, 3), 0.8, np.float32)
    disc = paper.copy()
    cv2.circle(disc, (400, 300), 200, (0.1, 0.1, 0.1), -1)
    cut = paper.copy()
    cut[100:500, 300:] = 0.1
    for photo in (paper, disc, cut):
        assert find_picture(photo, 1.0) is None
    whole = paper.copy()
    whole[100:500, 200:600] = 0.1
    found = find_picture(whole, 1.0)
    assert found is not None
    assert found * (800, 600) == pytest.approx(np.array([[200, 100], [600, 100], [600, 500], [200, 500]]), abs=3)
    assert find_picture(whole, 1.4) is None


def test_a_ladder_shows_how_a_drawing_presses_the_values_together() -> None:
    """The drawings here go no darker than L* 18 to 30: what the picture has below value 2 is drawn lighter."""
    rng = np.random.default_rng(5)
    reference = reference_of("skimage/astronaut.png")
    photo, corners = photographed(draw(reference, rng, 0), rng)
    ladder = ladder_of(check_values(photo, corners, reference, PAPER))
    assert [rung.value for rung in ladder] == list(range(11))
    assert sum(rung.picture for rung in ladder) == pytest.approx(1.0)
    assert sum(rung.drawing for rung in ladder) == pytest.approx(1.0)
    assert sum(rung.picture for rung in ladder[:2]) > 0.1
    assert sum(rung.drawing for rung in ladder[:2]) < sum(rung.picture for rung in ladder[:2])
