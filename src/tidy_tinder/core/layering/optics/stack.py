"""Layers of several pencils on one paper, burnished or dissolved by solvent (see `heights` for the tooth)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.errors import OutOfRangeError
from tidy_tinder.core.layering.optics.heights import Grounds, Heights, lay_all
from tidy_tinder.core.layering.optics.tooth import CAPACITY, PaperModel, PencilModel
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import BANDS, Reflectance
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]
P = TypeVar("P")


@dataclass(frozen=True)
class Stacked:
    """A stack with its workings: body reflectance (31,) of the whole, and after each pencil, the load at the end.

    after holds one reflectance (31,) for each pencil as it is laid, all its layers together.
    """

    body: Reflectance
    after: tuple[Reflectance, ...]
    load: float

    @property
    def room(self) -> float:
        """Share of the tooth that is still free, 0 to 1."""
        return max(0.0, 1.0 - self.load / CAPACITY)


def stack(layers: Sequence[Layer[PencilModel]], paper: PaperModel, solvent: bool = False) -> Stacked:
    """What layers look like, the first one lowest; each pass is a deposit of its own.

    A stack of one layer is the `mark` that its swatch was made as. Burnishing is a layer at the pressure
    “burnish”. Raises OutOfRangeError for an unknown pressure and for fewer than one layer.
    """
    return stack_each([layers], paper, solvent)[0]


def stack_each(
    stacks: Sequence[Sequence[Layer[PencilModel]]], paper: PaperModel, solvent: bool = False
) -> tuple[Stacked, ...]:
    """Many stacks on one paper at once, each as `stack` has it. Raises OutOfRangeError as that does."""
    made: dict[int, Stacked] = {}
    for places, deposits in by_length(stacks, paper):
        for place, body, seen, load in zip(places, *_laid(deposits, paper, solvent), strict=True):
            ends = np.cumsum([one.layers for one in stacks[place]], dtype=np.int64) - 1
            made[place] = Stacked(body, tuple(seen[ends]), float(load))
    return tuple(made[i] for i in range(len(stacks)))


def bodies_of(stacks: Sequence[Sequence[Layer[PencilModel]]], paper: PaperModel, solvent: bool = False) -> Reflectance:
    """Body reflectance (N, 31) of the whole of many stacks, without what lies between. Raises OutOfRangeError."""
    bodies = np.empty((len(stacks), BANDS.size))
    for places, deposits in by_length(stacks, paper):
        for start in range(0, len(places), _AT_ONCE):
            bodies[places[start : start + _AT_ONCE]] = _whole(deposits[start : start + _AT_ONCE], paper, solvent)
    return bodies


def deposits_of(layers: Sequence[Layer[P]]) -> list[tuple[P, Pressure]]:
    """Each layer as a deposit of its own, the lowest first. Raises OutOfRangeError for fewer than one layer."""
    if any(one.layers < 1 for one in layers):
        raise OutOfRangeError("Each pencil of a stack is laid in at least one layer.")
    return [(one.pencil, one.pressure) for one in layers for _ in range(one.layers)]


@dataclass(frozen=True)
class Deposits:
    """The D deposits of a stack on a paper, the lowest first: absorption and scattering (D, 31) per load, the wax
    offered (D,), whether they burnish (D,).
    """

    absorption: _Array
    scattering: _Array
    wishes: _Array
    burnished: NDArray[np.bool_]


def by_length(
    stacks: Sequence[Sequence[Layer[PencilModel]]], paper: PaperModel
) -> Iterator[tuple[list[int], list[Deposits]]]:
    """Which stacks have equally many deposits, and these. Raises OutOfRangeError as `deposits_of` does."""
    found: dict[int, tuple[list[int], list[Deposits]]] = {}
    for i, layers in enumerate(stacks):
        deposits = deposits_of(layers)
        places, alike = found.setdefault(len(deposits), ([], []))
        places.append(i)
        alike.append(_as_arrays(deposits, paper))
    yield from found.values()


def _as_arrays(deposits: Sequence[tuple[PencilModel, Pressure]], paper: PaperModel) -> Deposits:
    absorption, scattering = np.empty((len(deposits), BANDS.size)), np.empty((len(deposits), BANDS.size))
    for d, (pencil, _) in enumerate(deposits):
        absorption[d], scattering[d] = pencil.absorption, pencil.scattering
    return Deposits(
        absorption,
        scattering,
        np.array([pencil.offered(paper, pressure) for pencil, pressure in deposits]),
        np.array([pressure == Pressure.BURNISH for _, pressure in deposits], dtype=bool),
    )


# Stacks worked on at once: so few that they stay near the processor.
_AT_ONCE = 128


def _laid(stacks: Sequence[Deposits], paper: PaperModel, solvent: bool) -> tuple[Reflectance, _Array, _Array]:
    """Of stacks that have equally many deposits: the whole (N, 31), after each deposit (N, D, 31), the load (N,)."""
    if not stacks[0].wishes.size:
        bare = np.broadcast_to(paper.body, (len(stacks), BANDS.size))
        return bare, np.empty((len(stacks), 0, BANDS.size)), np.zeros(len(stacks))
    after = []
    for heights in _lay(stacks, paper):
        after.append(heights.look())
    return heights.dissolve() if solvent else after[-1], np.stack(after, axis=1), heights.load


def _whole(stacks: Sequence[Deposits], paper: PaperModel, solvent: bool) -> Reflectance:
    """The whole (N, 31) of stacks that have equally many deposits."""
    if not stacks[0].wishes.size:
        return np.broadcast_to(paper.body, (len(stacks), BANDS.size))
    *_, heights = _lay(stacks, paper)
    return heights.dissolve() if solvent else heights.look()


def _lay(stacks: Sequence[Deposits], paper: PaperModel) -> Iterator[Heights]:
    return lay_all(
        Grounds.of(paper), np.stack([one.absorption for one in stacks]), np.stack([one.scattering for one in stacks]),
        np.stack([one.wishes for one in stacks]), np.stack([one.burnished for one in stacks]),
    )  # fmt: skip
