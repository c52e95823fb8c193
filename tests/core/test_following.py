"""Pencils follow the paper that they were fitted on: as if fitted anew on another one, in marks, stacks and strips."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.optics import HOME, KINDS, Readings, known_from
from benchmarks.worlds import grain_world

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layering.collection_fit.strips import SeenStrip, learn_from_strips
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, Survey, survey
from tidy_tinder.core.layering.fitting.evidence import Evidence, Kind
from tidy_tinder.core.layering.fitting.paper_unknowns import (
    GRAIN,
    HEAVY,
    HELD,
    LIGHT,
    OVER,
    PAPER_UNKNOWNS,
    SHIFT,
)
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.layering.prediction.marks import PaperFit, guess_paper, look, pencil_on, predict, slopes_by_paper
from tidy_tinder.core.layering.prediction.stacks import axes_of, predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Pressure, Tooth

PENCILS = 24
LOWER, UPPER = 3, 8
LAID = (Layer(LOWER, Pressure.MEDIUM), Layer(UPPER, Pressure.HEAVY))


@pytest.fixture(scope="module")
def made() -> Readings:
    return Readings(grain_world(61, PENCILS, 0.08), 61)


@pytest.fixture(scope="module")
def known(made: Readings) -> Survey:
    return known_from(made, HOME, 0)[0]


def home_of(known: Survey) -> PaperFit:
    assert known.home is not None
    return known.papers[known.home]


def moved(paper: PaperFit, at: int, by: float) -> PaperFit:
    """A paper with one of its unknowns another."""
    return replace(paper, unknowns=paper.unknowns + by * np.eye(PAPER_UNKNOWNS)[at])


def stack_lab(pencils: Mapping[int, PencilFit], paper: PaperFit) -> Lab:
    """Lab (3,) of LAID."""
    return np.asarray(predict_stacks([[one.of(pencils[one.pencil]) for one in LAID]], paper).lab[0])


def fitted_on(made: Readings, paper: PaperFit, at_home: bool = True) -> PencilFit:
    """A pencil by its three marks on a paper that is so."""
    marks = made.marks(HOME, [LOWER], KINDS)
    evidence = [Evidence(one.lab, paper.model, one.kind, one.noise, one.spectrum, at_home) for one in marks]
    return fit_pencils([evidence], [made.world.opacities[LOWER]])[0]


@pytest.mark.parametrize("at", [GRAIN, OVER, LIGHT, HEAVY])
def test_a_pencil_fitted_on_another_paper_is_the_one_that_its_slopes_tell(
    made: Readings, known: Survey, at: int
) -> None:
    """By differences of two fits, as scipy and others check derivatives; the slopes leave out how the slopes of the
    model bend and what the starting spectrum, which `fine` keeps, has of the paper.
    """
    paper = home_of(known)
    by = 0.02
    more, less = (fitted_on(made, moved(paper, at, sign * by)) for sign in (1.0, -1.0))
    told = fitted_on(made, paper).follows[:, at]
    # Of what can be seen: how its marks on one and the same paper differ.
    on = replace(paper, fitted_at=None)
    seen = [look([one] * 3, on, KINDS).answer.lab for one in (more, less)]
    middle = fitted_on(made, paper)
    expected = [
        look([replace(middle, unknowns=middle.unknowns + sign * by * told)] * 3, on, KINDS).answer.lab
        for sign in (1.0, -1.0)
    ]
    truly, by_slopes = (one[0] - one[1] for one in (seen, expected))
    assert np.linalg.norm(truly) > 0.01
    assert np.linalg.norm(truly - by_slopes) < 0.25 * np.linalg.norm(truly)


def test_a_pencil_follows_only_the_paper_at_home_and_never_its_shift(made: Readings, known: Survey) -> None:
    paper = home_of(known)
    assert not fitted_on(made, paper, at_home=False).follows.any()
    assert not fitted_on(made, paper).follows[:, SHIFT].any()
    assert fitted_on(made, paper) != fitted_on(made, paper, at_home=False)


def test_marks_seen_at_home_look_as_they_were_seen_whatever_that_paper_is_taken_for(known: Survey) -> None:
    paper, pencils = home_of(known), list(known.pencils.values())
    # One load among others is in part taken for a slip, and an exponent that makes all marks paler for no pencil.
    for at, by, left in ((GRAIN, 0.2, 0.6), (LIGHT, 0.1, 0.6), (HEAVY, 0.1, 0.5), (OVER, 0.2, 0.8)):
        following, still = (
            delta_e_2000(predict(pencils, moved(of, at, by), KINDS).lab, predict(pencils, of, KINDS).lab).mean()
            for of in (paper, replace(paper, fitted_at=None))
        )
        assert following < left * still
    bands = [predict(pencils, of, KINDS).radius for of in (paper, replace(paper, fitted_at=None))]
    assert np.mean(bands[0] < bands[1]) > 0.9


def test_slopes_by_the_paper_are_what_another_paper_makes_of_marks_and_stacks(known: Survey) -> None:
    paper, pencils = home_of(known), [known.pencils[LOWER], known.pencils[UPPER]]
    kinds = [Kind(Pressure.LIGHT), Kind(Pressure.HEAVY, 2)]
    stacks = [[one.of(known.pencils[one.pencil]) for one in LAID]]
    by_mark, by_stack = np.zeros((2, 2, 3, PAPER_UNKNOWNS)), np.zeros((3, PAPER_UNKNOWNS))
    for at in range(PAPER_UNKNOWNS):
        more, less = moved(paper, at, 1e-4), moved(paper, at, -1e-4)
        by_mark[0, :, :, at] = (look(pencils, more, kinds).answer.lab - look(pencils, less, kinds).answer.lab) / 2e-4
        by_stack[:, at] = (predict_stacks(stacks, more).lab[0] - predict_stacks(stacks, less).lab[0]) / 2e-4
    answer = look(pencils, paper, kinds).answer
    assert slopes_by_paper(answer, paper, pencils, kinds) == pytest.approx(by_mark[0], rel=1e-3, abs=1e-3)
    # Slopes of stacks are taken by small steps themselves.
    told = predict_stacks(stacks, paper).steps[0]["paper"]
    assert told == pytest.approx(axes_of(paper.covariance) @ by_stack.T, rel=0.02, abs=0.02)
    still = predict_stacks(stacks, replace(paper, fitted_at=None)).steps[0]["paper"]
    assert np.linalg.norm(told) < np.linalg.norm(still)


def test_only_the_first_paper_is_followed_and_pencils_known_by_their_chart_follow_it_too(made: Readings) -> None:
    pencils = list(range(PENCILS))
    marks = [*made.marks(HOME, pencils[:-1], KINDS), *made.marks("white rough", [0, 1], KINDS)]
    # A chart that shows colours as they are.
    charts = made.true_labs(HOME)[:, 2]
    colours = [SeenColour(i, made.world.opacities[i], charts[i]) for i in pencils]
    found = survey([made.seen_paper(HOME), made.seen_paper("white rough")], marks, colours)
    home, other = found.papers[made.seen_paper(HOME).key], found.papers[made.seen_paper("white rough").key]
    assert home.fitted_at is not None
    np.testing.assert_array_equal(home.fitted_at, home.unknowns)
    assert other.fitted_at is None
    assert found.by_chart == {PENCILS - 1}
    assert all(fit.follows.any() for fit in found.pencils.values())
    # At home a pencil is as it was fitted.
    assert np.array_equal(pencil_on(found.pencils[0], home).absorption, found.pencils[0].model.absorption)


@pytest.mark.parametrize(("at", "elsewhere"), [(GRAIN, False), (HELD, False), (GRAIN, True)])
def test_what_a_strip_teaches_follows_the_paper_too(known: Survey, at: int, elsewhere: bool) -> None:
    """Beside a survey in which that paper was taken for another from the beginning; the strip lies there or on another,
    which stays what it is.
    """
    home = home_of(known)
    other = moved(home, at, 0.01)
    of_strip = guess_paper(home.body, Tooth.ROUGH, home) if elsewhere else home
    # How much a strip teaches depends on the paper, too: that is not followed, and goes with what the strip is off by.
    strip = SeenStrip(1, LAID, stack_lab(known.pencils, of_strip) + np.array([1.0, -0.5, 0.5]))
    there = {of: replace(fit, unknowns=fit.unknowns + 0.01 * fit.follows[:, at]) for of, fit in known.pencils.items()}
    learned = learn_from_strips([strip], known.pencils, {1: of_strip})
    seen_there = of_strip if elsewhere else replace(other, fitted_at=other.unknowns)
    learned_there = learn_from_strips([strip], there, {1: seen_there})
    # Before the strip something else followed: that is not enough after it.
    stale = {of: replace(fit, follows=known.pencils[of].follows) for of, fit in learned.items()}
    truly = stack_lab(learned_there, replace(other, fitted_at=other.unknowns))
    now, before = (
        np.linalg.norm(stack_lab(of, replace(other, fitted_at=home.unknowns)) - truly) for of in (learned, stale)
    )
    assert now < 0.5 * before
    assert not learned[UPPER].follows[:, SHIFT].any()


def test_a_strip_teaches_less_on_a_paper_that_is_in_doubt(known: Survey) -> None:
    paper = home_of(known)
    strip = SeenStrip(1, LAID, stack_lab(known.pencils, paper) + np.array([3.0, 0.0, 0.0]))
    sure, doubted = (replace(paper, covariance=paper.covariance * times) for times in (0.01, 9.0))
    more, less = (
        np.abs(learn_from_strips([strip], known.pencils, {1: on})[UPPER].unknowns - known.pencils[UPPER].unknowns).sum()
        for on in (sure, doubted)
    )
    assert less < 0.9 * more
