"""What is asked for beyond the reach of a paper and a collection, and the closest way to it, in words."""

from __future__ import annotations

from collections.abc import Iterator
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from tidy_tinder.core.layers import LaidLayer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.standins.reach import Beyond as Way
from tidy_tinder.core.standins.reach import shortfalls
from tidy_tinder.services.collection.marks import charted_colours
from tidy_tinder.services.collection.predictions import predictions_on
from tidy_tinder.services.collection.stacks import dressed, layers_in_words
from tidy_tinder.storage.models import Paper
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


def beyond_reach(
    session: Session, paper: Paper, table: PairTable, may: AbstractSet[int], wanted: Lab
) -> tuple[Beyond, ...]:
    """In which ways a wanted Lab (3,) lies beyond all pairs of the pencils that may be used on a paper."""
    allowed = np.array([key in may for key in table.keys], dtype=bool)
    rows = np.flatnonzero(allowed[table.lower] & allowed[table.upper])
    if not len(rows):
        return ()
    labs = np.stack([table.L[rows], table.a[rows], table.b[rows]], axis=-1)
    found = []
    for short in shortfalls(wanted, labs):
        pair = table.pair(int(rows[short.nearest]))
        below = LaidLayer(pair.lower, pair.below.pressure, pair.below.layers)
        above = LaidLayer(pair.upper, pair.above.pressure, pair.above.layers)
        found.append(
            Beyond(_WORDS[short.beyond].format(short.by), layers_in_words(dressed(session, [below, above])))
        )  # fmt: skip
    if wanted[0] > paper.lab_L:
        # No layer of what lets light through is paler than the paper: what covers, or another paper.
        way = "; ".join(_paler_ways(session, paper, may, float(wanted[0])))
        found.append(
            Beyond("paler than this paper", way or "a paler paper, or a pale pencil that covers; you have neither")
        )
    return tuple(found)


def _paler_ways(session: Session, paper: Paper, may: AbstractSet[int], lightness: float) -> Iterator[str]:
    """The palest pencil that covers, where it is paler than the paper, and the papers that are pale enough."""
    told = predictions_on(session, paper)
    heavy = {
        row: mark.lab[0]
        for row in charted_colours(session)
        if row.id in may and row.opacity == "opaque" and (mark := told.of(row.id, "heavy")) is not None
    }
    palest = max(heavy, key=lambda row: heavy[row], default=None)
    if palest is not None and heavy[palest] > paper.lab_L:
        yield f"{palest.range_name} {palest.code} {palest.name}, which covers, laid heavily"
    papers = paler_papers(session, lightness)
    if papers:
        yield f"a paler paper: {' or '.join(papers[:_MOST_PAPERS])}"
