"""Pencils that are owned several times under other names: marks that nobody would tell apart, and how far they part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.quantities import DeltaE, Lab
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import paper_at_hand
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.storage.queries.colours import ColourRow, drawable_colours

# Twins: within 1 ΔE00 heavy and within 2 light (the design's).
_HEAVY_WITHIN, _LIGHT_WITHIN = 1.0, 2.0
_KINDS = (MARK_PRESSURES.index(Pressure.HEAVY), MARK_PRESSURES.index(Pressure.LIGHT))


def apart(marks: Lab, others: Lab) -> tuple[DeltaE, DeltaE]:
    """ΔE00 of heavy and of light marks; marks, others (…, pressures, 3) as of `Predictions.lab`, broadcast together."""
    heavy, light = (delta_e_2000(marks[..., kind, :], others[..., kind, :]) for kind in _KINDS)
    return np.asarray(heavy), np.asarray(light)


def are_twins(heavy: DeltaE, light: DeltaE) -> NDArray[np.bool_]:
    """Whether nobody would tell two pencils apart whose marks part by so much."""
    return (heavy <= _HEAVY_WITHIN) & (light <= _LIGHT_WITHIN)


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
        owned = drawable_colours(session)
        keys = [i for i in scene.colours if i in owned and i in predicted.places]
        if len(keys) < 2:
            return ()
        labs = predicted.lab[[predicted.places[i] for i in keys]]
        heavy, light = apart(labs[:, None], labs[None])
        groups = [group for group in _groups(are_twins(heavy, light)) if len(group) > 1]
        told = [
            Twins(
                tuple(scene.colours[keys[i]] for i in group), float(heavy[np.ix_(group, group)].max()),
                float(light[np.ix_(group, group)].max()),
            )
            for group in groups
        ]  # fmt: skip
        return tuple(sorted(told, key=lambda twins: -len(twins.colours)))


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
