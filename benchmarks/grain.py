"""A second hidden physics, as far from the demo's as we could think of, for tests and benchmarks only.

A paper is a row of pits that the core rides over. Each stroke misses some of them by chance, those of the next stroke
anew; what it leaves depends on how far the core reaches and not on how much paper it meets; wax over wax takes hold
less; nothing below is picked up, but a hard stroke levels what lies there. Scattering falls with wavelength. Light that
has entered the paper comes out anywhere with some chance and is thrown back by the wax as often as it likes. Every
making has a hand of its own, and every stroke in it another slip. The demo's simulator (`devices.truth`) has none of
these; the application's model knows neither.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from tidy_tinder.core.quantities import BANDS, Reflectance

Array = NDArray[np.float64]

PITS = 192
_REACH = {"light": 0.30, "medium": 0.62, "heavy": 1.35, "burnish": 2.6}
_LEFT = {"light": 0.42, "medium": 0.62, "heavy": 1.25, "burnish": 2.3}
_MISSED = {"light": 0.30, "medium": 0.18, "heavy": 0.07, "burnish": 0.01}
_LEVELLED = {"light": 0.0, "medium": 0.03, "heavy": 0.15, "burnish": 0.6}
# How much solvent levels what it dissolves.
_DISSOLVED = 0.8
# How a full pit refuses more wax, and how much of a pit's depth a unit of wax fills.
_FULL, _SLICK, _FILLS = 4.0, 0.30, 0.55
_EXTERNAL, _INTERNAL = 0.02, 0.45
# Uneven pressure within a patch: three points of a normal of 15 %.
_WITHIN = ((-0.15 * 3**0.5, 1 / 6), (0.0, 2 / 3), (0.15 * 3**0.5, 1 / 6))


@dataclass(frozen=True, eq=False)
class GrainPencil:
    """Absorption and scattering per unit of wax (31,), softness of the core (1 is ordinary), bluntness of its point."""

    K: Array
    S: Array
    softness: float
    bluntness: float


@dataclass(frozen=True, eq=False)
class GrainPaper:
    """Spectrum of the bare paper (31,), depth of its pits, their shape, and how far light wanders in it, 0 to 1."""

    spectrum: Reflectance
    depth: float
    shape: float
    wander: float

    @property
    def pits(self) -> Array:
        """Depth of each pit (PITS,), the highest first."""
        at = (np.arange(PITS) + 0.5) / PITS
        return np.asarray(self.depth * at**self.shape)


def grain_reflectance(
    passes: Sequence[tuple[GrainPencil, str]], paper: GrainPaper, slips: Sequence[float] = (), over_black: bool = False,
    solvent: bool = False,
) -> Reflectance:  # fmt: skip
    """Reflectance (31,) of passes; slips: ln of what the hand lays more in each of them, none by default. solvent
    dissolves them in the end."""
    ground = np.full(BANDS.size, 0.04) if over_black else paper.spectrum
    slips = slips or [0.0] * len(passes)
    seen = np.zeros(BANDS.size)
    for within, weight in _WITHIN:
        seen = seen + weight * _one(passes, paper, [slip + within for slip in slips], ground, solvent)
    return np.asarray(np.clip(seen, 1e-4, 1.0))


def _one(
    passes: Sequence[tuple[GrainPencil, str]],
    paper: GrainPaper,
    slips: Sequence[float],
    ground: Reflectance,
    solvent: bool,
) -> Reflectance:
    films: list[tuple[GrainPencil, Array]] = []
    lying, polish = np.zeros(PITS), 0.0
    for nth, ((pencil, pressure), slip) in enumerate(zip(passes, slips, strict=True)):
        force = np.exp(0.5 * slip)
        surface = np.maximum(paper.pits - _FILLS * lying, 0.0)
        reach = _REACH[pressure] * force * pencil.bluntness
        touched = 1.0 / (1.0 + np.exp((surface - reach) / (0.10 + 0.25 * reach)))
        touched = touched * (1.0 - _MISSED[pressure] * _by_chance(nth))
        left = _LEFT[pressure] * pencil.softness * force * touched
        left = left * np.clip(1.0 - lying / _FULL, 0.03, 1.0) * (1.0 - _SLICK * np.minimum(lying, 1.0))
        level = _LEVELLED[pressure]
        films = [(of, (1 - level) * mass + level * mass.mean()) for of, mass in films]
        films.append((pencil, (1 - level) * left + level * left.mean()))
        lying = np.sum([mass for _, mass in films], axis=0)
        polish = 1.0 if pressure == "burnish" else 0.4 * polish
    if solvent and films:
        films = [(of, (1 - _DISSOLVED) * mass + _DISSOLVED * mass.mean()) for of, mass in _mixed(films)]
    return _light(films, paper, ground, polish)


def _mixed(films: Sequence[tuple[GrainPencil, Array]]) -> list[tuple[GrainPencil, Array]]:
    """All films as one of all the wax."""
    shares = np.array([mass.mean() for _, mass in films])
    shares = shares / shares.sum()
    K, S = (sum(share * getattr(of, name) for share, (of, _) in zip(shares, films, strict=True)) for name in "KS")
    return [(GrainPencil(np.asarray(K), np.asarray(S), 1.0, 1.0), np.sum([mass for _, mass in films], axis=0))]


def _by_chance(nth: int) -> Array:
    """Which pits the n-th stroke misses: 1 where it may, spread evenly and not alike from stroke to stroke."""
    golden = (np.arange(PITS) * 0.6180339887 + 0.7548776662 * (nth + 1)) % 1.0
    shuffled = np.random.default_rng(1000 + nth).permutation(golden)
    return np.asarray(2.0 * shuffled)


def _light(films: Sequence[tuple[GrainPencil, Array]], paper: GrainPaper, ground: Reflectance, polish: float) -> Array:
    external = _EXTERNAL * (1.0 - 0.4 * polish)
    outer = np.clip((ground - _EXTERNAL) / (1.0 - _EXTERNAL), 1e-4, 0.995)
    inside = outer / (1.0 - _INTERNAL + _INTERNAL * outer)
    front, back, through = np.zeros((PITS, BANDS.size)), np.zeros((PITS, BANDS.size)), np.ones((PITS, BANDS.size))
    for pencil, mass in films:
        R, T = free_film(mass[:, None] * pencil.K, mass[:, None] * pencil.S)
        bounce = 1.0 / (1.0 - R * front)
        front, back, through = R + T * T * front * bounce, back + through**2 * R * bounce, through * T * bounce
    # down = through + back·up; up = paper·((1 − wander)·down + wander·mean of down), solved for down.
    stays = 1.0 / (1.0 - (1.0 - paper.wander) * back * inside)
    mean = (through * stays).mean(axis=0) / (1.0 - (back * inside * paper.wander * stays).mean(axis=0))
    down = (through + back * inside * paper.wander * mean) * stays
    up = inside * ((1.0 - paper.wander) * down + paper.wander * mean)
    inner = (front + through * up).mean(axis=0)
    return np.asarray(external + (1.0 - external) * (1.0 - _INTERNAL) * inner / (1.0 - _INTERNAL * inner))


def free_film(k: Array, s: Array) -> tuple[Array, Array]:
    """Reflectance and transmittance of films on nothing (Kubelka 1948, hyperbolic form)."""
    k, s = np.maximum(k, 1e-9), np.maximum(s, 1e-9)
    a = 1.0 + k / s
    b = np.sqrt(a * a - 1.0)
    x = np.minimum(b * s, 30.0)
    sinh, cosh = np.sinh(x), np.cosh(x)
    bottom = a * sinh + b * cosh
    return sinh / bottom, b / bottom


def grain_pencil(rng: Generator) -> tuple[GrainPencil, int]:
    """A pencil of bells and edges over wavenumber, tinted or not, and its true class of cover, 0 to 2."""
    wavenumber = 1e4 / BANDS / 10.0
    K = np.full(BANDS.size, float(rng.uniform(0.004, 0.03)))
    strength = float(np.exp(rng.normal(0.0, 0.75)))
    for _ in range(int(rng.integers(1, 4))):
        centre, width = rng.uniform(1.45, 2.5), rng.uniform(0.08, 0.30)
        bell = np.exp(-0.5 * np.abs((wavenumber - centre) / width) ** rng.uniform(1.6, 3.0))
        K = K + strength * rng.uniform(0.2, 1.6) * bell
    if rng.random() < 0.2:
        K = K + float(rng.uniform(0.05, 2.0))
    cover = int(rng.integers(0, 3))
    white = float(rng.choice([0.0, rng.uniform(0.05, 0.9)], p=[0.65, 0.35]))
    S = (0.05, 0.14, 0.34)[cover] * float(np.exp(rng.normal(0.0, 0.25))) + 0.6 * white
    K = K / (1.0 + 2.5 * white)
    falls = float(rng.uniform(0.2, 0.9))
    softness, bluntness = np.exp(rng.normal(0.0, [0.18, 0.14]))
    pencil = GrainPencil(K, S * (550.0 / BANDS) ** falls, float(softness), float(bluntness))
    return pencil, 2 if white > 0.3 else cover


def grain_paper(rng: Generator, level: tuple[float, float], warmth: tuple[float, float], depth: tuple[float, float],
                toned: bool = False) -> GrainPaper:  # fmt: skip
    """A paper of some level, warmth and depth of pits."""
    spectrum = rng.uniform(*level) * (1.0 - rng.uniform(*warmth) / (1.0 + np.exp((BANDS - 460.0) / 28.0)))
    if toned:
        spectrum = spectrum * (1.0 - rng.uniform(0.0, 0.5) / (1.0 + np.exp((BANDS - rng.uniform(480, 570)) / 40.0)))
    return GrainPaper(np.asarray(spectrum), float(rng.uniform(*depth)), float(rng.uniform(0.9, 1.8)),
                      float(rng.uniform(0.25, 0.8)))  # fmt: skip
