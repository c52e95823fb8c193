"""The core refuses in its own words what cannot be, and never answers with what is no number."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from tidy_tinder.core.errors import CoreError
from tidy_tinder.core.layering.collection_fit.strips import SeenStrip, learn_from_strips
from tidy_tinder.core.layering.collection_fit.survey import SeenColour, SeenMark, SeenPaper, survey
from tidy_tinder.core.layering.fitting.evidence import Evidence, Kind
from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit, fit_pencils
from tidy_tinder.core.layering.optics.film import add_surface, strip_surface
from tidy_tinder.core.layering.optics.stack import stack
from tidy_tinder.core.layering.optics.tooth import PaperModel, pencil_from_swatch
from tidy_tinder.core.layering.prediction.marks import PaperFit, guess_paper, pencil_on, predict
from tidy_tinder.core.layering.prediction.stacks import predict_stacks
from tidy_tinder.core.layers import Coat, Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.standins.nearest_pairs import nearest_pairs
from tidy_tinder.core.standins.pairs import mix_pairs
from tidy_tinder.core.standins.singles import Known, rank_singles
from tidy_tinder.core.swatching.identification import identify
from tidy_tinder.core.vocabulary import Opacity, Pressure, Tooth

WHITE = strip_surface(np.full(31, 0.86))
BOARD = PaperModel(WHITE)
PAPERS = [SeenPaper(1, WHITE, Tooth.MEDIUM)]
COLOURS = [SeenColour(7, Opacity.SEMI)]
HEAVY = Kind(Pressure.HEAVY)
RED = np.array([50.0, 40.0, 20.0])
GOOD = SeenMark(7, 1, HEAVY, RED)


def fit(lab: Lab = RED, opacity: Opacity = Opacity.SEMI) -> PencilFit:
    return fit_pencils([[Evidence(lab, BOARD, HEAVY)]], [opacity])[0]


def paper() -> PaperFit:
    return guess_paper(WHITE, Tooth.MEDIUM)


def table() -> object:
    models = {i: pencil_on(fit(lab), paper()) for i, lab in enumerate([RED, np.array([60.0, -20.0, 10.0])])}
    return mix_pairs(models, paper().model)


WRONG: dict[str, Callable[[], object]] = {
    "a Lab that is no number": lambda: survey(PAPERS, [replace(GOOD, lab=np.array([50.0, np.nan, 0.0]))], COLOURS),
    "a lightness that nothing has": lambda: survey(PAPERS, [replace(GOOD, lab=np.array([130.0, 0.0, 0.0]))], COLOURS),
    "a reading without noise": lambda: survey(PAPERS, [replace(GOOD, noise=0.0)], COLOURS),
    "a noise that is no number": lambda: survey(PAPERS, [replace(GOOD, noise=float("nan"))], COLOURS),
    "a mark of no layer": lambda: survey(PAPERS, [replace(GOOD, kind=Kind(Pressure.HEAVY, 0))], COLOURS),
    "an unknown paper": lambda: survey(PAPERS, [replace(GOOD, paper=2)], COLOURS),
    "an unknown colour": lambda: survey(PAPERS, [replace(GOOD, pencil=8)], COLOURS),
    "a misspelt class of cover": lambda: survey(PAPERS, [GOOD], [SeenColour(7, "opaqe")]),  # type: ignore[arg-type]
    "a misspelt pressure": lambda: survey(PAPERS, [replace(GOOD, kind=Kind("hard"))], COLOURS),  # type: ignore[arg-type]
    "a misspelt tooth": lambda: survey([SeenPaper(1, WHITE, "coarse")], [GOOD], COLOURS),  # type: ignore[arg-type]
    "a hand that varies by nothing": lambda: fit_pencils([[Evidence(RED, BOARD, HEAVY)]], [""], hand=0.0),
    "a predicted mark of no layer": lambda: predict([fit()], paper(), [Kind(Pressure.HEAVY, 0)]),
    "a stack of no layer": lambda: stack([Layer(fit().model, Pressure.HEAVY, 0)], BOARD),
    "a predicted stack of no layer": lambda: predict_stacks([[Layer(fit(), Pressure.HEAVY, 0)]], paper()),
    "a stack of nothing": lambda: predict_stacks([[]], paper()),
    "a strip that is no number": lambda: learn_from_strips(
        [SeenStrip(1, (Layer(7, Pressure.HEAVY),), np.array([np.nan, 0, 0]))], {7: fit()}, {1: paper()}
    ),
    "a strip without noise": lambda: learn_from_strips(
        [SeenStrip(1, (Layer(7, Pressure.HEAVY),), RED, noise=0.0)], {7: fit()}, {1: paper()}
    ),
    "none of the nearest pairs": lambda: nearest_pairs(table(), RED, limit=0),  # type: ignore[arg-type]
    "pairs near to no number": lambda: nearest_pairs(table(), np.array([np.inf, 0.0, 0.0])),  # type: ignore[arg-type]
    "none of the nearest singles": lambda: rank_singles(Known(1, RED, None), [Known(2, RED, None)], limit=0),
    "none of what it can be": lambda: identify(RED, [], 0.9, limit=0),
    "what no number can be": lambda: identify(np.array([np.nan, 0.0, 0.0]), [], 0.9),
    "a colour beyond what reflects light": lambda: recover_reflectance([50.0, 100.0, -100.0]),
    "layers of no kind of cover": lambda: pencil_from_swatch(WHITE, BOARD, "thick"),  # type: ignore[arg-type]
}  # fmt: skip


@pytest.mark.parametrize("what", WRONG)
def test_what_cannot_be_is_refused_in_words(what: str) -> None:
    with pytest.raises(CoreError) as refused:
        WRONG[what]()
    assert len(refused.value.detail.split()) > 4


def test_a_colour_beyond_what_reflects_light_gets_the_nearest_where_that_is_asked() -> None:
    found = recover_reflectance([[50.0, 100.0, -100.0], [50.0, 20.0, 10.0]], nearest=True)
    assert np.all((found >= 0.0) & (found <= 1.0))
    assert np.allclose(reflectance_to_lab(found[1]), [50.0, 20.0, 10.0], atol=1e-3)


def test_a_burnishing_coat_is_mixed_burnished() -> None:
    """As the stack has it, whichever of the two burnishes."""
    pencils = {1: fit().model, 2: fit(np.array([80.0, -5.0, 30.0]), Opacity.OPAQUE).model}
    coats = (Coat(Pressure.MEDIUM, 2), Coat(Pressure.BURNISH))
    mixed = mix_pairs(pencils, BOARD, coats)
    for row in range(len(mixed)):
        pair = mixed.pair(row)
        layers = [one.of(pencils[one.pencil]) for one in (pair.below, pair.above)]
        assert np.allclose(pair.lab, reflectance_to_lab(add_surface(stack(layers, BOARD).body)), atol=1e-9)
