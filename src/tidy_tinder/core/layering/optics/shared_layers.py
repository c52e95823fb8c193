"""Many passages that have their lower layers in common: what is laid alike is laid once.

A passage is a row of slots, each some layers; what is wanted is how it looks after every slot. Stacks are laid from
the lowest deposit up, all of one depth together, and one deposit serves every stack that holds it over the same ones.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.optics.heights import Grounds, Heights, kinds_of_height
from tidy_tinder.core.layering.optics.stack import deposits_of
from tidy_tinder.core.layering.optics.tooth import PaperModel, PencilModel
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
    ends = np.array([laid.ends_of(slots) for slots in passages], dtype=np.int64)
    if not ends.size:
        return PassageStates(np.zeros((len(passages), 0, BANDS.size)), np.ones(len(passages)), 0)
    seen = _Looks(laid, paper, np.unique(ends), np.unique(ends[:, -1]) if solvent else np.zeros(0, np.int64))
    body = seen.dry[ends]
    if solvent:
        body[:, -1] = seen.dissolved[ends[:, -1]]
    return PassageStates(body, seen.room[ends[:, -1]], len(laid.deposits) - 1)


_Deposit: TypeAlias = tuple[int, Pressure]
"""The number of a pencil, and how hard it is pressed."""


class _Laid:
    """Every deposit by what lies below it; number 0 is the bare paper."""

    def __init__(self) -> None:
        self.pencils: list[PencilModel] = []
        self.deposits: list[_Deposit] = [(-1, Pressure.LIGHT)]
        self.below, self.depth = [0], [0]
        self._number: dict[int, int] = {}
        self._over: dict[tuple[int, _Deposit], int] = {}

    def ends_of(self, slots: Slots) -> list[int]:
        """The uppermost deposit after each slot; each layer is a deposit of its own."""
        at, ends = 0, []
        for layers in slots:
            for pencil, pressure in deposits_of(layers):
                at = self._put_over(at, (self._number_of(pencil), pressure))
            ends.append(at)
        return ends

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
        self._laid, self._paper = laid, paper
        self._look, self._dissolve = (np.isin(np.arange(count), some) for some in (look, dissolve))
        self.dry = np.empty((count, BANDS.size))
        self.dissolved = np.empty((count, BANDS.size))
        self.room = np.ones(count)
        bands = (len(laid.pencils), BANDS.size)
        self._absorption = np.reshape([np.broadcast_to(p.absorption, BANDS.shape) for p in laid.pencils], bands)
        self._scattering = np.reshape([np.broadcast_to(p.scattering, BANDS.shape) for p in laid.pencils], bands)
        self._offered = {
            deposit: laid.pencils[deposit[0]].offered(paper, deposit[1]) for deposit in set(laid.deposits[1:])
        }
        self.dry[0] = self.dissolved[0] = paper.body
        self._lay_all(np.array(laid.below), np.array(laid.depth))

    def _lay_all(self, below: NDArray[np.int64], depth: NDArray[np.int64]) -> None:
        """Lay all deposits, those of one depth together."""
        borne = np.isin(np.arange(len(below)), below)
        ground, place = Heights.bare(Grounds.of(self._paper), 1), {0: 0}
        covered = np.zeros((1, 0))
        for deep in range(1, int(depth.max()) + 1):
            level = np.flatnonzero(depth == deep)
            # What something lies over comes first, and is all that is kept for the next depth.
            level = level[np.argsort(~borne[level], kind="stable")]
            kept: list[tuple[Heights, NDArray[np.float64]]] = []
            for at in range(0, len(level), _AT_ONCE):
                nodes = level[at : at + _AT_ONCE]
                over = np.array([place[i] for i in below[nodes]])
                heights, shares = self._lay(nodes, ground, over, covered[over])
                if bearing := int(borne[nodes].sum()):
                    kept.append((heights.pieces(np.arange(bearing)), shares[:bearing]))
            if not kept:
                return
            ground = Heights.joined([heights for heights, _ in kept])
            covered = np.concatenate([shares for _, shares in kept])
            place = {int(node): i for i, node in enumerate(level[borne[level]])}

    def _lay(
        self,
        nodes: NDArray[np.int64],
        ground: Heights,
        over: NDArray[np.int64],
        covered: NDArray[np.float64],
    ) -> tuple[Heights, NDArray[np.float64]]:
        """Lay some deposits of one depth, each over a piece of the ground, and look at those asked for.

        covered: the shares (N, D) that the deposits below each cover; they come back with its own. A few heights stand
        for all, without any loss.
        """
        deposits = [self._laid.deposits[i] for i in nodes]
        pencils = [pencil for pencil, _ in deposits]
        wish = np.array([self._offered[deposit] for deposit in deposits])
        burnished = np.array([pressure == Pressure.BURNISH for _, pressure in deposits])
        _, coverage = ground.covers(wish, burnished, over)
        covered = np.concatenate([covered, coverage[:, None]], axis=-1)
        heights = ground.pieces_at(over, *kinds_of_height(covered))
        heights.lay(self._absorption[pencils], self._scattering[pencils], wish, burnished)
        self.room[nodes] = heights.room
        looked, wet = (np.flatnonzero(some[nodes]) for some in (self._look, self._dissolve))
        if looked.size:
            self.dry[nodes[looked]] = heights.pieces(looked).look()
        if wet.size:
            self.dissolved[nodes[wet]] = heights.pieces(wet).dissolve()
        return heights, covered
