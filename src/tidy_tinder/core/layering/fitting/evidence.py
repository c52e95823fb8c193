"""What is known of a pencil before it is fitted: its marks, each on a known ground."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.layering.optics.film import strip_surface
from tidy_tinder.core.layering.optics.response import Marks
from tidy_tinder.core.layering.optics.tooth import PaperModel
from tidy_tinder.core.quantities import BANDS, Lab, Reflectance
from tidy_tinder.core.vocabulary import Pressure

_Array = NDArray[np.float64]


@dataclass(frozen=True)
class Kind:
    """A kind of dry mark: pressure, layers of the one pencil, over the paper or a printed black bar."""

    pressure: Pressure
    layers: int = 1
    over_black: bool = False


@dataclass(frozen=True)
class Evidence:
    """One dry mark of one pencil: Lab (3,), D65, 2°, on a paper, and its kind.

    noise: standard deviation of the value in ΔE*ab (a reader's .6 covers reading and an uneven hand; ours).
    spectrum: total reflectance (31,) where it was measured, else None.
    """

    lab: Lab
    paper: PaperModel
    kind: Kind
    noise: float = 0.6
    spectrum: Reflectance | None = None


# A printed black solid: density near 1.4, that is a reflectance of 4 % (ISO 12647-2 puts offset black between L* 16 on
# coated and 31 on uncoated paper; from memory).
BLACK_BAR = strip_surface(np.full(BANDS.size, 0.04))


@dataclass(frozen=True)
class Packed:
    """The marks of N pencils, S places each, as arrays; places without a mark have weight 0.

    lab (N, S, 3), noise, weight, ln_offered, ln_grain, ln_over (N, S), body (N, S, 31).
    """

    lab: Lab
    noise: _Array
    weight: _Array
    ln_offered: _Array
    ln_grain: _Array
    ln_over: _Array
    body: Reflectance

    def marks(self, ln_k: _Array, ln_s: _Array, ln_load: _Array) -> Marks:
        """These places as pencils ln_k (N, 31), ln_s (N,) would fill them, with ln_load (N, S) more wax."""
        shape = self.weight.shape
        return Marks(
            np.broadcast_to(ln_k[:, None, :], (*shape, BANDS.size)),
            np.broadcast_to(ln_s[:, None], shape),
            self.ln_offered + ln_load,
            self.ln_grain,
            self.ln_over,
            self.body,
        )


def pack(evidence: Sequence[Sequence[Evidence]]) -> Packed:
    """Arrays of the evidence for several pencils at once. Raises OutOfRangeError for an unknown pressure."""
    places = max((len(marks) for marks in evidence), default=0)
    shape = (len(evidence), places)
    lab, body = np.full((*shape, 3), 50.0), np.full((*shape, BANDS.size), 0.5)
    noise, weight = np.ones(shape), np.zeros(shape)
    offered, grain, over = np.zeros(shape), np.zeros(shape), np.zeros(shape)
    for i, marks in enumerate(evidence):
        for j, one in enumerate(marks):
            lab[i, j], body[i, j] = one.lab, BLACK_BAR if one.kind.over_black else one.paper.body
            noise[i, j], weight[i, j] = one.noise, 1.0
            offered[i, j] = np.log(one.kind.layers * one.paper.load(one.kind.pressure))
            grain[i, j], over[i, j] = np.log(one.paper.grain), np.log(one.paper.exponent - 1.0)
    return Packed(lab, noise, weight, offered, grain, over, body)
