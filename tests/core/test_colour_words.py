"""Colour words against colours whose names are published, and against the plain meaning of the words."""

from __future__ import annotations

import warnings

import numpy as np
import pytest

from tidy_tinder.core.difference.components import chroma, hue_angle, temperature, value_step
from tidy_tinder.core.names.colour_words import read_colour_words
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
