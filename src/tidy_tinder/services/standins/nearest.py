"""What comes nearest to a Lab on a paper: single pencils, each as it comes nearest, and two that are layered."""

from __future__ import annotations

from collections.abc import Iterator
from collections.abc import Set as AbstractSet
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.nearest_pairs import nearest_pairs
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.standins.roles import Ability
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.collection.predictions import Predictions
from tidy_tinder.services.collection.scene import Scene

Layers: TypeAlias = tuple[Layer[int], ...]
MOST_LAYERS = 3
"""Layers of a single pencil that are offered at most."""


def look_at_singles(scene: Scene, most_layers: int = MOST_LAYERS) -> list[Predictions]:
    """Every single pencil on the paper in one layer and in more, as predicted; kept for whoever asks next."""
    return [scene.predicted(layers) for layers in range(1, most_layers + 1)]


def nearest_singles(
    scene: Scene, may: AbstractSet[int], wanted: Lab, closest: Closest, count: int, burnishes: bool = False,
    most_layers: int = MOST_LAYERS,
) -> list[tuple[Layers, Lab]]:  # fmt: skip
    """The nearest single pencils at the pressure and layers in which each comes nearest, and how that looks.

    burnishes: they are rubbed in over what lies below, as hard as a heavy mark and once. most_layers: laid at most.
    """
    predicted = look_at_singles(scene, most_layers)
    keys = sorted(i for i in may if i in predicted[0].places)
    if not keys:
        return []
    labs = np.stack([by.lab[[by.places[i] for i in keys]] for by in predicted], axis=2)
    if burnishes:
        labs = labs[:, -1:, :1]
    apart = np.asarray(weighted_difference(wanted, labs, closest)).reshape(len(keys), -1)
    at = apart.argmin(axis=1)
    singles: list[tuple[Layers, Lab]] = []
    for i in np.argsort(apart.min(axis=1), kind="stable")[:count]:
        place, layers = divmod(int(at[i]), most_layers)
        pressure, times = (Pressure.BURNISH, 1) if burnishes else (MARK_PRESSURES[place], layers + 1)
        singles.append(((Layer(keys[i], pressure, times),), labs[i, place, layers]))
    return singles


def nearest_layered(
    table: PairTable, mask: NDArray[np.bool_], wanted: Lab, closest: Closest, count: int, looked_at: int
) -> Iterator[tuple[Layers, Lab]]:
    """The nearest pairs, each two pencils in one order once. mask: which of the table's pencils may be used."""
    seen: set[tuple[int, int]] = set()
    for near in nearest_pairs(table, wanted, closest, looked_at, mask, mask):
        both = (near.pair.below.pencil, near.pair.above.pencil)
        if both not in seen:
            seen.add(both)
            yield (near.pair.below, near.pair.above), near.pair.lab
        if len(seen) == count:
            return


def ability_of(scene: Scene, colour_id: int) -> Ability:
    """What a pencil can do on a paper."""
    row, masstone = scene.colours[colour_id], scene.predicted().of(colour_id, Pressure.HEAVY)
    return Ability(row.opacity, np.array(masstone.lab) if masstone else None, row.holds_point, row.water_soluble)
