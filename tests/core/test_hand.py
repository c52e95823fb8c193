"""A hand that varies: learned from marks, counted in every band, and the order of marks never matters."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.optics import HOME, KINDS, OVER_BLACK, Readings, known_from
from benchmarks.worlds import World, grain_world, random_world
from hypothesis import given, settings
from hypothesis import strategies as st

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, Survey, survey
from tidy_tinder.core.layering.fitting.evidence import Kind
from tidy_tinder.core.layering.fitting.hand import HANDS, USUAL_HAND, Slips, learn_hand
from tidy_tinder.core.layering.fitting.misfit import Expected, LeftOver, expected_again, misfit_sd, misfits
from tidy_tinder.core.layering.prediction.marks import PaperFit, guess_paper, look, predict
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Pressure, Tooth

PENCILS = 12
HEAVY = Kind(Pressure.HEAVY)


@pytest.fixture(scope="module")
def made() -> Readings:
    return Readings(random_world(51, PENCILS, 0.12), 51)


@pytest.fixture(scope="module")
def known(made: Readings) -> Survey:
    return known_from(made, HOME, 0)[0]


def paper_of(made: Readings, known: Survey) -> PaperFit:
    return known.papers[made.seen_paper(HOME).key]


@pytest.mark.parametrize("hand", [0.05, 0.12, 0.25])
def test_a_hand_is_found_from_the_slips_it_made(hand: float) -> None:
    """Slips drawn with a known hand and seen through noise; the size of it is found to within a quarter."""
    rng = np.random.default_rng(3)
    seen = []
    for _ in range(150):
        noise = rng.uniform(0.02, 0.08, 3)
        slips = rng.normal(0.0, hand, 3) + rng.normal(0.0, noise)
        covariance = np.asarray(np.linalg.inv(np.diag(1.0 / noise**2) + np.eye(3) / USUAL_HAND**2), np.float64)
        seen.append(Slips(covariance @ (slips / noise**2), covariance, USUAL_HAND))
    assert learn_hand(seen) == pytest.approx(hand, rel=0.25)
    assert learn_hand([]) == USUAL_HAND
    assert USUAL_HAND in HANDS


@pytest.mark.parametrize("world", [random_world, grain_world], ids=["like the demo", "second physics"])
def test_marks_over_black_are_no_slips_of_the_hand(world: Callable[[int, int, float], World]) -> None:
    """They tell how much a pencil covers. The same hand is known with them as without, and what is known of marks on
    the bare paper is not lost for them: a hand of 5 % was taken for one of 39, and these were 2 ΔE off.
    """
    made = Readings(world(33, 24, 0.05), 33)
    bare, both, over_black = (
        known_from(made, HOME, 0, kinds)[0] for kinds in (KINDS, OVER_BLACK, (HEAVY, OVER_BLACK[-1]))
    )
    assert both.hand == bare.hand
    assert over_black.hand == USUAL_HAND
    truth = made.true_labs(HOME)
    off, off_with = (
        np.median(delta_e_2000(predict([known.pencils[i] for i in range(24)], paper_of(made, known), KINDS).lab, truth))
        for known in (bare, both)
    )
    assert off_with < off + 0.25


@pytest.mark.parametrize("world", [random_world, grain_world], ids=["like the demo", "second physics"])
def test_a_steady_hand_is_known_for_one_and_promises_more(world: Callable[[int, int, float], World]) -> None:
    """Three marks each of 36 pencils by a hand that slips by 5 %: its bands are within 2.1, and hold."""
    made = Readings(world(53, 36, 0.05), 53)
    known = known_from(made, HOME, 0)[0]
    assert known.hand < 0.065
    told = predict([known.pencils[i] for i in range(36)], paper_of(made, known), KINDS)
    assert np.median(told.radius) < 2.1
    again = delta_e_2000(told.lab, made.read_labs(HOME, again=1))
    assert np.mean(again <= told.radius) >= 0.86


def test_a_hand_of_which_little_is_known_counts_for_more() -> None:
    """The same marks of a steady hand, of two pencils and of fifty: what may be counts as long as it may be."""
    one = Slips(np.zeros(3), np.eye(3) * 0.02**2, USUAL_HAND)
    learned = [learn_hand([one] * pencils) for pencils in (0, 1, 2, 50)]
    assert learned == sorted(learned, reverse=True)
    assert learned[0] > 1.1 * learned[1]
    assert learned[2] > 1.3 * learned[3]


def test_repeated_makings_tell_a_steady_hand_from_a_restless_one(made: Readings) -> None:
    """Four pencils made twice, twice over: the same to a hair, or a quarter apart in load."""
    learned = []
    for apart in (0.3, 6.0):
        marks = made.marks(HOME, range(PENCILS), KINDS)
        for mark in [m for m in marks if m.pencil < 4]:
            marks += [
                replace(mark, lab=mark.lab + np.array([sign * apart, 0.0, 0.0]), spectrum=None) for sign in (-1, 1)
            ]
        learned.append(survey([made.seen_paper(HOME)], marks, colours(made)).hand)
    assert learned[0] < learned[1]


def colours(made: Readings) -> list[SeenColour]:
    return [SeenColour(i, made.world.opacities[i]) for i in range(PENCILS)]


def test_a_restless_hand_widens_every_band(known: Survey, made: Readings) -> None:
    paper = paper_of(made, known)
    pencils = [known.pencils[i] for i in range(PENCILS)]
    steady, restless = (replace(paper, hand=hand) for hand in (0.03, 0.3))
    for kinds in (KINDS, [Kind(Pressure.MEDIUM, 3)]):
        assert np.all(predict(pencils, restless, kinds).radius > predict(pencils, steady, kinds).radius)
    stacks = [[Layer(pencils[0], Pressure.HEAVY), Layer(pencils[1], Pressure.LIGHT)]]
    assert predict_stacks(stacks, restless).radius[0] > predict_stacks(stacks, steady).radius[0]
    # What is promised of a steady hand does not know it, and neither does the step between two passages.
    told = [predict_stacks([*stacks, stacks[0][::-1]], paper) for paper in (steady, restless)]
    assert np.allclose(told[0].of_a_steady_hand, told[1].of_a_steady_hand)
    assert told[0].radius_between(0, 1) == pytest.approx(told[1].radius_between(0, 1))
    assert np.all(np.linalg.eigvalsh(told[1].of_a_steady_hand) > 0)


@settings(max_examples=12, deadline=None)
@given(order=st.permutations(range(PENCILS * 4)))
def test_the_order_of_marks_does_not_matter(order: list[int]) -> None:
    made = Readings(random_world(51, PENCILS, 0.12), 51)
    marks = made.marks(HOME, range(PENCILS), KINDS)
    # A second making of each heavy mark: two that are equal in all but what was read.
    marks += [replace(m, lab=made.reading(HOME, m.pencil, HEAVY, 1)[0]) for m in marks if m.kind == HEAVY]
    told = []
    for given_as in (marks, [marks[i] for i in order]):
        found = survey([made.seen_paper(HOME)], given_as, colours(made))
        told.append(predict([found.pencils[i] for i in range(PENCILS)], paper_of(made, found), KINDS))
    assert np.allclose(told[0].lab, told[1].lab, atol=1e-6)
    assert np.allclose(told[0].radius, told[1].radius, atol=1e-6)


def test_copies_of_a_pencil_are_that_pencil(known: Survey, made: Readings) -> None:
    paper, one = paper_of(made, known), known.pencils[3]
    layers = [Layer(one, Pressure.MEDIUM), Layer(one, Pressure.MEDIUM, 2)]
    copied = [Layer(replace(one), Pressure.MEDIUM), Layer(replace(one), Pressure.MEDIUM, 2)]
    told, again = predict_stacks([layers], paper), predict_stacks([copied], paper)
    assert replace(one) == one
    assert np.array_equal(told.lab, again.lab)
    assert np.allclose(told.radius, again.radius)


def test_one_mark_has_one_answer(known: Survey, made: Readings) -> None:
    paper = paper_of(made, known)
    kinds = [Kind(Pressure.LIGHT), HEAVY, Kind(Pressure.MEDIUM, 3), Kind(Pressure.BURNISH)]
    for i in range(4):
        marks = predict([known.pencils[i]], paper, kinds)
        stacks = predict_stacks([[Layer(known.pencils[i], k.pressure, k.layers)] for k in kinds], paper)
        assert np.allclose(marks.lab[0], stacks.lab)
        assert np.allclose(marks.radius[0], stacks.radius)
        assert np.allclose([after[0] for after in stacks.after], stacks.lab)


def test_a_single_mark_and_the_stack_of_it_agree_without_what_is_carried(known: Survey, made: Readings) -> None:
    paper = replace(paper_of(made, known), anchors=0)
    plain = replace(known.pencils[5], left=())
    seen = look([plain], paper, [HEAVY])
    assert not seen.carried.any()
    assert np.allclose(predict_stacks([[Layer(plain, Pressure.HEAVY)]], paper).lab, seen.answer.lab)


def left(off: float, L: float, pressure: Pressure = Pressure.HEAVY, noise: float = 0.35, dark: float = 0.0) -> LeftOver:
    return LeftOver(Kind(pressure), np.array([off, 0.0, 0.0]), L, noise, np.array([1.0, dark]))


def test_what_is_left_over_is_expected_again_where_it_is_alike() -> None:
    def told(*those: LeftOver, ground: float = 90.0) -> tuple[float, float]:
        again = expected_again([those], [HEAVY], np.array([ground]), np.array([[1.0, 0.0]]))
        return float(again.off[0, 0]), float(again.open[0])

    once, open_once = told(left(2.0, 90.0))
    assert 1.0 < once < 2.0
    # A second making that shows the same is believed more, one that shows the contrary takes it back.
    twice, open_twice = told(left(2.0, 90.0), left(2.0, 90.0))
    assert twice > once
    assert open_twice < open_once < 1.0
    assert told(left(2.0, 90.0), left(-2.0, 90.0))[0] == pytest.approx(0.0, abs=1e-12)
    # On another ground, and at another pressure, less is expected of it.
    assert told(left(2.0, 90.0), ground=30.0)[0] < 0.3 * once
    assert 0.0 < told(left(2.0, 90.0, Pressure.LIGHT))[0] < 0.3 * once
    assert told() == (0.0, 1.0)
    padded = expected_again(
        [(left(2.0, 90.0),), ()], [HEAVY, HEAVY], np.array([90.0, 90.0]), np.array([[1.0, 0.0]] * 2)
    )
    assert np.allclose(padded.off[:, 0], [once, 0.0])


def test_what_is_left_over_on_a_dark_ground_is_expected_of_other_pressures_there_and_nowhere_else() -> None:
    over_black = left(4.0, 23.0, dark=2.0)

    def told(pressure: Pressure, ground: float, dark: float) -> Expected:
        return expected_again([(over_black,)], [Kind(pressure)], np.array([ground]), np.array([[1.0, dark]]))

    heavy, light = told(Pressure.HEAVY, 28.0, 2.0), told(Pressure.LIGHT, 28.0, 2.0)
    assert 3.5 < heavy.off[0, 0] < 4.0
    assert heavy.open[0] < 0.15
    # Two steps of pressure apart it is still half of it, where on white it would be a tenth.
    assert 0.4 * heavy.off[0, 0] < light.off[0, 0] < 0.7 * heavy.off[0, 0]
    assert heavy.open[0] < light.open[0] < 1.0
    # A white paper, where no mark is missed so, hears nearly nothing.
    white = told(Pressure.HEAVY, 95.0, 0.0)
    assert abs(white.off[0, 0]) < 0.1
    assert white.open[0] > 0.98


def test_marks_are_missed_by_more_the_darker_their_ground() -> None:
    grounds = np.array([[95.0, 0.0, 0.0], [60.0, 0.0, 0.0], [40.0, 0.0, 0.0], [20.0, 0.0, 0.0]])
    usual = misfits(grounds + np.array([0.0, 12.0, 9.0]), grounds)
    assert np.ptp(usual[:, 0]) < 1e-12
    assert (usual[:2, 1] == 0.0).all()
    assert (np.diff(usual[1:, 1]) > 0.3).all()
    together = misfit_sd(grounds + np.array([0.0, 12.0, 9.0]), grounds)
    assert together[0] == pytest.approx(usual[0, 0])
    assert (together[2:] > usual[2:].max(axis=1)).all()


def test_a_paper_that_is_guessed_takes_the_hand_of_the_first() -> None:
    home = replace(guess_paper(np.full(31, 0.8), Tooth.MEDIUM), hand=0.2)
    assert guess_paper(np.full(31, 0.4), Tooth.ROUGH, home).hand == 0.2


def test_a_burnished_swatch_of_a_pencil_tells_of_its_burnish(made: Readings) -> None:
    marks = made.marks(HOME, range(PENCILS), KINDS)
    with_it = [*marks]
    for i in range(PENCILS):
        lab = made.world.true_lab(HOME, ((i, "burnish"),))
        with_it.append(SeenMark(i, marks[0].paper, Kind(Pressure.BURNISH), lab))
    truth = np.array([made.world.true_lab(HOME, ((i, "burnish"),)) for i in range(PENCILS)])
    bands, misses = [], []
    for given_as in (marks, with_it):
        found = survey([made.seen_paper(HOME)], given_as, colours(made))
        told = predict([found.pencils[i] for i in range(PENCILS)], paper_of(made, found), [Kind(Pressure.BURNISH)])
        misses.append(float(np.median(delta_e_2000(told.lab[:, 0], truth))))
        bands.append(float(np.median(told.radius)))
    assert misses[1] < 0.6 * misses[0]
    assert bands[1] < 0.7 * bands[0]
