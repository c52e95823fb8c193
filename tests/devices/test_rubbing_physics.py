"""The fourth physics (benchmarks/rubbing.py) obeys what every practitioner knows, as the demo's does.

All of it is common practice, no source, but for what brighteners do (ISO 2470-2, from memory: a paper's fluorescence is
excited by ultraviolet and seen near 457 nm).
"""

from __future__ import annotations

import numpy as np
import pytest
from benchmarks.rubbing import RubbedPaper, RubbedPencil, RubbingHand, rubbed_paper, rubbing_hand, rubbing_reflectance
from benchmarks.worlds import rubbing_world

from tidy_tinder.core.difference.components import chroma
from tidy_tinder.core.quantities import BANDS, Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab

HAND = rubbing_hand(np.random.default_rng(1))
MEDIUM_WHITE = ((0.85, 0.85), (0.05, 0.05), (1.0, 1.0))


def paper(seed: int = 2, depth: float = 1.0) -> RubbedPaper:
    return rubbed_paper(np.random.default_rng(seed), *MEDIUM_WHITE[:2], (depth, depth))


def pencil(edge: float, height: float = 1.5, scatters: float = 0.05) -> RubbedPencil:
    absorbs = 0.02 + height / (1.0 + np.exp((BANDS - edge) / 12.0))
    return RubbedPencil(absorbs, scatters * (550.0 / BANDS) ** 0.5, 2.0, 1.0, 0.8)


RED, YELLOW, WHITE = pencil(590), pencil(500), pencil(500, 0.0, 0.9)
BLUE = RubbedPencil(RED.K[::-1], RED.S, 2.0, 1.0, 0.8)


def made(*passes: tuple[RubbedPencil, str], on: RubbedPaper | None = None, hand: RubbingHand = HAND,
         slips: tuple[float, ...] = (), **finish: bool) -> Lab:  # fmt: skip
    return reflectance_to_lab(rubbing_reflectance(passes, on or paper(), hand, slips, **finish))


def test_a_bare_paper_looks_like_itself_however_light_wanders_in_it() -> None:
    for seed in range(6):
        bare = rubbed_paper(np.random.default_rng(seed), (0.8, 0.9), (0.0, 0.1), (0.5, 1.5), bright=True)
        assert np.allclose(rubbing_reflectance((), bare, HAND), bare.spectrum, atol=1e-3)


@pytest.mark.parametrize("colour", [RED, YELLOW, BLUE])
def test_more_layers_darken_with_diminishing_steps(colour: RubbedPencil) -> None:
    steps = -np.diff([made(*[(colour, "medium")] * layers)[0] for layers in range(6)])
    assert np.all(steps > 0)
    assert steps[0] > steps[1] > steps[3]


@pytest.mark.parametrize("colour", [RED, YELLOW, BLUE])
def test_lighter_pressure_leaves_more_paper_showing(colour: RubbedPencil) -> None:
    bare, light, heavy = made(), made((colour, "light")), made((colour, "heavy"))
    assert np.linalg.norm(light - bare) < np.linalg.norm(light - heavy)
    assert chroma(light) < chroma(heavy)


def test_a_rough_paper_keeps_more_flecks_than_a_smooth_one() -> None:
    smooth, rough = (made((RED, "medium"), on=paper(depth=depth))[0] for depth in (0.5, 1.6))
    assert smooth < rough - 1


def test_order_matters_most_for_opaque_pencils() -> None:
    def apart(a: RubbedPencil, b: RubbedPencil) -> float:
        return float(np.linalg.norm(made((a, "heavy"), (b, "heavy")) - made((b, "heavy"), (a, "heavy"))))

    assert apart(RED, WHITE) > 10
    assert apart(RED, WHITE) > 2 * apart(RED, YELLOW)


def test_the_black_bar_tells_opaque_from_transparent() -> None:
    bare = made(over_black=True)[0]
    assert made((WHITE, "heavy"), over_black=True)[0] > bare + 25
    assert made((YELLOW, "heavy"), over_black=True)[0] < bare + 15


def test_white_burnish_lightens_and_dulls() -> None:
    before = made((RED, "medium"), (RED, "medium"))
    after = made((RED, "medium"), (RED, "medium"), (WHITE, "burnish"))
    assert after[0] > before[0]
    assert chroma(after) < chroma(before)


def test_solvent_makes_it_more_solid_and_darker() -> None:
    dry, wet = (made((RED, "medium"), (RED, "medium"), solvent=solvent) for solvent in (False, True))
    assert wet[0] < dry[0]
    assert chroma(wet) > chroma(dry)


def test_a_heavier_slip_of_the_hand_lays_more() -> None:
    less, usual, more = (made((RED, "medium"), slips=(slip,))[0] for slip in (-0.2, 0.0, 0.2))
    assert less > usual > more


def test_what_glows_in_a_brightened_paper_goes_out_under_wax() -> None:
    bright = next(
        one for seed in range(20)
        if (one := rubbed_paper(np.random.default_rng(seed), *MEDIUM_WHITE, bright=True)).glow > 0.05
    )  # fmt: skip
    dull = RubbedPaper(bright.spectrum, 0.0, bright.relief, bright.spreads, bright.bite)
    at = int(np.argmin(np.abs(BANDS - 440)))
    shielding = RubbedPencil(np.full(BANDS.size, 0.01), np.full(BANDS.size, 0.02), 6.0, 1.0, 0.8)
    seen = [rubbing_reflectance(((shielding, "medium"),), of, HAND) for of in (bright, dull)]
    assert seen[0][at] < seen[1][at] - 0.01
    assert np.isclose(seen[0][-1], seen[1][-1], atol=1e-3)


def test_each_world_of_it_has_a_hand_an_ink_and_papers_of_its_own() -> None:
    one, again, other = rubbing_world(5, 4), rubbing_world(5, 4), rubbing_world(6, 4)
    passes = ((0, "heavy"),)
    assert np.array_equal(one.true_lab("black", passes), again.true_lab("black", passes))
    assert not np.allclose(one.true_lab("black", passes), other.true_lab("black", passes), atol=0.1)
