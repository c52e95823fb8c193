"""Many passages that have their lower layers in common: what is laid alike is laid once.

A passage is a row of slots, each some layers; what is wanted is how it looks after every slot. Stacks are laid from
the lowest deposit up, all of one depth together, and one deposit serves every stack that holds it over the same ones.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.optics.heights import Heights
from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel, mark
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import BANDS, Reflectance
from tidy_tinder.core.vocabulary import Pressure

Slots: TypeAlias = Sequence[Sequence[Layer[PencilModel]]]
"""A passage: the layers of each slot, the lowest first."""

# Deposits laid at once: so few that what is worked on stays near the processor.
_AT_ONCE = 128


@dataclass(frozen=True)
class PassageStates:
    """N passages of S slots each. body: reflectance after each slot (N, S, 31), the last one after solvent where that
    dissolves it; room: share of the tooth (N,) that is still free; laid: deposits that were laid for all of them.
    """

    body: Reflectance
    room: NDArray[np.float64]
    laid: int


def states_of(passages: Sequence[Slots], paper: PaperModel, solvent: bool = False) -> PassageStates:
    """How passages of equally many slots look after every slot, each stack as `stack` has it.

    A slot may be empty: then all looks as before it. Raises OutOfRangeError for an unknown pressure.
    """
    laid = _Laid()
    ends = np.array([[laid.end_of(layers) for layers in _after_each(slots)] for slots in passages], dtype=np.int64)
    if not ends.size:
        return PassageStates(np.zeros((len(passages), 0, BANDS.size)), np.ones(len(passages)), 0)
    seen = _Looks(laid, paper, np.unique(ends), np.unique(ends[:, -1]) if solvent else np.zeros(0, np.int64))
    body = seen.dry[ends]
    if solvent:
        body[:, -1] = seen.dissolved[ends[:, -1]]
    return PassageStates(body, seen.room[ends[:, -1]], len(laid.deposits) - 1)


def _after_each(slots: Slots) -> Iterator[list[Layer[PencilModel]]]:
    """All that lies there after each slot."""
    so_far: list[Layer[PencilModel]] = []
    for layers in slots:
        so_far = [*so_far, *layers]
        yield so_far


_Deposit: TypeAlias = tuple[int, Pressure, int]
"""The number of a pencil, how hard it is pressed, and in how many layers."""


class _Laid:
    """Every deposit by what lies below it; number 0 is the bare paper."""

    def __init__(self) -> None:
        self.pencils: list[PencilModel] = []
        self.deposits: list[_Deposit] = [(-1, Pressure.LIGHT, 0)]
        self.below, self.depth = [0], [0]
        self._number: dict[int, int] = {}
        self._over: dict[tuple[int, _Deposit], int] = {}

    def end_of(self, layers: Sequence[Layer[PencilModel]]) -> int:
        """The uppermost deposit of a stack: consecutive layers of one pencil at one pressure are one deposit."""
        at, below = 0, 0
        last: _Deposit = self.deposits[0]
        for one in layers:
            pencil = self._number_of(one.pencil)
            if at and (last[0], last[1]) == (pencil, one.pressure):
                last = (pencil, one.pressure, last[2] + one.layers)
            else:
                last, below = (pencil, one.pressure, one.layers), at
            at = self._put_over(below, last)
        return at

    def _number_of(self, pencil: PencilModel) -> int:
        if id(pencil) not in self._number:
            self._number[id(pencil)] = len(self.pencils)
            self.pencils.append(pencil)
        return self._number[id(pencil)]

    def _put_over(self, below: int, deposit: _Deposit) -> int:
        key = (below, deposit)
        if key not in self._over:
            self._over[key] = len(self.deposits)
            self.deposits.append(deposit)
            self.below.append(below)
            self.depth.append(self.depth[below] + 1)
        return self._over[key]


class _Looks:
    """What is seen at the deposits that are looked at: dry (D, 31), dissolved (D, 31), and the room left (D,)."""

    def __init__(self, laid: _Laid, paper: PaperModel, look: NDArray[np.int64], dissolve: NDArray[np.int64]) -> None:
        count = len(laid.deposits)
        self._laid, self._paper, self._look, self._dissolve = laid, paper, look, dissolve
        self.dry = np.empty((count, BANDS.size))
        self.dissolved = np.empty((count, BANDS.size))
        self.room = np.ones(count)
        bands = (len(laid.pencils), BANDS.size)
        self._absorption = np.reshape([np.broadcast_to(p.absorption, BANDS.shape) for p in laid.pencils], bands)
        self._scattering = np.reshape([np.broadcast_to(p.scattering, BANDS.shape) for p in laid.pencils], bands)
        self.dry[0] = self.dissolved[0] = paper.body
        level, ground, place = np.array([0]), Heights(paper, 1), {0: 0}
        below, depth = np.array(laid.below), np.array(laid.depth)
        for deep in range(1, int(depth.max()) + 1):
            level = np.flatnonzero(depth == deep)
            parts = [
                self._lay(level[at : at + _AT_ONCE], ground, [place[i] for i in below[level[at : at + _AT_ONCE]]])
                for at in range(0, len(level), _AT_ONCE)
            ]
            ground, place = Heights.joined(parts), {int(node): i for i, node in enumerate(level)}

    def _lay(self, nodes: NDArray[np.int64], ground: Heights, over: Sequence[int]) -> Heights:
        """Lay some deposits of one depth, each over a piece of the ground, and look at those asked for."""
        heights = ground.pieces(np.asarray(over))
        deposits = [self._laid.deposits[i] for i in nodes]
        pencils = [pencil for pencil, _, _ in deposits]
        heights.lay(
            self._absorption[pencils],
            self._scattering[pencils],
            np.array([
                layers * self._paper.load(pressure) * self._laid.pencils[pencil].softness
                for pencil, pressure, layers in deposits
            ]),
            np.array([pressure == Pressure.BURNISH for _, pressure, _ in deposits]),
        )  # fmt: skip
        self.room[nodes] = heights.room
        looked, wet = (np.flatnonzero(np.isin(nodes, some)) for some in (self._look, self._dissolve))
        if looked.size:
            self.dry[nodes[looked]] = heights.pieces(looked).look()
        if wet.size:
            self.dissolved[nodes[wet]] = heights.pieces(wet).dissolve()
        for i, (pencil, pressure, layers) in zip(nodes, deposits, strict=True):
            # A first deposit is the mark that a swatch shows.
            if self._laid.depth[i] == 1 and pressure != Pressure.BURNISH:
                self.dry[i] = mark(self._laid.pencils[pencil], self._paper, pressure, layers)
        return heights
