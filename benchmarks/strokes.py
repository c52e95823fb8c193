"""A third hidden physics, for tests and benchmarks only: strokes that fall by chance.

It was made from what is known of worlds that we do not have (issue 14: heavy layers there are darker than told, and
burnished ones by far; layers simply add up; the order of transparent ones hardly matters). A pass is so many strokes,
which fall on each place as rain does, anew in each layer, so that what one layer misses another covers; what a stroke
leaves grows with how hard it is pressed there. No paper is full at some load, but each pencil has a thickness that it
does not pass. Hard strokes level what lies below and pick up a little of it; burnished wax shines. How hard each
pressure is, burnishing above all, is each artist's own. Neither the application's model nor the other two physics work
so.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from scipy.stats import poisson

from benchmarks.grain import free_film
from tidy_tinder.core.quantities import BANDS, Reflectance

Array = NDArray[np.float64]
Film = tuple["StrokePencil", Array]

PLACES = 240
# How hard a core is pressed, in the depth of a paper, and how many strokes fall on a place, of an ordinary hand.
_PRESSED = {"light": 0.25, "medium": 0.55, "heavy": 1.25, "burnish": 2.2}
_STROKES = {"light": 1.9, "medium": 2.8, "heavy": 5.5, "burnish": 9.0}
_LEFT = 0.125
_LEVELLED = {"light": 0.0, "medium": 0.0, "heavy": 0.08, "burnish": 0.45}
# How far wax fills a hollow, how soft the edge of contact is, how much worse wax takes on wax.
_FILLS, _EDGE, _SLICK = 0.45, 0.14, 0.15
# Of what lies on top a hard stroke picks up this share, and no more than that share of what it leaves.
_PICKED, _OF_ITS_OWN = 0.15, 0.3
_EXTERNAL, _INTERNAL, _BLACK = 0.035, 0.5, 0.045
_DISSOLVED = 0.75


@dataclass(frozen=True, eq=False)
class StrokePencil:
    """Absorption and scattering per unit of wax (31,), softness, how close its strokes lie, the most wax it lays."""

    K: Array
    S: Array
    softness: float = 1.0
    close: float = 1.0
    most: float = 3.5


@dataclass(frozen=True, eq=False)
class StrokePaper:
    """Spectrum of the bare paper (31,), depth of its hollows and their shape, how far light wanders in it, 0 to 1."""

    spectrum: Reflectance
    depth: float
    shape: float
    wander: float

    @property
    def hollows(self) -> Array:
        """Depth of each place (PLACES,), the highest first: few are deep."""
        at = (np.arange(PLACES) + 0.5) / PLACES
        return np.asarray(self.depth * (-np.log(1.0 - 0.995 * at)) ** self.shape)


@dataclass(frozen=True)
class StrokeHand:
    """An artist's own pressure, and strokes on a place, by what a pressure is called."""

    pressed: Mapping[str, float]
    strokes: Mapping[str, float]


def stroke_reflectance(
    passes: Sequence[tuple[StrokePencil, str]], paper: StrokePaper, hand: StrokeHand, slips: Sequence[float] = (),
    over_black: bool = False, solvent: bool = False,
) -> Reflectance:  # fmt: skip
    """Reflectance (31,) of passes; slips: ln of what the hand lays more in each of them, none by default. solvent
    dissolves them in the end.
    """
    films: list[Film] = []
    for nth, ((pencil, pressure), slip) in enumerate(zip(passes, slips or [0.0] * len(passes), strict=True)):
        level = _LEVELLED[pressure]
        laid = _laid(pencil, paper, hand, pressure, slip, nth, _thickness(films))
        films = _over([(of, (1 - level) * wax + level * wax.mean()) for of, wax in films], pencil, laid, level)
    shines = 0.5 * any(pressure == "burnish" for _, pressure in passes)
    ground = np.full(BANDS.size, _BLACK) if over_black else paper.spectrum
    wander = 0.0 if over_black else paper.wander
    return _light(_dissolved(films) if solvent and films else films, ground, wander, _EXTERNAL * (1.0 - shines))


def _laid(
    pencil: StrokePencil, paper: StrokePaper, hand: StrokeHand, pressure: str, slip: float, nth: int, lying: Array
) -> Array:
    """Wax (PLACES,) that a pass leaves over what lies there."""
    pressed = hand.pressed[pressure] * np.exp(0.35 * slip)
    strokes = _falling(round(hand.strokes[pressure] * np.exp(0.65 * slip) * pencil.close, 6), nth)
    above = np.maximum(paper.hollows - _FILLS * lying, 0.0)
    contact = _EDGE * np.logaddexp(0.0, (pressed - above) / _EDGE)
    offered = _LEFT * pencil.softness * strokes * contact**0.6
    left = -pencil.most * np.expm1(-offered / pencil.most) * np.clip(1.0 - lying / pencil.most, 0.02, 1.0)
    return np.asarray(left * (1.0 - _SLICK * np.minimum(lying, 1.0)))


@lru_cache(maxsize=4096)
def _falling(mean: float, nth: int) -> Array:
    """How many strokes of the n-th pass fall on each place (PLACES,): Poisson, spread evenly over the places, and not
    in steps, so that what is laid does not jump with the hand. Not to be written to.
    """
    share = (np.random.default_rng([7, nth]).permutation(PLACES) + 0.5) / PLACES
    count = poisson.ppf(share, mean)
    part = (share - poisson.cdf(count - 1, mean)) / np.maximum(poisson.pmf(count, mean), 1e-12)
    strokes = np.asarray(np.maximum(count - 0.5 + part, 0.0))
    strokes.flags.writeable = False
    return strokes


def _over(films: list[Film], pencil: StrokePencil, laid: Array, level: float) -> list[Film]:
    """Films with a further one, which a hard pass levels and mixes with a little of what lay on top."""
    laid = (1 - level) * laid + level * laid.mean()
    if not films or not level:
        return [*films, (pencil, laid)]
    *below, (top, wax) = films
    picked = np.minimum(_PICKED * wax, _OF_ITS_OWN * laid)
    return [*below, (top, wax - picked), (top, 0.5 * picked), (pencil, laid), (top, 0.5 * picked)]


def _thickness(films: Sequence[Film]) -> Array:
    return np.asarray(sum((wax for _, wax in films), start=np.zeros(PLACES)))


def _dissolved(films: Sequence[Film]) -> list[Film]:
    """All films as one of all the wax, mostly even."""
    shares = np.array([wax.mean() for _, wax in films])
    shares = shares / shares.sum()
    K, S = (sum(share * getattr(of, name) for share, (of, _) in zip(shares, films, strict=True)) for name in "KS")
    wax = _thickness(films)
    return [(StrokePencil(np.asarray(K), np.asarray(S)), (1 - _DISSOLVED) * wax + _DISSOLVED * wax.mean())]


def _light(films: Sequence[Film], ground: Reflectance, wander: float, external: float) -> Reflectance:
    """What is seen (31,) of films at each place. Of the light that gets into the paper through all of them some comes
    out wherever it likes.
    """
    outer = np.clip((ground - external) / (1.0 - external), 1e-4, 0.99)
    inside = np.tile(outer / (1.0 - _INTERNAL + _INTERNAL * outer), (PLACES, 1))
    each = [free_film(wax[:, None] * of.K, wax[:, None] * of.S) for of, wax in films]
    through = np.prod([T for _, T in each], axis=0) if each else np.ones_like(inside)
    entered = (1.0 - wander) + wander * through.mean(axis=0) / np.maximum(through, 1e-3)
    inside = np.clip(inside * np.minimum(entered, 6.0), 0.0, 0.995)
    for R, T in each:
        inside = R + T * T * inside / (1.0 - R * inside)
    inner = inside.mean(axis=0)
    seen = external + (1.0 - external) * (1.0 - _INTERNAL) * inner / (1.0 - _INTERNAL * inner)
    return np.asarray(np.clip(seen, 1e-4, 1.0))


def stroke_pencil(rng: Generator) -> tuple[StrokePencil, int]:
    """A pencil of edges and bells, tinted or not, and its true class of cover, 0 to 2."""
    wavenumber = 1e3 / BANDS
    K = np.full(BANDS.size, float(rng.uniform(0.01, 0.05)))
    strength = float(np.exp(rng.normal(0.0, 0.6)))
    for _ in range(int(rng.integers(1, 3))):
        if rng.random() < 0.5:
            height, edge, width = rng.uniform(0.6, 2.5), rng.uniform(470, 640), rng.uniform(8, 25)
            K = K + strength * height / (1.0 + np.exp((BANDS - edge) / width))
        else:
            centre, width = rng.uniform(1.5, 2.3), rng.uniform(0.1, 0.28)
            K = K + strength * rng.uniform(0.5, 2.2) * np.exp(-0.5 * ((wavenumber - centre) / width) ** 2)
    if rng.random() < 0.25:
        K = K + float(rng.uniform(0.1, 1.5))
    cover = int(rng.integers(0, 3))
    white = float(rng.choice([0.0, rng.uniform(0.1, 1.0)], p=[0.6, 0.4]))
    S = (0.04, 0.12, 0.30)[cover] * float(np.exp(rng.normal(0.0, 0.3))) + 0.7 * white
    falling = S * (550.0 / BANDS) ** float(rng.uniform(0.3, 1.0))
    softness, close, most = np.exp(rng.normal([0.0, 0.0, np.log(3.5)], [0.2, 0.08, 0.2]))
    pencil = StrokePencil(K / (1.0 + 3.0 * white), falling, float(softness), float(close), float(most))
    return pencil, 2 if white > 0.3 else cover


def stroke_hand(rng: Generator) -> StrokeHand:
    """An artist's hand: a tenth more or less of each pressure, a third of burnishing."""
    pressed = {name: of * float(np.exp(rng.normal(0.0, 0.1))) for name, of in _PRESSED.items()}
    strokes = {
        name: of * float(np.exp(rng.normal(0.0, 0.35 if name == "burnish" else 0.1))) for name, of in _STROKES.items()
    }
    return StrokeHand(pressed, strokes)


def stroke_paper(rng: Generator, level: tuple[float, float], warmth: tuple[float, float], depth: tuple[float, float],
                 toned: bool = False) -> StrokePaper:  # fmt: skip
    """A paper of some level, warmth and depth of hollows."""
    spectrum = rng.uniform(*level) * (1.0 - rng.uniform(*warmth) / (1.0 + np.exp((BANDS - 460.0) / 28.0)))
    if toned:
        spectrum = spectrum * (1.0 - rng.uniform(0.0, 0.5) / (1.0 + np.exp((BANDS - rng.uniform(480, 570)) / 40.0)))
    return StrokePaper(np.asarray(spectrum), float(rng.uniform(*depth)), float(rng.uniform(0.6, 1.2)),
                       float(rng.uniform(0.25, 0.7)))  # fmt: skip
