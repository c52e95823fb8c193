"""CIEDE2000 near one colour, and how far an uncertainty reaches in it."""

from __future__ import annotations

import csv
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import chi2

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.local import local_metric, radius
from tidy_tinder.core.errors import ShapeError

PAIRS = Path(__file__).parents[1] / "published/ciede2000_pairs.csv"


def test_small_steps_from_the_published_colours_are_what_ciede2000_says() -> None:
    """From every first colour of the 34 pairs of Sharma, Wu, Dalal (2005), a small step each way."""
    with PAIRS.open(encoding="utf-8") as file:
        rows = list(csv.DictReader(line for line in file if not line.startswith("#")))
    labs = np.array([[float(row[name]) for name in ("L1", "a1", "b1")] for row in rows])
    assert len(labs) == 34
    rng = np.random.default_rng(1)
    for lab, metric in zip(labs, local_metric(labs), strict=True):
        if np.hypot(lab[1], lab[2]) < 0.1:
            continue  # at grey the formula itself turns too fast for any quadratic form
        steps = 0.02 * rng.normal(size=(20, 3))
        told = np.sqrt(np.einsum("ni,ij,nj->n", steps, metric, steps))
        assert np.allclose(told, delta_e_2000(lab, lab + steps), rtol=0.04, atol=2e-4)


@given(st.floats(5, 95), st.floats(-60, 60), st.floats(-60, 60))
def test_the_form_is_symmetric_and_never_negative(L: float, a: float, b: float) -> None:
    metric = local_metric([L, a, b])
    assert np.allclose(metric, metric.T)
    assert np.all(np.linalg.eigvalsh(metric) > -1e-12)


def test_a_radius_holds_the_share_that_it_says() -> None:
    """Of one spread direction, two, and three: χ² with that many degrees of freedom (a handbook table)."""
    grey = np.array([50.0, 0.0, 0.0])
    weight = np.diag(local_metric(grey))
    for freedom in (1, 2, 3):
        covariance = np.diag([1.0 / w if i < freedom else 0.0 for i, w in enumerate(weight)])
        assert radius(covariance, grey) == pytest.approx(np.sqrt(chi2.ppf(0.9, freedom)), rel=0.02)
    covariance = np.diag(1.0 / weight) * [4.0, 1.0, 0.25]
    rng = np.random.default_rng(2)
    drawn = rng.multivariate_normal(np.zeros(3), covariance, size=40_000)
    within = np.sqrt(np.einsum("ni,ij,nj->n", drawn, local_metric(grey), drawn)) <= radius(covariance, grey)
    assert within.mean() == pytest.approx(0.9, abs=0.015)


def test_another_shape_is_refused() -> None:
    with pytest.raises(ShapeError):
        local_metric([50.0, 0.0])
