"""Predictions in the demo's hidden world and in further random ones: the goals of docs/benchmarks.md, with slack.

The figures themselves are in docs/benchmarks.md. New pigments, pencils, papers and hands (benchmarks/worlds.py); the
physics behind them is not the model's (docs/decisions/0004).
"""

from __future__ import annotations

from collections.abc import Sequence
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
)
from benchmarks.stacks import STACKS, Chosen, choose, of_one, taught
from benchmarks.stacks import judge as judge_stacks
from benchmarks.worlds import grain_world, random_world, rubbing_world, stroke_world, the_demos_world

from tidy_tinder.core.layering.collection_fit.survey import Survey
from tidy_tinder.core.layering.fitting.evidence import Kind

pytestmark = pytest.mark.slow

# A guard: fewer pencils and worlds than the benchmark has, so wider by a fifth or so.
SLACK = 1.2
# The aims were set in another world than this second physics, whose worst are worse (docs/benchmarks.md).
WORST = 1.65
# Black paper by pencils that were never seen over black: which eight of 22 are swatched decides who is left to be told.
# With eight that were chosen by their own colour the median was 1.18 times the aim and the worst 1.64 times; chosen by
# what they look like on the paper, 1.37 and 1.36 times (decision 0053).
ON_BLACK = 1.45


@cache
def made(world: str) -> Readings:
    if world == "demo":
        return Readings(the_demos_world(demo_opacities(), every=14), 1)
    physics, seed = world.split()
    if physics == "grain":
        return Readings(grain_world(int(seed), 22, 0.18), int(seed))
    if physics == "strokes":
        return Readings(stroke_world(int(seed), 22, 0.1), int(seed))
    if physics == "rubbing":
        return Readings(rubbing_world(int(seed), 22, 0.15), int(seed))
    return Readings(random_world(int(seed), 22), int(seed))


# The demo's physics, and a second one with a restless hand.
WORLDS = ("demo", "random 21", "grain 61")
# A physics in which nothing was chosen, and nothing may be (decision 0060).
UNSEEN = ("rubbing 91", "rubbing 92", "rubbing 93")


@cache
def judged(
    paper: str, anchors: int, home_kinds: tuple[Kind, ...] = KINDS, wrong: bool = False, home: str = HOME,
    worlds: tuple[str, ...] = WORLDS,
) -> Figures:  # fmt: skip
    """All worlds that have the paper, together."""
    found = Figures()
    for world in worlds:
        if {paper, home} <= set(made(world).world.papers):
            tooth = WRONG[made(world).world.tooths[paper]] if wrong else None
            judge(made(world), paper, anchors, found, home_kinds, tooth, home)
    return found


@pytest.mark.parametrize(
    ("paper", "anchors", "median", "most"),
    [
        (HOME, 0, 0.85, 3.4),
        ("white smooth", 0, 1.55, 5.1),
        ("white smooth", 4, 1.12, 4.2),
        ("white smooth", 8, 1.02, 3.85),
        ("white rough", 8, 1.02, 3.85),
        ("toned", 8, 1.2, 4.1),
        ("grey-toned", 8, 1.2, 4.1),
        ("black", 8, 1.85, 6.1),
    ],
)
def test_marks_are_predicted_as_well_as_was_aimed_at(paper: str, anchors: int, median: float, most: float) -> None:
    """As near as was aimed at; nine of ten new readings within their bands, more or less; nearer than regression.

    The goal beside regression is a quarter; the regression here is the best of three, chosen by the truth. What is
    judged is worked out once for all three questions, since it takes long and test processes share nothing.
    """
    found = judged(paper, anchors)
    assert found.median < (ON_BLACK if paper == "black" else SLACK) * median
    assert found.ninety_fifth < (ON_BLACK if paper == "black" else SLACK) * most
    assert found.held >= 0.86
    if anchors == 8 and paper in ("white smooth", "toned", "black"):
        assert found.regression_median is not None
        assert found.median < 0.85 * found.regression_median


@pytest.mark.parametrize("home", ["white smooth", "white rough"])
def test_it_does_not_matter_on_which_white_paper_all_was_swatched(home: str) -> None:
    """The aims are those of other papers that are told from one of medium tooth."""
    for paper, anchors, median, most in ((home, 0, 0.85, 3.4), (HOME, 0, 1.55, 5.1), (HOME, 4, 1.12, 4.2)):
        found = judged(paper, anchors, home=home)
        assert found.median < SLACK * median
        assert found.ninety_fifth < WORST * most
        assert found.held >= 0.86


@pytest.mark.parametrize(
    ("home", "paper", "kinds"),
    [(HOME, HOME, KINDS[-1:]), ("black", HOME, KINDS), ("black", "toned", KINDS), ("toned", "black", KINDS)],
)
def test_bands_hold_of_what_was_swatched_least_like_it(home: str, paper: str, kinds: tuple[Kind, ...]) -> None:
    """Marks of pencils that were swatched in heavy marks alone, or on a ground unlike it alone, at each pressure.

    No goal says how near they should be told: it must be said that they are told badly.
    """
    found = judged(paper, 0, kinds, home=home)
    read, bands = (np.concatenate(of).reshape(-1, len(KINDS)) for of in (found.read, found.bands))
    assert np.all((read <= bands).mean(axis=0) >= 0.82)
    assert found.held >= 0.86
    assert found.median < 0.6 * found.band


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


@cache
def surveyed(world: str, strips: int = 0) -> Survey:
    return taught(made(world), strips=strips)


@pytest.mark.parametrize("question", STACKS)
def test_stacks_are_predicted_and_their_bands_hold(question: str) -> None:
    """In both physics together; each kind of stack as near as was aimed at in another world than the demo's."""
    draw, (median, most) = STACKS[question]
    found = Figures()
    for world in WORLDS:
        judge_stacks(made(world), surveyed(world), draw, found, 5)
    assert found.median < SLACK * median
    assert found.ninety_fifth < WORST * most
    assert found.held >= 0.86


@pytest.mark.parametrize("question", STACKS)
def test_bands_of_stacks_hold_in_a_third_physics(question: str) -> None:
    """Layers and burnishing there are darker than is told of them without a strip: bands must allow for it. How near
    they are told is in docs/benchmarks.md; no aim was set for these worlds.
    """
    found = Figures()
    for world in ("strokes 71", "strokes 72", "strokes 73"):
        judge_stacks(made(world), surveyed(world), STACKS[question][0], found, 5)
    assert found.held >= 0.86


@pytest.mark.parametrize(
    ("paper", "anchors", "kinds"),
    [
        (HOME, 0, KINDS),
        ("white rough", 0, KINDS),
        ("white rough", 4, KINDS),
        ("toned", 8, KINDS),
        ("black", 8, KINDS),
        ("black", 0, OVER_BLACK),
    ],
)
def test_bands_of_marks_hold_where_nothing_was_chosen(paper: str, anchors: int, kinds: tuple[Kind, ...]) -> None:
    """What holds in physics that were looked at for weeks may hold in these alone."""
    assert judged(paper, anchors, kinds, worlds=UNSEEN).held >= 0.86


@pytest.mark.parametrize("question", STACKS)
def test_bands_of_stacks_hold_where_nothing_was_chosen(question: str) -> None:
    found = Figures()
    for world in UNSEEN:
        judge_stacks(made(world), surveyed(world), STACKS[question][0], found, 5)
    assert found.held >= 0.86


@pytest.mark.parametrize(
    ("worlds", "share"),
    [
        (("random 21", "random 22", "random 23"), 1.05),
        (("grain 61", "grain 62", "grain 63"), 0.9),
        (("strokes 71",), 0.8),
    ],
)
def test_strips_make_layers_of_one_pencil_nearer(worlds: Sequence[str], share: float) -> None:
    """Where layers are what is usual they make them no worse; where they are not, clearly nearer."""
    before, after = Figures(), Figures()
    for world in worlds:
        for known, into in ((surveyed(world), before), (surveyed(world, 6), after)):
            judge_stacks(made(world), known, of_one, into, 6)
    assert after.median < share * before.median
    assert after.band < before.band


def test_a_chosen_pair_is_about_what_was_promised_of_it() -> None:
    pairs = Chosen()
    for world in WORLDS:
        choose(made(world), pairs)
    assert abs(float(np.median(pairs.promised)) - float(np.median(pairs.true))) < 0.8
    assert np.mean(np.array(pairs.true) < np.array(pairs.single)) >= 0.85
