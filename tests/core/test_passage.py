"""Stacks of fitted pencils with their bands, and stand-ins judged inside a passage: in worlds whose truth is known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.optics import HOME, KINDS, PRESSURES, Readings, known_from
from benchmarks.worlds import random_world
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.errors import ShapeError
from tidy_tinder.core.layering.collection_fit.survey import Survey
from tidy_tinder.core.layering.fitting.evidence import READING_SD
from tidy_tinder.core.layering.fitting.misfit import misfit_sd
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.prediction.marks import PaperFit, ground_variance
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.standins.passage import Passage, rank_in_passage
from tidy_tinder.core.vocabulary import Pressure


@pytest.fixture(scope="module")
def made() -> Readings:
    return Readings(random_world(23, 24), 23)


@pytest.fixture(scope="module")
def known(made: Readings) -> Survey:
    return known_from(made, HOME, 0, KINDS)[0]


@pytest.fixture(scope="module")
def paper(made: Readings, known: Survey) -> PaperFit:
    return known.papers[made.seen_paper(HOME).key]


def test_bands_of_stacks_hold_nine_of_ten_new_readings(made: Readings, known: Survey, paper: PaperFit) -> None:
    rng = np.random.default_rng(5)
    stacks, read = [], []
    for _ in range(200):
        lower, upper = (int(i) for i in rng.choice(24, 2, replace=False))
        below, above = (Pressure(p) for p in rng.choice(PRESSURES, 2))
        stacks.append([Layer(known.pencils[lower], below), Layer(known.pencils[upper], above)])
        read.append(made.world.reading(rng, HOME, ((lower, below), (upper, above)), False)[0])
    told = predict_stacks(stacks, paper)
    held = float(np.mean(delta_e_2000(told.lab, np.array(read)) <= told.radius))
    assert 0.85 <= held <= 0.99
    assert float(np.median(told.radius)) < 4.0
    assert all(after[-1] == pytest.approx(lab) for after, lab in zip(told.after, told.lab, strict=True))


def test_what_two_passages_share_does_not_blur_their_difference(known: Survey, paper: PaperFit) -> None:
    base = Layer(known.pencils[0], Pressure.HEAVY)
    one, other = Layer(known.pencils[1], Pressure.LIGHT), Layer(known.pencils[2], Pressure.LIGHT)
    told = predict_stacks([[base, one], [base, other], [base, one]], paper)
    between = told.radius_between(0, 1)
    assert between < float(np.hypot(told.radius[0], told.radius[1]))
    assert between == pytest.approx(told.radius_between(1, 0), rel=0.2)
    # The same passage twice differs by what repeating it would alone.
    assert told.radius_between(0, 2) < between
    with pytest.raises(ShapeError, match="at least one"):
        predict_stacks([[]], paper)
    assert len(predict_stacks([], paper).lab) == 0


def test_candidates_in_a_passage_are_ranked_as_the_truth_ranks_them(
    made: Readings, known: Survey, paper: PaperFit
) -> None:
    """Under a heavy layer the nearest marks alone are not the nearest in the passage (ours, docs/model.md)."""
    rng = np.random.default_rng(9)
    found, held = [], []
    for _ in range(6):
        lower, upper = (int(i) for i in rng.choice(24, 2, replace=False))
        below, above = (Pressure(p) for p in rng.choice(PRESSURES, 2))
        passage = Passage(below=(Layer(known.pencils[lower], below),))
        others = [i for i in range(24) if i != upper]
        ranking = rank_in_passage(
            passage, [Layer(known.pencils[upper], above)],
            {i: [Layer(known.pencils[i], above)] for i in others}, paper, Closest.OVERALL,
        )  # fmt: skip
        true = {i: made.world.true_lab(HOME, ((lower, below), (i, above))) for i in (upper, *others)}
        apart = [float(delta_e_2000(true[o.key], true[upper])) for o in ranking.offers]
        found.append(float(np.corrcoef(np.argsort(np.argsort(apart)), np.arange(len(apart)))[0, 1]))
        held += [abs(a - o.difference.delta_e) <= o.plus_minus for a, o in zip(apart, ranking.offers, strict=True)]
        assert [o.expected for o in ranking.offers] == sorted(o.expected for o in ranking.offers)
        assert len(ranking.asked_after) == 2
        assert ranking.offers[0].after.shape == (2, 3)
    assert float(np.median(found)) >= 0.88
    assert float(np.mean(held)) >= 0.85


def test_what_lies_above_hides_what_is_exchanged(known: Survey, paper: PaperFit) -> None:
    heavy = Layer(known.pencils[3], Pressure.HEAVY, 2)
    asked, other = [Layer(known.pencils[4], Pressure.MEDIUM)], {1: [Layer(known.pencils[5], Pressure.MEDIUM)]}
    bare = rank_in_passage(Passage(), asked, other, paper, Closest.OVERALL).offers[0]
    under = rank_in_passage(Passage(above=(heavy,)), asked, other, paper, Closest.OVERALL).offers[0]
    assert under.difference.delta_e < bare.difference.delta_e
    assert under.room < bare.room
    solvent = rank_in_passage(Passage(solvent=True), asked, other, paper, Closest.OVERALL)
    assert solvent.asked[0] < rank_in_passage(Passage(), asked, other, paper, Closest.OVERALL).asked[0]
    assert rank_in_passage(Passage(), asked, {}, paper, Closest.VALUE).offers == ()


def test_the_passage_without_the_call_is_what_lies_round_it(known: Survey, paper: PaperFit) -> None:
    below, above = Layer(known.pencils[0], Pressure.HEAVY), Layer(known.pencils[1], Pressure.LIGHT)
    asked = [Layer(known.pencils[2], Pressure.MEDIUM)]
    ranking = rank_in_passage(Passage((below,), (above,)), asked, {}, paper, Closest.OVERALL)
    assert ranking.without == pytest.approx(predict_stacks([[below, above]], paper).lab[0])
    assert rank_in_passage(Passage(), asked, {}, paper, Closest.OVERALL).without is None
    # What solvent would make of the rest is what the rest is in a passage that solvent dissolves.
    wet = rank_in_passage(Passage((below,), (above,), solvent=True), asked, {}, paper, Closest.OVERALL)
    assert wet.without == pytest.approx(predict_stacks([[below, above]], paper, solvent=True).lab[0])
    assert float(delta_e_2000(wet.without, ranking.without)) > 1.0


def test_solvent_and_each_further_deposit_add_to_the_doubt(known: Survey, paper: PaperFit) -> None:
    """Ours, by worlds whose truth is known: solvent adds 3 ΔE*ab of standard deviation, each further pencil .6, each
    further layer of one .7, burnishing 1.5 and over another pencil 2.5 instead.
    """
    first, second, third = (Layer(known.pencils[i], Pressure.MEDIUM) for i in (3, 4, 5))

    def more(*laid: Layer[PencilFit], solvent: bool = False) -> float:
        told = predict_stacks([list(laid)], paper, solvent)
        misfit = float(misfit_sd(told.lab[0], reflectance_to_lab(add_surface(paper.body)))) ** 2
        ground = float(ground_variance(told.lab, paper, [laid[-1].pencil])[0])
        return float(np.trace(told.off[0])) / 3 - paper.spread * (misfit + ground) - READING_SD**2

    assert more(first) < 0.0  # its own swatch tells how the model misses it
    assert more(first, second) == pytest.approx(0.6**2)
    assert more(first, second, third) == pytest.approx(2 * 0.6**2)
    assert more(first, second, second) == pytest.approx(0.6**2 + 0.7**2)
    assert more(first, replace(second, pressure=Pressure.BURNISH)) == pytest.approx(0.6**2 + 2.5**2)
    assert more(first, second, solvent=True) == pytest.approx(0.6**2 + 3.0**2)
    dry, wet = (predict_stacks([[first, second]], paper, solvent).radius[0] for solvent in (False, True))
    assert wet > dry + 1.0


def test_what_is_missed_alike_in_every_layer_adds_up_and_parts_no_passages_of_as_many(
    known: Survey, paper: PaperFit
) -> None:
    """Ours: √(n(n − 1)) times .7 ΔE*ab for n layers over others (decision 0048), which all stacks of as many share."""
    first, second, third, fourth = (Layer(known.pencils[i], Pressure.MEDIUM) for i in (3, 4, 5, 6))
    stacks = [[first, second], [first, second, third], [second, first, third], [first, second, third, fourth]]
    told = predict_stacks(stacks, paper)
    alike = [float(each["alike"][0, 0]) for each in told.steps]
    assert alike == pytest.approx([0.0, 0.7 * 2**0.5, 0.7 * 2**0.5, 0.7 * 6**0.5])
    without = [sum(step.T @ step for key, step in each.items() if key != "alike") for each in told.steps]
    for i, missed in enumerate(alike):
        assert told.covariance[i] - without[i] - told.off[i] == pytest.approx(missed**2 * np.eye(3))
    # Of as many layers they share it all, of more only what fewer have.
    still = replace(told, steps=tuple({**each, "alike": np.zeros((3, 3))} for each in told.steps))
    assert told.covariance_between(1, 2) == pytest.approx(still.covariance_between(1, 2))
    apart = told.covariance_between(1, 3) - still.covariance_between(1, 3)
    assert apart == pytest.approx((alike[3] - alike[1]) ** 2 * np.eye(3))


def test_how_much_is_one_smeared_film_is_in_doubt_where_pencils_lie_over_others(known: Survey, paper: PaperFit) -> None:
    """Ours: by .2 (decision 0041). What that moves is laid here on papers that smear a little more and less."""
    lower, upper = (Layer(known.pencils[i], Pressure.HEAVY) for i in (2, 9))

    def look(more: float, *laid: Layer[PencilFit]) -> NDArray[np.float64]:
        return np.asarray(predict_stacks([laid], replace(paper, smeared=paper.smeared + more)).lab[0])

    by_share = (look(0.01, lower, upper) - look(-0.01, lower, upper)) / 0.02
    assert np.linalg.norm(by_share) > 1.0
    one, same, over = predict_stacks([[lower], [lower, lower], [lower, upper]], paper).steps
    assert over["smeared"][0] == pytest.approx(0.2 * by_share, rel=0.01, abs=0.01)
    assert one["smeared"] == pytest.approx(0.0, abs=1e-6)
    assert same["smeared"] == pytest.approx(0.0, abs=1e-6)
    assert look(0.2, lower) == pytest.approx(look(0.0, lower))


def test_two_stacks_share_half_of_what_readings_differ_from_the_model_by(known: Survey, paper: PaperFit) -> None:
    """Ours (decision 0041): the other half is each one's own, and doubts even the step between two that are alike."""
    laid = [Layer(known.pencils[2], Pressure.HEAVY), Layer(known.pencils[9], Pressure.MEDIUM)]
    twice = predict_stacks([laid, laid], paper)
    assert twice.covariance_between(0, 1) == pytest.approx(0.5 * (twice.off[0] + twice.off[1]))


def test_ties_in_a_passage_are_gaps_within_what_both_share(known: Survey, paper: PaperFit) -> None:
    """Beside the nearest, a candidate ties where its gap is under 1.28/2.5 of the doubt between the two."""
    asked = [Layer(known.pencils[0], Pressure.HEAVY)]
    candidates = {i: [Layer(known.pencils[i], Pressure.HEAVY)] for i in range(1, 24)}
    offers = rank_in_passage(Passage(), asked, candidates, paper, Closest.OVERALL).offers
    stacks = predict_stacks([candidates[o.key] for o in offers], paper)
    for place, offer in enumerate(offers[1:], 1):
        doubt = (1.28 / 2.5) * stacks.radius_between(0, place)
        assert offer.tie == (offer.ranked_by - offers[0].ranked_by < doubt)
    assert offers[0].tie == any(offer.tie for offer in offers[1:])
    assert not offers[-1].tie
    same = rank_in_passage(Passage(), asked, {1: asked, 2: asked}, paper, Closest.OVERALL).offers
    assert [offer.tie for offer in same] == [True, True]


def test_bands_of_dissolved_stacks_hold_too(made: Readings, known: Survey, paper: PaperFit) -> None:
    rng, held = np.random.default_rng(6), []
    world = made.world
    for size in (2, 3) * 15:
        ids, pressures = rng.choice(24, size, replace=False), rng.choice(PRESSURES, size)
        told = predict_stacks(
            [[Layer(known.pencils[int(i)], Pressure(p)) for i, p in zip(ids, pressures, strict=True)]], paper, True
        )
        laid = tuple((int(i), str(p)) for i, p in zip(ids, pressures, strict=True))
        truth = world.true_lab(HOME, laid, solvent=True)
        held.append(bool(delta_e_2000(told.lab[0], truth) <= told.radius[0]))
    assert float(np.mean(held)) >= 0.8
