"""For a pencil, the owned ones that darken or grey it without black, with the predicted result."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.neutralisers import Neutraliser, neutralisers
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.pair_tables import MIXING_FAILED
from tidy_tinder.services.background.runtime import Collection, mixed_pairs
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, layers_in_words, owned_layers


@dataclass(frozen=True)
class NeutralisedBy:
    """A pencil laid over the one that is asked about: in words, what both give, and what share of chroma is left."""

    over: Laid
    said: str
    result: Patch
    difference: Difference
    chroma_left: float


@dataclass(frozen=True)
class Neutralised:
    """What there is so far: done of total coats are mixed, and nothing is found until all are (ready).

    problem: why there is nothing; failed: the pairs could not be mixed, and can be tried again; alone: the pencil by
    itself.
    """

    ready: bool
    done: int
    total: int
    problem: str = ""
    alone: Patch | None = None
    found: tuple[NeutralisedBy, ...] = ()
    failed: bool = False


def neutralisers_of(
    collection: Collection, under: Layer[int], paper_id: int, wait: float | None = None, again: bool = False
) -> Neutralised:
    """The neutralisers of a pencil as it is laid on a paper; least chroma first. wait: seconds, None for all it takes;
    again: try once more what failed.

    Raises NotFoundError for an unknown colour or paper.
    """
    with collection() as session:
        scene = Scene.on(session, paper_id)
        scene.colour(under.pencil)
        if scene.known is None:
            return Neutralised(False, 0, 0)
        mixed = mixed_pairs(session, scene.known, scene.fit, paper_id, wait, again)
        if mixed.failed:
            return Neutralised(True, mixed.done, mixed.total, MIXING_FAILED, failed=True)
        if mixed.table is None:
            return Neutralised(False, mixed.done, mixed.total)
        if under.pencil not in mixed.table.keys:
            problem = "Only a pencil that you own and that is modelled can be laid under others."
            return Neutralised(True, mixed.done, mixed.total, problem)
        return _found(scene, mixed.table, under)


def _found(scene: Scene, table: PairTable, under: Layer[int]) -> Neutralised:
    predicted = scene.predicted(under.layers)
    alone = predicted.of(under.pencil, under.pressure)
    assert alone is not None, "what is mixed is fitted"
    each = neutralisers(table, under, np.array(alone.lab), _masstones(scene, table))
    problem = "" if each else "None of your pencils greys it without lightening it, or it has no colour to lose."
    done = len(table.keys) * len(table.coats)
    return Neutralised(True, done, done, problem, patch(alone.lab), tuple(_shown(scene, under, one) for one in each))


def _masstones(scene: Scene, table: PairTable) -> dict[int, Lab]:
    """Heavy marks of the pencils at hand."""
    marks = ((key, scene.predicted().of(key, Pressure.HEAVY)) for key in table.keys if key in scene.at_hand)
    return {key: np.array(mark.lab) for key, mark in marks if mark is not None}


def _shown(scene: Scene, under: Layer[int], one: Neutraliser) -> NeutralisedBy:
    both = owned_layers(scene, [under, one.over])
    return NeutralisedBy(both[1], layers_in_words(both), patch(one.lab), one.difference, one.chroma_left)
