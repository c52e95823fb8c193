"""How much layers cover, beside the hidden truth, whose physics is not the model's."""

from __future__ import annotations

import numpy as np
import pytest
from benchmarks.optics import HOME, PRESSURES, Readings, known_from
from benchmarks.worlds import random_world
from scipy.stats import spearmanr

from tidy_tinder.core.layering.collection_fit.survey import Survey
from tidy_tinder.core.layering.prediction.covering import opacity_of_stacks
from tidy_tinder.core.layering.prediction.marks import PaperFit
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.swatching.opacity import opacity_test
from tidy_tinder.core.vocabulary import Pressure


@pytest.fixture(scope="module")
def made() -> Readings:
    return Readings(random_world(24, 24), 24)


@pytest.fixture(scope="module")
def known(made: Readings) -> Survey:
    return known_from(made, HOME, 0)[0]


@pytest.fixture(scope="module")
def paper(made: Readings, known: Survey) -> PaperFit:
    return known.papers[made.seen_paper(HOME).key]


def test_pairs_cover_about_as_they_do_in_truth(made: Readings, known: Survey, paper: PaperFit) -> None:
    rng = np.random.default_rng(4)
    told, true = [], []
    for _ in range(40):
        pair = tuple((int(i), Pressure(rng.choice(PRESSURES))) for i in rng.choice(24, 2, replace=False))
        foretold = opacity_of_stacks([[Layer(known.pencils[i], p) for i, p in pair]], paper)[0]
        seen = opacity_test(made.world.true_lab(HOME, pair), made.world.true_lab(HOME, pair, True))
        if seen.opacity is not None:
            told.append(foretold.contrast_ratio)
            true.append(seen.contrast_ratio)
    assert len(true) > 20
    assert float(spearmanr(told, true)[0]) > 0.8
    assert float(np.median(np.abs(np.array(told) - true))) < 0.12


def test_more_layers_and_more_pressure_cover_more(known: Survey, paper: PaperFit) -> None:
    """Common practice, no source."""
    for pencil in list(known.pencils.values())[:8]:
        stacks = [
            [Layer(pencil, Pressure.LIGHT)],
            [Layer(pencil, Pressure.LIGHT, 3)],
            [Layer(pencil, Pressure.HEAVY, 3)],
        ]
        ratios = [test.contrast_ratio for test in opacity_of_stacks(stacks, paper)]
        assert ratios == sorted(ratios)
        assert ratios[0] > 0.0
        assert ratios[-1] <= 1.0 + 1e-9
    assert opacity_of_stacks([], paper) == ()
