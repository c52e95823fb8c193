"""What the eye gets wrong of a colour, in words (common practice; simultaneous contrast: Chevreul 1839)."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.reference.words import name_of, words_of

NONE = np.zeros((0, 3))


@pytest.mark.parametrize(
    ("lab", "name"),
    [
        ((97, 0, 0), "a white"),
        ((82, 2, 4), "a light warm grey"),
        ((30, -1, -4), "a dark cool grey"),
        ((6, 0, 0), "a black"),
        ((48, 62, 40), "a middle vivid red"),
        ((28, 12, 16), "a dark dull brown"),
        ((85, 5, 70), "a light vivid yellow"),
        ((52, -40, 25), "a middle green"),
        ((35, 10, -45), "a dark blue"),
    ],
)
def test_colours_are_named_plainly(lab: tuple[float, float, float], name: str) -> None:
    assert name_of(np.array(lab, dtype=float)) == name


@pytest.mark.parametrize(
    ("lab", "said"),
    [
        ((82, 2, 4), ("Value 8: not white.",)),
        ((30, -1, -4), ("Value 3: not black.",)),
        ((98, 0, 0), ()),
        ((5, 0, 0), ()),
        ((30, 40, 20), ()),
    ],
)
def test_greys_are_told_from_white_and_black(lab: tuple[float, float, float], said: tuple[str, ...]) -> None:
    assert words_of(np.array(lab, dtype=float), None, NONE).beware == said


@pytest.mark.parametrize(
    ("surround", "said"),
    [
        ((20, 30, 30), "Looks lighter than it is: it stands in the dark."),
        ((90, 30, 30), "Looks darker than it is: it stands in light."),
        ((55, 30, 45), "Looks cooler than it is among warmer colours."),
        ((55, 0, -30), "Looks warmer than it is among cooler colours."),
    ],
)
def test_a_surround_changes_what_is_seen(surround: tuple[float, float, float], said: str) -> None:
    beware = words_of(np.array([55.0, 15, 18]), np.array(surround, dtype=float), NONE).beware
    assert said in beware


def test_the_nearest_other_is_told_with_how_it_parts() -> None:
    others = np.array([[80.0, 0, 0], [52, 21, 20], [10, 0, 0]])
    nearest = words_of(np.array([50.0, 20, 20]), None, others).nearest
    assert nearest is not None
    assert nearest[0] == 1
    assert any("lighter" in word for word in nearest[1].words)
    assert words_of(np.array([50.0, 20, 20]), None, NONE).nearest is None


def test_several_at_once_are_refused() -> None:
    with pytest.raises(ShapeError):
        words_of(np.zeros((2, 3)), None, NONE)
