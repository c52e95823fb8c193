"""CIEDE2000 against its published pairs and three reference libraries."""

from __future__ import annotations

import csv
import warnings
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import ShapeError

PAIRS = Path(__file__).parents[1] / "published/ciede2000_pairs.csv"
# The published figures have four decimals, so they hold to half of the last one, and rounding.
PUBLISHED_TOLERANCE = 5.1e-5


def published() -> list[tuple[list[float], list[float], float]]:
    """Sharma, Wu, Dalal (2005), table 1."""
    with PAIRS.open(encoding="utf-8") as handle:
        return [
            (
                [float(row[k]) for k in ("L1", "a1", "b1")],
                [float(row[k]) for k in ("L2", "a2", "b2")],
                float(row["delta_e"]),
            )
            for row in csv.DictReader(handle)
        ]


def random_pairs(count: int) -> tuple[np.ndarray, np.ndarray]:
    """Pairs over the whole of Lab, near and far."""
    rng = np.random.default_rng(2024)
    a = rng.uniform((0, -128, -128), (100, 128, 128), (count, 3))
    far = rng.uniform((0, -128, -128), (100, 128, 128), (count, 3))
    near = a + rng.normal(0, 2, (count, 3))
    return a, np.where(np.arange(count)[:, None] % 2, far, near)


lab = arrays.arrays(
    np.float64, 3, elements=st.floats(-100, 100, allow_nan=False, width=32)
).map(lambda v: np.array([abs(v[0]), v[1], v[2]]))  # fmt: skip


def test_there_are_34_published_pairs() -> None:
    assert len(published()) == 34


@pytest.mark.parametrize(("a", "b", "expected"), published())
def test_published_pair_holds_both_ways(a: list[float], b: list[float], expected: float) -> None:
    assert abs(float(delta_e_2000(a, b)) - expected) < PUBLISHED_TOLERANCE
    assert abs(float(delta_e_2000(b, a)) - expected) < PUBLISHED_TOLERANCE


def test_all_pairs_at_once_give_the_same() -> None:
    a, b, expected = zip(*published(), strict=True)
    assert np.abs(delta_e_2000(a, b) - np.array(expected)).max() < PUBLISHED_TOLERANCE


def test_agrees_with_colour_science() -> None:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour
    a, b = random_pairs(100_000)
    assert np.abs(delta_e_2000(a, b) - colour.difference.delta_E_CIE2000(a, b)).max() < 1e-8


def test_agrees_with_scikit_image() -> None:
    from skimage.color import deltaE_ciede2000

    a, b = random_pairs(100_000)
    assert np.abs(delta_e_2000(a, b) - deltaE_ciede2000(a, b)).max() < 1e-8


@pytest.mark.slow
def test_agrees_with_coloraide() -> None:
    from coloraide.distance.delta_e_2000 import DE2000
    from coloraide.everything import ColorAll

    a, b = random_pairs(100_000)
    method, first, second = DE2000(), ColorAll("lab-d65", [0, 0, 0]), ColorAll("lab-d65", [0, 0, 0])
    theirs = np.empty(len(a))
    for i, (x, y) in enumerate(zip(a.tolist(), b.tolist(), strict=True)):
        first[:3], second[:3] = x, y
        theirs[i] = method.distance(first, second, space="lab-d65")
    assert np.abs(delta_e_2000(a, b) - theirs).max() < 1e-8


@pytest.mark.parametrize("factors", [(2.0, 1.0, 1.0), (1.0, 2.0, 0.5), (0.5, 1.5, 1.5)])
def test_parametric_factors_divide_their_own_term(factors: tuple[float, float, float]) -> None:
    """k_L alone, for two greys: ΔE is divided by it (ISO/CIE 11664-6)."""
    kL, kC, kH = factors
    greys = np.array([[40.0, 0, 0], [60.0, 0, 0]])
    plain = delta_e_2000(greys[0], greys[1])
    assert np.isclose(delta_e_2000(greys[0], greys[1], kL, kC, kH), plain / kL)
    # A textbook case with all three terms: scikit-image takes the same factors.
    from skimage.color import deltaE_ciede2000

    a, b = random_pairs(2_000)
    assert np.allclose(delta_e_2000(a, b, kL, kC, kH), deltaE_ciede2000(a, b, kL, kC, kH), atol=1e-9)


@given(lab, lab)
def test_is_symmetric_and_never_negative(a: np.ndarray, b: np.ndarray) -> None:
    there, back = float(delta_e_2000(a, b)), float(delta_e_2000(b, a))
    assert there >= 0
    assert np.isclose(there, back, rtol=1e-9, atol=1e-9)


@given(lab)
def test_is_exactly_zero_for_the_same_colour(a: np.ndarray) -> None:
    assert float(delta_e_2000(a, a)) == 0.0


@given(lab, lab, st.floats(1e-6, 1e-3))
def test_is_close_for_close_colours(a: np.ndarray, b: np.ndarray, step: float) -> None:
    """A small move changes the figure little, except where a hue crosses 180° from the other."""
    moved = delta_e_2000(a, a + np.array([step, 0, 0]))
    assert float(moved) <= 2 * step


def test_broadcasts_like_numpy() -> None:
    a, b = random_pairs(30)
    table = delta_e_2000(a[:5, None], b[None, :6])
    assert table.shape == (5, 6)
    assert np.isclose(table[3, 4], delta_e_2000(a[3], b[4]))
    assert delta_e_2000(a[0], b[:7]).shape == (7,)
    assert delta_e_2000(a.reshape(5, 6, 3), b[0]).shape == (5, 6)
    assert delta_e_2000(np.empty((0, 3)), b[0]).shape == (0,)


def test_blocks_do_not_show() -> None:
    """More pairs than one block, and a shape whose rows are longer than a block."""
    a, b = random_pairs(40_001)
    whole = delta_e_2000(a, b)
    assert np.array_equal(whole[17_000:17_010], delta_e_2000(a[17_000:17_010], b[17_000:17_010]))
    assert np.allclose(delta_e_2000(a[None, :], b[None, :])[0], whole)


@pytest.mark.parametrize(("a", "b"), [([1, 2], [1, 2, 3]), (np.zeros((2, 3)), np.zeros((4, 3))), (5, [1, 2, 3])])
def test_wrong_shapes_are_refused(a: object, b: object) -> None:
    with pytest.raises(ShapeError):
        delta_e_2000(a, b)  # type: ignore[arg-type] # wrong on purpose
