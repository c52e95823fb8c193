"""What is asked for beyond the reach of a paper and a collection, and the closest way to it, in words."""

from __future__ import annotations

from collections.abc import Iterator
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.standins.reach import Beyond as Way
from tidy_tinder.core.standins.reach import shortfalls
from tidy_tinder.core.vocabulary import Opacity, Pressure
from tidy_tinder.services.collection.chart import entry_of
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import layers_in_words, owned_layers
from tidy_tinder.storage.queries.papers import paler_papers

_WORDS = {
    Way.DARKER: "darker by {:.0f} L* than anything of this hue that you can lay here",
    Way.LIGHTER: "lighter by {:.0f} L* than anything of this hue that you can lay here",
    Way.MORE_VIVID: "more vivid by {:.0f} C* than anything of this hue that you can lay here",
    Way.OF_ANOTHER_HUE: "nothing that you can lay here has this hue; the nearest is turned by {:.0f}°",
}
_MOST_PAPERS = 3


@dataclass(frozen=True)
class Beyond:
    """One way in which a colour is out of reach here, and the closest way to it, in words."""

    words: str
    way: str


def beyond_reach(scene: Scene, table: PairTable, may: AbstractSet[int], wanted: Lab) -> tuple[Beyond, ...]:
    """In which ways a wanted Lab (3,) lies beyond all pairs of the pencils that may be used on a paper."""
    allowed = np.array([key in may for key in table.keys], dtype=bool)
    rows = np.flatnonzero(allowed[table.lower] & allowed[table.upper])
    if not len(rows):
        return ()
    labs = np.stack([table.L[rows], table.a[rows], table.b[rows]], axis=-1)
    beyond = []
    for short in shortfalls(wanted, labs):
        pair = table.pair(int(rows[short.nearest]))
        way = layers_in_words(owned_layers(scene, [pair.below, pair.above]))
        beyond.append(Beyond(_WORDS[short.beyond].format(short.by), way))
    if wanted[0] > scene.paper.lab_L:
        # No layer of what lets light through is paler than the paper: what covers, or another paper.
        way = "; ".join(_paler_ways(scene, may, float(wanted[0])))
        beyond.append(
            Beyond("paler than this paper", way or "a paler paper, or a pale pencil that covers; you have neither")
        )
    return tuple(beyond)


def _paler_ways(scene: Scene, may: AbstractSet[int], lightness: float) -> Iterator[str]:
    """The palest pencil that covers, where it is paler than the paper, and the papers that are pale enough."""
    predicted = scene.predicted()
    heavy = {
        row: mark.lab[0]
        for row in scene.colours.values()
        if row.id in may
        and row.opacity == Opacity.OPAQUE
        and (mark := predicted.of(row.id, Pressure.HEAVY)) is not None
    }
    palest = max(heavy, key=lambda row: heavy[row], default=None)
    if palest is not None and heavy[palest] > scene.paper.lab_L:
        yield f"{entry_of(palest).label}, which covers, laid heavily"
    papers = paler_papers(scene.session, lightness)
    if papers:
        yield f"a paler paper: {' or '.join(papers[:_MOST_PAPERS])}"
