"""Sections of a drawing: their areas, wherever arithmetic allows, and that they hang together."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.painted_scenes import as_lab_image, photograph

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.reference.sections import picture_sections, section_grid

# ISO 216: A5, A4, A3, A2 in mm.
A_SIZES = [(148, 210), (210, 297), (297, 420), (420, 594)]


@pytest.mark.parametrize(("width", "height"), A_SIZES[1:])
def test_usual_papers_have_sections_of_26_to_32_cm2(width: float, height: float) -> None:
    grid = section_grid(width, height)
    assert grid.usual
    assert 1 / 1.6 <= grid.width_mm / grid.height_mm <= 1.6
    assert grid.columns * grid.width_mm == pytest.approx(width)
    assert grid.rows * grid.height_mm == pytest.approx(height)


def test_what_no_grid_allows_is_said() -> None:
    """54 × 62 mm has 33.5 cm² as one section and 16.7 as two."""
    assert not section_grid(54, 62).usual
    assert section_grid(54, 62).cm2 == pytest.approx(33.48)


@given(st.floats(40, 900), st.floats(40, 900))
def test_no_grid_nearer_to_the_usual_was_left_aside(width: float, height: float) -> None:
    grid = section_grid(width, height)
    if grid.usual:
        return
    for n in range(1, 16):
        for m in range(1, 16):
            wide, high = width / n, height / m
            usual = 2600 <= wide * high <= 3200 and max(wide / high, high / wide) <= 1.6
            assert not usual, (n, m)


@pytest.mark.parametrize(("width", "height"), [*A_SIZES[:3], (300, 400)])
def test_sections_by_the_pictures_shapes_are_of_one_size_and_in_one_piece(width: float, height: float) -> None:
    pieces = picture_sections(as_lab_image(photograph("sklearn/china.jpg")), width, height)
    assert pieces.cm2.sum() == pytest.approx(width * height / 100)
    assert ((pieces.cm2 >= 26) & (pieces.cm2 <= 32)).all()
    for i in range(len(pieces.cm2)):
        count, _ = cv2.connectedComponents((pieces.section == i).astype(np.uint8), connectivity=4)
        assert count - 1 == 1, i


def test_sections_follow_the_colours() -> None:
    """Less of the picture lies in a section that is mostly of the other colour than with sections by place alone."""
    lab = np.full((200, 280, 3), (30.0, 20, 10))
    lab[:, 112:] = (75.0, -20, 10)
    strays = []
    for weight in (0.25, 0.0):
        section = picture_sections(lab, 420, 297, weight).section
        light = (np.arange(section.shape[1]) + 0.5) / section.shape[1] > 0.4
        sides = np.array([np.bincount(section[:, side].ravel(), minlength=64) for side in (light, ~light)])
        strays.append(sides.min(axis=0).sum() / section.size)
    assert strays[0] < 0.6 * strays[1]


@pytest.mark.parametrize("size", [(10, 200), (200, 5000)])
def test_sizes_that_are_none_are_refused(size: tuple[float, float]) -> None:
    with pytest.raises(OutOfRangeError, match="40 to 1500 mm"):
        section_grid(*size)
