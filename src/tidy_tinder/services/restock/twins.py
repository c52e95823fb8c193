"""Pencils that are owned several times under other names: marks that nobody would tell apart, and how far they part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import paper_at_hand
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.storage.queries.colours import ColourRow, drawable_colours

# Twins: within 1 ΔE00 heavy and within 2 light (the design's).
_HEAVY_WITHIN, _LIGHT_WITHIN = 1.0, 2.0


@dataclass(frozen=True)
class Twins:
    """Owned colours each of which is a twin of another here. heavy, light: the most that two of them part, ΔE00."""

    colours: tuple[ColourRow, ...]
    heavy: float
    light: float


def owned_twins(collection: Collection) -> tuple[Twins, ...]:
    """Groups of twins on the paper at hand, the largest first, by marks as they are predicted."""
    with collection() as session:
        paper = paper_at_hand(session)
        if paper is None:
            return ()
        scene = Scene(session, paper)
        predicted = scene.predicted()
        keys = [i for i in scene.colours if i in drawable_colours(session) and i in predicted.places]
        if len(keys) < 2:
            return ()
        labs = predicted.lab[[predicted.places[i] for i in keys]]
        heavy, light = (
            _apart(labs[:, MARK_PRESSURES.index(pressure)]) for pressure in (Pressure.HEAVY, Pressure.LIGHT)
        )
        alike = (heavy <= _HEAVY_WITHIN) & (light <= _LIGHT_WITHIN)
        groups = [group for group in _groups(alike) if len(group) > 1]
        told = [
            Twins(
                tuple(scene.colours[keys[i]] for i in group), float(heavy[np.ix_(group, group)].max()),
                float(light[np.ix_(group, group)].max()),
            )
            for group in groups
        ]  # fmt: skip
        return tuple(sorted(told, key=lambda twins: -len(twins.colours)))


def _apart(labs: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(delta_e_2000(labs[:, None], labs[None]))


def _groups(alike: NDArray[np.bool_]) -> list[list[int]]:
    """What hangs together by being alike."""
    left, groups = set(range(len(alike))), []
    while left:
        group, edge = [], [min(left)]
        left.discard(edge[0])
        while edge:
            one = edge.pop()
            group.append(one)
            near = [other for other in sorted(left) if alike[one, other]]
            left.difference_update(near)
            edge += near
        groups.append(sorted(group))
    return groups
