"""Predictions in the demo's hidden world and in further random ones: the goals of docs/benchmarks.md, with slack.

The figures themselves are in docs/benchmarks.md. New pigments, pencils, papers and hands (benchmarks/worlds.py); the
physics behind them is not the model's (docs/decisions/0004).
"""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
from benchmarks.optics import (
    HOME,
    KINDS,
    OVER_BLACK,
    WRONG,
    Figures,
    Readings,
    demo_opacities,
    judge,
    judge_stacks,
)
from benchmarks.worlds import random_world, the_demos_world

from tidy_tinder.core.layering.fitting.evidence import Kind

pytestmark = pytest.mark.slow

# A guard: fewer pencils and worlds than the benchmark has, so wider by a fifth or so.
SLACK = 1.2


@cache
def made(world: str) -> Readings:
    if world == "demo":
        return Readings(the_demos_world(demo_opacities(), every=14), 1)
    return Readings(random_world(int(world), 26), int(world))


WORLDS = ("demo", "21")


@cache
def judged(paper: str, anchors: int, home_kinds: tuple[Kind, ...] = KINDS, wrong: bool = False) -> Figures:
    """All worlds that have the paper, together."""
    found = Figures()
    for world in WORLDS:
        if paper in made(world).world.papers:
            tooth = WRONG[made(world).world.tooths[paper]] if wrong else None
            judge(made(world), paper, anchors, found, home_kinds, tooth)
    return found


@pytest.mark.parametrize(
    ("paper", "anchors", "median", "most"),
    [
        (HOME, 0, 1.0, 3.5),
        ("white smooth", 0, 1.8, 5.5),
        ("white smooth", 4, 1.4, 4.8),
        ("white smooth", 8, 1.25, 4.3),
        ("white rough", 8, 1.25, 4.3),
        ("toned", 8, 1.4, 4.8),
        ("grey-toned", 8, 1.4, 4.8),
        ("black", 8, 2.8, 8.0),
    ],
)
def test_marks_are_predicted_as_well_as_was_aimed_at(paper: str, anchors: int, median: float, most: float) -> None:
    """As near as was aimed at; nine of ten new readings within their bands, more or less; nearer than regression.

    The goal beside regression is a quarter; the regression here is the best of three, chosen by the truth. What is
    judged is worked out once for all three questions, since it takes long and test processes share nothing.
    """
    found = judged(paper, anchors)
    assert found.median < SLACK * median
    assert found.ninety_fifth < SLACK * most
    assert 0.82 <= found.held <= 1.0
    if anchors == 8 and paper in ("white smooth", "toned", "black"):
        assert found.regression_median is not None
        assert found.median < 0.85 * found.regression_median


def test_swatches_over_black_make_dark_paper_predictable() -> None:
    found = judged("black", 8, OVER_BLACK)
    assert found.median < SLACK * 1.4
    assert found.ninety_fifth < SLACK * 3.5
    assert found.median < 0.7 * judged("black", 8).median


def test_four_anchors_put_a_wrong_guess_of_the_tooth_right() -> None:
    found = judged("white smooth", 4, wrong=True)
    assert found.median < SLACK * 1.4
    assert found.ninety_fifth < SLACK * 4.5


def test_anchors_help_and_bands_say_so() -> None:
    """Narrower with anchors, and where they are narrow they hold as well.

    Bands that held only on the whole, narrow ones failing and wide ones idle, would mislead.
    """
    without, four, found = judged("toned", 0), judged("toned", 4), judged("toned", 8)
    assert four.median < without.median
    assert four.band < 0.8 * without.band
    bands, read = np.concatenate(found.bands), np.concatenate(found.read)
    narrow = bands <= np.median(bands)
    assert np.mean(read[narrow] <= bands[narrow]) > 0.8
    assert np.median(read[~narrow]) > np.median(read[narrow])


def test_two_layers_are_predicted() -> None:
    found = Figures()
    for world in WORLDS:
        judge_stacks(made(world), KINDS, found, count=25)
    assert found.median < SLACK * 2.5
    assert found.ninety_fifth < SLACK * 6.0
