"""Two layered pencils as a stand-in: every ordered pair in every coat on one paper.

All pairs are mixed with the full model: under one lower coat the 24 heights of the tooth fall into at most five kinds,
so that five columns stand for them without any loss.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.optics.film import add_surface
from tidy_tinder.core.layering.optics.heights import Grounds, Heights, kinds_of_height, taken_and_covered
from tidy_tinder.core.layering.optics.tooth import CAPACITY, PaperModel, PencilModel
from tidy_tinder.core.layers import COATS, Coat, Layer, laid
from tidy_tinder.core.quantities import BANDS, Lab
from tidy_tinder.core.reflectance.colorimetry import reflectance_to_lab
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]
_Rows = NDArray[np.int64]

# Films are mixed in seven digits, which is quicker by more than half: each Lab then is within .0005 of that in sixteen
# (`tests/core/test_pairs.py`), and no more than tenths are shown.
_EXACT = np.float32
# Upper coats mixed at once: so few that what is worked on stays near the processor, so many that asking is no matter.
_AT_ONCE = 2600
# Lower coats mixed side by side: more than two would leave nothing for whoever asks meanwhile.
_AT_A_TIME = 2
_LARGE = 4_000_000


@dataclass(frozen=True)
class Pair:
    """Two pencils by their keys, each as it is laid; Lab (3,) of the two together."""

    below: Layer[int]
    above: Layer[int]
    lab: Lab


@dataclass(frozen=True, eq=False)
class PairTable:
    """All M pairs on one paper, in order of L*: Lab as three arrays (M,), places of both pencils, the coats."""

    keys: tuple[int, ...]
    coats: tuple[Coat, ...]
    L: _Array
    a: _Array
    b: _Array
    lower: NDArray[np.uint16]
    upper: NDArray[np.uint16]
    coat: NDArray[np.uint8]

    @property
    def bytes(self) -> int:
        """The memory that the arrays take."""
        return sum(part.nbytes for part in (self.L, self.a, self.b, self.lower, self.upper, self.coat))

    def __len__(self) -> int:
        return len(self.L)

    def pair(self, row: int) -> Pair:
        """The pair of a row."""
        below, above = divmod(int(self.coat[row]), len(self.coats))
        return Pair(
            laid(self.keys[self.lower[row]], self.coats[below]), laid(self.keys[self.upper[row]], self.coats[above]),
            np.array([self.L[row], self.a[row], self.b[row]]),
        )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Kept:
    """A table that was mixed before on the same paper in the same coats, and which of its pencils, by their keys, are
    what they were then.
    """

    table: PairTable
    same: frozenset[int]


def mix_pairs(
    pencils: Mapping[int, PencilModel],
    paper: PaperModel,
    coats: Sequence[Coat] = COATS,
    report: Callable[[int, int], None] | None = None,
    kept: Kept | None = None,
) -> PairTable:
    """Mix every ordered pair of two different pencils in every two coats on a paper.

    report: called after every lower coat with how many are done and how many there are; it stops the work by raising.
    kept: what was mixed before; pairs of two pencils that are the same are taken from it. Raises OutOfRangeError for an
    unknown pressure, for more than 65,535 pencils or 15 coats, and where other coats were kept.
    """
    if len(pencils) > np.iinfo(np.uint16).max or len(coats) > 15:
        raise OutOfRangeError("A table holds up to 65,535 pencils in up to 15 coats.")
    # Having once let go of a large block, the C library of Linux keeps small ones instead of giving each back to the
    # system and asking for it again, which takes longer than what is worked out in them.
    np.empty(_LARGE)
    keys, each = tuple(pencils), len(coats)
    labs = np.empty((len(keys), each, max(len(keys) - 1, 0) * each, 3))
    same = np.zeros(len(keys), dtype=bool) if kept is None else _take_over(kept, keys, tuple(coats), labs)
    _mix_others(_Coated.of([pencils[key] for key in keys], paper, coats), paper, same, labs, report)
    return _table(keys, tuple(coats), labs)


def mix_new(
    new: Mapping[int, PencilModel],
    owned: Mapping[int, PencilModel],
    paper: PaperModel,
    coats: Sequence[Coat] = COATS,
    report: Callable[[int, int], None] | None = None,
) -> PairTable:
    """Mix every ordered pair of one new and one owned pencil, and no others: what buying a colour would add.

    report: as of `mix_pairs`. Raises OutOfRangeError for a pencil that is both, and as `mix_pairs`.
    """
    if new.keys() & owned.keys():
        raise OutOfRangeError("A pencil is either new or owned.")
    keys, each = (*new, *owned), len(coats)
    if len(keys) > np.iinfo(np.uint16).max or each > 15:
        raise OutOfRangeError("A table holds up to 65,535 pencils in up to 15 coats.")
    coated = _Coated.of([*new.values(), *owned.values()], paper, coats)
    is_new = np.arange(len(keys)) < len(new)

    mixed = list(_mixed(coated, paper, (is_new[:, None] != is_new).repeat(each, axis=1), report))
    mixed.sort(key=lambda of: of.lower)
    below = np.repeat(np.array([of.lower for of in mixed], dtype=np.int64), [len(of.upper) for of in mixed])
    above = np.concatenate([np.zeros(0, dtype=np.int64), *(of.upper for of in mixed)])
    labs = np.concatenate([np.zeros((0, 3)), *(of.labs for of in mixed)])
    return _sorted(keys, tuple(coats), labs, below // each, above // each, below % each * each + above % each)


def _others(count: int, each: int) -> NDArray[np.bool_]:
    """Which of all coats (count, count · each) may lie over each pencil: a pencil over itself is not a pair of two."""
    return ~np.eye(count, dtype=bool).repeat(each, axis=1)


def _mix_others(
    coated: _Coated, paper: PaperModel, same: NDArray[np.bool_], into: Lab, report: Callable[[int, int], None] | None
) -> None:
    """Mix all pairs that were not taken over."""
    count, each = into.shape[:2]
    other = _others(count, each)
    # Over a pencil that is the same, only those that are not are laid again.
    again = ~(same[:, None] & same.repeat(each))
    for of in _mixed(coated, paper, other & again, report):
        i, below = divmod(of.lower, each)
        into[i, below, again[i, other[i]]] = of.labs


@dataclass(frozen=True, eq=False)
class _Over:
    """One lower coat with upper coats (Q,) over it, and the Lab (Q, 3) of each two."""

    lower: int
    upper: _Rows
    labs: Lab


def _mixed(
    coated: _Coated, paper: PaperModel, over: NDArray[np.bool_], report: Callable[[int, int], None] | None
) -> Iterator[_Over]:
    """Mix over each coat of P pencils the coats (P, N) that lie over it, in an order of its own, two parts at once."""
    each = len(coated.burnished) // max(len(over), 1)
    sizes, done = over.sum(axis=1).repeat(each), 0

    def mix(lowers: _Rows) -> list[_Over]:
        uppers = [np.flatnonzero(over[lower // each]) for lower in lowers]
        below, above = lowers.repeat(sizes[lowers]), np.concatenate(uppers)
        labs = _laid_over(paper, coated, below, above) if len(below) else np.zeros((0, 3))
        parts = np.split(labs, np.cumsum(sizes[lowers])[:-1])
        return [_Over(int(lower), upper, lab) for lower, upper, lab in zip(lowers, uppers, parts, strict=True)]

    # What NumPy works out at length leaves the interpreter to others meanwhile.
    with ThreadPoolExecutor(_AT_A_TIME) as cores:
        try:
            for some in cores.map(mix, _blocks(coated.layers, sizes)):
                for of in some:
                    yield of
                    done += 1
                    if report is not None:
                        report(done, len(sizes))
        finally:
            cores.shutdown(cancel_futures=True)


def _blocks(layers: _Rows, sizes: _Rows) -> Iterator[_Rows]:
    """Lower coats (N,) that are worked on together: of equally many layers, with about `_AT_ONCE` over them. With few
    over each, one by one would cost more for the asking than for the mixing.
    """
    for count in np.unique(layers):
        rows = np.flatnonzero(layers == count)
        block = np.cumsum(sizes[rows]) // _AT_ONCE
        yield from np.split(rows, np.flatnonzero(np.diff(block)) + 1)


def _table(keys: tuple[int, ...], coats: tuple[Coat, ...], labs: Lab) -> PairTable:
    """All pairs in order of L*."""
    count, each = len(keys), len(coats)
    place = np.broadcast_to(np.arange(count * each), (count, count * each))[_others(count, each)]
    place = place.reshape(count, 1, labs.shape[2])
    shape = labs.shape[:3]
    lower = np.broadcast_to(np.arange(count)[:, None, None], shape).ravel()
    upper = np.broadcast_to(place // max(each, 1), shape).ravel()
    coat = (np.arange(each)[None, :, None] * each + place % max(each, 1)).ravel()
    return _sorted(keys, coats, labs.reshape(-1, 3), lower, upper, coat)


def _sorted(
    keys: tuple[int, ...], coats: tuple[Coat, ...], labs: Lab, lower: _Rows, upper: _Rows, coat: _Rows
) -> PairTable:  # fmt: skip
    """A table of pairs (M,) in order of L*."""
    order = np.argsort(labs[:, 0], kind="stable")
    L, a, b = (np.ascontiguousarray(labs[order, axis]) for axis in range(3))
    return PairTable(
        keys, coats, L, a, b, lower[order].astype(np.uint16), upper[order].astype(np.uint16),
        coat[order].astype(np.uint8),
    )  # fmt: skip


def _take_over(kept: Kept, keys: tuple[int, ...], coats: tuple[Coat, ...], into: Lab) -> NDArray[np.bool_]:
    """Fill in the pairs of two pencils that are the same; which of the keys these are."""
    table = kept.table
    if table.coats != coats:
        raise OutOfRangeError("What was kept was mixed in other coats.")
    place = {key: i for i, key in enumerate(keys) if key in kept.same and key in table.keys}
    now = np.array([place.get(key, -1) for key in table.keys], dtype=np.int64)  # also where there is none
    lower, upper = now[table.lower], now[table.upper]
    rows = np.flatnonzero((lower >= 0) & (upper >= 0))
    lower, upper, each = lower[rows], upper[rows], len(coats)
    below, above = np.divmod(table.coat[rows].astype(np.int64), each)
    # Over each lower pencil the others stand in order, itself left out.
    into[lower, below, (upper - (upper > lower)) * each + above] = np.stack(
        [table.L[rows], table.a[rows], table.b[rows]], axis=-1
    )
    taken_over = np.zeros(len(keys), dtype=bool)
    taken_over[list(place.values())] = True
    return taken_over


@dataclass(frozen=True)
class _Coated:
    """Every pencil in every coat, one row each: per load absorption and scattering (N, 31), the wax that each of its
    layers offers (N, layers), 0 where it has fewer, and whether it burnishes (N,).
    """

    absorption: _Array
    scattering: _Array
    wishes: _Array
    burnished: NDArray[np.bool_]

    @classmethod
    def of(cls, models: Sequence[PencilModel], paper: PaperModel, coats: Sequence[Coat]) -> _Coated:
        every = [(model, coat) for model in models for coat in coats]
        bands = (len(every), BANDS.size)
        most = max(coat.layers for coat in coats)
        return cls(
            np.reshape([np.broadcast_to(m.absorption, BANDS.shape) for m, _ in every], bands).astype(_EXACT),
            np.reshape([np.broadcast_to(m.scattering, BANDS.shape) for m, _ in every], bands).astype(_EXACT),
            np.reshape([m.offered(paper, c.pressure) * (np.arange(most) < c.layers) for m, c in every], (-1, most)),
            np.array([c.pressure == Pressure.BURNISH for _, c in every], dtype=bool),
        )

    def rows(self, which: _Rows | slice) -> _Coated:
        return _Coated(self.absorption[which], self.scattering[which], self.wishes[which], self.burnished[which])

    @property
    def layers(self) -> _Rows:
        """Of how many layers each is (N,)."""
        return np.asarray((self.wishes > 0.0).sum(axis=1))

    def by_layers(self) -> Iterator[tuple[_Rows, _Coated]]:
        """Those that have equally many layers, with no wish for any other, and the rows (N,) where they stand."""
        for each in np.unique(self.layers):
            rows = np.flatnonzero(self.layers == each)
            of = self.rows(rows)
            yield rows, replace(of, wishes=of.wishes[:, :each])

    def lay(self, heights: Heights) -> Heights:
        """Lay each on its piece, layer after layer."""
        for wish in self.wishes.T:
            heights.lay(self.absorption, self.scattering, wish, self.burnished)
        return heights

    def covers(self, load: _Array, on: Grounds) -> _Array:
        """The shares (N, layers) that its layers cover where a load lies on a ground."""
        load, covered = np.broadcast_to(load, self.wishes.shape[:1]), np.empty(self.wishes.shape)
        for at, wish in enumerate(self.wishes.T):
            taken, covered[:, at] = taken_and_covered(load, wish, self.burnished, on.grain, on.hold)
            load = np.minimum(load + taken, CAPACITY)
        return covered


def _laid_over(paper: PaperModel, coated: _Coated, lower: _Rows, upper: _Rows) -> Lab:
    """Lab (Q, 3) of upper coats (Q,), each over a lower coat (Q,); all lower ones are of equally many layers."""
    which, piece = np.unique(lower, return_inverse=True)
    [(_, first)] = coated.rows(which).by_layers()
    bare = Grounds.of(replace(paper, body=paper.body.astype(_EXACT)))
    covered = first.covers(np.zeros(1), bare)
    ground = first.lay(Heights.bare(bare, len(which)))
    bodies = np.empty((len(upper), BANDS.size))
    for start in range(0, len(upper), _AT_ONCE):
        for places, above in coated.rows(upper[start : start + _AT_ONCE]).by_layers():
            on = piece[start + places]
            shares = np.concatenate([covered[on], above.covers(ground.load[on], bare)], axis=-1)
            heights = above.lay(ground.pieces_at(on, *kinds_of_height(shares)))
            bodies[start + places] = heights.look()
    return reflectance_to_lab(add_surface(bodies))
