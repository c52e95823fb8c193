"""The box round a colour holds all that CIEDE2000 puts within the bound: a search may trust it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.difference.box import box_round
from tidy_tinder.core.difference.priorities import Closest, weighted_difference

labs = st.tuples(st.floats(0, 100), st.floats(-110, 110), st.floats(-110, 110)).map(np.array)


@given(labs, labs, st.sampled_from(Closest), st.floats(0.05, 1.0))
def test_nothing_within_the_bound_lies_outside_the_box(
    centre: np.ndarray, other: np.ndarray, closest: Closest, near: float
) -> None:
    # Steps of every size: from far to hardly different.
    other = centre + near**3 * (other - centre)
    apart = float(weighted_difference(centre, other, closest))
    box = box_round(centre, apart, closest)
    assert abs(other[0] - centre[0]) <= box.lightness + 1e-9
    assert np.hypot(*(other - centre)[1:]) <= box.chroma + 1e-9


@pytest.mark.parametrize("hue", range(180, 360, 10))
def test_the_box_is_kept_where_the_rotation_of_blues_is_strongest(hue: int) -> None:
    """R_T couples chroma and hue most at 275° (Sharma, Wu, Dalal 2005), where colours can be nearer than they look."""
    rng = np.random.default_rng(hue)
    centre = np.array([45.0, 60 * np.cos(np.radians(hue)), 60 * np.sin(np.radians(hue))])
    others = centre + rng.normal(0, 6, (4000, 3))
    apart = weighted_difference(centre, others, Closest.OVERALL)
    for bound in (1.0, 3.0):
        box = box_round(centre, bound)
        near = others[apart <= bound]
        assert np.all(np.abs(near[:, 0] - 45.0) <= box.lightness)
        assert np.all(np.hypot(*(near - centre)[:, 1:].T) <= box.chroma)


def test_a_small_bound_makes_a_small_box_and_a_large_one_none() -> None:
    grey = box_round(np.array([50.0, 0.0, 0.0]), 1.0)
    # At grey 1 ΔE00 is a step of 1 in C' and, with 25 L* to either end, of up to 1.5 in L*.
    assert 1.0 <= grey.chroma < 1.1
    assert 1.0 <= grey.lightness < 1.5
    assert np.isinf(box_round(np.array([50.0, 0.0, 0.0]), 60.0).chroma)
