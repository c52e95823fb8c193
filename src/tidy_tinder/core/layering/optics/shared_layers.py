"""Many passages that have their lower layers in common: what is laid alike is laid once.

A passage is a row of slots, each some layers; what is wanted is how it looks after every slot. Stacks are laid from
the lowest deposit up, all of one depth together, and one deposit serves every stack that holds it over the same ones.
The same passages on several papers are laid together, too.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from typing import Generic, TypeAlias, TypeVar

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

P = TypeVar("P")
K = TypeVar("K", bound=Hashable)

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
    laid: _Laid[PencilModel] = _Laid(id)
    ends = np.array([laid.ends_of(slots) for slots in passages], dtype=np.int64)
    if not ends.size:
        return PassageStates(np.zeros((len(passages), 0, BANDS.size)), np.ones(len(passages)), 0)
    last = ends[:, -1]
    seen = _Looks(laid, [paper], [laid.pencils], np.unique(ends), np.unique(last) if solvent else _NONE)
    body = seen.dry[0, ends]
    if solvent:
        body[:, -1] = seen.dissolved[0, last]
    return PassageStates(body, seen.room[0, last], len(laid.deposits) - 1)


def finished_on_each(
    stacks: Sequence[Sequence[Layer[K]]],
    papers: Sequence[tuple[PaperModel, Mapping[K, PencilModel]]],
    solvent: bool = False,
) -> Reflectance:
    """Body reflectance (P, N, 31) of the whole of N stacks on each of P papers, with the pencils as each has them.

    Raises OutOfRangeError as `stack` does.
    """
    laid: _Laid[K] = _Laid(lambda pencil: pencil)
    last = np.array([laid.ends_of([layers])[-1] for layers in stacks], dtype=np.int64)
    on, pencils = [paper for paper, _ in papers], [[models[key] for key in laid.pencils] for _, models in papers]
    look, dissolve = (_NONE, np.unique(last)) if solvent else (np.unique(last), _NONE)
    seen = _Looks(laid, on, pencils, look, dissolve)
    return np.asarray((seen.dissolved if solvent else seen.dry)[:, last])


_NONE = np.zeros(0, dtype=np.int64)
_Deposit: TypeAlias = tuple[int, Pressure]
"""The number of a pencil, and how hard it is pressed."""


class _Laid(Generic[P]):
    """Every deposit by what lies below it; number 0 is the bare paper. key_of: by what a pencil is known again."""

    def __init__(self, key_of: Callable[[P], Hashable]) -> None:
        self._key_of = key_of
        self.pencils: list[P] = []
        self.deposits: list[_Deposit] = [(-1, Pressure.LIGHT)]
        self.below, self.depth = [0], [0]
        self._number: dict[Hashable, int] = {}
        self._over: dict[tuple[int, _Deposit], int] = {}

    def ends_of(self, slots: Sequence[Sequence[Layer[P]]]) -> list[int]:
        """The uppermost deposit after each slot; each layer is a deposit of its own."""
        at, ends = 0, []
        for layers in slots:
            for pencil, pressure in deposits_of(layers):
                at = self._put_over(at, (self._number_of(pencil), pressure))
            ends.append(at)
        return ends

    def _number_of(self, pencil: P) -> int:
        key = self._key_of(pencil)
        if key not in self._number:
            self._number[key] = len(self.pencils)
            self.pencils.append(pencil)
        return self._number[key]

    def _put_over(self, below: int, deposit: _Deposit) -> int:
        key = (below, deposit)
        if key not in self._over:
            self._over[key] = len(self.deposits)
            self.deposits.append(deposit)
            self.below.append(below)
            self.depth.append(self.depth[below] + 1)
        return self._over[key]


class _Looks:
    """What is seen on each paper at the deposits that are looked at: dry (P, D, 31), dissolved (P, D, 31), and the room
    left (P, D).

    Deposit d on paper p is place p · D + d.
    """

    def __init__(
        self,
        laid: _Laid[P],
        papers: Sequence[PaperModel],
        pencils: Sequence[Sequence[PencilModel]],
        look: NDArray[np.int64],
        dissolve: NDArray[np.int64],
    ) -> None:
        count = len(laid.deposits)
        self._on = Grounds.of_each(papers)
        self._look, self._dissolve = (
            np.tile(np.isin(np.arange(count), some), len(papers)) for some in (look, dissolve)
        )  # fmt: skip
        shape = (len(papers), count, BANDS.size)
        self.dry, self.dissolved, self.room = np.empty(shape), np.empty(shape), np.ones(shape[:2])
        self.dry[:, 0] = self.dissolved[:, 0] = self._on.body
        self._absorption = np.concatenate([_by_band([one.absorption for one in some]) for some in pencils])
        self._scattering = np.concatenate([_by_band([one.scattering for one in some]) for some in pencils])
        pencil, pressure = zip(*laid.deposits, strict=True)
        self._pencil = np.concatenate([np.array(pencil) + i * len(laid.pencils) for i in range(len(papers))])
        self._burnished = np.tile(np.array(pressure) == Pressure.BURNISH, len(papers))
        self._offered = np.concatenate([_offered(laid, *on) for on in zip(papers, pencils, strict=True)])
        below = np.concatenate([np.array(laid.below) + i * count for i in range(len(papers))])
        self._lay_all(below, np.tile(laid.depth, len(papers)))

    def _lay_all(self, below: NDArray[np.int64], depth: NDArray[np.int64]) -> None:
        """Lay all deposits, those of one depth together."""
        borne = np.isin(np.arange(len(below)), below)
        bare = np.flatnonzero(depth == 0)
        ground, place = Heights.bare(self._on, len(bare)), {int(node): i for i, node in enumerate(bare)}
        covered = np.zeros((len(bare), 0))
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
        wish, burnished, pencils = self._offered[nodes], self._burnished[nodes], self._pencil[nodes]
        _, coverage = ground.covers(wish, burnished, over)
        covered = np.concatenate([covered, coverage[:, None]], axis=-1)
        heights = ground.pieces_at(over, *kinds_of_height(covered))
        heights.lay(self._absorption[pencils], self._scattering[pencils], wish, burnished)
        self.room.reshape(-1)[nodes] = heights.room
        looked, wet = (np.flatnonzero(some[nodes]) for some in (self._look, self._dissolve))
        if looked.size:
            self.dry.reshape(-1, BANDS.size)[nodes[looked]] = heights.pieces(looked).look()
        if wet.size:
            self.dissolved.reshape(-1, BANDS.size)[nodes[wet]] = heights.pieces(wet).dissolve()
        return heights, covered


def _by_band(of: Sequence[NDArray[np.float64]]) -> NDArray[np.float64]:
    """One row (31,) for each pencil (N, 31)."""
    rows = np.empty((len(of), BANDS.size))
    for row, one in zip(rows, of, strict=True):
        row[:] = one
    return rows


def _offered(laid: _Laid[P], paper: PaperModel, pencils: Sequence[PencilModel]) -> NDArray[np.float64]:
    """The wax (D,) that each deposit offers to a paper; none for the bare one."""
    offers = {one: pencils[one[0]].offered(paper, one[1]) for one in set(laid.deposits[1:])}
    return np.array([0.0, *(offers[one] for one in laid.deposits[1:])])
