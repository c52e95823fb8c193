"""Layers of several pencils on one paper, burnished or dissolved by solvent (see `heights` for the tooth)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.layering.optics.heights import Heights
from tidy_tinder.core.layering.optics.tooth import CAPACITY, PaperModel, PencilModel, mark
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import BANDS, Reflectance
from tidy_tinder.core.vocabulary import Pressure


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


def stack(layers: Sequence[Layer[PencilModel]], paper: PaperModel, solvent: bool = False) -> Stacked:
    """What layers look like, the first one lowest; consecutive layers of one pencil at one pressure are one deposit.

    A stack of one pencil alone is the `mark` that its swatch was made as. Burnishing is a layer at the pressure
    “burnish”. Raises OutOfRangeError for an unknown pressure.
    """
    return stack_each([layers], paper, solvent)[0]


def stack_each(
    stacks: Sequence[Sequence[Layer[PencilModel]]], paper: PaperModel, solvent: bool = False
) -> tuple[Stacked, ...]:
    """Many stacks on one paper at once, each as `stack` has it. Raises OutOfRangeError for an unknown pressure."""
    deposits = [_deposits(layers) for layers in stacks]
    made: dict[int, Stacked] = {}
    for length in {len(each) for each in deposits}:
        places = [i for i, each in enumerate(deposits) if len(each) == length]
        made.update(zip(places, _of_one_length([deposits[i] for i in places], paper, solvent), strict=True))
    return tuple(made[i] for i in range(len(stacks)))


_Deposit = tuple[PencilModel, Pressure, int]


def _of_one_length(stacks: Sequence[Sequence[_Deposit]], paper: PaperModel, solvent: bool) -> list[Stacked]:
    """Stacks that have equally many deposits."""
    heights = Heights(paper, len(stacks))
    after: list[Reflectance] = []
    for step, deposits in enumerate(zip(*stacks, strict=True)):
        heights.lay(
            np.stack([np.broadcast_to(pencil.absorption, BANDS.shape) for pencil, _, _ in deposits]),
            np.stack([np.broadcast_to(pencil.scattering, BANDS.shape) for pencil, _, _ in deposits]),
            np.array([count * paper.load(pressure) * pencil.softness for pencil, pressure, count in deposits]),
            np.array([pressure == Pressure.BURNISH for _, pressure, _ in deposits]),
        )
        seen = heights.look()
        if step == 0:
            for i, (pencil, pressure, count) in enumerate(deposits):
                if pressure != Pressure.BURNISH:
                    seen[i] = mark(pencil, paper, pressure, count)
        after.append(seen)
    body = np.broadcast_to(paper.body, (len(stacks), BANDS.size)) if not after else after[-1]
    if solvent and after:
        body = heights.dissolve()
    return [
        Stacked(body[i], tuple(seen[i] for seen in after), float(load)) for i, load in enumerate(heights.load)
    ]  # fmt: skip


def _deposits(layers: Sequence[Layer[PencilModel]]) -> list[_Deposit]:
    """Consecutive layers of one pencil at one pressure, counted."""
    deposits: list[_Deposit] = []
    for layer in layers:
        if deposits and deposits[-1][0] is layer.pencil and deposits[-1][1] == layer.pressure:
            deposits[-1] = (layer.pencil, layer.pressure, deposits[-1][2] + layer.layers)
        else:
            deposits.append((layer.pencil, layer.pressure, layer.layers))
    return deposits
