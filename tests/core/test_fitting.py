"""Fitting pencils and papers: slopes, the search beside scipy's, what is found again, what makes it surer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import pytest
from scipy.optimize import least_squares

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.errors import OutOfRangeError, ShapeError
from tidy_tinder.core.layering.collection_fit.charts import LEAST_COLOURS, learn_charts
from tidy_tinder.core.layering.collection_fit.next_swatches import next_swatches
from tidy_tinder.core.layering.collection_fit.paper_fit import Anchor, fit_home, fit_paper
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, SeenPaper, fits_needed, survey
from tidy_tinder.core.layering.fitting.evidence import BLACK_BAR, LN_S, UNKNOWNS, Evidence, Kind, pack
from tidy_tinder.core.layering.fitting.least_squares import solve
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.layering.optics.film import add_surface, strip_surface
from tidy_tinder.core.layering.optics.response import Marks, body_of, lab_of, response
from tidy_tinder.core.layering.optics.stack import stack
from tidy_tinder.core.layering.optics.tooth import LOADS, PaperModel, PencilModel, mark, pencil_from_swatch, usual_load
from tidy_tinder.core.layering.prediction.explanation import OVER_BLACK, band_after_anchors, band_after_swatch, explain
from tidy_tinder.core.layering.prediction.marks import ground_variance, guess_paper, predict
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import BANDS
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Opacity, Pressure, PrintedOpacity, Tooth

WHITE, BLACK = (strip_surface(recover_reflectance(lab)) for lab in ([95.0, 0.0, 2.0], [25.0, 0.0, 0.0]))
BOARD = PaperModel(WHITE)
LIGHT, MEDIUM, HEAVY = Kind(Pressure.LIGHT), Kind(Pressure.MEDIUM), Kind(Pressure.HEAVY)
COLOURS = [(50, 40, 20), (35, 5, -45), (85, 0, 70), (48, -45, 25), (65, 45, 5), (30, 5, 8), (88, 4, 12), (60, -20, -30)]


def pencil(lab: tuple[float, float, float], opacity: PrintedOpacity = Opacity.SEMI) -> PencilModel:
    return pencil_from_swatch(strip_surface(recover_reflectance(lab)), BOARD, opacity)


def seen(of: PencilModel, paper: PaperModel, kind: Kind) -> np.ndarray:
    ground = replace(paper, body=BLACK_BAR) if kind.over_black else paper
    return reflectance_to_lab(add_surface(stack([Layer(of, kind.pressure, kind.layers)], ground).body))


def evidence(of: PencilModel, *kinds: Kind, paper: PaperModel = BOARD) -> list[Evidence]:
    return [Evidence(seen(of, paper, kind), paper, kind) for kind in kinds]


def fitted(of: PencilModel, *kinds: Kind, opacity: PrintedOpacity = Opacity.SEMI) -> PencilFit:
    return fit_pencils([evidence(of, *kinds)], [opacity])[0]


def some_marks() -> Marks:
    of = [pencil(lab) for lab in COLOURS[:4]]
    return Marks(
        np.log(np.stack([p.absorption for p in of])), np.log([0.1, 0.2, 0.3, 0.5]), np.log([0.14, 0.38, 1.25, 2.0]),
        np.log([0.4, 0.5, 0.6, 0.8]), np.array([0.0, -0.3, 0.3, 0.0]), np.array([-0.6, -0.6, -0.3, -0.6]), np.zeros(4),
        np.stack([WHITE, BLACK, WHITE, WHITE]), np.array([1, 1, 2, 1]), np.array([False, False, False, True]),
    )  # fmt: skip


def test_a_response_is_the_mark_that_tooth_and_film_make() -> None:
    of = pencil((50, 40, 20))
    marks = Marks(
        np.log(of.absorption)[None], np.log(of.scattering[15:16]), np.log([0.38 * of.softness]),
        np.log([BOARD.grain]), np.log([BOARD.exponent - 1.0]), np.log([BOARD.by_chance / (1.0 - BOARD.by_chance)]),
        np.array([BOARD.hold]), WHITE[None], np.array([1]), np.array([False]),
    )  # fmt: skip
    assert np.allclose(body_of(marks)[0], mark(of, BOARD, Pressure.MEDIUM))
    thrice = replace(marks, layers=np.array([3]))
    assert np.allclose(body_of(thrice)[0], stack([Layer(of, Pressure.MEDIUM, 3)], BOARD).body)
    burnished = replace(marks, burnished=np.array([True]), ln_offered=np.log([LOADS[Pressure.BURNISH] * of.softness]))
    assert np.allclose(body_of(burnished)[0], stack([Layer(of, Pressure.BURNISH)], BOARD).body)


@pytest.mark.parametrize("name", ["ln_s", "ln_offered", "ln_grain", "ln_over"])
def test_slopes_are_those_of_central_differences(name: str) -> None:
    marks = some_marks()
    step = 1e-4
    up, down = (replace(marks, **{name: getattr(marks, name) + by}) for by in (step, -step))
    assert np.allclose(getattr(response(marks), f"by_{name}"), (lab_of(up) - lab_of(down)) / (2 * step), atol=2e-2)


def test_the_slope_by_each_band_is_that_of_a_step_in_that_band() -> None:
    marks = some_marks()
    told = response(marks).by_ln_k
    for band in (0, 12, 30):
        by = np.zeros(BANDS.size)
        by[band] = 1e-4
        up, down = (replace(marks, ln_k=marks.ln_k + sign * by) for sign in (1, -1))
        assert np.allclose(told[..., band], (lab_of(up) - lab_of(down)) / 2e-4, atol=2e-2)


def test_the_batched_search_finds_what_scipy_finds_one_by_one() -> None:
    """scipy.optimize.least_squares, soft_l1, on the same robust problems."""
    rng = np.random.default_rng(3)
    x = np.linspace(0.0, 2.0, 12)
    rates, heights = rng.uniform(0.5, 2.0, 5), rng.uniform(1.0, 3.0, 5)
    seen_y = heights[:, None] * np.exp(-rates[:, None] * x) + 0.02 * rng.normal(size=(5, 12))
    seen_y[:, 3] += 1.0  # an outlier in each

    class Decays:
        def __init__(self, which: np.ndarray) -> None:
            self.which = which

        def some(self, which: np.ndarray) -> Decays:
            return Decays(self.which[which])

        def __call__(self, at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
            height, rate = at[:, :1], at[:, 1:]
            curve = np.exp(-rate * x)
            slopes = np.stack([curve / 0.05, -height * x * curve / 0.05], axis=-1)
            return (height * curve - seen_y[self.which]) / 0.05, slopes

    ours = solve(Decays(np.arange(5)), np.ones((5, 2)), robust=12)
    for i in range(5):
        theirs = least_squares(
            lambda at, i=i: (at[0] * np.exp(-at[1] * x) - seen_y[i]) / 0.05, [1.0, 1.0], loss="soft_l1", xtol=1e-12
        )
        assert np.allclose(ours.parameters[i], theirs.x, atol=2e-3)
        assert ours.parameters[i] == pytest.approx([heights[i], rates[i]], rel=0.15)


def test_a_pencil_of_the_model_is_found_again_from_three_swatches() -> None:
    paper = replace(guess_paper(WHITE, Tooth.MEDIUM), covariance=np.zeros((9, 9)))
    for lab in COLOURS:
        of = pencil(lab)
        # As a steady hand makes them and a good reader sees them.
        swatches = [replace(one, noise=0.1) for one in evidence(of, LIGHT, MEDIUM, HEAVY)]
        told = predict(
            fit_pencils([swatches], [Opacity.SEMI], hand=0.03), paper, [LIGHT, MEDIUM, HEAVY, Kind(Pressure.MEDIUM, 3)]
        )
        truth = [seen(of, BOARD, kind) for kind in (LIGHT, MEDIUM, HEAVY, Kind(Pressure.MEDIUM, 3))]
        misses = delta_e_2000(told.lab[0], truth)
        assert np.all(misses[:3] < 0.4)
        assert misses[3] < 1.5  # of three layers nothing was swatched


def test_one_of_its_swatches_gone_wrong_does_not_carry_the_fit_away() -> None:
    of = pencil((50, 40, 20))
    good = evidence(of, LIGHT, MEDIUM, HEAVY, Kind(Pressure.HEAVY, 2))
    wrong = [*good, Evidence(np.array([20.0, -40.0, -40.0]), BOARD, MEDIUM)]
    paper = guess_paper(WHITE, Tooth.MEDIUM)
    told = predict(fit_pencils([good, wrong], [Opacity.SEMI, Opacity.SEMI]), paper, [HEAVY])
    assert delta_e_2000(told.lab[0, 0], told.lab[1, 0]) < 6


def test_more_swatches_make_it_surer_and_a_black_bar_surest_of_cover() -> None:
    """Opacity is what one swatch on white cannot tell (docs/model.md)."""
    of = pencil((60, -20, -30), Opacity.OPAQUE)
    on_black = guess_paper(BLACK, Tooth.MEDIUM)
    kinds = ((HEAVY,), (LIGHT, MEDIUM, HEAVY), (HEAVY, OVER_BLACK))
    fits = [fitted(of, *some, opacity="") for some in kinds]
    one, three, barred = (float(predict([fit], on_black, [HEAVY]).radius[0, 0]) for fit in fits)
    assert one > three > barred
    assert barred < 0.6 * one
    spread = [fit.covariance[LN_S, LN_S] for fit in fits]
    assert spread[2] < 0.2 * spread[0]
    assert np.exp(fits[2].unknowns[LN_S]) == pytest.approx(of.scattering[0], rel=0.35)


def test_a_measured_spectrum_keeps_its_fine_structure() -> None:
    of = pencil((50, 40, 20))
    bumpy = replace(of, absorption=of.absorption * np.exp(0.8 * np.sin(np.arange(BANDS.size) * 2.4)))
    spectrum = add_surface(mark(bumpy, BOARD, Pressure.HEAVY))
    told = Evidence(reflectance_to_lab(spectrum), BOARD, HEAVY, spectrum=spectrum)
    with_it, without = fit_pencils([[told], [replace(told, spectrum=None)]], [Opacity.SEMI, Opacity.SEMI])
    misses = [np.abs(mark(f.model, BOARD, Pressure.HEAVY) - strip_surface(spectrum)).max() for f in (with_it, without)]
    assert misses[0] < 0.5 * misses[1]
    assert np.count_nonzero(without.fine) == 0


def test_what_cannot_be_fitted_is_refused() -> None:
    with pytest.raises(ShapeError, match="at least one mark"):
        fit_pencils([[]], [""])
    with pytest.raises(ShapeError):
        fit_pencils([evidence(pencil((50, 0, 0)), HEAVY)], [])
    with pytest.raises(OutOfRangeError, match="A pressure is"):
        pack([[Evidence(np.array([50.0, 0, 0]), BOARD, Kind("hard"))]])  # type: ignore[arg-type] # a word that is none
    with pytest.raises(OutOfRangeError, match="A tooth is"):
        guess_paper(WHITE, "hairy")  # type: ignore[arg-type] # a word that is none
    with pytest.raises(OutOfRangeError, match="A tooth is smooth, medium, rough, not “hairy”"):
        usual_load(Pressure.LIGHT, "hairy")  # type: ignore[arg-type] # a word that is none
    assert fit_pencils([], []) == ()


def test_a_paper_is_found_from_four_pencils_and_bands_shrink() -> None:
    rough = PaperModel(WHITE, 0.85, 2.0, ((Pressure.LIGHT, 1.2), (Pressure.MEDIUM, 1.1), (Pressure.HEAVY, 0.9)))
    pencils = [pencil(lab) for lab in COLOURS]
    fits = fit_pencils([evidence(p, LIGHT, MEDIUM, HEAVY) for p in pencils], [Opacity.SEMI] * len(pencils))
    anchors = [Anchor(fits[i], k, seen(pencils[i], rough, k)) for i in range(4) for k in (LIGHT, MEDIUM, HEAVY)]
    guess, found = fit_paper(WHITE, Tooth.MEDIUM, []), fit_paper(WHITE, Tooth.MEDIUM, anchors)
    truth = np.array([[seen(p, rough, k) for k in (LIGHT, MEDIUM, HEAVY)] for p in pencils[4:]])
    before, after = (predict(fits[4:], paper, [LIGHT, MEDIUM, HEAVY]) for paper in (guess, found))
    assert np.median(delta_e_2000(after.lab, truth)) < 0.5 * np.median(delta_e_2000(before.lab, truth))
    assert np.all(after.radius < before.radius)
    # The tooth was said wrongly, and the swatches put it right.
    assert found.model.grain == pytest.approx(0.85, rel=0.2)
    assert (guess.anchors, found.anchors) == (0, 12)


def test_a_light_stroke_fills_a_smooth_paper_more_than_a_rough_one_and_a_heavy_one_parts_them_less() -> None:
    """A rough paper keeps white specks under a light hand (common practice, no source)."""
    fits = [fitted(pencil(lab), LIGHT, MEDIUM, HEAVY) for lab in ((35, 5, -45), (30, 5, 8))]
    L = np.stack([predict(fits, guess_paper(WHITE, tooth), [LIGHT, MEDIUM, HEAVY]).lab[..., 0] for tooth in Tooth])
    smooth, medium, rough = L
    assert np.all(smooth < medium)
    assert np.all(medium < rough)
    by_tooth = np.array([[guess_paper(WHITE, tooth).model.load(p) for p in MARK_PRESSURES] for tooth in Tooth])
    assert np.all(np.diff(by_tooth[:, :2], axis=0) < 0.0)
    assert np.all(by_tooth[:, 2] == LOADS[Pressure.HEAVY])


def test_where_all_was_pressed_alike_other_pressures_are_open_and_that_one_is_not() -> None:
    """Heavy marks alone say little of light ones, and light ones less of heavy ones than of themselves."""
    heavy, light, burnished = (
        fit_home(WHITE, Tooth.MEDIUM, [], pressed=p) for p in (Pressure.HEAVY, Pressure.LIGHT, Pressure.BURNISH)
    )
    by_heavy, by_light = (np.sqrt(np.diag(of.covariance))[2:5] for of in (heavy, light))
    assert by_heavy[2] < 0.02 < by_heavy[1] < by_heavy[0]
    assert by_light[0] < 0.02 < by_light[1] < by_light[2]
    assert np.array_equal(burnished.covariance, heavy.covariance)
    of = pencil((50, 40, 20))
    bands = [
        predict([fitted(of, kind)], home, [LIGHT, HEAVY]).radius[0] for kind, home in ((LIGHT, light), (HEAVY, heavy))
    ]
    assert bands[0][1] > 1.5 * bands[0][0]
    # Another paper does not know more of it than that one.
    other = [np.diag(guess_paper(WHITE, Tooth.ROUGH, home).covariance)[4] for home in (light, heavy)]
    assert other[0] > 2.0 * other[1]


def test_pencils_known_from_black_paper_are_told_less_surely_the_lighter_another_is() -> None:
    of = pencil((60, -20, -30), Opacity.OPAQUE)
    dark = PaperModel(BLACK)
    fit = fit_pencils([evidence(of, LIGHT, MEDIUM, HEAVY, paper=dark)], [Opacity.OPAQUE])[0]
    grey = strip_surface(recover_reflectance([60.0, 0.0, 0.0]))
    lab = np.array([[60.0, -20.0, -30.0]])
    variance = [float(ground_variance(lab, guess_paper(body, Tooth.MEDIUM), [fit])[0]) for body in (BLACK, grey, WHITE)]
    assert variance[0] < 0.1 < variance[1] < variance[2]
    # What hardly differs from its paper is hardly off.
    pale = float(ground_variance(np.array([[93.0, 0.0, 2.0]]), guess_paper(WHITE, Tooth.MEDIUM), [fit])[0])
    assert pale < 0.3 * variance[2]
    # From black to grey much stays open, from grey to white little of it.
    from_grey = fit_pencils([evidence(of, LIGHT, MEDIUM, HEAVY, paper=PaperModel(grey))], [Opacity.OPAQUE])[0]
    assert float(ground_variance(lab, guess_paper(WHITE, Tooth.MEDIUM), [from_grey])[0]) < 0.5 * variance[1]


def test_what_covers_black_is_told_less_surely_the_stronger_it_shows() -> None:
    """Of wax seen on white alone nobody knows how much it covers, which is all that shows on black (common practice,
    no source); what stays dark there has covered little, whatever it is.
    """
    fit = fitted(pencil((60, -20, -30), Opacity.OPAQUE), LIGHT, MEDIUM, HEAVY)
    grey = strip_surface(recover_reflectance([60.0, 0.0, 0.0]))
    strong, weak = np.array([[60.0, -20.0, -30.0]]), np.array([[30.0, -2.0, -3.0]])
    on_black, on_grey, on_white = (guess_paper(body, Tooth.MEDIUM) for body in (BLACK, grey, WHITE))
    sure, unsure = (float(ground_variance(lab, on_black, [fit])[0]) for lab in (weak, strong))
    assert unsure > 2.0 * sure > 0.0
    assert float(ground_variance(strong, on_grey, [fit])[0]) < 0.12 * unsure
    assert float(ground_variance(strong, on_white, [fit])[0]) < 0.01


def test_a_shift_of_cover_moves_only_what_the_swatches_left_open() -> None:
    of = pencil((60, -20, -30), Opacity.OPAQUE)
    paper = guess_paper(BLACK, Tooth.MEDIUM)
    shifted = replace(paper, unknowns=np.array([0, 0, 0, 0, 0, 0, 0.6, 0, 0]))
    open_, closed = (fitted(of, *kinds, opacity="") for kinds in ((HEAVY,), (HEAVY, OVER_BLACK)))
    moved = [
        float(delta_e_2000(predict([f], paper, [HEAVY]).lab[0, 0], predict([f], shifted, [HEAVY]).lab[0, 0]))
        for f in (open_, closed)
    ]
    assert moved[0] > 3 * moved[1]


def test_an_explanation_adds_up_and_says_what_would_help() -> None:
    of = pencil((60, -20, -30), Opacity.OPAQUE)
    fit = fitted(of, LIGHT, MEDIUM, HEAVY, opacity="")
    home, dark = guess_paper(WHITE, Tooth.MEDIUM), guess_paper(BLACK, Tooth.MEDIUM)
    told = explain(fit, dark, HEAVY)
    assert told.doubt.pencil + told.doubt.paper + told.doubt.hand + told.doubt.rest == pytest.approx(1.0)
    assert told.hand == dark.hand > 0
    assert told.band == pytest.approx(float(predict([fit], dark, [HEAVY]).radius[0, 0]))
    assert 0.7 < told.coverage < 1.0
    assert explain(fit, dark, LIGHT).coverage < told.coverage
    promised = band_after_swatch(fit, dark, HEAVY, home, OVER_BLACK)
    really = float(predict([fitted(of, LIGHT, MEDIUM, HEAVY, OVER_BLACK, opacity="")], dark, [HEAVY]).radius[0, 0])
    assert promised < 0.8 * told.band
    assert promised == pytest.approx(really, rel=0.5)
    others = [(fitted(pencil(lab), LIGHT, MEDIUM, HEAVY), k) for lab in COLOURS[:4] for k in (LIGHT, MEDIUM, HEAVY)]
    assert band_after_anchors(fit, dark, HEAVY, others) < told.band


def test_what_to_swatch_first_spreads_over_colour_and_cover() -> None:
    labs = np.array([*COLOURS, (51, 40, 20), (50, 41, 20), (50, 40, 21)], dtype=float)
    clear = Opacity.TRANSPARENT
    covers = [*[clear] * 6, Opacity.OPAQUE, Opacity.SEMI, *[clear] * 3]
    advised = next_swatches(labs, covers, 8)
    assert len({one.index for one in advised}) == 8
    assert {covers[one.index] for one in advised[:4]} == {"transparent", "opaque", "semi"}
    assert len({one.index for one in advised} & {0, 8, 9, 10}) == 1
    assert all(one.why for one in advised)
    assert len(next_swatches(labs, covers, 40)) == len(labs)
    with pytest.raises(ShapeError):
        next_swatches(labs, covers[:3])
    with pytest.raises(ShapeError):
        next_swatches(labs, covers, own=labs[:3])


def test_what_is_swatched_already_stays_in_the_advice_and_reasons_name_pencils_by_their_own_colour() -> None:
    """Of pencils that look nearly alike on black those tell that do not; they are still called what they are."""
    on_black = np.array([(24, 0, 0), (24, 1, 0), (25, 0, 0), (24, 0, 1), (46, -4, 20), (40, 20, 8), (36, 2, -14)])
    own = np.array([(20, 0, 0), (25, 8, 4), (24, 2, -10), (25, 5, 5), (92, -5, 60), (70, 40, 20), (80, 5, -20)])
    covers = [Opacity.SEMI] * len(own)
    advised = next_swatches(on_black, covers, 4, own=own)
    assert {one.index for one in advised} > {4, 5, 6}
    assert "the palest" in next(one.why for one in advised if one.index == 4)
    assert "palest" not in next(one.why for one in next_swatches(on_black, covers, 4, own=own[::-1]) if one.index == 4)
    # Swatched, one looks a little other than was thought: it stays in the list, and what is alike does not come in.
    seen = on_black + np.where(np.arange(len(own)) == 4, -3.0, 0.0)[:, None]
    assert {one.index for one in next_swatches(seen, covers, 4, done=[4], own=own)} == {one.index for one in advised}
    alike = next_swatches(np.vstack([on_black, (45.5, -4, 19)]), [*covers, Opacity.SEMI], 3, done=[7])
    assert 7 in {one.index for one in alike}
    assert 4 not in {one.index for one in alike}
    # Of two that look the same there, the one whose own colour is farther from the first.
    there, by_chart = np.array([(24, 0, 0), (40, 0, 0), (40, 0, 0)]), np.array([(20, 0, 0), (60, 0, 0), (60, 40, 0)])
    assert [one.index for one in next_swatches(there, covers[:3], 2, own=by_chart)] == [0, 2]


def test_charts_are_read_through_the_swatches_that_go_with_them() -> None:
    rng = np.random.default_rng(4)
    printed = np.array([[rng.uniform(30, 90), rng.uniform(-50, 50), rng.uniform(-50, 50)] for _ in range(30)])
    heavy = printed * [1.0, 0.9, 0.9] + [-2.0, 1.0, 3.0] + rng.normal(0, 0.8, printed.shape)
    learned = learn_charts(printed, heavy)
    assert learned is not None
    assert learned.noise == pytest.approx(1.0, abs=0.3)
    assert np.median(np.linalg.norm(learned.read(printed) - heavy, axis=1)) < 2
    assert learn_charts(printed[: LEAST_COLOURS - 1], heavy[: LEAST_COLOURS - 1]) is None


def a_collection() -> tuple[list[SeenPaper], list[SeenMark], list[SeenColour]]:
    """Twelve and four pencils on a white paper, two of them on black too, and two that are charted only."""
    labs = [*COLOURS, (40, 30, -30), (75, -30, 30), (55, 60, 40), (25, 0, 0), (70, 20, 60), (45, -10, 15)]
    papers = [SeenPaper(2, BLACK, Tooth.MEDIUM), SeenPaper(1, WHITE, Tooth.MEDIUM)]
    marks = [
        SeenMark(i, 1, kind, seen(pencil(lab), BOARD, kind))
        for i, lab in enumerate(labs)
        for kind in (LIGHT, MEDIUM, HEAVY)
    ]
    on_black = replace(BOARD, body=BLACK)
    marks += [SeenMark(i, 2, k, seen(pencil(labs[i]), on_black, k)) for i in (0, 3) for k in (LIGHT, HEAVY)]
    colours = [SeenColour(i, Opacity.SEMI, np.array(lab, dtype=float)) for i, lab in enumerate(labs)]
    return papers, marks, [*colours, SeenColour(90, "", np.array([45.0, 35.0, 10.0])), SeenColour(91, "")]


def test_a_survey_knows_its_home_every_pencil_and_what_rests_on_charts() -> None:
    papers, marks, colours = a_collection()
    found = survey(papers, marks, colours)
    assert found.home == 1
    assert (found.papers[1].anchors, found.papers[2].anchors) == (28, 4)
    assert set(found.pencils) == {*range(14), 90}
    assert found.by_chart == {90}
    assert found.pencils[0].marks == 5
    assert found.pencils[0].grounds == pytest.approx((25.0, 95.0), abs=0.5)
    on_home = predict([found.pencils[90], found.pencils[0]], found.papers[1], [HEAVY])
    assert on_home.radius[0, 0] > on_home.radius[1, 0]
    assert delta_e_2000(on_home.lab[0, 0], [45.0, 35.0, 10.0]) < 2.5


@pytest.mark.parametrize(("kind", "known", "unknown"), [(LIGHT, 2, 4), (HEAVY, 4, 2)])
def test_a_survey_of_marks_pressed_alike_leaves_the_other_loads_open(kind: Kind, known: int, unknown: int) -> None:
    papers = [SeenPaper(1, WHITE, Tooth.MEDIUM), SeenPaper(2, WHITE, Tooth.ROUGH)]
    marks = [SeenMark(i, 1, kind, seen(pencil(lab), BOARD, kind)) for i, lab in enumerate(COLOURS[:4])]
    burnished = Kind(Pressure.BURNISH)
    marks.append(SeenMark(0, 1, burnished, seen(pencil(COLOURS[0]), BOARD, burnished)))
    found = survey(papers, marks, [SeenColour(i, Opacity.SEMI) for i in range(4)])
    here, there = (np.sqrt(np.diag(found.papers[key].covariance)) for key in (1, 2))
    assert here[known] < 0.02
    assert here[unknown] > 0.2
    # The other paper may differ, too, from what the first one leaves open.
    assert there[unknown] > np.hypot(here[unknown], 0.1)
    assert 0.1 < there[known] < there[unknown]


def test_a_survey_asks_for_as_many_fits_as_it_says_and_can_be_stopped_in_them() -> None:
    papers, marks, colours = a_collection()
    asked: list[int] = []

    def counting(
        evidence_of: Sequence[Sequence[Evidence]], opacities: Sequence[PrintedOpacity], hand: float
    ) -> Sequence[PencilFit]:
        asked.append(len(evidence_of))
        return fit_pencils(evidence_of, opacities, hand)

    survey(papers, marks, colours, counting)
    assert sum(asked) == fits_needed(papers, marks, colours) == 14 + 14 + 14 + 2 + 1

    class StopError(Exception):
        pass

    def stopping(_evidence: object, _opacities: object, _hand: object) -> list[PencilFit]:
        raise StopError

    with pytest.raises(StopError):
        survey(papers, marks, colours, stopping)


def test_a_survey_of_nothing_is_nothing() -> None:
    empty = survey([SeenPaper(1, WHITE, Tooth.MEDIUM)], [], [SeenColour(1, "", np.array([50.0, 0, 0]))])
    assert (empty.home, empty.pencils, empty.by_chart) == (None, {}, frozenset())
    assert survey([], [], []).home is None
    assert fits_needed([SeenPaper(1, WHITE, Tooth.MEDIUM)], [], [SeenColour(1, "", np.array([50.0, 0, 0]))]) == 0


def test_the_cosines_are_those_of_the_bands() -> None:
    assert fitted(pencil((50, 0, 0)), HEAVY).unknowns.shape == (UNKNOWNS,)
