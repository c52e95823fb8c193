"""A picture's range on a paper: order stays, what is reached stays, ends meet what the paper reaches."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.reference.mapping import range_map


@given(st.floats(0, 30), st.floats(70, 100), st.floats(0, 45), st.floats(55, 100))
def test_order_stays_and_the_ends_meet_the_papers(low: float, high: float, dark: float, pale: float) -> None:
    steps = np.linspace(low, high, 200)
    mapped = range_map(np.stack([steps, steps * 0, steps * 0], -1), dark, pale).lightness(steps)
    assert (np.diff(mapped) > 0).all()
    assert mapped[0] == pytest.approx(max(low, dark))
    assert mapped[-1] == pytest.approx(min(high, pale))


def test_what_is_reached_stays_as_it_is() -> None:
    picture = np.array([[10.0, 0, 0], [95, 0, 0]])
    within = range_map(picture, 5.0, 98.0)
    assert not within.bends
    assert np.allclose(within.lightness([10, 40, 95]), [10, 40, 95])
    # Ten short at the dark end: bent up to three times as far, straight from there on.
    short = range_map(picture, 20.0, 98.0)
    assert short.bends
    assert np.allclose(short.lightness([40, 60, 95]), [40, 60, 95])
    assert short.lightness(20.0) == pytest.approx(20 + 10 * (20 / 30) ** 2)


def test_hue_and_chroma_are_left() -> None:
    picture = np.array([[5.0, 10, -20], [90, 3, 4]])
    assert np.allclose(range_map(picture, 25.0, 80.0).lab(picture)[:, 1:], picture[:, 1:])


def test_no_range_is_refused() -> None:
    with pytest.raises(OutOfRangeError, match="at least one colour"):
        range_map(np.zeros((0, 3)), 10, 90)
    with pytest.raises(OutOfRangeError, match="dark to light"):
        range_map(np.zeros((1, 3)), 90, 10)
