"""What difference is to be expected of a colour that is only known within a doubt: beside drawing it at random."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.difference.expected import expected_difference, expected_of
from tidy_tinder.core.difference.local import local_metric, radius

LAB = np.array([55.0, 25.0, -15.0])
ROUND = np.diag([1.5, 2.0, 2.5])
# Nearly all of the doubt along one line, askew.
LINE = np.outer([2.0, -3.0, 1.0], [2.0, -3.0, 1.0]) * 0.4 + 0.02 * np.eye(3)


@pytest.mark.parametrize("covariance", [ROUND, LINE], ids=["round", "along a line"])
@pytest.mark.parametrize("away", [0.0, 0.7, 2.0, 8.0])
def test_it_is_the_mean_of_what_is_drawn(covariance: np.ndarray, away: float) -> None:
    """200,000 draws in the metric of small differences (its own source: `difference.local`); to within a tenth."""
    metric = local_metric(LAB)
    step = np.array([1.0, 1.0, 0.5])
    step = away * step / np.sqrt(step @ metric @ step)
    drawn = step + np.random.default_rng(1).multivariate_normal(np.zeros(3), covariance, 200_000)
    mean = float(np.sqrt(np.einsum("ni,ij,nj->n", drawn, metric, drawn)).mean())
    assert float(expected_of(away, step, covariance, LAB)) == pytest.approx(mean, rel=0.1)


def test_doubt_only_adds_and_without_it_nothing_is_added() -> None:
    step = np.array([[1.0, 0.0, 0.0], [3.0, 1.0, -1.0]])
    sure = expected_of([1.0, 3.0], step, np.zeros((2, 3, 3)), np.stack([LAB, LAB]))
    assert np.allclose(sure, [1.0, 3.0])
    less, more = (
        expected_of([1.0, 3.0], step, by * np.stack([ROUND, LINE]), np.stack([LAB, LAB])) for by in (0.2, 1.0)
    )
    assert np.all(sure < less)
    assert np.all(less < more)


def test_a_band_alone_tells_nearly_as_much_where_doubt_is_alike_along_all_axes() -> None:
    metric = np.linalg.inv(local_metric(LAB))
    for away in (0.0, 1.0, 4.0):
        step = np.array([away, 0.0, 0.0]) / np.sqrt(local_metric(LAB)[0, 0])
        told = float(expected_of(away, step, metric, LAB))
        assert float(expected_difference(away, radius(metric, LAB))) == pytest.approx(told, rel=0.05)
