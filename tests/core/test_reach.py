"""How far a collection reaches: literal colours on both sides of each limit (the limits are ours)."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.standins.reach import Beyond, shortfalls


def at(L: float, chroma: float, hue: float) -> np.ndarray:
    return np.array([L, chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))])


def beyond(wanted: np.ndarray, *colours: np.ndarray) -> list[Beyond]:
    return [one.beyond for one in shortfalls(wanted, np.array(colours))]


@pytest.mark.parametrize(("L", "says"), [(51.9, []), (52.1, [Beyond.DARKER]), (48.1, []), (47.9, [Beyond.LIGHTER])])
def test_two_steps_of_lightness_are_forgiven(L: float, says: list[Beyond]) -> None:
    assert beyond(at(50, 40, 30), at(L, 40, 30)) == says


@pytest.mark.parametrize(("chroma", "says"), [(37.1, []), (36.9, [Beyond.MORE_VIVID])])
def test_three_steps_of_chroma_are_forgiven(chroma: float, says: list[Beyond]) -> None:
    assert beyond(at(50, 40, 30), at(50, chroma, 30)) == says


def test_it_is_by_how_much_and_which_comes_nearest() -> None:
    (one,) = shortfalls(at(30, 40, 30), np.array([at(48, 40, 30), at(42, 40, 35), at(36, 40, 100)]))
    assert (one.beyond, one.nearest) == (Beyond.DARKER, 1)
    assert one.by == pytest.approx(12.0)
    (one,) = shortfalls(at(70, 40, 30), np.array([at(52, 40, 30), at(61, 40, 35), at(66, 40, 100)]))
    assert (one.beyond, one.nearest) == (Beyond.LIGHTER, 1)
    assert one.by == pytest.approx(9.0)
    (one,) = shortfalls(at(50, 40, 30), np.array([at(50, 30, 30), at(50, 34, 35)]))
    assert (one.beyond, one.nearest) == (Beyond.MORE_VIVID, 1)
    assert one.by == pytest.approx(6.0)


def test_vividness_is_compared_at_about_the_same_lightness_only() -> None:
    """A vivid colour nine steps lighter does not make the wanted one reachable; one at seven steps does."""
    assert beyond(at(50, 60, 30), at(59, 70, 30), at(45, 40, 30)) == [Beyond.MORE_VIVID]
    assert beyond(at(50, 60, 30), at(57, 70, 30), at(45, 40, 30)) == []


def test_a_hue_is_kept_within_twenty_degrees_across_0_too() -> None:
    for hue, others in ((30.0, (49.0, 11.0)), (5.0, (24.0, 346.0)), (355.0, (14.0, 336.0))):
        for near in others:
            assert beyond(at(50, 40, hue), at(50, 40, near)) == []
    for far in (51.0, 9.0):
        (one,) = shortfalls(at(50, 40, 30), np.array([at(50, 40, far)]))
        assert one.beyond is Beyond.OF_ANOTHER_HUE
        assert one.by == pytest.approx(21.0)


def test_half_of_the_chroma_must_be_there_for_a_hue() -> None:
    """A dark of hardly any chroma is no dark red: it is short of vividness, not reached."""
    assert beyond(at(30, 40, 30), at(30, 19, 30)) == [Beyond.MORE_VIVID]
    assert beyond(at(30, 40, 30), at(30, 21, 30)) == [Beyond.MORE_VIVID]
    assert beyond(at(30, 40, 30), at(20, 19, 30), at(30, 40, 35)) == []
    # With it lower in chroma than half, the dark at hand does not count as one: the other is too light.
    assert beyond(at(30, 40, 30), at(20, 19, 30), at(40, 40, 30)) == [Beyond.DARKER]


def test_any_grey_will_do_for_a_grey() -> None:
    assert beyond(at(50, 3, 30), at(50, 9, 210)) == []
    assert beyond(at(50, 3, 30), at(50, 12, 210)) == [Beyond.OF_ANOTHER_HUE]
    assert shortfalls(at(50, 3, 30), np.zeros((0, 3))) == ()
