"""“What is this?” against the normal density of scipy, and what a reading cannot tell apart."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.stats import multivariate_normal

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.swatching.identification import SPREAD_MEASURED, Candidate, identify

SEEN = np.array([50.0, 0.0, 0.0])
# “None of these” is believed as much as a mark 3.5 spreads away (ours).
NONE_AT = 3.5


def grey(key: int, lightness: float, owned: bool = False, band: float | None = None) -> Candidate:
    return Candidate(key, np.array([lightness, 0.0, 0.0]), owned, band)


def density(apart: float, sigma: float) -> float:
    """Of a normal cloud in three dimensions, this far from its middle."""
    return float(multivariate_normal.pdf([apart, 0.0, 0.0], cov=np.eye(3) * sigma**2))


@pytest.mark.parametrize("spread", [0.9, 2.4])
def test_shares_are_those_of_normal_densities(spread: float) -> None:
    # Measured, predicted within 2, predicted within 5; nine of ten of such a cloud lie within 2.5 σ.
    candidates = [grey(1, 51.0), grey(2, 49.2, band=2.0), grey(3, 52.5, band=5.0), grey(4, 70.0)]
    sigmas = [np.hypot(spread, (one.band or 0.0) / 2.5) for one in candidates]
    believed = [
        density(float(delta_e_2000(one.lab, SEEN)), sigma) for one, sigma in zip(candidates, sigmas, strict=True)
    ]
    none = density(NONE_AT * spread, spread)
    found = identify(SEEN, candidates, spread)
    shares = {one.key: one.share for one in found.likely}
    total = sum(believed) + none
    assert [shares[key] for key in (1, 2, 3, 4)] == pytest.approx([one / total for one in believed], rel=1e-9)
    assert found.none_share == pytest.approx(none / total, rel=1e-9)
    assert sum(shares.values()) + found.none_share == pytest.approx(1.0)


def test_what_fits_worse_than_none_of_these_is_not_the_best() -> None:
    near, far = identify(SEEN, [grey(1, 50.5)], 0.9), identify(SEEN, [grey(1, 58.0)], 0.9)
    assert near.best is not None
    assert near.best.key == 1
    assert far.best is None
    assert far.alike == ()
    nothing = identify(SEEN, [], 0.9)
    assert (nothing.likely, nothing.none_share, nothing.alike, nothing.best) == ((), 1.0, (), None)


def test_owned_ones_come_first_and_the_best_may_still_be_another() -> None:
    found = identify(SEEN, [grey(1, 50.2), grey(2, 51.6, owned=True)], 0.9)
    assert [one.key for one in found.likely] == [2, 1]
    assert found.best is not None
    assert found.best.key == 1


def test_what_a_reading_cannot_tell_apart_is_named_from_the_likeliest() -> None:
    # Of 1 and 2 neither is three times as likely as the other; 3 is far less so.
    assert identify(SEEN, [grey(1, 50.4), grey(2, 50.8), grey(3, 53.0)], 0.9).alike == (1, 2)
    # One by itself is told apart from the other.
    assert identify(SEEN, [grey(1, 50.1), grey(2, 52.4)], 0.9).alike == ()
    # Three that are alike are all named, the nearest first; what fits worse than none is not, however alike they are.
    assert identify(SEEN, [grey(1, 50.6), grey(2, 49.7), grey(3, 50.4)], 0.9).alike == (2, 3, 1)
    assert identify(SEEN, [grey(1, 57.0), grey(2, 57.1)], 0.9).alike == ()
    # A wide guess lies nearest and is not the likeliest: alike are those that rival the measured mark.
    found = identify(SEEN, [grey(1, 50.0, band=9.0), grey(2, 50.3), grey(3, 52.2)], 0.9)
    assert found.best is not None
    assert found.best.key == 2
    assert found.alike == ()


def test_no_more_are_named_than_asked_for_and_hostile_readings_are_refused() -> None:
    many = [grey(i, 50.0 + i / 10) for i in range(20)]
    assert [one.key for one in identify(SEEN, many, 0.9).likely] == list(range(8))
    assert [one.key for one in identify(SEEN, many, 0.9, limit=3).likely] == [0, 1, 2]
    with pytest.raises(OutOfRangeError):
        identify(SEEN, many, 0.9, limit=0)
    with pytest.raises(OutOfRangeError):
        identify(np.array([np.nan, 0.0, 0.0]), many, 0.9)
    with pytest.raises(ShapeError):
        identify(np.array([50.0, 0.0]), many, 0.9)


def candidates(*labs: tuple[float, float, float], owned: bool = True) -> list[Candidate]:
    return [Candidate(i, np.array(lab), owned) for i, lab in enumerate(labs)]


def test_the_nearest_by_far_is_believed() -> None:
    found = identify(np.array([50.2, 40, 20]), candidates((50, 40, 20), (60, 40, 20), (50, 0, 20)), SPREAD_MEASURED)
    assert found.best is not None
    assert found.best.key == 0
    assert found.best.share > 0.95
    assert found.alike == ()


def test_two_that_are_alike_are_not_told_apart() -> None:
    found = identify(np.array([50.1, 40, 20]), candidates((50, 40, 20), (50.3, 40.2, 20)), SPREAD_MEASURED)
    assert set(found.alike) == {0, 1}


def test_none_of_them_is_an_answer() -> None:
    found = identify(np.array([90.0, 0, 0]), candidates((50, 40, 20)), SPREAD_MEASURED)
    assert found.best is None
    assert found.none_share > 0.99
    assert identify(np.array([90.0, 0, 0]), [], SPREAD_MEASURED).none_share == 1.0


def test_owned_come_first_and_shares_are_shares() -> None:
    mixed = [*candidates((50, 40, 20), owned=False), Candidate(9, np.array([51.0, 40, 20]), True)]
    found = identify(np.array([50.0, 40, 20]), mixed, SPREAD_MEASURED)
    assert [one.key for one in found.likely] == [9, 0]
    assert sum(one.share for one in found.likely) + found.none_share == pytest.approx(1.0)


def test_a_larger_spread_is_less_sure() -> None:
    """Bayes: the wider the spread, the nearer the shares (Jeffreys 1961, from memory)."""
    two = candidates((50, 40, 20), (53, 40, 20))
    sharp, wide = (identify(np.array([50.0, 40, 20]), two, s).likely[0].share for s in (0.9, 4.0))
    assert sharp > wide
