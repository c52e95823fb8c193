"""A camera undone: published sensitivities, lamps and a published chart; what is said of the doubt holds."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from tests.core.sheet_eyes import Eye, published_chart

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.local import radius
from tidy_tinder.core.reflectance.colorimetry import decode_srgb, encode_srgb, reflectance_to_lab
from tidy_tinder.core.sheet.correction import Correction, Patch, White, correct

Array = NDArray[np.float64]

# BabelColor's averages of the 24 patches (Pascale 2006), as colour-science carries them. The prior of cameras was
# derived from other samples (CIE 224:2017), other sensitivities and the chart of ISO 17321-1.
CHART = published_chart("BabelColor Average")
CHART_LAB = reflectance_to_lab(CHART)
PAPER = np.full(31, 0.88)
PAPER_LAB = reflectance_to_lab(PAPER)
WHITE = White((float(PAPER_LAB[0]), float(PAPER_LAB[1]), float(PAPER_LAB[2])), (0.5, 0.4, 0.5))
GREYS = np.array([0.72, 0.5, 0.3, 0.17, 0.09, 0.045])[:, None] * PAPER
EYES = [Eye(lamp=lamp, vivid=vivid) for lamp in ("D50", "D65", "LED-B3", "A") for vivid in (0.0, 0.1)]


def seen_by(eye: Eye, reflectances: Array, contrast: float, level: float = 0.75) -> tuple[Array, Array]:
    """Linear light of some marks and of the paper beside them, as a picture with an S in its curve has them."""

    def shown(light: Array) -> Array:
        encoded = encode_srgb(level * light)
        bent = (1 - contrast) * encoded + contrast * encoded**2 * (3 - 2 * encoded)
        return np.asarray(decode_srgb(bent), dtype=np.float64)

    shares = eye.shares(reflectances, PAPER)
    return shown(shares), shown(np.ones_like(shares))


def patches(eye: Eye, reflectances: Array, contrast: float) -> list[Patch]:
    seen, bare = seen_by(eye, reflectances, contrast)
    labs = reflectance_to_lab(reflectances)
    return [
        Patch(one, paper, (float(L), float(a), float(b)), (0.8, 0.6, 0.6))
        for one, paper, (L, a, b) in zip(seen, bare, labs, strict=True)
    ]


def told(correction: Correction, eye: Eye, reflectances: Array, contrast: float) -> tuple[Array, Array]:
    """ΔE00 from the truth, and how far each is said to be off."""
    seen, bare = seen_by(eye, reflectances, contrast)
    lab, covariance = correction.colours(seen, bare, np.full(len(seen), 0.008))
    return delta_e_2000(lab, reflectance_to_lab(reflectances)), radius(covariance, lab)


def everywhere(known: int, ramp: bool) -> tuple[Array, Array]:
    """Over all cameras and curves: the patches that are not known."""
    off, spread = [], []
    rng = np.random.default_rng(5)
    for eye in EYES:
        for contrast in (0.0, 0.25, 0.5):
            chosen = rng.permutation(len(CHART))
            of_page = patches(eye, CHART[chosen[:known]], contrast) + (patches(eye, GREYS, contrast) if ramp else [])
            one, said = told(correct(WHITE, of_page), eye, CHART[chosen[known:]], contrast)
            off.append(one)
            spread.append(said)
    return np.concatenate(off), np.concatenate(spread)


@pytest.mark.parametrize(
    ("known", "ramp", "median", "most"),
    [(0, False, 3.2, 8.0), (0, True, 2.2, 7.0), (12, False, 1.3, 5.2), (12, True, 1.3, 5.0)],
    ids=["paper", "ramp", "12 cells", "12 cells and ramp"],
)
def test_a_published_chart_through_published_cameras(known: int, ramp: bool, median: float, most: float) -> None:
    off, spread = everywhere(known, ramp)
    assert np.median(off) < median
    assert np.percentile(off, 95) < most
    assert np.mean(off <= spread) >= 0.85


def evened_by(eye: Eye, reflectances: Array, power: float) -> tuple[Array, Array]:
    """As a phone shows them that makes dark parts brighter, all channels by one share: luminance to a power."""
    shares = eye.shares(reflectances, PAPER)
    luminance = (shares @ [0.2126, 0.7152, 0.0722])[:, None]
    return 0.7 * shares * luminance ** (power - 1), np.full_like(shares, 0.7)


@pytest.mark.parametrize(("known", "median"), [(0, 3.0), (12, 1.0)], ids=["ramp", "12 cells and ramp"])
def test_a_ramp_does_not_say_too_much_where_brightness_alone_was_evened(known: int, median: float) -> None:
    """To greys a power of the luminance is a curve of each channel; colours are not what such a curve makes of them."""
    off, said = [], []
    for eye in EYES:
        seen, bare = evened_by(eye, np.concatenate([GREYS, CHART]), 0.75)
        labs = reflectance_to_lab(np.concatenate([GREYS, CHART]))
        taken = len(GREYS) + known
        of_page = [
            Patch(one, paper, (float(L), float(a), float(b)), (0.8, 0.6, 0.6))
            for one, paper, (L, a, b) in zip(seen[:taken], bare[:taken], labs[:taken], strict=True)
        ]
        lab, covariance = correct(WHITE, of_page).colours(seen[taken:], bare[taken:], np.full(len(seen) - taken, 0.008))
        off.append(delta_e_2000(lab, labs[taken:]))
        said.append(radius(covariance, lab))
    assert np.median(np.concatenate(off)) < median
    assert np.mean(np.concatenate(off) <= np.concatenate(said)) >= 0.86


def test_what_is_known_makes_it_surer() -> None:
    spreads = [np.median(everywhere(known, ramp)[1]) for known, ramp in ((0, False), (0, True), (12, True))]
    assert spreads[0] > spreads[1] > spreads[2]


@pytest.mark.parametrize("contrast", [0.0, 0.6])
def test_a_measured_ramp_undoes_the_curve_for_greys(contrast: float) -> None:
    eye = Eye()
    between = np.array([0.6, 0.4, 0.22, 0.12])[:, None] * PAPER
    off, _ = told(correct(WHITE, patches(eye, GREYS, contrast)), eye, between, contrast)
    assert off.max() < 0.8
    if contrast:
        blind, _ = told(correct(WHITE, []), eye, between, contrast)
        assert blind.max() > 2 * off.max()


def test_bare_paper_is_the_paper_whatever_the_curve() -> None:
    for contrast in (0.0, 0.6):
        seen, bare = seen_by(Eye(lamp="A"), PAPER[None], contrast)
        lab, _ = correct(WHITE, []).colours(seen, bare, np.zeros(1))
        assert delta_e_2000(lab[0], PAPER_LAB) < 1e-6


def test_one_cell_that_was_coloured_otherwise_does_not_lead_the_others() -> None:
    eye, contrast = Eye(), 0.25
    good = patches(eye, CHART[:12], contrast)
    L, a, b = good[4].lab
    wrong = [*good[:4], Patch(good[4].seen, good[4].bare, (L - 22.0, a + 15.0, b), good[4].sd), *good[5:]]
    misled = correct(WHITE, wrong)
    assert misled.believed[4] < 0.2
    assert min(misled.believed[:4]) > 0.4
    clean, _ = told(correct(WHITE, good), eye, CHART[12:], contrast)
    with_it, _ = told(misled, eye, CHART[12:], contrast)
    assert np.median(with_it) < np.median(clean) + 0.5


def test_uneven_light_is_no_matter_of_colour() -> None:
    """The same mark in full light and in half of it is the same colour, though the curve bends both otherwise."""
    eye = Eye()
    correction = correct(WHITE, patches(eye, GREYS, 0.5))
    labs = []
    for level in (0.8, 0.4):
        seen, bare = seen_by(eye, CHART[:18], 0.5, level)
        labs.append(correction.labs(seen, bare))
    assert np.percentile(delta_e_2000(labs[0], labs[1]), 90) < 1.5


def test_other_channels_are_brought_to_srgb_by_their_matrix() -> None:
    """A picture in channels that are a mixture of sRGB's is told as the same picture in sRGB."""
    mixed = np.array([[0.8, 0.15, 0.05], [0.05, 0.9, 0.05], [0.02, 0.08, 0.9]])
    seen, bare = seen_by(Eye(), CHART, 0.0)
    plain = correct(WHITE, []).labs(seen, bare)
    other = correct(WHITE, [], np.linalg.inv(mixed)).labs(seen @ mixed.T, bare @ mixed.T)
    # The prior's curve is undone in other channels than those it was made for, so they agree but for that.
    assert np.median(delta_e_2000(plain, other)) < 1.0
