"""Stand-ins ranked: against brute force over published spectra, and like with like."""

from __future__ import annotations

import warnings
from types import ModuleType

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.standins.singles import Basis, Known, Unranked, rank_singles


def known(key: int, paper: list[float] | None, chart: list[float] | None, ordinary: bool = True) -> Known:
    return Known(key, None if paper is None else np.array(paper), None if chart is None else np.array(chart), ordinary)


@pytest.fixture(scope="module")
def published_labs() -> np.ndarray:
    """The 24-patch chart and the 99 colour samples of CIE 224:2017, as colour-science carries them."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour
        from colour.quality.cfi2017 import load_TCS_CIE2017

        shape = colour.SpectralShape(400, 700, 10)
        chart = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"].values()
        patches = [[sd.copy().align(shape)[w] for w in BANDS] for sd in chart]
        samples = load_TCS_CIE2017(colour.SpectralShape(380, 780, 5)).align(shape).values.T
    return reflectance_to_lab(np.concatenate([np.array(patches), samples]))


@pytest.mark.slow
@pytest.mark.parametrize("closest", list(Closest))
def test_ranking_agrees_with_brute_force_by_colour_science(published_labs: np.ndarray, closest: Closest) -> None:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour
    candidates = [Known(i, lab, None) for i, lab in enumerate(published_labs)]
    kL, kC, kH = closest.factors
    for wanted in published_labs[::6]:
        ranking = rank_singles(Known(-1, wanted, None), candidates, closest)
        theirs = _textbook(colour, wanted, published_labs, kL, kC, kH)
        assert [offer.key for offer in ranking.on_paper] == list(np.argsort(theirs, kind="stable"))
        assert np.allclose([offer.ranked_by for offer in ranking.on_paper], np.sort(theirs), atol=1e-8)


def _textbook(colour: ModuleType, wanted: np.ndarray, labs: np.ndarray, kL: float, kC: float, kH: float) -> np.ndarray:
    """colour-science's CIEDE2000; its factors are those of textiles only, so others come by its parts."""
    if (kL, kC, kH) == (1, 1, 1):
        return np.asarray(colour.difference.delta_E_CIE2000(np.broadcast_to(wanted, labs.shape), labs))
    from skimage.color import deltaE_ciede2000

    return np.asarray(deltaE_ciede2000(np.broadcast_to(wanted, labs.shape), labs, kL, kC, kH))


def test_like_is_compared_with_like_and_lists_are_not_mixed() -> None:
    wanted = known(0, [50, 40, 20], [45, 50, 30])
    ranking = rank_singles(
        wanted,
        [known(1, [50, 40, 21], None), known(2, None, [45, 50, 31]), known(3, [70, 0, 0], [45, 50, 30])],
    )
    assert [(o.key, o.basis) for o in ranking.on_paper] == [(1, Basis.PAPER), (3, Basis.PAPER)]
    assert [(o.key, o.basis) for o in ranking.by_chart] == [(2, Basis.CHART)]
    assert np.array_equal(ranking.by_chart[0].wanted, [45, 50, 30])
    assert ranking.best is ranking.on_paper[0]


def test_a_wanted_colour_not_swatched_here_is_compared_by_chart_throughout() -> None:
    ranking = rank_singles(known(0, None, [50, 0, 0]), [known(1, [50, 0, 0], [60, 0, 0]), known(2, [50, 0, 0], None)])
    assert ranking.on_paper == ()
    assert [o.key for o in ranking.by_chart] == [1]
    assert [(left.key, left.reason) for left in ranking.left_out] == [(2, Unranked.WANTED_CHART_MISSING)]


def test_what_is_not_modelled_is_left_out_and_said_why() -> None:
    neon = known(1, [50, 0, 0], [50, 0, 0], ordinary=False)
    ranking = rank_singles(known(0, [50, 0, 0], None), [neon, known(2, None, None), known(3, None, [1, 0, 0])])
    assert [left.reason for left in ranking.left_out] == [
        Unranked.EFFECT,
        Unranked.NO_COLOUR,
        Unranked.CHART_MISSING,
    ]
    assert ranking.best is None
    every = rank_singles(known(0, [50, 0, 0], None, ordinary=False), [known(1, [50, 0, 0], None)])
    assert every.left_out[0].reason is Unranked.WANTED_EFFECT
    assert [reason.about_wanted for reason in (Unranked.WANTED_EFFECT, Unranked.EFFECT)] == [True, False]


def test_nothing_is_known_of_the_wanted_colour() -> None:
    ranking = rank_singles(known(0, None, None), [known(1, [50, 0, 0], [50, 0, 0])])
    assert ranking.left_out[0].reason is Unranked.WANTED_NO_COLOUR


def test_limit_cuts_each_list_and_ties_keep_their_order() -> None:
    same = [known(i, [50, 10, 10], None) for i in range(5)]
    ranking = rank_singles(known(9, [50, 10, 10], None), same, limit=3)
    assert [o.key for o in ranking.on_paper] == [0, 1, 2]


labs = st.tuples(st.floats(0, 100), st.floats(-80, 80), st.floats(-80, 80)).map(list)


@given(labs, st.lists(labs, min_size=1, max_size=20), st.sampled_from(list(Closest)))
def test_figures_never_fall_down_the_list(wanted: list[float], offered: list[list[float]], closest: Closest) -> None:
    ranking = rank_singles(known(-1, wanted, None), [known(i, lab, None) for i, lab in enumerate(offered)], closest)
    figures = [o.ranked_by for o in ranking.on_paper]
    assert figures == sorted(figures)
    assert {o.key for o in ranking.on_paper} == set(range(len(offered)))
    for offer in ranking.on_paper:
        assert offer.difference.delta_L == pytest.approx(offered[offer.key][0] - wanted[0])


def predicted(key: int, paper: list[float], band: float) -> Known:
    return Known(key, np.array(paper), None, band=band)


def test_predicted_marks_are_ranked_with_measured_ones_and_say_how_far_they_may_be_off() -> None:
    wanted = known(0, [50, 20, 10], None)
    ranking = rank_singles(wanted, [predicted(1, [51, 20, 10], 3.0), known(2, [52, 20, 10], None)])
    # The predicted one is most likely nearer, but what is to be expected of it is not.
    assert [(o.key, o.basis) for o in ranking.on_paper] == [(2, Basis.PAPER), (1, Basis.PREDICTED)]
    sure, guessed = ranking.on_paper
    assert guessed.ranked_by < sure.ranked_by == sure.expected < guessed.expected
    assert sure.plus_minus is None
    assert guessed.plus_minus == pytest.approx(3.0)
    surer = rank_singles(wanted, [predicted(1, [51, 20, 10], 1.0), known(2, [52, 20, 10], None)])
    assert [o.key for o in surer.on_paper] == [1, 2]
    by_guess = rank_singles(predicted(0, [50, 20, 10], 4.0), [predicted(1, [51, 20, 10], 3.0)])
    assert by_guess.on_paper[0].plus_minus == pytest.approx(5.0)


def test_a_gap_within_the_bands_is_a_tie_and_a_wider_one_is_none() -> None:
    wanted = known(0, [50, 20, 10], None)
    close, far = [51.5, 20.0, 10.0], [60.0, 20.0, 10.0]
    wide = rank_singles(wanted, [predicted(1, [51, 20, 10], 3.0), predicted(2, close, 3.0), predicted(3, far, 3.0)])
    assert [o.tie for o in wide.on_paper] == [True, True, False]
    narrow = rank_singles(wanted, [predicted(1, [51, 20, 10], 0.2), predicted(2, close, 0.2)])
    assert [o.tie for o in narrow.on_paper] == [False, False]
    alone = rank_singles(wanted, [known(1, [51, 20, 10], None)])
    assert [o.tie for o in alone.on_paper] == [False]


@pytest.mark.parametrize(("gap", "tie"), [(0.9, True), (0.98, False)])
def test_two_measured_marks_are_a_tie_within_what_repeating_them_would_differ(gap: float, tie: bool) -> None:
    """Ours: each band is 1.3, and a gap is believed from .512 of both together on, that is from .94."""
    from tidy_tinder.core.difference.ciede2000 import delta_e_2000

    wanted = [50.0, 0.0, 0.0]
    first = [52.0, 0.0, 0.0]
    grey = next(
        [50 + step / 1000, 0.0, 0.0]
        for step in range(2000, 6000)
        if float(delta_e_2000(wanted, [50 + step / 1000, 0, 0]) - delta_e_2000(wanted, first)) >= gap
    )
    ranking = rank_singles(known(0, wanted, None), [known(1, grey, None), known(2, first, None)])
    assert [(o.key, o.tie) for o in ranking.on_paper] == [(2, tie), (1, tie)]


def test_a_wide_band_of_the_second_alone_makes_a_tie_too() -> None:
    wanted = known(0, [50, 20, 10], None)
    ranking = rank_singles(wanted, [known(1, [51, 20, 10], None), predicted(2, [53.5, 20, 10], 6.0)])
    assert [o.tie for o in ranking.on_paper] == [True, True]
    # Charts are printed: they are not said to tie.
    charts = rank_singles(known(0, None, [50, 0, 0]), [known(1, None, [51, 0, 0]), known(2, None, [51, 0, 0])])
    assert [o.tie for o in charts.by_chart] == [False, False]
