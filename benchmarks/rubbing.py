"""A fourth hidden physics, for tests and benchmarks only: a soft core that is rubbed off on a rough row of places.

It was written last, from what is known of rubbing, paper and light, and its constants stand as they were first written
down: nothing in the application, and nothing in this physics, was chosen by how well the one predicts the other. So it
tells how far what holds in the other three holds where nobody looked.

The core lies on an elastic bed and presses hardest on what stands out (a Winkler foundation); it wears off in
proportion to pressure and way (Archard 1953, from memory), in lines of hatching; it takes less hold on wax than on
fibres. Rubbing carries the top of what lies there along into the hollows and mixes it with what is laid. Wax lies in
grains, so that a film lets through more than an even one. Light spreads sideways in the paper, farther where the paper
absorbs less. Many white papers are brightened: what glows near 440 nm goes out under whatever keeps ultraviolet from
it. Scattering rises beside an absorption edge, as it does in organic pigments. Printed ink takes the wax otherwise than
fibres, by how much is each printer's own. None of this is in the application's model.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from benchmarks.grain import free_film
from tidy_tinder.core.quantities import BANDS, Reflectance

Array = NDArray[np.float64]

PLACES = 160
# Mean pressure of the core on the bed, and how long it is rubbed, of an ordinary hand.
_PRESSED = {"light": 0.12, "medium": 0.40, "heavy": 1.30, "burnish": 3.5}
_RUBBED = {"light": 1.3, "medium": 1.1, "heavy": 1.0, "burnish": 0.9}
# How deep the lines of hatching are, and how many there are in the first pass; each later one lies two closer.
_LINES_SHOW, _LINES = {"light": 0.6, "medium": 0.45, "heavy": 0.25, "burnish": 0.1}, 9
_WEARS, _SUBDUED = 0.95, 0.8
# Height of a unit of wax in the depth of an ordinary paper, how much of the coarse relief a core follows, in which
# width, and how soft the edge of contact is.
_SWELLS, _FOLLOWS, _WIDTH, _EDGE = 0.35, 0.5, 12.0, 0.05
# Wax that is carried along, of the topmost, for pressure 1 over way 1, at most this share of it, so many places far.
_CARRIED, _AT_MOST, _FAR = 0.12, 0.6, 5.0
# Grains: half of each place holds so much more than the mean, half so much less.
_GRAINS = 0.45
_EXTERNAL, _OF_WAX, _OF_INK, _INTERNAL, _BLACK = 0.022, 0.034, 0.03, 0.42, 0.04
_INK_LEVELS = 0.8
_DISSOLVED = 0.85
_STEPS = 2


@dataclass(frozen=True, eq=False)
class RubbedPencil:
    """Absorption and scattering per unit of wax (31,), how much ultraviolet a unit keeps off, softness of the core,
    how well it takes hold on wax, 0 to 1.
    """

    K: Array
    S: Array
    shields: float
    softness: float
    holds: float


@dataclass(frozen=True, eq=False)
class RubbedPaper:
    """Spectrum of the bare paper (31,) with what glows of it, relief (PLACES,), how far light spreads in it, in places,
    how well fibres rub off wax (1 is ordinary).
    """

    spectrum: Reflectance
    glow: float
    relief: Array
    spreads: float
    bite: float

    @cached_property
    def light_spread(self) -> Array:
        """Transfer function of light sideways (frequencies, 31): farther where the paper reflects more."""
        far = self.spreads * np.clip(self.spectrum / 0.8, 0.15, 1.3)
        turns = 2.0 * np.pi * np.fft.rfftfreq(PLACES)[:, None]
        return np.asarray(1.0 / (1.0 + (far * turns) ** 2))


@dataclass(frozen=True)
class RubbingHand:
    """An artist's own pressure, and rubbing, by what a pressure is called; how well wax takes to the printer's ink."""

    pressed: Mapping[str, float]
    rubbed: Mapping[str, float]
    on_ink: float


@dataclass
class _Lying:
    """Wax on the paper: films from below, each of masses (PLACES,) by pencil."""

    films: list[dict[RubbedPencil, Array]]

    @property
    def wax(self) -> Array:
        """All of it at each place, (PLACES,)."""
        return np.asarray(sum((m for film in self.films for m in film.values()), start=np.zeros(PLACES)))


def rubbing_reflectance(
    passes: Sequence[tuple[RubbedPencil, str]], paper: RubbedPaper, hand: RubbingHand, slips: Sequence[float] = (),
    over_black: bool = False, solvent: bool = False,
) -> Reflectance:  # fmt: skip
    """Reflectance (31,) of passes; slips: ln of what the hand lays more in each of them, none by default. solvent
    dissolves them in the end.
    """
    lying = _Lying([])
    relief = paper.relief * (_INK_LEVELS if over_black else 1.0)
    takes = paper.bite * (hand.on_ink if over_black else 1.0)
    for nth, ((pencil, pressure), slip) in enumerate(zip(passes, slips or [0.0] * len(passes), strict=True)):
        _rub(lying, pencil, pressure, hand, slip, nth, relief, takes)
    if solvent and lying.films:
        lying = _dissolved(lying)
    shines = any(pressure == "burnish" for _, pressure in passes)
    return _light(lying, paper, over_black, shines)


def _rub(
    lying: _Lying, pencil: RubbedPencil, pressure: str, hand: RubbingHand, slip: float, nth: int, relief: Array,
    takes: float,
) -> None:  # fmt: skip
    """One pass, in steps: where the core presses, what wears off, what is carried along."""
    force = hand.pressed[pressure] * np.exp(0.6 * slip)
    way = hand.rubbed[pressure] * np.exp(0.4 * slip) / _STEPS
    laid: dict[RubbedPencil, Array] = {}
    below = lying.wax
    for step in range(_STEPS):
        wax = below + sum(laid.values())
        presses = _contact(relief + _SWELLS * wax, force, pencil.softness)
        turns = (_LINES + 2 * nth) * np.arange(PLACES) / PLACES + 0.38 * nth + 0.5 * step
        lines = 1.0 + _LINES_SHOW[pressure] * np.cos(2.0 * np.pi * turns)
        hold = takes + (pencil.holds - takes) * wax / (wax + 0.5)
        left = _WEARS * pencil.softness * way * presses**_SUBDUED * force ** (1.0 - _SUBDUED) * lines * hold
        laid[pencil] = laid.get(pencil, np.zeros(PLACES)) + left
        for of, mass in _taken(lying, laid, np.minimum(_CARRIED * presses * way, _AT_MOST)):
            laid[of] = laid.get(of, np.zeros(PLACES)) + mass
    lying.films.append(laid)


def _contact(surface: Array, force: float, softness: float) -> Array:
    """Pressure (PLACES,) of the core on a surface, of mean `force`, by halving how deep it lies."""
    coarse = _spread(surface, _WIDTH)
    stands = surface - _FOLLOWS * softness * (coarse - coarse.mean())
    low, high = float(stands.min()) - 2.0 * force - 1.0, float(stands.max()) + 1.0
    for _ in range(32):
        depth = 0.5 * (low + high)
        presses = _EDGE * np.logaddexp(0.0, (stands - depth) / _EDGE)
        low, high = (depth, high) if presses.mean() > force else (low, depth)
    return np.asarray(presses)


def _taken(lying: _Lying, laid: dict[RubbedPencil, Array], share: Array) -> list[tuple[RubbedPencil, Array]]:
    """What rubbing takes of the topmost film below and of what is being laid, and where it lies then: at most as much
    of what is below as is laid there.
    """
    moved: list[tuple[RubbedPencil, Array]] = []
    top = lying.films[-1] if lying.films else {}
    room = np.minimum(1.0, sum(laid.values()) / np.maximum(sum(top.values(), start=np.zeros(PLACES)), 1e-9))
    for of, mass in list(top.items()):
        off = share * room * mass
        top[of] = mass - off
        moved.append((of, _spread(off, _FAR)))
    for of, mass in list(laid.items()):
        laid[of] = mass - share * mass
        moved.append((of, _spread(share * mass, _FAR)))
    return moved


def _spread(what: Array, far: float) -> Array:
    """Something (PLACES,) spread both ways along the closed row, falling off exponentially."""
    turns = 2.0 * np.pi * np.fft.rfftfreq(PLACES)
    return np.asarray(np.fft.irfft(np.fft.rfft(what) / (1.0 + (far * turns) ** 2), PLACES))


def _dissolved(lying: _Lying) -> _Lying:
    """All films as one, nearly even."""
    one: dict[RubbedPencil, Array] = {}
    for film in lying.films:
        for of, mass in film.items():
            one[of] = one.get(of, np.zeros(PLACES)) + mass
    return _Lying([{of: (1 - _DISSOLVED) * mass + _DISSOLVED * mass.mean() for of, mass in one.items()}])


def _light(lying: _Lying, paper: RubbedPaper, over_black: bool, shines: bool) -> Reflectance:
    """What is seen (31,): films at each place, light that spreads and glows in the paper, the surface."""
    front, back, through = _films(lying)
    bare = _OF_INK if over_black else _EXTERNAL
    glow = np.zeros(BANDS.size) if over_black else paper.glow * np.exp(-0.5 * ((BANDS - 440.0) / 18.0) ** 2)
    ground = np.full(BANDS.size, _BLACK) if over_black else paper.spectrum - glow
    outer = np.clip((ground - bare) / (1.0 - bare), 1e-4, 0.99)
    inside = outer / (1.0 - _INTERNAL + _INTERNAL * outer)
    lit = np.prod([np.exp(-of.shields * mass) for film in lying.films for of, mass in film.items()], axis=0)
    glows = glow * (np.full(PLACES, lit) if np.ndim(lit) == 0 else lit)[:, None]
    down = through / (1.0 - back * inside)
    for _ in range(12):
        spread = down if over_black else np.fft.irfft(np.fft.rfft(down, axis=0) * paper.light_spread, PLACES, axis=0)
        down = through + back * inside * spread
    inner = front + through * (inside * spread)
    waxed = 1.0 - np.exp(-lying.wax[:, None] / 0.15)
    external = (bare + (_OF_WAX - bare) * waxed) * (0.5 if shines else 1.0)
    seen = external + (1.0 - external) * (1.0 - _INTERNAL) * inner / (1.0 - _INTERNAL * inner) + through * glows
    return np.asarray(np.clip(seen.mean(axis=0), 1e-4, 1.2))


def _films(lying: _Lying) -> tuple[Array, Array, Array]:
    """Of all films at each place (PLACES, 31): reflectance from above, from below, and what they let through."""
    front, back = np.zeros((PLACES, BANDS.size)), np.zeros((PLACES, BANDS.size))
    through = np.ones((PLACES, BANDS.size))
    for film in lying.films:
        k = np.sum([mass[:, None] * of.K for of, mass in film.items()], axis=0)
        s = np.sum([mass[:, None] * of.S for of, mass in film.items()], axis=0)
        (R1, T1), (R2, T2) = (free_film(grain * k, grain * s) for grain in (1.0 - _GRAINS, 1.0 + _GRAINS))
        R, T = 0.5 * (R1 + R2), 0.5 * (T1 + T2)
        bounce = 1.0 / (1.0 - R * front)
        front, back, through = R + T * T * front * bounce, back + through**2 * R * bounce, through * T * bounce
    return front, back, through


def rubbed_pencil(rng: Generator) -> tuple[RubbedPencil, int]:
    """A pencil of one to three pigments, tinted or not, and its true class of cover, 0 to 2."""
    strength, K = float(np.exp(rng.normal(-0.1, 0.6))), np.full(BANDS.size, float(rng.uniform(0.005, 0.04)))
    for _ in range(int(rng.integers(1, 4))):
        if rng.random() < 0.45:
            edge, width = rng.uniform(460, 640), rng.uniform(7, 22)
            K = K + strength * rng.uniform(0.4, 2.0) / (1.0 + np.exp((BANDS - edge) / width))
        else:
            centre, width = rng.uniform(480, 660), rng.uniform(22, 60)
            K = K + strength * rng.uniform(0.3, 2.0) * np.exp(-0.5 * ((BANDS - centre) / width) ** 2)
    if rng.random() < 0.2:
        K = K + float(rng.uniform(0.05, 1.8))
    cover = int(rng.integers(0, 3))
    white = float(rng.choice([0.0, rng.uniform(0.05, 1.0)], p=[0.6, 0.4]))
    K = K / (1.0 + 2.0 * white)
    S = (0.045, 0.13, 0.32)[cover] * float(np.exp(rng.normal(0.0, 0.3))) + 0.65 * white
    falling = (550.0 / BANDS) ** float(rng.uniform(0.1, 1.4))
    beside = 1.0 + rng.uniform(0.0, 0.35) * np.clip(-np.gradient(K) / (np.abs(np.gradient(K)).max() + 1e-9), 0.0, 1.0)
    softness, holds = float(np.exp(rng.normal(0.0, 0.18))), float(rng.uniform(0.5, 0.95))
    shields = float(rng.uniform(1.0, 3.0) + 4.0 * white)
    return RubbedPencil(K, S * falling * beside, shields, softness, holds), 2 if white > 0.3 else cover


def rubbing_hand(rng: Generator) -> RubbingHand:
    """An artist's hand: a tenth more or less of each pressure, a quarter of burnishing; ink takes 70 to 105 %."""
    spread = {"light": 0.1, "medium": 0.1, "heavy": 0.1, "burnish": 0.25}
    pressed = {name: of * float(np.exp(rng.normal(0.0, spread[name]))) for name, of in _PRESSED.items()}
    rubbed = {name: of * float(np.exp(rng.normal(0.0, 0.1))) for name, of in _RUBBED.items()}
    return RubbingHand(pressed, rubbed, float(rng.uniform(0.7, 1.05)))


def rubbed_paper(rng: Generator, level: tuple[float, float], warmth: tuple[float, float], depth: tuple[float, float],
                 dyed: bool = False, bright: bool = False) -> RubbedPaper:  # fmt: skip
    """A paper of some level, warmth and depth, with a fine and a coarse relief; half of the bright ones glow."""
    spectrum = rng.uniform(*level) * (1.0 - rng.uniform(*warmth) / (1.0 + np.exp((BANDS - 455.0) / 30.0)))
    if dyed:
        spectrum = spectrum * (1.0 - rng.uniform(0.0, 0.5) / (1.0 + np.exp((BANDS - rng.uniform(480, 580)) / 40.0)))
    glow = float(rng.uniform(0.02, 0.10)) if bright and rng.random() < 0.5 else 0.0
    spectrum = spectrum + glow * np.exp(-0.5 * ((BANDS - 440.0) / 18.0) ** 2)
    fine, coarse = (_spread(rng.normal(0.0, 1.0, PLACES), far) for far in (1.2, 7.0))
    rough = fine / fine.std() + float(rng.uniform(0.3, 1.0)) * coarse / coarse.std()
    z = (rough - rough.mean()) / rough.std()
    relief = z + float(rng.uniform(-1.0, 0.5)) * (z * z - 1.0) / 6.0
    return RubbedPaper(
        np.asarray(spectrum), glow, np.asarray(float(rng.uniform(*depth)) * relief), float(rng.uniform(1.0, 6.0)),
        float(np.exp(rng.normal(0.0, 0.1))),
    )  # fmt: skip
