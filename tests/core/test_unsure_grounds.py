"""Marks over black: what a reader's tell of a black paper, and what those that are known less surely leave open of it.

Judged in worlds of three physics (benchmarks/); their seeds are others than constants were chosen on.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
import pytest
from benchmarks.optics import HOME, KINDS, OVER_BLACK, Readings
from benchmarks.worlds import World, grain_world, random_world, stroke_world
from numpy.random import Generator

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.layering.collection_fit.next_swatches import next_swatches
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, survey
from tidy_tinder.core.layering.fitting.evidence import READING_SD, Evidence, Kind
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.layering.optics.film import strip_surface
from tidy_tinder.core.layering.prediction.marks import answer_of, ground_variance, guess_paper, predict
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.vocabulary import Opacity, Pressure, Tooth

WHITE, DARK = (strip_surface(np.full(BANDS.size, level)) for level in (0.85, 0.05))
BAR = Kind(Pressure.HEAVY, over_black=True)
# Standard deviations of Lab, each, by pressure: about those of a photo with a dozen known cells on white, and of a bar
# told by the paper alone; a bar is said to be less sure, since strokes end there (decision 0058).
PHOTO_SD = {Pressure.LIGHT: 0.5, Pressure.MEDIUM: 0.8, Pressure.HEAVY: 1.2}
BAR_SD, BAR_SAID = 1.3, 2.7


def fitted(*noises: float) -> PencilFit:
    """A pencil with three marks on white by a reader, and a mark over black for each of these noises."""
    paper = guess_paper(WHITE, Tooth.MEDIUM)
    seen = Evidence(np.array([60.0, 35.0, 20.0]), paper.model, Kind(Pressure.HEAVY), 0.3)
    (true,) = fit_pencils([[seen]], [Opacity.SEMI])
    kinds = [*KINDS, *(BAR for _ in noises)]
    labs = answer_of(paper.unknowns, paper, [true] * len(kinds), kinds).lab
    noise = [READING_SD] * len(KINDS) + list(noises)
    marks = [Evidence(lab, paper.model, kind, sd) for lab, kind, sd in zip(labs, kinds, noise, strict=True)]
    return fit_pencils([marks], [Opacity.SEMI])[0]


def band_on(body: np.ndarray[tuple[int, ...], np.dtype[np.float64]], pencil: PencilFit) -> float:
    """The band of a heavy mark on a paper that nothing was swatched on."""
    return float(predict([pencil], guess_paper(body, Tooth.MEDIUM), [Kind(Pressure.HEAVY)]).radius[0, 0])


def test_the_surer_a_mark_over_black_the_surer_dark_papers() -> None:
    bands = [band_on(DARK, fitted(noise)) for noise in (READING_SD, 1.0, 2.0, 4.0, 8.0)]
    assert bands == sorted(bands)
    assert bands[2] > 1.2 * bands[0]
    # What tells nothing leaves all of it open.
    without, nothing = band_on(DARK, fitted()), band_on(DARK, fitted(500.0))
    assert nothing == pytest.approx(without, rel=0.02)
    assert bands[-1] < without


def test_several_photos_of_a_bar_are_surer_than_one_and_a_readers_makes_them_all_sure() -> None:
    assert band_on(DARK, fitted(3.0, 3.0, 3.0)) < band_on(DARK, fitted(3.0))
    assert fitted(3.0, READING_SD).unsure_of_dark[0] == 0.0
    doubt, others = fitted(3.0, 3.0).unsure_of_dark
    assert doubt == pytest.approx((3.0**2 - 1.0) / 2)
    assert others > 80


def test_what_is_unsure_of_black_is_no_doubt_of_white() -> None:
    assert band_on(WHITE, fitted(3.0)) == pytest.approx(band_on(WHITE, fitted()), rel=0.1)
    lab, white = np.array([[60.0, 35.0, 20.0]]), guess_paper(WHITE, Tooth.MEDIUM)
    assert ground_variance(lab, white, [fitted(3.0)]) == pytest.approx(0.0, abs=1e-9)


def by_photo(marks: Sequence[SeenMark], rng: Generator) -> list[SeenMark]:
    """Marks as a photo tells them: no spectrum, and as unsure as is said."""
    told = []
    for mark in marks:
        sd, said = (BAR_SD, BAR_SAID) if mark.kind.over_black else (PHOTO_SD[mark.kind.pressure],) * 2
        lab = np.clip(mark.lab + rng.normal(0, sd, 3), [1, -99, -99], [99, 99, 99])
        told.append(replace(mark, lab=lab, spectrum=None, noise=float(np.hypot(READING_SD, said))))
    return told


def held_on_black(made: Readings, rng: Generator, bars: bool = True) -> tuple[list[float], list[bool]]:
    """How far marks of pencils that were not swatched on a black paper are told there from what they truly are, and
    whether new readings lie within their bands: all swatched at home and, with bars, over these, eight on the black
    paper, by photo.
    """
    everyone = range(len(made.world.opacities))
    papers = [made.seen_paper(HOME), made.seen_paper("black")]
    colours = [SeenColour(i, made.world.opacities[i]) for i in everyone]
    over = made.marks(HOME, everyone, OVER_BLACK[-1:]) if bars else []
    marks = by_photo([*made.marks(HOME, everyone, KINDS), *over], rng)
    first = survey(papers, marks, colours)
    looks = predict([first.pencils[i] for i in everyone], first.papers[papers[1].key], KINDS[-1:]).lab[:, 0]
    read = made.read_labs(HOME)[:, 2]
    chosen = [one.index for one in next_swatches(looks, made.world.opacities, 8, (), read)]
    known = survey(papers, marks + by_photo(made.marks("black", chosen, KINDS), rng), colours)
    rest = [i for i in everyone if i not in chosen]
    told = predict([known.pencils[i] for i in rest], known.papers[papers[1].key], KINDS)
    off = delta_e_2000(told.lab, made.true_labs("black")[rest]).ravel().tolist()
    within = delta_e_2000(told.lab, made.read_labs("black")[rest]) <= told.radius
    return off, within.ravel().tolist()


@pytest.mark.parametrize("make", [random_world, grain_world, stroke_world])
def test_bands_on_black_hold_where_bars_were_photographed(make: Callable[[int, int, float], World]) -> None:
    rng = np.random.default_rng(5)
    made = [Readings(make(seed, 36, slip), seed) for seed, slip in ((71, 0.1), (72, 0.2), (73, 0.05))]
    with_bars = [held_on_black(one, rng) for one in made]
    assert np.mean([one for _, within in with_bars for one in within]) >= 0.86
    # And those that were told worst are told nearer than without any bar.
    without = [held_on_black(one, rng, bars=False) for one in made]
    worst, was = (np.percentile([one for off, _ in of for one in off], 95) for of in (with_bars, without))
    assert worst < 0.85 * was


def told_of_black(made: Readings) -> tuple[list[float], list[float], list[bool]]:
    """How far marks are told from the truth on a black paper that nothing was swatched on, without and with a heavy
    mark of each pencil over a black bar, by a reader; and whether new readings lie within their bands with them.
    """
    everyone = range(len(made.world.opacities))
    papers = [made.seen_paper(HOME), made.seen_paper("black")]
    colours = [SeenColour(i, made.world.opacities[i]) for i in everyone]
    marks = made.marks(HOME, everyone, KINDS)
    without, with_bars = (
        predict([known.pencils[i] for i in everyone], known.papers[papers[1].key], KINDS)
        for known in (
            survey(papers, marks, colours),
            survey(papers, marks + made.marks(HOME, everyone, OVER_BLACK[-1:]), colours),
        )
    )
    truth = made.true_labs("black")
    off = [delta_e_2000(told.lab, truth).ravel().tolist() for told in (without, with_bars)]
    within = delta_e_2000(with_bars.lab, made.read_labs("black")) <= with_bars.radius
    return off[0], off[1], within.ravel().tolist()


@pytest.mark.parametrize("make", [random_world, grain_world, stroke_world])
def test_a_readers_mark_over_black_tells_a_black_paper_that_nothing_was_swatched_on(
    make: Callable[[int, int, float], World],
) -> None:
    told = [told_of_black(Readings(make(seed, 36, slip), seed)) for seed, slip in ((71, 0.1), (72, 0.2), (73, 0.05))]
    without, with_bars = ([one for of in told for one in of[which]] for which in (0, 1))
    assert np.mean([one for *_, within in told for one in within]) >= 0.9
    assert np.median(with_bars) < 0.5 * np.median(without)
    assert np.percentile(with_bars, 95) < 0.5 * np.percentile(without, 95)
