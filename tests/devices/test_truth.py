"""The hidden truth obeys what every practitioner knows.

All of it is common practice, no source. The truth is also final: a few of its values
are pinned, so that nobody changes the demo's measurements unnoticed.
"""

from __future__ import annotations

import numpy as np
import pytest

from tidy_tinder.core.difference.components import chroma, hue_angle
from tidy_tinder.core.quantities import Lab
from tidy_tinder.devices.truth.pigments import PIGMENT_NAMES, WAVELENGTHS
from tidy_tinder.devices.truth.simulator import Pass, Patch, TruePaper, TruePencil, lab
from tidy_tinder.devices.truth.world import demo_world

WORLD = demo_world()
VELLUM = WORLD.papers["Vellum board"]


def pencil(filler: float = 0.1, **amounts: float) -> TruePencil:
    named = {name.replace("_", " "): amount for name, amount in amounts.items()}
    return TruePencil(str(amounts), tuple(named.get(name, 0.0) for name in PIGMENT_NAMES), filler, 1.0, 1.0)


BLUE, PINK, GREEN, RED = (
    pencil(0.06, blue=0.5),
    pencil(0.12, rose=0.15, white=0.1),
    pencil(leaf=0.5),
    pencil(0.07, red=0.6),
)
GLAZING_BLACK, COVERING_BLACK = pencil(0.05, black=0.6), pencil(0.45, black=0.9)
WHITE, CREAM, GLASSY_WHITE = (
    pencil(0.3, white=0.8),
    pencil(0.2, yellow=0.06, orange=0.03, white=0.5),
    pencil(0.05, white=0.04),
)


def made(*passes: tuple[TruePencil, str], paper: TruePaper = VELLUM, **finish: bool) -> Lab:
    return lab(Patch(tuple(Pass(p, pressure) for p, pressure in passes), **finish), paper)


@pytest.mark.parametrize("colour", [BLUE, PINK, GREEN, RED])
def test_more_layers_darken_with_diminishing_steps(colour: TruePencil) -> None:
    L = [made(*[(colour, "medium")] * layers)[0] for layers in range(6)]
    steps = -np.diff(L)
    assert np.all(steps > 0)
    assert steps[0] > steps[1] > steps[3]


@pytest.mark.parametrize("colour", [BLUE, PINK, GREEN, RED])
def test_lighter_pressure_leaves_more_paper_showing(colour: TruePencil) -> None:
    light, medium, heavy = (made((colour, p)) for p in ("light", "medium", "heavy"))
    bare = made()
    assert bare[0] > light[0] > medium[0] > heavy[0]
    # The paper shows: a light mark lies nearer to the bare paper than to the heavy mark.
    assert np.linalg.norm(light - bare) < np.linalg.norm(light - heavy)


def test_a_rough_paper_keeps_more_flecks_than_a_smooth_one() -> None:
    smooth, rough = WORLD.papers["Hot-pressed board"], WORLD.papers["Vellum board"]
    gap = {p.key: made(paper=p)[0] - made((RED, "medium"), paper=p)[0] for p in (smooth, rough)}
    assert gap["Hot-pressed board"] > gap["Vellum board"]


def test_order_matters_most_for_opaque_pencils() -> None:
    def apart(a: TruePencil, b: TruePencil) -> float:
        return float(np.linalg.norm(made((a, "heavy"), (b, "heavy")) - made((b, "heavy"), (a, "heavy"))))

    assert apart(RED, WHITE) > 10
    assert apart(RED, WHITE) > 2 * apart(RED, pencil(0.05, yellow=0.5))


def test_a_transparent_black_leaves_green_and_an_opaque_one_kills_it() -> None:
    glazed = made((GREEN, "heavy"), (GLAZING_BLACK, "light"))
    killed = made((GREEN, "heavy"), (COVERING_BLACK, "heavy"))
    assert glazed[0] < made((GREEN, "heavy"))[0]
    assert float(chroma(glazed)) > 25
    assert float(chroma(killed)) < 10


def test_white_laid_first_keeps_what_follows_lighter() -> None:
    assert made((WHITE, "heavy"), (BLUE, "medium"))[0] > made((BLUE, "medium"))[0]


def test_a_white_burnish_lightens_dulls_and_evens() -> None:
    before, after = made((RED, "medium"), (RED, "medium")), made((RED, "medium"), (RED, "medium"), (WHITE, "burnish"))
    assert after[0] > before[0]
    assert float(chroma(after)) < float(chroma(before))


def test_solvent_makes_it_more_solid_and_darker() -> None:
    dry = made((RED, "medium"), (RED, "medium"))
    wet = made((RED, "medium"), (RED, "medium"), solvent=True)
    assert wet[0] < dry[0]
    assert float(chroma(wet)) > float(chroma(dry))


def test_blue_over_pink_is_purple() -> None:
    purple = made((PINK, "medium"), (BLUE, "light"))
    assert 270 < float(hue_angle(purple)) < 345


def test_cream_over_pink_leans_to_orange() -> None:
    pink, creamed = made((PINK, "medium")), made((PINK, "medium"), (CREAM, "medium"))
    toward = (float(hue_angle(creamed)) - float(hue_angle(pink)) + 180) % 360 - 180
    assert 3 < toward < 120


def test_blue_under_black_is_a_deeper_black() -> None:
    assert made((BLUE, "heavy"), (GLAZING_BLACK, "medium"))[0] < made((GLAZING_BLACK, "medium"))[0]


def test_pale_over_dark_shows_only_if_opaque() -> None:
    dark = made((BLUE, "heavy"))
    assert made((BLUE, "heavy"), (WHITE, "heavy"))[0] > dark[0] + 10
    assert made((BLUE, "heavy"), (GLASSY_WHITE, "heavy"))[0] < dark[0] + 6
    black = WORLD.papers["Black paper"]
    assert made((WHITE, "heavy"), paper=black)[0] > made((GLASSY_WHITE, "heavy"), paper=black)[0] + 20


def test_the_black_bar_tells_opaque_from_transparent() -> None:
    def contrast(colour: TruePencil) -> float:
        return float(made((colour, "heavy"), over_black=True)[0] / made((colour, "heavy"))[0])

    assert contrast(WHITE) > 0.75
    assert contrast(GLASSY_WHITE) < 0.6
    assert contrast(RED) < contrast(pencil(0.4, red=0.6, white=0.5))


def test_wet_changes_only_water_soluble_pencils() -> None:
    heron, wader = WORLD.pencils["Heron 119"], WORLD.pencils["Wader 119"]
    assert np.array_equal(made((heron, "medium"), wet=True), made((heron, "medium")))
    assert made((wader, "medium"), wet=True)[0] < made((wader, "medium"))[0]


@pytest.mark.parametrize("full", list(range(1040, 1761, 40)))
def test_a_tint_grade_is_lighter_than_its_full_colour(full: int) -> None:
    grades = [WORLD.pencils[f"Steadfast {full - offset:04d}"] for offset in (30, 20, 10, 0)]
    L = [made((grade, "heavy"))[0] for grade in grades]
    assert sorted(L, reverse=True) == L


def test_every_paper_and_pencil_gives_a_possible_colour() -> None:
    for paper in WORLD.papers.values():
        for key in ("Heron 101", "Tallow M93", "Tallow M94", "Scholar 46", "Tallow M96"):
            L, a, b = made((WORLD.pencils[key], "medium"), paper=paper)
            assert 0 < L < 100
            assert abs(a) < 120
            assert abs(b) < 120


def test_its_physics_are_finer_than_the_models() -> None:
    assert WAVELENGTHS.size == 63
    assert VELLUM.heights.size == 96
    assert np.all(np.diff(VELLUM.heights) < 0)


@pytest.mark.parametrize(
    ("paper", "key", "pressure", "expected"),
    [
        ("Vellum board", "Heron 119", "heavy", [44.9463, 56.1214, 32.6168]),
        ("Buff sanded card", "Tallow M33", "light", [52.7649, 0.8103, 14.9415]),
        ("Black paper", "Steadfast 1010", "medium", [48.3476, -0.3328, 1.0395]),
    ],
)
def test_the_truth_is_final(paper: str, key: str, pressure: str, expected: list[float]) -> None:
    seen = made((WORLD.pencils[key], pressure), paper=WORLD.papers[paper])
    assert np.allclose(seen, expected, atol=1e-3)
