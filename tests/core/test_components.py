"""What a difference is made of: value, temperature, hue, words."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.difference.components import (
    Band,
    band_of,
    chroma,
    difference,
    hue_angle,
    hue_difference,
    luminance_from_value,
    temperature,
    value_from_luminance,
    value_step,
)
from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.errors import OutOfRangeError

RED, ORANGE, BLUE = [45, 60, 35], [62, 45, 60], [40, 5, -45]


def test_munsell_value_agrees_with_astm_d1535() -> None:
    """ASTM D1535-08, as colour-science carries its polynomial and inverts it by a table."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        from colour.colorimetry import luminance_ASTMD1535
        from colour.notation import munsell_value_ASTMD1535
    values = np.linspace(0, 10, 101)
    assert np.allclose(luminance_from_value(values) * 100, luminance_ASTMD1535(values), atol=1e-9)
    Y = np.linspace(0.5, 99.5, 200)
    assert np.allclose(value_from_luminance(Y / 100), munsell_value_ASTMD1535(Y), atol=1e-3)


@given(st.floats(0, 10))
def test_value_and_luminance_undo_each_other(value: float) -> None:
    assert float(value_from_luminance(luminance_from_value(value))) == pytest.approx(value, abs=1e-9)


def test_value_runs_from_black_to_white() -> None:
    assert float(value_step([0, 0, 0])) == pytest.approx(0)
    assert float(value_step([100, 0, 0])) == pytest.approx(10)
    # Munsell value 5 reflects 19.3 % (ASTM D1535 table): that is L* 51.0 (from memory).
    assert float(value_step([51.0, 0, 0])) == pytest.approx(5.0, abs=0.02)


def test_value_of_an_impossible_luminance_is_refused() -> None:
    with pytest.raises(OutOfRangeError):
        value_from_luminance(1.2)


@given(*(st.tuples(st.floats(0, 100), st.floats(-90, 90), st.floats(-90, 90)) for _ in range(2)))
def test_hue_difference_completes_the_square(a: tuple[float, ...], b: tuple[float, ...]) -> None:
    """ΔE*ab² = ΔL*² + ΔC*² + ΔH*² (ISO/CIE 11664-4)."""
    plain = np.sum((np.array(a[1:]) - np.array(b[1:])) ** 2)
    parts = float(chroma(b) - chroma(a)) ** 2 + float(hue_difference(a, b)) ** 2
    assert parts == pytest.approx(float(plain), abs=1e-6)


def test_hue_difference_has_the_sign_of_the_turn() -> None:
    assert float(hue_difference(RED, ORANGE)) > 0
    assert float(hue_difference(ORANGE, RED)) < 0
    # Across 360°: from 350° to 10° the hue angle rises.
    assert float(hue_difference([50, 50, -9], [50, 50, 9])) > 0


def test_hue_angle_is_zero_for_grey_and_runs_to_360() -> None:
    assert float(hue_angle([50, 0, 0])) == 0
    assert float(hue_angle([50, 10, -0.1])) == pytest.approx(359.4, abs=0.1)


def test_orange_is_warm_and_blue_is_cool() -> None:
    """Common practice, no source."""
    assert float(temperature(ORANGE)) > 50
    assert float(temperature(BLUE)) < -20
    assert float(temperature([60, 1, 2])) > float(temperature([60, -1, -2]))


@pytest.mark.parametrize(
    ("wanted", "offered", "first"),
    [
        ([50, 30, 20], [62, 30, 20], "much lighter"),
        ([50, 30, 20], [45, 30, 20], "darker"),
        ([50, 40, 30], [50, 24, 18], "much duller"),
        ([50, 0.5, 2], [50, -0.5, -4], "cooler"),
        ([50, 40, 20], [50, 34, 30], "yellower"),
        ([60, 2, 50], [60, -12, 48], "much greener"),
        ([50, 0, -45], [50, 14, -43], "much more violet"),
        ([50, -40, 12], [50, -41, -2], "much bluer"),
    ],
)
def test_the_largest_difference_is_said_first(wanted: list[float], offered: list[float], first: str) -> None:
    assert difference(wanted, offered).words[0] == first


def test_a_more_vivid_red_is_not_called_warmer() -> None:
    said = difference([45, 40, 22], [45, 62, 34.1]).words
    assert said == ("much more vivid",)


def test_greys_are_compared_by_temperature_not_by_hue() -> None:
    said = " ".join(difference([60, 0.5, 3], [60, -1, -3]).words)
    assert "cooler" in said
    assert not any(word in said for word in ("redder", "greener", "bluer", "yellower", "violet"))


@given(*(st.tuples(st.floats(5, 95), st.floats(-60, 60), st.floats(-60, 60)) for _ in range(2)))
def test_whatever_is_over_2_has_a_word(a: tuple[float, ...], b: tuple[float, ...]) -> None:
    found = difference(a, b)
    if found.delta_e > 2:
        assert found.words
    assert len(found.words) <= 4


def test_equal_colours_have_no_words() -> None:
    same = difference(RED, RED)
    assert same.words == ()
    assert same.delta_e == 0
    assert same.band is Band.UNSEEN


@pytest.mark.parametrize(
    ("delta_e", "band"),
    [(0.99, Band.UNSEEN), (1.5, Band.ABUTTING), (3.0, Band.CLOSE), (4.9, Band.PLAIN), (5.0, Band.ANOTHER)],
)
def test_bands_of_the_eye(delta_e: float, band: Band) -> None:
    """Ours, a rule of thumb."""
    assert band_of(delta_e) is band


def test_closest_by_value_prefers_the_right_value() -> None:
    wanted = np.array([50.0, 40, 20])
    right_value, right_hue = np.array([50.5, 30, 26]), np.array([57.0, 40, 20])
    both = np.stack([right_value, right_hue])
    assert int(np.argmin(weighted_difference(wanted, both, Closest.VALUE))) == 0
    assert int(np.argmin(weighted_difference(wanted, both, Closest.HUE))) == 1


def turned_by(hue: float, chroma_of_it: float, L: float = 50.0) -> list[float]:
    return [L, chroma_of_it * float(np.cos(np.radians(hue))), chroma_of_it * float(np.sin(np.radians(hue)))]


@pytest.mark.parametrize(
    ("closest", "lightness", "chroma_alone", "hue_alone"),
    [(Closest.VALUE, 2.0, 1 / 1.5, 1 / 1.5), (Closest.HUE, 0.5, 1.0, 2.0), (Closest.OVERALL, 1.0, 1.0, 1.0)],
)
def test_value_and_hue_weigh_one_component_against_the_others(
    closest: Closest, lightness: float, chroma_alone: float, hue_alone: float
) -> None:
    """Ours: kL, kC, kH are ½, 1½, 1½ for value and 2, 1, ½ for hue; each divides its own term (ISO/CIE 11664-6)."""

    def ratio(a: list[float], b: list[float]) -> float:
        return float(weighted_difference(a, b, closest)) / float(weighted_difference(a, b, Closest.OVERALL))

    assert ratio([50, 0, 0], [55, 0, 0]) == pytest.approx(lightness)
    assert ratio(turned_by(90, 40), turned_by(90, 46)) == pytest.approx(chroma_alone, rel=1e-3)
    assert ratio(turned_by(88, 40), turned_by(92, 40)) == pytest.approx(hue_alone, rel=1e-3)


@pytest.mark.parametrize(
    ("offered", "words"),
    [
        ([50.9, 0, 30], ()),
        ([51.1, 0, 30], ("a touch lighter",)),
        ([52.9, 0, 30], ("a touch lighter",)),
        ([46.9, 0, 30], ("darker",)),
        ([58.9, 0, 30], ("lighter",)),
        ([40.9, 0, 30], ("much darker",)),
        ([50, 0, 31.4], ()),
        ([50, 0, 28.4], ("a touch duller",)),
        ([50, 0, 34.4], ("a touch more vivid",)),
        ([50, 0, 34.6], ("more vivid",)),
        ([50, 0, 42.9], ("more vivid",)),
        ([50, 0, 43.1], ("much more vivid",)),
    ],
)
def test_a_touch_the_bare_word_and_much_begin_at_their_steps(offered: list[float], words: tuple[str, ...]) -> None:
    """Ours: L* 1, 3 and 9; C*, hue and temperature 1.5, 4.5 and 13."""
    assert difference([50, 0, 30], offered).words == words


@pytest.mark.parametrize(
    ("by", "says"), [(1.4, None), (1.6, "a touch"), (4.4, "a touch"), (4.6, ""), (12.9, ""), (13.1, "much")]
)
def test_a_turn_of_hue_is_worded_by_its_size(by: float, says: str | None) -> None:
    """At chroma 30 a turn of Δh makes ΔH* = 2·30·sin(Δh/2); about 140°, where a turn is no change of warmth."""
    turn = 2 * float(np.degrees(np.arcsin(by / 60)))
    said = difference(turned_by(140 - turn / 2, 30), turned_by(140 + turn / 2, 30)).words
    of_hue = [word for word in said if word.endswith("greener")]
    assert of_hue == ([] if says is None else [f"{says} greener".strip()])


def test_greys_leaning_to_opposite_hues_are_not_called_a_touch_of_anything() -> None:
    """Green and violet lie across the warm–cool axis: at ΔE00 11 and more they were "a touch cooler"."""
    green, violet = turned_by(140, 5.9), turned_by(320, 5.9)
    assert difference(violet, green).delta_e > 11
    assert difference(violet, green).words == ("greener",)
    assert difference(green, violet).words == ("more violet",)
    assert difference(turned_by(230, 5), turned_by(50, 5)).words == ("warmer",)
    assert difference(turned_by(50, 5), turned_by(230, 5)).words == ("cooler",)


def test_what_loses_its_hue_is_duller_and_not_of_the_opposite_hue() -> None:
    moss, ash, orange = turned_by(129, 32), turned_by(252, 3), turned_by(50, 40)
    assert difference(moss, ash).words == ("much duller", "a touch cooler")
    assert difference(ash, moss).words == ("much greener", "much more vivid")
    assert difference(orange, [50, 0, 0]).words == ("much duller",)
    assert difference([50, 0, 0], orange).words == ("much more vivid", "much warmer")


@pytest.mark.parametrize(
    ("wanted", "offered", "hue"),
    [(350, 10, "redder"), (10, 350, "more violet"), (355, 15, "redder"), (20, 40, "yellower"), (15, 35, "yellower"),
     (35, 15, "redder"), (300, 330, "redder"), (330, 300, "more violet")],
)  # fmt: skip
def test_hues_are_named_by_the_way_they_turn_across_0_too(wanted: float, offered: float, hue: str) -> None:
    """The unitary red of CIELAB lies near 24° (Hering's, from memory): below it reds are pinker, above it yellower."""
    said = difference(turned_by(wanted, 40), turned_by(offered, 40)).words
    assert any(word.endswith(hue) for word in said), said
