"""What a reading is taken for, in the demo's hidden world: doubts, opacity, and the worn stamp.

The hidden world knows nothing of these rules, so right readings and wrong pencils can be told apart for real.
"""

from __future__ import annotations

import csv
from functools import cache
from importlib import resources

import numpy as np
import pytest

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.swatching.identification import SPREAD_MEASURED, Candidate, identify
from tidy_tinder.core.swatching.opacity import opacity_test
from tidy_tinder.core.swatching.plausibility import Expected, doubts
from tidy_tinder.core.vocabulary import Opacity
from tidy_tinder.devices.simulated_reader import Placed, measure
from tidy_tinder.devices.truth.world import TrueWorld, demo_world

pytestmark = pytest.mark.slow

VELLUM = "Vellum board"


@cache
def world() -> TrueWorld:
    return demo_world()


@cache
def chart() -> dict[str, dict[str, str]]:
    """The catalogue's ordinary colours with a chart value, by the key of the true pencil."""
    text = resources.files("tidy_tinder.demo").joinpath("data/catalogue.csv").read_text(encoding="utf-8")
    rows = csv.DictReader(text.splitlines())
    return {f"{r['range']} {r['code']}": r for r in rows if r["effect"] == "ordinary" and r["L"]}


@cache
def lab_of(key: str, paper: str = VELLUM, pressure: str = "heavy", making: int = 0, black: bool = False) -> np.ndarray:
    placed = Placed(paper, ((key, pressure),), over_black=black, making=making)
    return measure(world(), placed).lab


@cache
def bare(paper: str) -> np.ndarray:
    return measure(world(), Placed(paper, ())).lab


def charted(key: str) -> np.ndarray:
    return np.array([float(chart()[key][c]) for c in "Lab"])


def doubted(key: str, seen: np.ndarray, paper: str, pressure: str, earlier: np.ndarray | None = None) -> bool:
    expected = Expected(bare(paper), charted(key), earlier, pressure == "heavy")
    return bool(doubts(seen, expected))


@pytest.mark.parametrize("paper", [VELLUM, "Cotton print paper", "Buff sanded card", "Grey-toned sketch paper"])
@pytest.mark.parametrize("pressure", ["light", "medium", "heavy"])
def test_right_readings_are_seldom_doubted(paper: str, pressure: str) -> None:
    # A pale mark that the eye cannot tell from bare paper is rightly doubted.
    keys = [k for k in list(chart())[::3] if float(delta_e_2000(lab_of(k, paper, pressure), bare(paper))) > 1.0]
    assert len(keys) > 100
    wrongly = [key for key in keys if doubted(key, lab_of(key, paper, pressure), paper, pressure)]
    assert len(wrongly) <= 0.03 * len(keys), wrongly


def test_a_wrong_pencil_is_nearly_always_doubted() -> None:
    rng = np.random.default_rng(5)
    keys = list(chart())
    caught = tried = 0
    while tried < 150:
        asked, lying = (keys[i] for i in rng.choice(len(keys), 2, replace=False))
        if np.linalg.norm(charted(asked) - charted(lying)) < 30:
            continue
        tried += 1
        caught += doubted(asked, lab_of(lying), VELLUM, "heavy")
    assert caught / tried > 0.9


def test_a_second_making_agrees_with_the_first_and_another_pencil_does_not() -> None:
    keys = list(chart())[::5]
    again = [doubted(k, lab_of(k, making=7), VELLUM, "heavy", earlier=lab_of(k)) for k in keys]
    assert sum(again) <= 0.03 * len(keys)
    others = [doubted(a, lab_of(b), VELLUM, "heavy", earlier=lab_of(a)) for a, b in zip(keys, keys[7:], strict=False)]
    assert sum(others) > 0.9 * len(others)


def test_the_contrast_ratio_orders_pencils_as_their_charts_do() -> None:
    """A chart's class is rough; still the classes' medians stand in order, and few opaque ones look transparent."""
    found: dict[str, list[float]] = {"transparent": [], "semi": [], "opaque": []}
    classed: dict[str, list[Opacity | None]] = {"transparent": [], "semi": [], "opaque": []}
    for key in list(chart())[::2]:
        test = opacity_test(lab_of(key), lab_of(key, black=True))
        if test.opacity is not None:
            found[chart()[key]["opacity"]].append(test.contrast_ratio)
            classed[chart()[key]["opacity"]].append(test.opacity)
    medians = [float(np.median(found[c])) for c in ("transparent", "semi", "opaque")]
    assert medians == sorted(medians)
    assert classed["opaque"].count(Opacity.TRANSPARENT) < 0.25 * len(classed["opaque"])
    assert classed["transparent"].count(Opacity.OPAQUE) < 0.35 * len(classed["transparent"])


def test_a_worn_stamp_is_found_among_all_that_are_swatched() -> None:
    """The right colour is among the first three in nine of ten cases; where one alone is named it is the right one."""
    keys = list(chart())[::2]
    candidates = [Candidate(i, lab_of(key), owned=True) for i, key in enumerate(keys)]
    rng = np.random.default_rng(9)
    among = sure = right = 0
    tried = rng.choice(len(keys), 80, replace=False).tolist()
    for i in tried:
        found = identify(lab_of(keys[i], making=3), candidates, SPREAD_MEASURED)
        first = sorted(found.likely, key=lambda one: -one.share)[:3]
        among += i in {one.key for one in first}
        if found.best is not None and not found.alike and found.best.share > 0.9:
            sure += 1
            right += found.best.key == i
    assert among >= 0.9 * len(tried)
    assert sure > 20
    assert right >= 0.95 * sure


def test_a_pencil_that_is_not_swatched_is_not_named_with_confidence() -> None:
    keys = list(chart())
    known, strange = keys[::2], keys[1::2]
    candidates = [Candidate(i, lab_of(key), owned=True) for i, key in enumerate(known)]
    named = [identify(lab_of(key), candidates, SPREAD_MEASURED).best for key in strange[:100]]
    # Near twins are rightly taken for one another; the rest is said to be none of them.
    assert sum(best is None for best in named) > 40
