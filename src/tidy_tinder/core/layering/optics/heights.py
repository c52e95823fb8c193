"""The tooth of a paper as 24 heights that share the load, the highest first.

A later layer covers what the earlier ones left on the heights and reaches deeper where the tooth has filled; a part
of the wax smears into one film with what lies below. Many papers are worked on at once, each with layers of its own.
Formulas and defaults are ours (docs/model.md).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from tidy_tinder.core.layering.optics.film import film
from tidy_tinder.core.layering.optics.tooth import BURNISHED_GRAIN, CAPACITY, PaperModel, capacity, mix
from tidy_tinder.core.quantities import BANDS, Reflectance

_Array = NDArray[np.float64]

BINS = 24
# A full tooth is displaced: this share of the wax that finds no room comes in all the same.
_DISPLACED = 0.1
# How much of the grain is gone when the tooth is full.
_FILLED = 0.7
# Solvent leaves this share of the gaps, and evens the rest.
_GAPS_LEFT = 0.04


@dataclass(frozen=True)
class Grounds:
    """What pieces lie on: body (N, 31), grain (N,), Yule–Nielsen exponent (N,), the share (N,) of a layer that misses
    by chance instead of where the layers before did, how much of the whole (N,) is one smeared film, ln (N,) of how
    much more a full tooth holds than its room says; N is 1 where all are of one paper.
    """

    body: Reflectance
    grain: _Array
    exponent: _Array
    by_chance: _Array
    smeared: _Array
    hold: _Array

    @classmethod
    def of(cls, paper: PaperModel) -> Grounds:
        """One paper for all pieces."""
        return cls.of_each([paper])

    @classmethod
    def of_each(cls, papers: Sequence[PaperModel]) -> Grounds:
        """A paper for each piece."""
        of = [(paper.grain, paper.exponent, paper.by_chance, paper.smeared, paper.hold) for paper in papers]
        return cls(np.stack([paper.body for paper in papers]), *np.array(of).T)

    def rows(self, rows: NDArray[np.int64]) -> Grounds:
        """What some of the pieces lie on, each as often as it is named."""
        return self if len(self.grain) == 1 else Grounds(*(part[rows] for part in self._parts()))

    @classmethod
    def joined(cls, grounds: Sequence[Grounds]) -> Grounds:
        """A ground for each piece of several."""
        return cls(*(np.concatenate(parts) for parts in zip(*(one._parts() for one in grounds), strict=True)))

    def _parts(self) -> tuple[_Array, ...]:
        smeared = np.broadcast_to(self.smeared, self.grain.shape)
        of = (self.grain, self.exponent, self.by_chance, smeared, self.hold)
        return np.broadcast_to(self.body, (len(self.grain), BANDS.size)), *of


class Heights:
    """N pieces of paper while layers are put down; each holds what is seen at each height and what lies there.

    places: which height a column is (N, B); count: for how many heights it stands. Between the thresholds of the
    layers all heights are alike, so that few columns can stand for all 24. What lies there is worked out in the figures
    of the ground's body and of the deposits: in 32 bits where these come so.
    """

    def __init__(self, on: Grounds, places: _Array, count: _Array) -> None:
        """Bare pieces: of each (N, B) of its heights is there, each standing for `count` (N, B)."""
        self._on = on
        self.load = np.zeros(len(places))
        self.places, self.count = places, count
        shape = (*places.shape, BANDS.size)
        self._alone = np.broadcast_to(on.body[:, None], shape)
        self._root = np.broadcast_to(on.body[:, None] ** (1.0 / self._exponent), shape)
        self._seen: _Array | None = self._alone
        self._absorbed, self._scattered = np.zeros(shape, on.body.dtype), np.zeros(shape, on.body.dtype)

    @classmethod
    def bare(cls, on: Grounds, pieces: int) -> Heights:
        """Pieces of one paper with all their heights."""
        places = np.broadcast_to(np.arange(float(BINS)), (pieces, BINS))
        return cls(on, places, np.ones((pieces, BINS)))

    def pieces_at(self, rows: NDArray[np.int64], places: _Array, count: _Array) -> Heights:
        """Copies of pieces, of some heights (M, B) only, each standing for `count`; a height that is not there itself
        is as the one that stands for it.
        """
        at = self._standing_for(rows, places)
        lying = (self._root, self._alone, self._absorbed, self._scattered, self._reflects())
        here = (part[rows[:, None], at] for part in lying)
        return self._of(self._on.rows(rows), self.load[rows], places, count, *here)

    def _standing_for(self, rows: NDArray[np.int64], places: _Array) -> NDArray[np.int64]:
        """Which column (M, B) of the pieces is as each height: the nearest that is not after it."""
        if self.places.shape[1] == BINS:
            return places.astype(np.int64)
        begin = self.places[rows][:, None]
        return np.asarray(np.argmax(np.where(begin <= places[..., None], begin, -1.0), axis=-1))

    def pieces(self, rows: NDArray[np.int64]) -> Heights:
        """Copies of some of the pieces, each as often as it is named."""
        return self._of(self._on.rows(rows), *(part[rows] for part in self._parts()))

    @classmethod
    def joined(cls, parts: Sequence[Heights]) -> Heights:
        """The pieces of several, in their order; all of one paper, or each with its own."""
        own = all(len(part._on.grain) == len(part.load) for part in parts)
        on = Grounds.joined([part._on for part in parts]) if own else parts[0]._on
        return parts[0]._of(on, *(np.concatenate(each) for each in zip(*(p._parts() for p in parts), strict=True)))

    @property
    def room(self) -> _Array:
        """Share of the tooth (N,) that is still free."""
        return np.asarray(np.maximum(1.0 - self.load / CAPACITY, 0.0))

    def _reflects(self) -> _Array:
        """Body reflectance (N, B, 31) at each height: the root to its power, worked out where it is asked for."""
        if self._seen is None:
            self._seen = self._root**self._exponent
        return self._seen

    def _parts(self) -> tuple[_Array, ...]:
        lying = (self._root, self._alone, self._absorbed, self._scattered, self._reflects())
        return (self.load, self.places, self.count, *lying)

    def _of(self, on: Grounds, *parts: _Array) -> Heights:
        """Other pieces, given by what they lie on and all their parts."""
        made = Heights.__new__(Heights)
        made._on = on
        made.load, made.places, made.count, made._root, made._alone, made._absorbed, made._scattered = parts[:-1]
        made._seen = parts[-1]
        return made

    def covers(
        self, wish: _Array, burnished: ArrayLike, rows: NDArray[np.int64] | None = None
    ) -> tuple[_Array, _Array]:
        """What of the wax offered (N,) finds a hold, and the share of the paper that it covers; on each piece, or on
        those of `rows`.
        """
        load, on = (self.load, self._on) if rows is None else (self.load[rows], self._on.rows(rows))
        return taken_and_covered(load, wish, burnished, on.grain, on.hold)

    def lay(self, absorption: _Array, scattering: _Array, wish: _Array, burnished: ArrayLike) -> None:
        """Put one deposit down on each piece: absorption and scattering (N, 31) per load, the wax offered (N,)."""
        taken, coverage = self.covers(wish, burnished)
        self.load = np.minimum(self.load + taken, CAPACITY)
        thickness = self._figures(taken / np.maximum(coverage, 1e-9))[:, None, None]
        c = coverage[:, None]
        even = self._on.by_chance[:, None]
        w = self._figures(even * c + (1.0 - even) * np.clip(BINS * c - self.places, 0.0, 1.0))[..., None]
        k, s = absorption[:, None, :] * thickness, scattering[:, None, :] * thickness
        n = self._exponent
        self._root = self._root + w * (film(k, s, self._reflects()) ** (1.0 / n) - self._root)
        self._seen = None
        k, s = w * k, w * s
        self._alone = film(k, s, self._alone)
        self._absorbed = self._absorbed + k
        self._scattered = self._scattered + s

    def look(self) -> Reflectance:
        """Body reflectance (N, 31) of the whole."""
        n = self._exponent
        smeared = film(self._absorbed, self._scattered, self._on.body[:, None]) / self._alone
        share = np.reshape(self._on.smeared, (-1, 1, 1))
        each = self._root * smeared ** self._figures(share / n)
        return np.asarray(((each * self._figures(self.count)[..., None]).sum(axis=1) / BINS) ** n[:, 0])

    def dissolve(self) -> Reflectance:
        """Body reflectance (N, 31) after solvent: one even film of all the wax, a few gaps left."""
        coverage = (1.0 - _GAPS_LEFT * np.exp(-self.load / self._on.grain))[:, None]
        k, s = ((of * self.count[..., None]).sum(axis=1) / BINS / coverage for of in (self._absorbed, self._scattered))
        return mix(coverage, film(k, s, self._on.body), self._on.body, self._exponent[:, 0])

    @property
    def _exponent(self) -> _Array:
        return self._figures(self._on.exponent)[:, None, None]

    def _figures(self, of: ArrayLike) -> _Array:
        """In as many bits as what lies there."""
        return np.asarray(of, dtype=self._alone.dtype)


def taken_and_covered(
    load: _Array, wish: _Array, burnished: ArrayLike, grain: _Array, hold: _Array
) -> tuple[_Array, _Array]:
    """What of the wax offered (N,) finds a hold where a load (N,) lies on a grain that holds wax on wax so well, and
    the share that it covers.
    """
    full = load / CAPACITY
    most = capacity(burnished)
    taken = most * (1.0 - full) * -np.expm1(-wish / most)
    taken = taken + _DISPLACED * full * np.maximum(wish - taken, 0.0)
    taken = np.minimum(taken * np.exp(hold * full), wish)
    left = grain * (1.0 - _FILLED * full) * np.where(burnished, BURNISHED_GRAIN, 1.0)
    return taken, -np.expm1(-taken / left)


def lay_all(
    on: Grounds, absorption: _Array, scattering: _Array, wishes: _Array, burnished: NDArray[np.bool_]
) -> Iterator[Heights]:
    """Lay D deposits on each of N bare pieces, the lowest first, and show them after each: absorption and scattering
    (N, D, 31) per load, the wax offered (N, D), which of them burnish (N, D).

    Only heights that differ are worked out, which loses nothing: 2 D + 1 of the 24 where D is small.
    """
    load, covered = np.zeros(len(wishes)), np.zeros(wishes.shape)
    for d in range(wishes.shape[1]):
        taken, covered[:, d] = taken_and_covered(load, wishes[:, d], burnished[:, d], on.grain, on.hold)
        load = np.minimum(load + taken, CAPACITY)
    heights = Heights(on, *kinds_of_height(covered))
    for d in range(wishes.shape[1]):
        heights.lay(absorption[:, d], scattering[:, d], wishes[:, d], burnished[:, d])
        yield heights


def kinds_of_height(coverage: _Array) -> tuple[_Array, _Array]:
    """Which heights (Q, 2D + 1) stand for all where D layers cover these shares (Q, D), and for how many each stands.

    A layer covers the heights before its threshold, one of them in part, and none after it, so that between two
    thresholds all heights are alike, whatever the order of the layers. Where that would not be fewer, all are named.
    """
    if 2 * coverage.shape[-1] + 1 >= BINS:
        every = (len(coverage), BINS)
        return np.broadcast_to(np.arange(float(BINS)), every), np.ones(every)
    ends = np.sort(np.floor(BINS * coverage), axis=-1)
    before = np.concatenate([np.full((len(ends), 1), -1.0), ends[:, :-1]], axis=-1)
    between = np.maximum(ends - before - 1.0, 0.0)
    in_part = ((ends != before) & (ends < BINS)) * 1.0
    after = np.maximum(BINS - 1.0 - ends[:, -1:], 0.0)
    places = np.concatenate([before + 1.0, ends, ends[:, -1:] + 1.0], axis=-1)
    return np.clip(places, 0.0, BINS - 1.0), np.concatenate([between, in_part, after], axis=-1)
