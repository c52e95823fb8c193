"""Small islands of a picture in zones, given to the neighbour that they share the longest border with."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Zones = NDArray[np.uint8]
Pieces = NDArray[np.int64]

_MOST_PASSES = 8


def without_islands(zone: Zones, smallest: int) -> Zones:
    """Zones (h, w) in which every connected piece (4 neighbours) has at least `smallest` pixels.

    Where a neighbour is large enough it is preferred to a longer border with another island. Islands may lie in
    islands, so there are several passes; a picture of nothing but islands keeps what is left.
    """
    for _ in range(_MOST_PASSES):
        pieces, areas, kinds = _pieces(zone)
        if not bool((areas < smallest).any()) or len(areas) == 1:
            break
        zone = _given_away(pieces, areas, kinds, smallest)[pieces]
    return zone


def _pieces(zone: Zones) -> tuple[Pieces, Pieces, Zones]:
    """The number of each pixel's piece (h, w), and each piece's area and zone."""
    import cv2  # noqa: PLC0415 -- loaded only when a picture is looked at

    pieces = np.zeros(zone.shape, dtype=np.int64)
    areas: list[int] = []
    kinds: list[int] = []
    for kind in np.unique(zone).tolist():
        inside = zone == kind
        count, labels, stats, _ = cv2.connectedComponentsWithStats(inside.astype(np.uint8), connectivity=4)
        pieces[inside] = labels[inside] - 1 + len(areas)
        areas.extend(stats[1:count, cv2.CC_STAT_AREA].tolist())
        kinds.extend([kind] * (count - 1))
    return pieces, np.array(areas, dtype=np.int64), np.array(kinds, dtype=np.uint8)


def _given_away(pieces: Pieces, areas: Pieces, kinds: Zones, smallest: int) -> Zones:
    """The zone of each piece, once its islands have gone to their neighbours."""
    one, other, border = _borders(pieces, len(areas))
    small = areas < smallest
    mine = small[one]
    one, other, border = one[mine], other[mine], border[mine]
    # In the order of the islands, the preferred neighbour last: large before small, then the longest border.
    order = np.lexsort((border, ~small[other], one))
    one, other = one[order], other[order]
    last = np.flatnonzero(np.append(one[1:] != one[:-1], True))
    result = kinds.copy()
    result[one[last]] = kinds[other[last]]
    return result


def _borders(pieces: Pieces, count: int) -> tuple[Pieces, Pieces, Pieces]:
    """Neighbouring pieces, in both directions, and how many pixel edges they share."""
    pairs = np.concatenate(
        [_pairs(pieces[:, :-1], pieces[:, 1:], count), _pairs(pieces[:-1], pieces[1:], count)]
    )  # fmt: skip
    keys, length = np.unique(pairs, return_counts=True)
    first, second = np.divmod(keys, count)
    return np.concatenate([first, second]), np.concatenate([second, first]), np.concatenate([length, length])


def _pairs(one: Pieces, other: Pieces, count: int) -> Pieces:
    apart = one != other
    low, high = np.minimum(one, other)[apart], np.maximum(one, other)[apart]
    return np.asarray(low * count + high)
