"""Layers of pencils by their keys, and the orders in which the same ones can be laid.

What burnishes is a finish: it stays on top in each order.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import permutations


@dataclass(frozen=True)
class LaidLayer:
    """Some passes of one pencil by its key: light, medium, heavy or burnish, and how many."""

    pencil: int
    pressure: str
    layers: int = 1


def turned(layers: Sequence[LaidLayer]) -> tuple[LaidLayer, ...]:
    """The same layers the other way round, the lowest first."""
    below, above = _parted(layers)
    return (*reversed(below), *above)


def orders(layers: Sequence[LaidLayer]) -> tuple[tuple[LaidLayer, ...], ...]:
    """Every order of the layers that differs: as they are, the other way round, then the rest."""
    below, above = _parted(layers)
    first = (tuple(below), tuple(reversed(below)))
    return tuple((*order, *above) for order in dict.fromkeys((*first, *permutations(below))))


def _parted(layers: Sequence[LaidLayer]) -> tuple[list[LaidLayer], list[LaidLayer]]:
    """What is laid, and what burnishes it."""
    return [x for x in layers if x.pressure != "burnish"], [x for x in layers if x.pressure == "burnish"]
