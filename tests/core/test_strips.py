"""Pencils that learn from a measured strip: nearer to it, nearer in other layers, and no farther by themselves."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from benchmarks.optics import HOME, Readings, demo_opacities, known_from
from benchmarks.strips import ONE_OF_THEM, OTHER_PRESSURES, SAME, SINGLE, Taught, teach
from benchmarks.worlds import random_world, the_demos_world

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.layering.collection_fit.strips import SeenStrip, learn_from_strips
from tidy_tinder.core.layering.collection_fit.survey import Survey
from tidy_tinder.core.layering.fitting.evidence import UNKNOWNS
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.vocabulary import Pressure

LOWER, UPPER = 3, 8
LAID = (Layer(LOWER, Pressure.MEDIUM), Layer(UPPER, Pressure.HEAVY))


@pytest.fixture(scope="module")
def known() -> Survey:
    return known_from(Readings(random_world(21, 12), 21), HOME, 0)[0]


def paper_of(known: Survey) -> int:
    return next(iter(known.papers))


def looks(known: Survey, pencils: dict, *stacks: tuple[Layer, ...]) -> Lab:  # type: ignore[type-arg] # of fits
    fitted = [[Layer(pencils[one.pencil], one.pressure, one.layers) for one in laid] for laid in stacks]
    return predict_stacks(fitted, known.papers[paper_of(known)]).lab


def strip(known: Survey, lab: Lab, **changes: object) -> SeenStrip:
    return replace(SeenStrip(paper_of(known), LAID, lab), **changes)  # type: ignore[arg-type] # names of its fields


def test_a_strip_moves_its_pencils_toward_it_and_no_others(known: Survey) -> None:
    before = looks(known, dict(known.pencils), LAID)[0]
    seen = before + np.array([3.0, -2.0, 2.0])
    learned = learn_from_strips([strip(known, seen)], known.pencils, known.papers)
    after = looks(known, learned, LAID)[0]
    assert delta_e_2000(after, seen) < 0.9 * delta_e_2000(before, seen)
    changed = {key for key, fit in learned.items() if not np.array_equal(fit.unknowns, known.pencils[key].unknowns)}
    assert changed == {LOWER, UPPER}
    for key in changed:
        old, new = known.pencils[key].covariance, learned[key].covariance
        assert np.linalg.eigvalsh(new).min() > 0
        # Nothing is known less well than before, in any direction.
        assert np.linalg.eigvalsh(old - new).min() > -1e-9
    # What is expected anyway teaches nothing but that it is surer.
    same = learn_from_strips([strip(known, before)], known.pencils, known.papers)
    np.testing.assert_allclose(same[UPPER].unknowns, known.pencils[UPPER].unknowns, atol=1e-6)


def test_a_reading_that_cannot_be_bends_little(known: Survey) -> None:
    before = looks(known, dict(known.pencils), LAID)[0]
    moved = []
    for by in (4.0, 60.0):
        seen = np.clip(before + np.array([by, 0.0, 0.0]), 0, 100)
        learned = learn_from_strips([strip(known, seen)], known.pencils, known.papers)
        moved.append(float(looks(known, learned, LAID)[0][0] - before[0]))
    assert moved[0] > 0
    assert moved[1] < 4 * moved[0]


def test_noise_solvent_and_repeated_pencils_are_counted(known: Survey) -> None:
    before = looks(known, dict(known.pencils), LAID)[0]
    seen = before + np.array([3.0, 0.0, 0.0])

    def moved(one: SeenStrip) -> float:
        learned = learn_from_strips([one], known.pencils, known.papers)
        return float(np.abs(learned[UPPER].unknowns - known.pencils[UPPER].unknowns).sum())

    assert moved(strip(known, seen, noise=4.0)) < moved(strip(known, seen))
    sandwich = (LAID[1], LAID[0], replace(LAID[1], pressure=Pressure.LIGHT))
    learned = learn_from_strips([strip(known, seen, layers=sandwich)], known.pencils, known.papers)
    assert learned[UPPER].unknowns.shape == (UNKNOWNS,)
    wet = predict_stacks(
        [[Layer(known.pencils[one.pencil], one.pressure) for one in LAID]], known.papers[paper_of(known)], True
    ).lab[0]
    # As dissolved it is what is expected, and teaches nothing new.
    assert moved(strip(known, wet, solvent=True)) < 1e-6 < moved(strip(known, wet))


def test_what_is_not_known_is_passed_over_and_what_cannot_be_is_refused(known: Survey) -> None:
    lab = np.array([50.0, 0.0, 0.0])
    others = [strip(known, lab, paper=999), strip(known, lab, layers=(Layer(999, Pressure.HEAVY),))]
    learned = learn_from_strips(others, known.pencils, known.papers)
    assert all(learned[key] is known.pencils[key] for key in known.pencils)
    with pytest.raises(ShapeError):
        learn_from_strips([strip(known, lab, layers=())], known.pencils, known.papers)
    brutal = (Layer(LOWER, "brutal"),)  # type: ignore[arg-type] # a word that is none
    with pytest.raises(OutOfRangeError):
        learn_from_strips([strip(known, lab, layers=brutal)], known.pencils, known.papers)


@pytest.mark.slow
def test_two_strips_of_a_pair_bring_predictions_nearer_to_the_hidden_truth() -> None:
    """In the demo's world and in another one, whose physics is not the model's (docs/decisions/0004)."""
    found = Taught()
    for made in (Readings(the_demos_world(demo_opacities(), every=14), 1), Readings(random_world(22, 20), 22)):
        teach(made, found, pairs=6)
    gained = {question: np.mean(found.after[question]) / np.mean(found.before[question]) for question in found.after}
    assert gained[SAME] < 0.85
    assert gained[OTHER_PRESSURES] < 0.99
    assert gained[ONE_OF_THEM] < 1.0
    assert gained[SINGLE] < 1.02
    assert np.mean(found.held[SAME]) > 0.9
