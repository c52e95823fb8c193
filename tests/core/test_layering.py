"""Films, tooth and stack: published limits and identities, pinned values, and what every practitioner knows."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tidy_tinder.core.difference.components import chroma, hue_angle
from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.optics.film import (
    SURFACE,
    add_surface,
    film,
    free_film,
    k_over_s,
    opaque_reflectance,
    strip_surface,
)
from tidy_tinder.core.layering.optics.stack import bodies_of, stack
from tidy_tinder.core.layering.optics.stack_response import layer_response, stepped
from tidy_tinder.core.layering.optics.tooth import (
    CAPACITY,
    TOOTH,
    PaperModel,
    PencilModel,
    deposit,
    mark,
    mix,
    pencil_from_swatch,
    with_softness,
)
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.reflectance.recovery import recover_reflectance
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Opacity, Pressure, PrintedOpacity, Tooth

positive = st.floats(1e-3, 20.0)
grounds = st.floats(0.01, 0.99)


@pytest.mark.parametrize(("R", "q"), [(0.5, 0.25), (0.25, 1.125), (0.2, 1.6), (0.1, 4.05), (0.05, 9.025)])
def test_k_over_s_is_kubelkas_and_munks(R: float, q: float) -> None:
    """(1 − R)²/2R and its inverse (Kubelka, Munk 1931)."""
    assert float(k_over_s(R)) == pytest.approx(q, abs=1e-9)
    assert float(opaque_reflectance(q)) == pytest.approx(R, abs=1e-9)


@given(positive, positive, grounds)
def test_the_limits_of_a_film(k: float, s: float, Rg: float) -> None:
    """No thickness gives the ground, great thickness R∞, no scattering Rg·e^(−2k), no absorption s/(1 + s)
    (Kubelka 1948, limits of his solutions).
    """
    assert float(film(0.0, 0.0, Rg)) == pytest.approx(Rg, abs=1e-12)
    assert float(film(1e4 * k, 1e4 * s, Rg)) == pytest.approx(float(opaque_reflectance(k / s)), abs=1e-6)
    assert float(film(k, 0.0, Rg)) == pytest.approx(Rg * np.exp(-2 * k), abs=1e-9)
    free = free_film(0.0, s)
    assert float(free.reflectance) == pytest.approx(s / (1 + s), abs=1e-9)
    assert float(free.reflectance + free.transmittance) == pytest.approx(1.0, abs=1e-9)


@given(positive, positive, positive, positive, grounds)
def test_films_on_films(k1: float, s1: float, k2: float, s2: float, Rg: float) -> None:
    """R = R0 + T²Rg/(1 − R0·Rg), and a film on a film by T12 = T1T2/(1 − R1R2) (Kubelka 1954)."""
    upper, lower = free_film(k1, s1), free_film(k2, s2)
    R1, T1, R2 = float(upper.reflectance), float(upper.transmittance), float(lower.reflectance)
    assert float(film(k1, s1, Rg)) == pytest.approx(R1 + T1**2 * Rg / (1 - R1 * Rg), abs=1e-9)
    R12 = R1 + T1**2 * R2 / (1 - R1 * R2)
    assert float(film(k1, s1, R2)) == pytest.approx(R12, abs=1e-9)
    # One film in two parts is the whole film.
    assert float(film(0.4 * k1, 0.4 * s1, film(0.6 * k1, 0.6 * s1, Rg))) == pytest.approx(
        float(film(k1, s1, Rg)), abs=1e-9
    )


def test_murray_davies_is_the_mix_without_yule_and_nielsen() -> None:
    """.3 of .2 over .8 is .62 (Murray 1936, the Murray–Davies equation); with n = 2 it is darker."""
    assert float(mix(0.3, 0.2, 0.8, 1.0)) == pytest.approx(0.62)
    assert float(mix(0.3, 0.2, 0.8, 2.0)) < 0.62


def test_pinned_values() -> None:
    """Regression values (1e-4): of films, first computed with an independent implementation, from memory; of the marks,
    by this very one, with what classes of cover scatter since decision 0054.
    """
    assert float(film(0.5, 0.8, 0.9)) == pytest.approx(0.432425508, abs=1e-8)
    assert float(film(2.0, 0.1, 0.05)) == pytest.approx(0.024217693, abs=1e-8)
    paper = PaperModel(strip_surface(recover_reflectance([95.0, 0.0, 2.0])), 0.55)
    pencil = pencil_from_swatch(strip_surface(recover_reflectance([50.0, 40.0, 20.0])), paper, Opacity.SEMI)
    for pressure, lab in {
        Pressure.LIGHT: (85.096, 11.484, 6.093), Pressure.MEDIUM: (72.323, 24.631, 11.985),
        Pressure.HEAVY: (50.0, 40.0, 20.0),
    }.items():  # fmt: skip
        assert np.allclose(reflectance_to_lab(add_surface(mark(pencil, paper, pressure))), lab, atol=2e-3)


@given(grounds)
def test_the_surface_goes_and_comes_back(R: float) -> None:
    total = float(add_surface(R))
    assert total >= SURFACE
    assert float(strip_surface(total)) == pytest.approx(np.clip(R, 0.001, 0.999), abs=1e-9)


VELLUM = PaperModel(strip_surface(recover_reflectance([94.5, -0.3, 1.5])), TOOTH[Tooth.MEDIUM])
BUFF = PaperModel(strip_surface(recover_reflectance([83.0, 1.5, 17.0])), TOOTH[Tooth.ROUGH])
BLACK = PaperModel(strip_surface(recover_reflectance([25.0, 0.0, 0.0])), TOOTH[Tooth.MEDIUM])


def pencil(L: float, a: float, b: float, opacity: PrintedOpacity, paper: PaperModel = VELLUM) -> PencilModel:
    return pencil_from_swatch(strip_surface(recover_reflectance([L, a, b])), paper, opacity)


def lab(layers: list[tuple[PencilModel, Pressure]], paper: PaperModel = VELLUM, solvent: bool = False) -> np.ndarray:
    return reflectance_to_lab(add_surface(stack([Layer(p, pressure) for p, pressure in layers], paper, solvent).body))


GREEN, RED = pencil(48, -45, 25, Opacity.TRANSPARENT), pencil(45, 58, 32, Opacity.TRANSPARENT)
BLUE, PINK, YELLOW = (
    pencil(35, 5, -45, Opacity.TRANSPARENT),
    pencil(65, 45, 5, Opacity.TRANSPARENT),
    pencil(85, 0, 75, Opacity.TRANSPARENT),
)
CLEAR_BLACK, COVER_BLACK = pencil(22, 0, 0, Opacity.TRANSPARENT), pencil(22, 0, 0, Opacity.OPAQUE)
WHITE = pencil(93.5, 0, 2, Opacity.OPAQUE)
CREAM = pencil(88, 3, 22, Opacity.OPAQUE)


# A swatch must be one that the paper allows: nothing is as pale on black as on white.
SWATCHES = [(paper, lab) for paper in (VELLUM, BUFF) for lab in ((50, 40, 20), (30, 0, -30), (88, -5, 70))]
SWATCHES += [(BLACK, lab) for lab in ((45, 40, 20), (30, 0, -30), (62, 0, 10))]


@pytest.mark.parametrize(("paper", "colour"), SWATCHES)
@pytest.mark.parametrize("opacity", ["transparent", "semi", "opaque", ""])
def test_a_pencil_found_from_a_swatch_leaves_that_swatch(
    paper: PaperModel, opacity: PrintedOpacity, colour: tuple[float, float, float]
) -> None:
    body = strip_surface(recover_reflectance(colour))
    found = pencil_from_swatch(body, paper, opacity)
    again = reflectance_to_lab(add_surface(mark(found, paper, Pressure.HEAVY)))
    assert np.allclose(again, reflectance_to_lab(add_surface(body)), atol=0.6)


def test_light_pressure_leaves_paper_showing_and_layers_darken_with_diminishing_steps() -> None:
    """Common practice, no source."""
    L = [lab([(GREEN, pressure)])[0] for pressure in MARK_PRESSURES]
    assert L[0] > L[1] > L[2]
    steps = np.diff([lab([(GREEN, Pressure.LIGHT)] * n)[0] for n in range(1, 8)])
    assert np.all(steps < 0)
    assert np.all(np.diff(np.abs(steps)) < 0)
    room = [stack([Layer(GREEN, Pressure.LIGHT, n)], VELLUM).room for n in (1, 3, 12)]
    assert 1 > room[0] > room[1] > room[2] > 0


def test_order_matters_and_most_for_opaque_pencils() -> None:
    """Common practice, no source."""

    def apart(a: PencilModel, b: PencilModel) -> float:
        return float(
            np.linalg.norm(
                lab([(a, Pressure.HEAVY), (b, Pressure.HEAVY)]) - lab([(b, Pressure.HEAVY), (a, Pressure.HEAVY)])
            )
        )

    opaque_red, opaque_green = pencil(45, 58, 32, Opacity.OPAQUE), pencil(48, -45, 25, Opacity.OPAQUE)
    assert apart(opaque_red, opaque_green) > apart(RED, GREEN) > 0.5


def test_a_clear_black_leaves_green_and_a_covering_one_kills_it() -> None:
    """Common practice, no source."""
    base = [(GREEN, Pressure.HEAVY)]
    clear = lab([*base, (CLEAR_BLACK, Pressure.MEDIUM)])
    covered = lab([*base, (COVER_BLACK, Pressure.MEDIUM)])
    assert float(chroma(clear)) > float(chroma(covered))
    assert 120 < float(hue_angle(clear)) < 200


def test_white_first_keeps_what_follows_lighter_and_white_burnish_lightens_and_dulls() -> None:
    """Common practice, no source."""
    plain = lab([(RED, Pressure.MEDIUM)])
    resist = lab([(WHITE, Pressure.HEAVY), (RED, Pressure.MEDIUM)])
    burnished = lab([(RED, Pressure.MEDIUM), (WHITE, Pressure.BURNISH)])
    assert resist[0] > plain[0]
    assert burnished[0] > plain[0]
    assert float(chroma(burnished)) < float(chroma(plain))


def test_solvent_makes_it_solid_and_a_little_darker() -> None:
    """Common practice, no source."""
    layers = [(BLUE, Pressure.MEDIUM), (BLUE, Pressure.MEDIUM)]
    dry, wet = lab(layers), lab(layers, solvent=True)
    assert wet[0] < dry[0]
    assert float(chroma(wet)) > float(chroma(dry))


def test_mixtures_turn_the_way_that_everybody_knows() -> None:
    """Blue over pink is purple, yellow and blue make green, cream over pink leans to orange, blue under black is a
    deeper black (common practice, no source).
    """
    purple = lab([(PINK, Pressure.HEAVY), (BLUE, Pressure.LIGHT)])
    assert 290 < float(hue_angle(purple)) < 360
    green = lab([(YELLOW, Pressure.HEAVY), (BLUE, Pressure.MEDIUM)])
    assert 100 < float(hue_angle(green)) < 230
    creamed, pink = lab([(PINK, Pressure.MEDIUM), (CREAM, Pressure.HEAVY)]), lab([(PINK, Pressure.MEDIUM)])
    assert (float(hue_angle(creamed)) + 180) % 360 > (float(hue_angle(pink)) + 180) % 360
    assert lab([(BLUE, Pressure.HEAVY), (CLEAR_BLACK, Pressure.HEAVY)])[0] < lab([(CLEAR_BLACK, Pressure.HEAVY)])[0]


def test_pale_over_dark_shows_only_if_it_covers() -> None:
    """Common practice, no source."""
    dark = lab([], BLACK)[0]
    thin = pencil(93.5, 0, 2, Opacity.TRANSPARENT)
    assert lab([(WHITE, Pressure.HEAVY)], BLACK)[0] - dark > 2 * (lab([(thin, Pressure.HEAVY)], BLACK)[0] - dark)


def test_a_stack_shows_its_workings_and_refuses_nonsense() -> None:
    found = stack([Layer(PINK, Pressure.MEDIUM), Layer(PINK, Pressure.MEDIUM), Layer(BLUE, Pressure.LIGHT)], VELLUM)
    assert len(found.after) == 3
    assert np.allclose(found.after[-1], found.body)
    assert np.allclose(found.after[0], mark(PINK, VELLUM, Pressure.MEDIUM))
    assert 0 < found.room < 1
    assert np.allclose(stack([], VELLUM).body, VELLUM.body)
    with pytest.raises(OutOfRangeError, match="A pressure is"):
        stack([Layer(PINK, "hard")], VELLUM)  # type: ignore[arg-type] # a word that is none
    with pytest.raises(OutOfRangeError):
        stack([Layer(PINK, Pressure.LIGHT, 0)], VELLUM)
    assert mark(with_softness(PINK, 2.0), VELLUM, Pressure.LIGHT).mean() < mark(PINK, VELLUM, Pressure.LIGHT).mean()


def test_stacks_stay_what_they_were() -> None:
    """Regression values of this very implementation (1e-3): they say that it changed, not that it is right."""
    layers = [(PINK, Pressure.MEDIUM), (BLUE, Pressure.MEDIUM)]
    pinned = {
        "dry": (lab(layers), (53.873, 0.571, -29.373)),
        "solvent": (lab(layers, solvent=True), (42.041, -4.038, -44.547)),
        "burnished": (lab([(BLUE, Pressure.MEDIUM), (WHITE, Pressure.BURNISH)]), (68.855, -16.105, -21.869)),
    }  # fmt: skip
    for name, (found, was) in pinned.items():
        assert np.allclose(found, was, atol=1e-3), name


def test_who_burnishes_harder_leaves_more_than_the_tooth_takes_of_any_other_pass() -> None:
    """A heavy pass fills the tooth at most; burnishing presses wax in, and what is pressed harder is darker yet (common
    practice, no source). A mark is the same by itself and as the lowest layer of a stack.
    """
    softer = replace(GREEN, softness=2.0)
    assert deposit(replace(GREEN, softness=50.0), VELLUM, Pressure.HEAVY).load <= CAPACITY
    assert deposit(softer, VELLUM, Pressure.BURNISH).load > CAPACITY
    seen, harder = (
        reflectance_to_lab(add_surface(mark(one, VELLUM, Pressure.BURNISH)))[0] for one in (GREEN, softer)
    )  # fmt: skip
    assert harder < seen - 2.0
    assert lab([(softer, Pressure.BURNISH)])[0] == pytest.approx(harder, abs=1e-9)


def layer(one: PencilModel, pressure: Pressure, layers: int = 1) -> Layer[PencilModel]:
    return Layer(one, pressure, layers)


def test_each_pass_of_one_pencil_is_a_deposit_of_its_own() -> None:
    """Two passes are one layer of two; light then heavy is not heavy then light, and neither is two at one pressure."""
    red = pencil(50.0, 40.0, 20.0, Opacity.SEMI)
    light, heavy = layer(red, Pressure.LIGHT), layer(red, Pressure.HEAVY)
    twice = stack([light, light], VELLUM)
    assert np.allclose(twice.body, stack([layer(red, Pressure.LIGHT, 2)], VELLUM).body)
    copied = layer(replace(red), Pressure.LIGHT)
    assert np.array_equal(stack([light, copied], VELLUM).body, twice.body)
    both = stack([light, heavy], VELLUM)
    assert len(both.after) == 2
    assert both.load == pytest.approx(stack([heavy, light], VELLUM).load, rel=0.02)
    assert stack([heavy, heavy], VELLUM).load > both.load + 0.2 > twice.load + 0.4
    other = pencil(60.0, -30.0, 10.0, Opacity.SEMI)
    assert len(stack([light, layer(other, Pressure.LIGHT), light], VELLUM).after) == 3


def test_the_tooth_never_holds_more_than_it_can() -> None:
    """However often two pencils are laid heavily, the tooth is full at its capacity and there is no room below none
    (common practice, no source: past a point the wax slides off).
    """
    red, green = pencil(50.0, 40.0, 20.0, Opacity.SEMI), pencil(60.0, -30.0, 10.0, Opacity.SEMI)
    laid = [layer(one, Pressure.HEAVY, 12) for one in (red, green) * 6]
    loads = [stack(laid[:count], VELLUM).load for count in range(1, 13)]
    assert all(0 < load <= CAPACITY for load in loads)
    assert loads == sorted(loads)
    assert loads[-1] == pytest.approx(CAPACITY, abs=1e-6)
    assert stack(laid, VELLUM).room == pytest.approx(0.0, abs=1e-6)
    burnished = [layer(red, Pressure.BURNISH), layer(green, Pressure.BURNISH)] * 6
    assert stack(burnished, VELLUM).load <= CAPACITY


@pytest.mark.parametrize("lower_is_stepped", [True, False])
def test_the_slopes_by_a_layer_are_those_of_central_differences(lower_is_stepped: bool) -> None:
    """Two layers of one pencil under one of another: each way that a layer is stepped, against Lab itself."""
    below, above = pencil(45, 50, 30, Opacity.SEMI), pencil(70, -20, 40, Opacity.OPAQUE)
    one = below if lower_is_stepped else above

    def laid(changed: PencilModel) -> list[Layer[PencilModel]]:
        pencils = (changed, above) if lower_is_stepped else (below, changed)
        return [layer(pencils[0], Pressure.MEDIUM, 2), layer(pencils[1], Pressure.HEAVY)]

    def seen(changed: PencilModel) -> Lab:
        return np.asarray(reflectance_to_lab(add_surface(bodies_of([laid(changed)], VELLUM)))[0])

    def central(more: PencilModel, less: PencilModel) -> Lab:
        return np.asarray((seen(more) - seen(less)) / 2e-3)

    up, down = np.exp(1e-3), np.exp(-1e-3)
    band = np.where(np.arange(31) == 17, up, 1.0)
    slopes = layer_response(
        bodies_of([laid(one)], VELLUM), bodies_of([laid(way) for way in stepped(one)], VELLUM)[None]
    ).only(0)
    k, s, soft = one.absorption, one.scattering, one.softness
    by_k = central(replace(one, absorption=k * band), replace(one, absorption=k / band))
    assert slopes.by_ln_k[:, 17] == pytest.approx(by_k, rel=2e-3, abs=1e-4)
    by_s = central(replace(one, scattering=s * up), replace(one, scattering=s * down))
    assert slopes.by_ln_s == pytest.approx(by_s, rel=2e-3, abs=1e-3)
    by_load = central(replace(one, softness=soft * up), replace(one, softness=soft * down))
    assert slopes.by_ln_offered == pytest.approx(by_load, rel=2e-3, abs=1e-3)
