"""Neutralisers picked from a table whose colours are written down: what greys, what lightens, what is grey itself."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.layers import COATS, Layer
from tidy_tinder.core.standins.neutralisers import neutralisers
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.vocabulary import Pressure

RED, GREEN, BLUE, GREY, PALE = 1, 2, 3, 4, 5
ALONE = np.array([45.0, 50.0, 0.0])
VIVID = {key: np.array([50.0, 40.0, 0.0]) for key in (RED, GREEN, BLUE, PALE)}


def table(*over_red: tuple[int, float, float]) -> PairTable:
    """A light layer of each of these (key, L*, chroma left) over a light layer of red."""
    keys = (RED, GREEN, BLUE, GREY, PALE)
    labs = np.array([(L, C, 0.0) for _, L, C in over_red])
    upper = np.array([keys.index(key) for key, _, _ in over_red], dtype=np.uint16)
    nothing = np.zeros(len(over_red), dtype=np.uint8)
    return PairTable(keys, COATS, labs[:, 0], labs[:, 1], labs[:, 2], nothing.astype(np.uint16), upper, nothing)


LIGHT_RED = Layer(RED, Pressure.LIGHT)


def picked(made: PairTable, under: Layer[int] = LIGHT_RED, alone: np.ndarray = ALONE) -> list[int]:
    greyed = neutralisers(made, under, alone, {**VIVID, GREY: np.array([50.0, 3.0, 0.0])})
    return [one.over.pencil for one in greyed]


def test_what_leaves_least_chroma_comes_first_and_says_what_is_left() -> None:
    made = table((GREEN, 40, 20), (BLUE, 40, 10))
    assert picked(made) == [BLUE, GREEN]
    best = neutralisers(made, LIGHT_RED, ALONE, VIVID)[0]
    assert best.chroma_left == pytest.approx(0.2)
    assert best.difference.delta_L == pytest.approx(-5)
    assert best.over == Layer(BLUE, Pressure.LIGHT)


def test_a_neutraliser_must_not_lighten() -> None:
    """Painters' practice (common practice, no source): it darkens or greys; a white that pales is no neutraliser."""
    assert picked(table((GREEN, 46.1, 10), (BLUE, 45.9, 20))) == [BLUE]


def test_at_most_six_tenths_of_the_chroma_may_be_left() -> None:
    assert picked(table((GREEN, 40, 30.5), (BLUE, 40, 29.5))) == [BLUE]


def test_a_grey_is_what_is_avoided_and_a_grey_has_nothing_to_lose() -> None:
    assert picked(table((GREY, 40, 5), (BLUE, 40, 20))) == [BLUE]
    assert picked(table((BLUE, 40, 2)), alone=np.array([45.0, 14.0, 0.0])) == []
    assert picked(table((BLUE, 40, 2)), under=Layer(RED, Pressure.HEAVY)) == []
    assert picked(table((BLUE, 40, 2)), under=Layer(9, Pressure.LIGHT)) == []
