"""One colour split in two, the order of work, sections kept as a map, and their borders as they are drawn."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.cluster.vq import kmeans2
from tests.core.painted_scenes import painted_scene, photograph

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.reference.main_colours import COLOURS_SIDE
from tidy_tinder.core.reference.sections import grid_pieces, picture_sections, pieces_from, section_grid
from tidy_tinder.core.reference.splitting import split_colour
from tidy_tinder.core.reference.turns import in_working_order
from tidy_tinder.core.reference.views import View, view_of
from tidy_tinder.core.reference.working import light_of, picture_lab
from tidy_tinder.core.reflectance.camera_space import SRGB_SPACE
from tidy_tinder.core.reflectance.colorimetry import lab_to_linear_rgb
from tidy_tinder.core.vocabulary import WorkOrder


def as_light(lab: np.ndarray) -> np.ndarray:
    return lab_to_linear_rgb(lab).astype(np.float32)


@given(
    st.tuples(st.floats(35, 80), st.floats(-20, 20), st.floats(-20, 20)),
    st.tuples(st.floats(-14, 14), st.floats(-14, 14), st.floats(-14, 14)),
)
def test_two_colours_in_one_are_found_whatever_else_is_in_the_picture(
    first: tuple[float, float, float], step: tuple[float, float, float]
) -> None:
    one, two = np.array(first), np.array(first) + np.array(step)
    if float(delta_e_2000(one, two)) < 4.0:
        return
    rng = np.random.default_rng(7)
    lab = np.empty((60, 90, 3))
    lab[:, :30], lab[:, 30:50], lab[:, 50:] = one, two, (10.0, 0.0, 0.0)
    lab[..., 0] += rng.normal(0, 0.4, lab.shape[:2])
    light, seen = as_light(lab), np.array([(one + two) / 2, (10.0, 0.0, 0.0)])
    found = split_colour(light, seen, 0)
    wanted = np.array(sorted([one, two], key=lambda c: -c[0]))
    if abs(one[0] - two[0]) < 1.0:  # which of them is the lighter one may be noise
        wanted = (
            wanted if np.linalg.norm(found.lab - wanted) < np.linalg.norm(found.lab - wanted[::-1]) else wanted[::-1]
        )
    assert np.asarray(delta_e_2000(found.lab, wanted)).max() < 1.0
    assert sorted(found.shares) == pytest.approx([20 / 90, 30 / 90], abs=0.02)
    assert all(0 < x < 50 / 90 for x in found.places[:, 0])


def test_split_against_k_means_of_scipy_from_the_same_beginning() -> None:
    """Lloyd's algorithm (Lloyd 1982) from the same two points ends in the same means."""
    rng = np.random.default_rng(3)
    lab = np.concatenate([rng.normal((62, 8, 30), 2.0, (900, 3)), rng.normal((54, 14, 22), 2.0, (900, 3))])
    picture = lab.reshape(30, 60, 3)
    found = split_colour(as_light(picture), np.array([lab.mean(axis=0)]), 0)
    seen = picture_lab(as_light(picture)).reshape(-1, 3)
    means, _ = kmeans2(seen, np.array([[62.0, 8.0, 30.0], [54.0, 14.0, 22.0]]), minit="matrix", iter=40)
    # The picture is freed of specks first, which narrows both clouds by some tenths.
    assert np.abs(found.lab - means[np.argsort(-means[:, 0])]).max() < 0.8


def test_what_is_one_colour_or_nearly_nothing_is_not_split() -> None:
    flat = np.full((40, 40, 3), (50.0, 10.0, 10.0)) + np.random.default_rng(1).normal(0, 0.5, (40, 40, 3))
    with pytest.raises(OutOfRangeError, match="one colour"):
        split_colour(as_light(flat), np.array([(50.0, 10.0, 10.0)]), 0)
    with pytest.raises(OutOfRangeError, match="Too little"):
        split_colour(as_light(flat), np.array([(50.0, 10.0, 10.0), (90.0, 0.0, 0.0)]), 1)


@given(st.lists(st.floats(0, 100), max_size=40))
def test_each_order_of_work_names_every_colour_once(values: list[float]) -> None:
    for order in WorkOrder:
        assert sorted(in_working_order(values, order)) == list(range(len(values)))
    falling = [values[i] for i in in_working_order(values, WorkOrder.LIGHT_TO_DARK)]
    assert falling == sorted(values, reverse=True)
    assert [values[i] for i in in_working_order(values, WorkOrder.DARK_FIRST)] == sorted(values)


def test_middle_out_begins_in_the_middle_and_ends_at_the_ends() -> None:
    """Common practice, no source."""
    assert in_working_order([90, 10, 52, 70, 30], WorkOrder.MIDDLE_OUT) == [2, 3, 4, 0, 1]


def test_a_map_of_sections_that_was_kept_is_the_one_that_was_made() -> None:
    lab = picture_lab(light_of(photograph("skimage/coffee.png"), SRGB_SPACE, COLOURS_SIDE))
    made = picture_sections(lab, 297, 210)
    kept = pieces_from(made.section, 297, 210)
    assert kept.cm2 == pytest.approx(made.cm2)
    assert kept.centres == pytest.approx(made.centres)
    grid = grid_pieces(section_grid(297, 210))
    assert pieces_from(grid.section, 297, 210).cm2 == pytest.approx(grid.cm2)
    assert pieces_from(grid.section, 297, 210).centres == pytest.approx(grid.centres)


def test_borders_stand_where_sections_meet_and_nowhere_else() -> None:
    light = light_of(painted_scene(5, 300, 400).pixels, SRGB_SPACE)
    plain = view_of(light, View())
    sections = np.zeros((30, 40), dtype=np.uint8)
    sections[:, 22:] = 1
    drawn = view_of(light, View(), sections=sections)
    changed = np.flatnonzero((drawn != plain).any(axis=-1).any(axis=0))
    assert abs(changed - 220).max() <= 4
    assert (drawn[:, 220] == 0).all()
    assert (drawn[:, 219] == 255).all()
    assert np.array_equal(view_of(light, View(), sections=np.zeros((3, 4), dtype=np.uint8)), plain)
    turned = view_of(light, View(upside_down=True), sections=sections)
    assert np.array_equal(turned, drawn[::-1, ::-1])


def test_a_grid_in_cm_ends_with_what_is_left() -> None:
    """On 25 cm, lines every 10 cm stand at 10 and 20 cm, and the last field has 5."""
    light = np.full((100, 250, 3), 0.2, dtype=np.float32)
    drawn = view_of(light, View(grid=(2.5, 1.0)))
    assert [x for x in range(250) if (drawn[:, x] == 0).all()] == [100, 200]
