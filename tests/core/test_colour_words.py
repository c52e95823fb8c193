"""Colour words against colours whose names are published, and against the plain meaning of the words."""

from __future__ import annotations

import warnings

import numpy as np
import pytest

from tidy_tinder.core.difference.components import chroma, hue_angle, temperature, value_step
from tidy_tinder.core.names.colour_words import colour_noun, read_colour_words
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import lab_from_hex, reflectance_to_lab


def fits(words: str, lab: np.ndarray) -> bool:
    look = read_colour_words(words)
    assert look is not None
    return look.apart(*(float(of(lab)) for of in (value_step, chroma, hue_angle, temperature))) is not None


def chart() -> dict[str, np.ndarray]:
    """The 24-patch chart with its patches' names, as colour-science carries it."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

        shape = colour.SpectralShape(400, 700, 10)
        patches = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"]
        return {
            name: reflectance_to_lab(np.array([patch.copy().align(shape)[w] for w in BANDS]))
            for name, patch in patches.items()
        }


def test_the_patches_of_the_chart_fit_the_words_of_their_names() -> None:
    patches = chart()
    for name, words in {
        "dark skin": "brown", "light skin": "dull orange pink", "blue sky": "dull blue", "foliage": "dark green",
        "orange": "vivid orange", "moderate red": "red", "purple": "dark purple", "yellow green": "yellow green",
        "blue": "dark blue", "green": "green", "red": "vivid red", "yellow": "vivid yellow", "magenta": "magenta",
        "cyan": "blue", "white 9.5 (.05 D)": "white", "neutral 5 (.70 D)": "grey", "black 2 (1.5 D)": "black",
        "neutral 8 (.23 D)": "pale grey",
    }.items():  # fmt: skip
        assert fits(words, patches[name]), f"{name} is no {words}"
    # And not those of quite another one.
    for name, words in {
        "red": "green", "green": "red", "yellow": "dark yellow", "blue": "pale blue", "white 9.5 (.05 D)": "grey",
        "foliage": "vivid green", "neutral 5 (.70 D)": "dull blue", "orange": "brown", "dark skin": "orange",
    }.items():  # fmt: skip
        assert not fits(words, patches[name]), f"{name} is {words}"


@pytest.mark.parametrize(
    ("words", "is_it", "is_not"),
    [
        ("dull green", "#6f8068", "#00a040"),
        ("pale warm grey", "#d0c9c0", "#c4c9d0"),
        ("cool grey", "#80868c", "#8c8680"),
        ("grey violet", "#837d90", "#8030b0"),
        ("violet grey", "#837d90", "#808080"),
        ("bluish green", "#20907a", "#60a020"),
        ("Dark Blue", "#102050", "#a0c0f0"),
        ("olive", "#6b6b30", "#30a050"),
        ("cream", "#f5ecd0", "#ffffff"),
        ("pink", "#f0a0b0", "#801020"),
    ],
)
def test_words_mean_what_they_say(words: str, is_it: str, is_not: str) -> None:
    assert fits(words, lab_from_hex(is_it))
    assert not fits(words, lab_from_hex(is_not))


@pytest.mark.parametrize("text", ["", "Fly Cap", "dull", "119", "green moss", "red blue green", "white black"])
def test_what_is_not_wholly_colour_words_is_not_taken_for_any(text: str) -> None:
    look = read_colour_words(text)
    assert (look is None) == (text != "dull")


def test_the_middle_of_what_is_meant_comes_first() -> None:
    look = read_colour_words("green")
    assert look is not None
    middle, edge = (look.apart(5.0, 40.0, hue, 0.0) for hue in (148.0, 185.0))
    assert middle is not None
    assert edge is not None
    assert middle < edge


def apart(words: str, value: float, chroma: float, hue: float) -> float | None:
    look = read_colour_words(words)
    assert look is not None
    return look.apart(value, chroma, hue, 0.0)


def test_how_far_off_the_middle_is_a_share_of_what_the_word_holds() -> None:
    # Of hue: half way from the middle of green to its border, and at the border, on both sides.
    for turn, share in ((0.0, 0.0), (21.0, 0.5), (42.0, 1.0)):
        assert apart("green", 5.0, 60.0, 148.0 + turn) == pytest.approx(share)
        assert apart("green", 5.0, 60.0, 148.0 - turn) == pytest.approx(share)
    assert apart("green", 5.0, 60.0, 148.0 + 42.5) is None
    # Of value: “mid” is 4 to 7.
    assert [apart("mid", value, 0.0, 0.0) for value in (4.0, 5.5, 7.0)] == pytest.approx([0.5, 0.0, 0.5])
    # A span of less than a value step is taken for a step: “pale ochre” is 7 to 7.5, and both of its ends are ochre.
    assert apart("pale ochre", 7.5, 50.0, 75.0) == pytest.approx(0.25)
    assert apart("pale ochre", 7.25, 50.0, 75.0) == pytest.approx(0.0)


def test_hues_go_on_across_nought_degrees() -> None:
    for turn in (4.0, 16.0, 31.0):
        assert apart("pink", 7.0, 40.0, turn) == pytest.approx(apart("pink", 7.0, 40.0, 360.0 - turn))
    assert apart("pink", 7.0, 40.0, 327.0) is None


@pytest.mark.parametrize(
    ("words", "middle", "within"),
    # Half way between both, as far as the nearer of both middles and a quarter of the narrower word beyond.
    [("yellow green", 120.0, 32.0), ("green yellow", 120.0, 32.0), ("reddish orange", 41.5, 19.5)],
)
def test_two_hues_are_what_lies_between_them(words: str, middle: float, within: float) -> None:
    look = read_colour_words(words)
    assert look is not None
    assert (look.hue, look.within) == pytest.approx((middle, within))


def test_what_lies_in_no_region_is_called_by_the_nearest_hue() -> None:
    # Too vivid for olive and ochre, too dark for yellow.
    assert colour_noun(5.0, 90.0, 93.0) == "yellow"
    # Too dark for pink, past magenta, before red; from both sides of nought degrees.
    assert colour_noun(3.0, 60.0, 4.5) == "pink"
    assert colour_noun(9.6, 2.0, 0.0) == "white"
    assert colour_noun(1.0, 2.0, 0.0) == "black"
    assert colour_noun(5.0, 2.0, 0.0) == "grey"
