"""The tooth of a paper as 24 heights that share the load, the highest first.

A later layer covers what the earlier ones left on the heights and reaches deeper where the tooth has filled; a part
of the wax smears into one film with what lies below. Many papers are worked on at once, each with layers of its own.
Formulas and defaults are ours (docs/model.md).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.layering.optics.film import film
from tidy_tinder.core.layering.optics.tooth import CAPACITY, PaperModel, mix
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


class Heights:
    """N pieces of one paper while layers are put down; each holds what is seen at each height and what lies there.

    places: which height a column is (N, B); count: for how many heights it stands. Between the thresholds of the
    layers all heights are alike, so that few columns can stand for all 24.
    """

    def __init__(self, paper: PaperModel, pieces: int) -> None:
        self.paper = paper
        self.load = np.zeros(pieces)
        self.places = np.broadcast_to(np.arange(float(BINS)), (pieces, BINS))
        self.count = np.ones((pieces, BINS))
        self._root = np.broadcast_to(paper.body ** (1.0 / paper.exponent), (pieces, BINS, BANDS.size))
        self._alone = np.broadcast_to(paper.body, (pieces, BINS, BANDS.size))
        self._absorbed = np.zeros((pieces, BINS, BANDS.size))
        self._scattered = np.zeros((pieces, BINS, BANDS.size))

    def columns(self, piece: int, places: _Array, count: _Array) -> Heights:
        """As many copies of one piece as `places` (M, B) has rows, of these heights only."""
        return self.pieces_at(np.full(len(places), piece), places, count)

    def pieces_at(self, rows: NDArray[np.int64], places: _Array, count: _Array) -> Heights:
        """Copies of pieces of which all heights are there, of some heights (M, B) only, each standing for `count`."""
        at = places.astype(int)
        lying = (self._root, self._alone, self._absorbed, self._scattered)
        return self._of(self.load[rows], places, count, *(part[rows[:, None], at] for part in lying))

    def pieces(self, rows: NDArray[np.int64]) -> Heights:
        """Copies of some of the pieces, each as often as it is named."""
        return self._of(*(part[rows] for part in self._parts()))

    @classmethod
    def joined(cls, parts: Sequence[Heights]) -> Heights:
        """The pieces of several, all of one paper, in their order."""
        return parts[0]._of(*(np.concatenate(each) for each in zip(*(p._parts() for p in parts), strict=True)))

    @property
    def room(self) -> _Array:
        """Share of the tooth (N,) that is still free."""
        return np.asarray(np.maximum(1.0 - self.load / CAPACITY, 0.0))

    def _parts(self) -> tuple[_Array, ...]:
        return self.load, self.places, self.count, self._root, self._alone, self._absorbed, self._scattered

    def _of(self, *parts: _Array) -> Heights:
        """The same paper with other pieces, given by all their parts."""
        made = Heights.__new__(Heights)
        made.paper = self.paper
        made.load, made.places, made.count, made._root, made._alone, made._absorbed, made._scattered = parts
        return made

    def covers(
        self, wish: _Array, burnished: ArrayLike, rows: NDArray[np.int64] | None = None
    ) -> tuple[_Array, _Array]:
        """What of the wax offered (N,) finds a hold, and the share of the paper that it covers; on each piece, or on
        those of `rows`.
        """
        load = self.load if rows is None else self.load[rows]
        full = load / CAPACITY
        taken = (CAPACITY - load) * -np.expm1(-wish / CAPACITY)
        taken = taken + _DISPLACED * full * np.maximum(wish - taken, 0.0)
        grain = self.paper.grain * (1.0 - _FILLED * full) * np.where(burnished, _BURNISHED, 1.0)
        return taken, -np.expm1(-taken / grain)

    def lay(self, absorption: _Array, scattering: _Array, wish: _Array, burnished: ArrayLike) -> None:
        """Put one deposit down on each piece: absorption and scattering (N, 31) per load, the wax offered (N,)."""
        taken, coverage = self.covers(wish, burnished)
        self.load = np.minimum(self.load + taken, CAPACITY)
        thickness = (taken / np.maximum(coverage, 1e-9))[:, None, None]
        c = coverage[:, None]
        w = (_EVEN * c + (1.0 - _EVEN) * np.clip(BINS * c - self.places, 0.0, 1.0))[..., None]
        k, s = absorption[:, None, :] * thickness, scattering[:, None, :] * thickness
        n = self.paper.exponent
        self._root = self._root + w * (film(k, s, self._root**n) ** (1.0 / n) - self._root)
        k, s = w * k, w * s
        self._alone = film(k, s, self._alone)
        self._absorbed = self._absorbed + k
        self._scattered = self._scattered + s

    def look(self) -> Reflectance:
        """Body reflectance (N, 31) of the whole."""
        n = self.paper.exponent
        smeared = film(self._absorbed, self._scattered, self.paper.body) / self._alone
        each = self._root * smeared ** (_SMEARED / n)
        return np.asarray(((each * self.count[..., None]).sum(axis=1) / BINS) ** n)

    def dissolve(self) -> Reflectance:
        """Body reflectance (N, 31) after solvent: one even film of all the wax, a few gaps left."""
        coverage = (1.0 - _GAPS_LEFT * np.exp(-self.load / self.paper.grain))[:, None]
        k, s = ((of * self.count[..., None]).sum(axis=1) / BINS / coverage for of in (self._absorbed, self._scattered))
        return mix(coverage, film(k, s, self.paper.body), self.paper.body, self.paper.exponent)


def kinds_of_height(coverage: _Array) -> tuple[_Array, _Array]:
    """Which heights (Q, 2D + 1) stand for all where D layers cover these shares (Q, D), and for how many each stands.

    A layer covers the heights before its threshold, one of them in part, and none after it, so that between two
    thresholds all heights are alike, whatever the order of the layers.
    """
    ends = np.sort(np.floor(BINS * coverage), axis=-1)
    before = np.concatenate([np.full((len(ends), 1), -1.0), ends[:, :-1]], axis=-1)
    between = np.maximum(ends - before - 1.0, 0.0)
    in_part = ((ends != before) & (ends < BINS)) * 1.0
    after = np.maximum(BINS - 1.0 - ends[:, -1:], 0.0)
    places = np.concatenate([before + 1.0, ends, ends[:, -1:] + 1.0], axis=-1)
    return np.clip(places, 0.0, BINS - 1.0), np.concatenate([between, in_part, after], axis=-1)
