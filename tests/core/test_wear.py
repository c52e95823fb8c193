"""How fast pencils wear: simulated ranges of a known rate are found again, and the bands hold what they promise."""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.restocking.wear import LAYERS, Stretch, lasts, wear_of


def simulated(rng: np.random.Generator, rate: float, count: int) -> list[Stretch]:
    """Stretches as a ruler reads them: the hand is not steady, and a length is read to a millimetre."""
    stretches = []
    for _ in range(count):
        hours = float(rng.uniform(1.0, 6.0))
        worn = rate * hours * float(np.exp(rng.normal(0.0, 0.35)))
        stretches.append(Stretch(max(round(worn + rng.normal(0.0, 0.7)), 0), hours))
    return stretches


def test_nothing_measured_is_a_guess_with_a_wide_band() -> None:
    guess = wear_of(())
    assert guess.is_guess
    assert guess.high / guess.low > 8.0


def test_a_rate_is_learnt_from_a_few_stretches() -> None:
    rng = np.random.default_rng(1)
    off = [abs(np.log(wear_of(simulated(rng, rate, 8)).mm / rate)) for rate in np.geomspace(1.5, 10.0, 60)]
    assert np.median(off) < np.log(1.25)


def test_nine_of_ten_of_the_next_stretches_lie_in_the_band() -> None:
    """On rates spread as pencils are, from nothing to three stretches known. A band that always holds is too wide."""
    rng = np.random.default_rng(2)
    inside = []
    for _ in range(400):
        rate = float(np.exp(rng.normal(np.log(4.0), np.log(1.8))))
        wear = wear_of(simulated(rng, rate, int(rng.integers(0, 4))))
        [following] = simulated(rng, rate, 1)
        inside.append(wear.low <= following.worn_mm / following.use <= wear.high)
    assert 0.85 <= np.mean(inside) <= 0.98


def test_hardly_any_use_teaches_nothing_and_a_short_stretch_little() -> None:
    assert wear_of([Stretch(30.0, 0.01), Stretch(0.0, 4.0)]).is_guess
    short, long = wear_of([Stretch(1.0, 2.0)]), wear_of([Stretch(20.0, 40.0)])
    assert long.high / long.low < short.high / short.low
    assert abs(np.log(short.mm / 0.5)) > abs(np.log(long.mm / 0.5))


def test_layers_over_an_area_are_guessed_more_widely_than_hours() -> None:
    by_hour, by_layer = wear_of(()), wear_of((), LAYERS)
    assert by_layer.high / by_layer.low > by_hour.high / by_hour.low
    known = wear_of([Stretch(10.0, 5.0)] * 4, LAYERS)
    assert known.low < 2.0 < known.high
    assert known.high / known.low < by_layer.high / by_layer.low


def test_a_stub_lasts_no_longer_and_what_cannot_be_is_refused() -> None:
    wear = wear_of([Stretch(8.0, 2.0)] * 5)
    left = lasts(wear, 90.0, 50.0)
    assert left.low < left.use < left.high
    assert left.use == pytest.approx(40.0 / wear.mm)
    assert lasts(wear, 45.0, 50.0).use == 0.0
    for wrong in (Stretch(-1.0, 1.0), Stretch(1.0, -1.0)):
        with pytest.raises(OutOfRangeError):
            wear_of([wrong])
