"""The slopes that every fit rests on, against differences that scipy takes of what the marks look like."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.optimize import approx_fprime

from tidy_tinder.core.layering.optics.film import film, film_slopes
from tidy_tinder.core.layering.optics.response import Marks, lab_of, response
from tidy_tinder.core.quantities import BANDS

Array = NDArray[np.float64]
UNKNOWNS = ("ln_s", "ln_offered", "ln_grain", "ln_over", "logit_chance", "hold")


def marks(ln_k: Array, one: Array, body: Array, layers: int, burnished: bool) -> Marks:
    """One mark; one: the six other unknowns."""
    shaped = {name: one[i : i + 1] for i, name in enumerate(UNKNOWNS)}
    return Marks(ln_k[None], **shaped, body=body[None], layers=np.array([layers]), burnished=np.array([burnished]))


@given(
    seed=st.integers(0, 2**32 - 1), layers=st.sampled_from([1, 1, 1, 2, 3]), burnished=st.booleans(),
    dark=st.booleans(), thin=st.floats(-7.0, 1.0),
)  # fmt: skip
def test_slopes_are_what_differences_say(seed: int, layers: int, burnished: bool, dark: bool, thin: float) -> None:
    rng = np.random.default_rng(seed)
    ln_k = rng.normal(-0.3, 1.3) + rng.normal(0, 0.8, BANDS.size)
    others = rng.normal([-0.6, 0.0, -0.6, 0.0], [0.3, 0.3, 0.4, 0.5])
    one = np.array([rng.normal(-1.6, 0.7), thin, *others])
    body = np.clip((0.04 if dark else 0.85) * rng.uniform(0.8, 1.1, BANDS.size), 0.01, 0.98)

    def seen(unknowns: Array) -> Array:
        laid = marks(unknowns[len(one) :], unknowns[: len(one)], body, layers, burnished)
        return np.asarray(lab_of(laid)[0])

    by_difference = approx_fprime(np.concatenate([one, ln_k]), seen, 1e-6)
    found = response(marks(ln_k, one, body, layers, burnished))
    slopes = [
        found.by_ln_s, found.by_ln_offered, found.by_ln_grain, found.by_ln_over, found.by_logit_chance, found.by_hold,
    ]  # fmt: skip
    np.testing.assert_allclose(found.lab[0], seen(np.concatenate([one, ln_k])), atol=1e-9)
    # Both are differences to one side where there are several layers.
    near = 2e-3 if layers > 1 else 3e-4
    np.testing.assert_allclose(np.stack(slopes, axis=-1)[0], by_difference[:, : len(one)], atol=near)
    np.testing.assert_allclose(found.by_ln_k[0], by_difference[:, len(one) :], atol=near)


@pytest.mark.parametrize("size", [0.0, 1e-9, 1e-4, 3e-3, 2e-2, 0.5, 6.0, 400.0])
@pytest.mark.parametrize("ground", [0.004, 0.5, 0.97])
def test_slopes_of_a_film_from_nothing_to_opaque(size: float, ground: float) -> None:
    rng = np.random.default_rng(5)
    k, s = size * rng.uniform(0.2, 1.0, BANDS.size), size * rng.uniform(0.2, 1.0, BANDS.size)
    under = np.full(BANDS.size, ground)
    found = film_slopes(k, s, under)
    step = 1e-6 * max(size, 1.0)
    by_k = (film(k + step, s, under) - film(k, s, under)) / step
    by_s = (film(k, s + step, under) - film(k, s, under)) / step
    np.testing.assert_allclose(found.reflectance, film(k, s, under), atol=1e-12)
    np.testing.assert_allclose(found.by_k, by_k, atol=1e-5)
    np.testing.assert_allclose(found.by_s, by_s, atol=1e-5)


def test_a_film_that_lets_nothing_through_has_slopes_that_are_numbers() -> None:
    """What absorbs all and hardly scatters is black: its reflectance is lost in rounding."""
    one = np.array([-40.0, 1.0, -0.6, 0.0, -0.6, 0.0])
    black = response(marks(np.linspace(1.0, 9.0, BANDS.size), one, np.linspace(0.1, 0.97, BANDS.size), 1, True))
    assert all(np.isfinite(of).all() for of in vars(black).values())
    assert black.lab[0, 0] < 40.0
