"""Which pencils are laid in several layers where a paper is asked how wax takes to wax: on printed sheets and in
swatching sessions alike.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from tidy_tinder.core.vocabulary import Effect
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.storage.queries.colours import ColourRow

IN_LAYERS = 4
"""How many pencils are laid in LAYERS_LAID layers: what they tell of how wax takes to wax on a paper is measured in
docs/decisions/0049-four-pencils-in-three-layers.md."""

LAYERS_LAID = 3


def takes_layers(scene: Scene) -> bool:
    """Whether the paper takes as many layers as are laid."""
    return scene.paper.most_layers >= LAYERS_LAID


def pencils_in_layers(scene: Scene, rows: Iterable[ColourRow], but: frozenset[int]) -> list[int]:
    """A few of these colours that are modelled, as far apart in the list as they can be, but for some that are known in
    layers; none where the paper takes too few.
    """
    if not takes_layers(scene):
        return []
    return far_apart([row.id for row in rows if row.effect == Effect.ORDINARY and row.id not in but], IN_LAYERS)


def far_apart(pencils: Sequence[int], count: int) -> list[int]:
    """So many pencils of a list, as far apart in it as they can be."""
    apart = max(len(pencils) // count, 1)
    return list(pencils[apart // 2 :: apart][:count])
