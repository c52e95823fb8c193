"""Eye practice: simulated observers of known sharpness and bias are found out; what is asked is surely known."""

from __future__ import annotations

import numpy as np
import pytest
from benchmarks.practice import Observer, answered, biased_answers, observer
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import temperature, value_step
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.practice.asking import (
    Asked,
    Known,
    ask_closest,
    ask_order,
    ask_result,
    ask_two,
    ask_value,
)
from tidy_tinder.core.practice.bias import Bias, Judged, bias_by_region
from tidy_tinder.core.practice.drills import SCALES, Drill
from tidy_tinder.core.practice.staircase import TARGET, next_level
from tidy_tinder.core.practice.threshold import LAST, threshold_of


def known(count: int = 90, off: float = 1.0, seed: int = 3) -> Known:
    """Colours as pencils leave them, spread over the solid."""
    rng = np.random.default_rng(seed)
    angle, chroma = rng.uniform(0, 2 * np.pi, count), rng.uniform(0, 60, count)
    lab = np.stack([rng.uniform(15, 92, count), chroma * np.cos(angle), chroma * np.sin(angle)], axis=-1)
    return Known(lab, np.full(count, off))


@pytest.mark.parametrize("drill", [Drill.LIGHTER, Drill.WARMER, Drill.CLOSEST, Drill.LAYER])
def test_a_known_observer_is_found_in_sixty_answers(drill: Drill) -> None:
    """The issue's goal: within 15 % in the median of 200 observers; nine of ten ranges hold, neither all nor few."""
    rng = np.random.default_rng(11)
    off, inside = [], []
    for _ in range(200):
        eye = observer(rng, SCALES[drill])
        levels, rights = answered(eye, rng, 60)
        found = threshold_of(levels, rights, SCALES[drill])
        off.append(abs(np.log(found.level / eye.threshold)))
        inside.append(found.low <= eye.threshold <= found.high)
    assert np.exp(np.median(off)) - 1.0 <= 0.15
    assert 0.82 <= np.mean(inside) <= 0.97


def test_a_bias_of_four_is_found_in_eighty_answers() -> None:
    """The issue's goal: within 1.5 L* in the median of 60 observers, and hardly any other region is blamed."""
    rng = np.random.default_rng(12)
    off, sure, blamed = [], [], []
    for _ in range(60):
        found = bias_by_region(biased_answers(rng, 80, -4.0))
        off.append(abs(found["dark reds"].by + 4.0))
        sure.append(found["dark reds"].is_sure)
        blamed += [one.is_sure for name, one in found.items() if name != "dark reds"]
    assert np.median(off) <= 1.5
    assert np.mean(sure) >= 0.6
    assert np.mean(blamed) <= 0.12


def test_an_eye_without_a_bias_is_hardly_ever_told_of_one() -> None:
    rng = np.random.default_rng(13)
    told = [one.is_sure for _ in range(40) for one in bias_by_region(biased_answers(rng, 80, 0.0)).values()]
    assert np.mean(told) <= 0.06


def test_whoever_is_always_right_is_told_of_no_bias() -> None:
    """Yellows are always asked as the lighter one: that they are said to be speaks of no bias."""
    rng = np.random.default_rng(16)
    answers = []
    for _ in range(60):
        by = float(rng.uniform(1.0, 14.0))
        answers.append(Judged("light yellows", str(rng.choice(["dark reds", "dark blues", "light greens"])), by, True))
    assert not any(one.is_sure for one in bias_by_region(answers).values())


def test_biases_are_told_beside_the_others() -> None:
    """All regions alike off is nothing that comparing can tell."""
    names = ("a", "b", "c")
    answers = [
        Judged(first, second, by, by > 0)
        for first in names
        for second in names
        if first != second
        for by in (-6.0, -2.0, 2.0, 6.0)
    ]
    assert all(abs(one.by) < 0.2 for one in bias_by_region(answers * 5).values())
    assert bias_by_region([]) == {}
    assert not Bias(1.4, 0.1, 50, 9).is_sure


def test_the_staircase_settles_where_three_of_four_are_right() -> None:
    """Kaernbach 1991: steps are weighted so that they balance at the target."""
    rng = np.random.default_rng(14)
    scale = SCALES[Drill.LIGHTER]
    rights: list[bool] = []
    levels: list[float] = []
    eye = Observer(6.0, 0.3, scale)
    for _ in range(600):
        level = next_level(rights, scale)
        levels.append(level)
        rights.append(bool(rng.random() < eye.share(level)))
    assert np.mean(rights[100:]) == pytest.approx(TARGET, abs=0.04)
    assert np.exp(np.mean(np.log(levels[100:]))) == pytest.approx(6.0, rel=0.2)


@given(st.lists(st.booleans(), max_size=120))
def test_a_level_stays_on_its_scale_and_answers_move_it_their_way(rights: list[bool]) -> None:
    for scale in SCALES.values():
        level = next_level(rights, scale)
        assert scale.least - 1e-9 <= level <= scale.most + 1e-9
        assert next_level([*rights, True], scale) <= level + 1e-9
        assert next_level([*rights, False], scale) >= level - 1e-9


def test_without_answers_a_threshold_is_wide_and_old_answers_do_not_count() -> None:
    scale = SCALES[Drill.LIGHTER]
    nothing = threshold_of([], [], scale)
    assert nothing.high / nothing.low > 10.0
    rng = np.random.default_rng(15)
    dull, sharp = (answered(Observer(t, 0.3, scale), rng, LAST) for t in (20.0, 3.0))
    trained = threshold_of([*dull[0], *sharp[0]], [*dull[1], *sharp[1]], scale)
    assert trained == threshold_of(*sharp, scale)
    assert trained.answers == LAST


def test_what_is_no_answer_is_refused() -> None:
    scale = SCALES[Drill.LIGHTER]
    with pytest.raises(ShapeError):
        threshold_of([1.0, 2.0], [True], scale)
    for wrong in (0.0, -1.0, float("nan")):
        with pytest.raises(OutOfRangeError):
            threshold_of([wrong], [True], scale)


def asked_often(ask: object, times: int = 40) -> list[Asked]:
    return [one for seed in range(times) if (one := ask(np.random.default_rng(seed))) is not None]  # type: ignore[operator]


def test_a_doubt_in_the_colour_difference_is_more_in_figures_of_vivid_and_of_very_light_colours() -> None:
    """Two readings as far apart as the doubt says, along L* or along the warm axis, are as far as that in ΔE00."""
    stock = known(off=2.0)
    steps = np.stack([stock.off_L, np.zeros(90), np.zeros(90)], axis=-1)
    assert np.asarray(delta_e_2000(stock.lab - steps / 2, stock.lab + steps / 2)) == pytest.approx(2.0, abs=0.25)
    along = np.array([0.0, np.cos(np.radians(50.0)), np.sin(np.radians(50.0))])
    moved = stock.lab + along * stock.off_temperature[:, None]
    assert np.asarray(delta_e_2000(stock.lab, moved)).min() > 1.2


@pytest.mark.parametrize("drill", [Drill.LIGHTER, Drill.WARMER])
def test_two_are_asked_about_only_where_they_surely_differ_and_about_as_hard_as_wanted(drill: Drill) -> None:
    stock = known(off=2.0)
    values = stock.lab[:, 0] if drill is Drill.LIGHTER else np.asarray(temperature(stock.lab))
    off = stock.off_L if drill is Drill.LIGHTER else stock.off_temperature
    found = asked_often(lambda rng: ask_two(stock, drill, 8.0, "", rng))
    assert len(found) == 40
    for one in found:
        first, second = one.shown
        assert abs(values[first] - values[second]) > np.hypot(off[first], off[second]) >= np.hypot(2.0, 2.0)
        assert one.right == (int(values[first] < values[second]),)
        assert one.signed == pytest.approx(values[first] - values[second])
        assert abs(np.log(one.level / 8.0)) < 0.25
        assert one.region.split(" ", 1)[1] != one.other.split(" ", 1)[1]
    assert {one.right for one in found} == {(0,), (1,)}
    assert ask_two(known(off=80.0), drill, 8.0, "", np.random.default_rng(1)) is None


def test_the_region_that_needs_it_comes_more_often() -> None:
    stock = known()
    favoured = "dark blues"

    def share(of: str) -> float:
        found = asked_often(lambda rng: ask_two(stock, Drill.LIGHTER, 10.0, of, rng), 200)
        return float(np.mean([favoured in (one.region, one.other) for one in found]))

    assert share(favoured) > 1.5 * share("")


def test_the_closest_of_four_is_surely_the_closest() -> None:
    stock = known(off=0.8)
    found = asked_often(lambda rng: ask_closest(stock, 6.0, rng))
    assert len(found) > 30
    for one in found:
        away = np.asarray(delta_e_2000(stock.lab[one.shown[0]], stock.lab[list(one.choices)]))
        assert int(away.argmin()) == one.right[0]
        others = np.delete(away, one.right[0])
        assert others.min() - away.min() == pytest.approx(one.level)
        assert others.min() - away.min() > np.hypot(0.8, 0.8)
        assert len(set(one.choices)) == 4
        assert one.shown[0] not in one.choices


def test_six_in_order_have_steps_that_are_known() -> None:
    stock = known(off=1.0)
    for one in asked_often(lambda rng: ask_order(stock, 5.0, rng), 20):
        L = stock.lab[list(one.choices), 0]
        assert list(one.right) == list(np.argsort(-L))
        assert np.diff(np.sort(L)).min() == pytest.approx(one.level)
        assert one.level > 2.0
    assert ask_order(known(5), 5.0, np.random.default_rng(1)) is None


def test_a_value_is_asked_only_where_its_step_is_known() -> None:
    stock = Known(known(40).lab, np.where(np.arange(40) < 20, 1.0, 6.0))
    for one in asked_often(lambda rng: ask_value(stock, "", rng), 60):
        assert one.shown[0] < 20
        value = float(value_step(stock.lab[one.shown[0]]))
        assert one.choices[one.right[0]] == round(value)
        assert one.signed == pytest.approx(value)
        assert all(0 <= step <= 10 for step in one.choices)
    assert ask_value(Known(stock.lab, np.full(40, 6.0)), "", np.random.default_rng(1)) is None


def test_results_that_may_be_the_same_are_not_offered_beside_one_another() -> None:
    lab = np.array([[50, 10, 10], [50.5, 10, 10], [60, 10, 10], [50, 40, 10], [30, 0, 0], [80, 0, 60.0]])
    for seed in range(20):
        found = ask_result(Known(lab, np.full(6, 2.0)), 10.0, np.random.default_rng(seed))
        assert found is not None
        choices, right, level = found
        assert choices[right] == 0
        assert 1 not in choices
        assert level > np.hypot(2.0, 2.0)
    assert ask_result(Known(lab[:3], np.full(3, 2.0)), 10.0, np.random.default_rng(1)) is None
