"""Layers of several pencils on one paper, burnished or dissolved by solvent.

The tooth is 24 heights that share the load, the highest first: a later layer covers what the earlier ones left on
the heights and reaches deeper where the tooth has filled. A part of the wax smears into one film with what lies
below. Formulas and defaults: 5-optics section 4.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.film import film
from tidy_tinder.core.layering.tooth import CAPACITY, PaperModel, PencilModel, mark, mix
from tidy_tinder.core.quantities import BANDS, Reflectance

_Array = NDArray[np.float64]

BINS = 24
# A full tooth is displaced: this share of the wax that finds no room comes in all the same.
_DISPLACED = 0.15
# How much of the grain is gone when the tooth is full, and what burnishing leaves of it.
_FILLED = 0.7
_BURNISHED = 0.6
# Share of a layer that is spread evenly over the heights; the rest goes to the highest first.
_EVEN = 0.3
# How much of the whole is one smeared film.
_SMEARED = 0.2
# Solvent leaves this share of the gaps, and evens the rest.
_GAPS_LEFT = 0.04


@dataclass(frozen=True)
class Layer:
    """One pass of one pencil: light, medium, heavy or burnish."""

    pencil: PencilModel
    pressure: str


@dataclass(frozen=True)
class Stacked:
    """A stack with its workings: body reflectance (31,) of the whole, and after each deposit, the load at the end.

    after holds one reflectance (31,) for each deposit, that is for each change of pencil or pressure.
    """

    body: Reflectance
    after: tuple[Reflectance, ...]
    load: float

    @property
    def room(self) -> float:
        """Share of the tooth that is still free, 0 to 1."""
        return max(0.0, 1.0 - self.load / CAPACITY)


class _Tooth:
    """The heights while layers are put down; each holds what is seen there and what lies there in all."""

    def __init__(self, paper: PaperModel) -> None:
        self.paper = paper
        self.load = 0.0
        self.seen = np.repeat(paper.body[None], BINS, axis=0)
        self.film_alone = self.seen.copy()
        self.absorbed = np.zeros((BINS, BANDS.size))
        self.scattered = np.zeros((BINS, BANDS.size))

    def lay(self, pencil: PencilModel, load: float, burnished: bool) -> None:
        """Put one deposit down."""
        wish = load * pencil.softness
        taken = (CAPACITY - self.load) * (1.0 - np.exp(-wish / CAPACITY))
        taken += _DISPLACED * (self.load / CAPACITY) * max(wish - taken, 0.0)
        grain = self.paper.grain * (1.0 - _FILLED * self.load / CAPACITY) * (_BURNISHED if burnished else 1.0)
        self.load = min(self.load + taken, CAPACITY)
        coverage = 1.0 - np.exp(-taken / grain)
        thickness = taken / max(coverage, 1e-9)
        share = _EVEN * coverage + (1.0 - _EVEN) * np.clip(BINS * coverage - np.arange(BINS), 0.0, 1.0)
        w = share[:, None]
        k, s = pencil.absorption * thickness, pencil.scattering * thickness
        self.seen = mix(w, film(k, s, self.seen), self.seen, self.paper.exponent)
        self.film_alone = film(w * k, w * s, self.film_alone)
        self.absorbed += w * k
        self.scattered += w * s

    def look(self) -> Reflectance:
        """What is seen of the whole."""
        smeared = film(self.absorbed, self.scattered, self.paper.body) / self.film_alone
        n = self.paper.exponent
        each = self.seen * smeared**_SMEARED
        return np.asarray(np.mean(each ** (1.0 / n), axis=0) ** n)

    def dissolve(self) -> Reflectance:
        """What is seen after solvent: one even film of all the wax, a few gaps left."""
        coverage = 1.0 - _GAPS_LEFT * float(np.exp(-self.load / self.paper.grain))
        k, s = self.absorbed.mean(axis=0) / coverage, self.scattered.mean(axis=0) / coverage
        return mix(coverage, film(k, s, self.paper.body), self.paper.body, self.paper.exponent)


def stack(layers: Sequence[Layer], paper: PaperModel, solvent: bool = False) -> Stacked:
    """What layers look like, the first one lowest; consecutive passes of one pencil at one pressure are one deposit.

    A stack of one pencil alone is the `mark` that its swatch was made as. Burnishing is a layer at the pressure
    “burnish”. Raises OutOfRangeError for an unknown pressure.
    """
    tooth = _Tooth(paper)
    after: list[Reflectance] = []
    for pencil, pressure, count in _deposits(layers):
        tooth.lay(pencil, count * paper.load(pressure), pressure == "burnish")
        lone = len(after) == 0 and pressure != "burnish"
        after.append(mark(pencil, paper, pressure, count) if lone else tooth.look())
    body = paper.body if not after else after[-1]
    if solvent and after:
        body = tooth.dissolve()
    return Stacked(body, tuple(after), tooth.load)


def _deposits(layers: Sequence[Layer]) -> list[tuple[PencilModel, str, int]]:
    """Consecutive passes of one pencil at one pressure, counted."""
    found: list[tuple[PencilModel, str, int]] = []
    for layer in layers:
        if found and found[-1][0] is layer.pencil and found[-1][1] == layer.pressure:
            found[-1] = (layer.pencil, layer.pressure, found[-1][2] + 1)
        else:
            found.append((layer.pencil, layer.pressure, 1))
    return found
