"""Fade tests: ΔE*ab against colour-science, classes at the standard's limits, what a doubtful reading may not say."""

from __future__ import annotations

import warnings
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.fading.change import change_between
from tidy_tinder.core.fading.classes import (
    LIMITS,
    FadeClass,
    class_of,
    classes_within,
    held_classes,
    in_one_word,
    lasts,
    shown_by_wool,
    worse,
    worst_of,
)
from tidy_tinder.core.fading.reminding import next_reading


def test_delta_e_ab_is_that_of_cie_1976() -> None:
    """Against colour-science 0.4.7, `delta_E_CIE1976` and `delta_E_CIE2000`."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # it misses a plotting library that is not needed
        import colour

    rng = np.random.default_rng(7)
    for one, other in rng.uniform((0, -80, -80), (100, 80, 80), (200, 2, 3)):
        change = change_between(one, other, 0.0, 0.0)
        assert change.delta_e_ab == pytest.approx(float(colour.difference.delta_E_CIE1976(one, other)), abs=1e-9)
        assert change.delta_e_2000 == pytest.approx(float(colour.difference.delta_E_CIE2000(one, other)), abs=1e-6)


@pytest.mark.parametrize(
    ("delta_e", "of"),
    [
        (0.0, "I"), (4.0, "I"), (4.01, "II"), (8.0, "II"), (8.01, "III"), (16.0, "III"), (16.01, "IV"), (24.0, "IV"),
        (24.01, "V"), (90.0, "V"),
    ],
)  # fmt: skip
def test_classes_at_the_edges_of_the_standard(delta_e: float, of: str) -> None:
    """ASTM D4303: I to 4, II to 8, III to 16, IV to 24, V above (from memory)."""
    assert class_of(delta_e) == of


def test_no_class_is_told_that_the_reading_cannot_tell() -> None:
    """A reading right at a limit, each half off by half a ΔE: nine of ten such changes lie on either side of it."""
    grey = np.array([50.0, 0.0, 0.0])
    for i, limit in enumerate(LIMITS):
        at = change_between(grey, grey + np.array([limit, 0.0, 0.0]), 0.5, 0.5)
        assert at.classes == tuple(FadeClass)[i : i + 2]
        assert at.low < limit < at.high
        sure = change_between(grey, grey + np.array([limit - 1.5, 0.0, 0.0]), 0.5, 0.5)
        assert sure.classes == (tuple(FadeClass)[i],)


def test_nine_of_ten_changes_lie_within_their_range() -> None:
    """Simulated readings of a change of 10, each off by a half along every axis."""
    rng = np.random.default_rng(1)
    before, after = np.array([60.0, 20.0, 10.0]), np.array([66.0, 12.0, 10.0])
    inside = []
    for _ in range(2000):
        noise = rng.normal(size=(2, 3)) * 0.5
        change = change_between(before + noise[0], after + noise[1], 0.5, 0.5)
        inside.append(change.low <= 10.0 <= change.high)
    assert 0.88 <= np.mean(inside) <= 0.93


@given(st.floats(0, 60), st.floats(0, 20))
def test_a_wider_range_means_more_classes_never_fewer(low: float, wide: float) -> None:
    narrow, broad = classes_within(low, low), classes_within(max(low - wide, 0.0), low + wide)
    assert set(narrow) <= set(broad)
    assert list(broad) == sorted(broad, key=list(FadeClass).index)


def test_what_has_faded_counts_at_once() -> None:
    for charted in ("", "I", "II", "III"):
        assert held_classes((FadeClass.III,), None, charted) == (FadeClass.III,)
    assert held_classes((FadeClass.II, FadeClass.III), None, "I") == (FadeClass.II, FadeClass.III)


def test_what_has_not_faded_yet_is_believed_only_as_far_as_the_light_has_shown() -> None:
    """Blue wools by ISO 105-B01; which stands for which class is common practice (from memory)."""
    good = (FadeClass.I,)
    assert held_classes(good, None, "") == ()
    assert held_classes(good, None, "IV") == ()
    assert held_classes(good, 3, "IV") == ()
    assert held_classes(good, 6, "IV") == ()
    assert held_classes(good, 7, "IV") == good
    assert held_classes((FadeClass.II,), 6, "V") == (FadeClass.II,)
    assert held_classes(good, None, "I") == good
    assert held_classes((), 8, "I") == ()


def test_a_higher_wool_never_shows_less() -> None:
    shown = [shown_by_wool(wool) for wool in range(1, 9)]
    assert not any(worse(later, earlier) for earlier, later in pairwise(shown))


def test_what_may_be_worse_is_not_held_to_last() -> None:
    assert lasts("I")
    assert lasts("II")
    assert lasts(in_one_word((FadeClass.I, FadeClass.II)))
    assert not lasts(in_one_word((FadeClass.II, FadeClass.III)))
    assert not lasts("")
    assert not lasts("***")
    assert in_one_word(()) == ""


@pytest.mark.parametrize(
    ("last", "due"), [(None, 30), (0, 30), (29, 30), (30, 90), (95, 180), (180, None), (400, None)]
)
def test_a_strip_is_to_be_read_again_after_30_90_and_180_days(last: int | None, due: int | None) -> None:
    assert next_reading(last) == due


def test_what_cannot_be_is_refused() -> None:
    grey = np.array([50.0, 0.0, 0.0])
    with pytest.raises(OutOfRangeError):
        change_between(grey, grey, -1.0, 0.0)
    with pytest.raises(OutOfRangeError):
        change_between(grey, grey, float("nan"), 0.0)
    with pytest.raises(ShapeError):
        change_between(grey[:2], grey, 0.0, 0.0)
    for wool in (0, 9):
        with pytest.raises(OutOfRangeError):
            shown_by_wool(wool)
    for wrong in (-1.0, float("nan")):
        with pytest.raises(OutOfRangeError):
            class_of(wrong)


def test_a_change_smaller_than_its_doubt_may_be_none_but_never_less() -> None:
    change = change_between(np.array([50.0, 10.0, 10.0]), np.array([50.2, 10.0, 10.0]), 0.5, 0.5)
    assert change.low == 0.0
    assert change.high > change.delta_e_ab == pytest.approx(0.2)


def test_of_several_tests_the_worst_counts_by_what_it_may_be_at_worst() -> None:
    one, two, three, four = (FadeClass(name) for name in ("I", "II", "III", "IV"))
    assert worst_of([(one,), (two,), ()]) == (two,)
    # “II to IV” may be worse than “III”; of two that may be as bad, the one that is no better at best.
    assert worst_of([(three,), (two, three, four)]) == (two, three, four)
    assert worst_of([(two, three, four), (three, four)]) == (three, four)
    assert worst_of([(three, four), (two, three, four)]) == (three, four)
    assert worst_of([(), ()]) == ()
