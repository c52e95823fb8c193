"""Layers of pencils: how each is laid, and the orders in which the same ones can be laid.

One type serves everywhere; what a layer's pencil is (a key, a fitted pencil, a model, an owned colour) is its
parameter.
What burnishes is a finish: it stays on top in each order.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import permutations
from typing import Generic, TypeVar

from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure

P = TypeVar("P")
Q = TypeVar("Q")


@dataclass(frozen=True)
class Coat:
    """How a pencil is laid: how hard, and in how many layers."""

    pressure: Pressure
    layers: int = 1


COATS = tuple(Coat(pressure) for pressure in MARK_PRESSURES)
"""One layer at each pressure of a mark."""


@dataclass(frozen=True)
class Layer(Generic[P]):
    """Some layers of one pencil at one pressure."""

    pencil: P
    pressure: Pressure
    layers: int = 1

    @property
    def coat(self) -> Coat:
        """How its pencil is laid."""
        return Coat(self.pressure, self.layers)

    def of(self, pencil: Q) -> Layer[Q]:
        """The same laid with another pencil, or with another view of this one."""
        return Layer(pencil, self.pressure, self.layers)


def laid(pencil: P, coat: Coat) -> Layer[P]:
    """A pencil laid in a coat."""
    return Layer(pencil, coat.pressure, coat.layers)


def turned(layers: Sequence[Layer[P]]) -> tuple[Layer[P], ...]:
    """The same layers the other way round, the lowest first."""
    below, above = _parted(layers)
    return (*reversed(below), *above)


def orders(layers: Sequence[Layer[P]]) -> tuple[tuple[Layer[P], ...], ...]:
    """Every order of the layers that differs: as they are, the other way round, then the rest."""
    below, above = _parted(layers)
    first = (tuple(below), tuple(reversed(below)))
    return tuple((*order, *above) for order in dict.fromkeys((*first, *permutations(below))))


def _parted(layers: Sequence[Layer[P]]) -> tuple[list[Layer[P]], list[Layer[P]]]:
    """What is laid, and what burnishes it."""
    burnishes = Pressure.BURNISH
    return [x for x in layers if x.pressure != burnishes], [x for x in layers if x.pressure == burnishes]
