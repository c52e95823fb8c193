"""Which pencils, laid lightly over one, darken or grey it without black: its neutralisers.

Painters' practice (common practice, no source): a colour is quieted by its opposite, and stays livelier than under
black or grey.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.components import Difference, chroma, difference
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.pairs import PairTable

# A pencil of less chroma than this in its heavy mark is a grey, black or white: no neutraliser but the thing avoided.
_LEAST_CHROMA = 15.0
# It greys where this share of the chroma is left at most, and it must not lighten by more than a step that is seen.
_LEFT, _MOST_LIGHTER = 0.6, 1.0


@dataclass(frozen=True)
class Neutraliser:
    """A pencil over another, by its key and as it is laid: Lab (3,) of the two, how that differs from the one alone,
    and the share of its chroma that is left.
    """

    over: Layer[int]
    lab: Lab
    difference: Difference
    chroma_left: float


def neutralisers(
    table: PairTable, under: Layer[int], alone: Lab, masstones: Mapping[int, Lab], limit: int = 8
) -> tuple[Neutraliser, ...]:
    """The pencils that leave least chroma over the pencil `under`, each in the coat in which it leaves least.

    alone: Lab (3,) of that layer by itself; masstones: Lab (3,) of the heavy mark of every pencil by key. Empty where
    the pencil or its coat is not in the table, or has no chroma to lose.
    """
    own = float(chroma(alone))
    if under.pencil not in table.keys or under.coat not in table.coats or own < _LEAST_CHROMA:
        return ()
    each = len(table.coats)
    lower, coat = table.keys.index(under.pencil), table.coats.index(under.coat)
    rows = np.flatnonzero((table.lower == lower) & (table.coat // each == coat))
    labs = np.stack([table.L[rows], table.a[rows], table.b[rows]], axis=-1)
    left = np.asarray(chroma(labs)) / own
    vivid = {key for key, lab in masstones.items() if float(chroma(lab)) >= _LEAST_CHROMA}
    fit = (left <= _LEFT) & (labs[:, 0] <= alone[0] + _MOST_LIGHTER)
    by_upper: dict[int, Neutraliser] = {}
    for i in np.argsort(left, kind="stable"):
        pair = table.pair(int(rows[i]))
        if fit[i] and pair.above.pencil in vivid and pair.above.pencil not in by_upper:
            by_upper[pair.above.pencil] = Neutraliser(pair.above, labs[i], difference(alone, labs[i]), float(left[i]))
        if len(by_upper) == limit:
            break
    return tuple(by_upper.values())
