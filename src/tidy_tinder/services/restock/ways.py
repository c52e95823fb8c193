"""Ways to lay something on one paper: single pencils as they are predicted, and pairs as they are mixed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from collections.abc import Set as AbstractSet
from typing import Any

import numpy as np

from tidy_tinder.core.layering.prediction.marks import pencil_on
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.restocking.ways import Ways, joined, pairs_as_ways, singles_as_ways
from tidy_tinder.core.standins.pairs import PairTable, mix_new
from tidy_tinder.core.vocabulary import MARK_PRESSURES
from tidy_tinder.services.background.pair_tables import PAIR_COATS
from tidy_tinder.services.background.runtime import collection_of, mixed_pairs
from tidy_tinder.services.background.thinking import Doing, GoOn, SoFar
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.standins.nearest import MOST_LAYERS

# So long a thread waits for pairs before it says how far they are; how often it begins anew what another question
# stopped.
_MIXING_SECONDS, _TRIES = 0.3, 20


def marks_of_each(scene: Scene, keys: Sequence[int]) -> tuple[Lab, np.ndarray]:
    """Lab (N, K, 3) and bands (N, K) of each pencil alone, at every pressure, in up to three layers.

    keys: of pencils that are modelled.
    """
    predicted = [scene.predicted(layers) for layers in range(1, MOST_LAYERS + 1)]
    places = [[by.places[i] for i in keys] for by in predicted]
    lab = np.stack([by.lab[at] for by, at in zip(predicted, places, strict=True)], axis=1)
    band = np.stack([by.band[at] for by, at in zip(predicted, places, strict=True)], axis=1)
    return lab.reshape(len(keys), lab[:1, ..., 0].size, 3), band.reshape(len(keys), band[:1].size)


def singles_on(scene: Scene, pencils: AbstractSet[int]) -> Ways:
    """Each pencil alone, at every pressure, in up to three layers; those of which nothing is known are left out."""
    keys = sorted(i for i in pencils if i in scene.predicted().places)
    return singles_as_ways(keys, *marks_of_each(scene, keys))


def pairs_on(scene: Scene, table: PairTable) -> Ways:
    """The pairs of a table, each with the doubts of its pencils."""
    bands = {}
    by_layers = {coat.layers: scene.predicted(coat.layers) for coat in table.coats}
    for key in table.keys:
        bands[key] = np.array(
            [
                by_layers[coat.layers].band[by_layers[coat.layers].places[key], MARK_PRESSURES.index(coat.pressure)]
                for coat in table.coats
            ]
        )
    return pairs_as_ways(table, bands)


def not_fitted_yet() -> SoFar[Any]:
    """The answer while swatches are still being worked out: nothing can be said before."""
    return SoFar(None, "Your swatches are being worked out", 0, 0, ended=False, stopped=False, failed=False)


def mixed_on(scene: Scene, pencils: Iterable[int], what: str, go_on: GoOn) -> Iterator[PairTable | Doing]:
    """The table of pairs of these pencils on a paper, and how far it is until then; nothing where it was told to stop,
    or could not be mixed.
    """
    turn = collection_of(scene.session).mixing_turn
    # Two who mix on two papers would stop each other for ever: one after the other.
    while not turn.acquire(timeout=_MIXING_SECONDS):
        if not go_on():
            return
        yield Doing(what, 0, 0)
    try:
        yield from _mixed(scene, frozenset(pencils), what, go_on)
    finally:
        turn.release()


def _mixed(scene: Scene, wanted: frozenset[int], what: str, go_on: GoOn) -> Iterator[PairTable | Doing]:
    assert scene.known is not None, "asked for once there is a fit"
    begun = 0
    while go_on():
        mixed = mixed_pairs(scene.session, scene.known, scene.fit, scene.paper.id, _MIXING_SECONDS, False, wanted)
        if mixed.table is not None:
            yield mixed.table
            return
        begun += mixed.done == 0
        if mixed.failed or begun > _TRIES * (1 + mixed.total):
            return
        yield Doing(what, mixed.done, mixed.total)


def new_over_owned(scene: Scene, new: Sequence[int], owned: AbstractSet[int], go_on: GoOn) -> Iterator[Ways | Doing]:
    """The pairs of one new and one owned pencil, and how far they are until then; nothing where it was told to stop."""
    assert scene.known is not None, "asked for once there is a fit"
    fits = scene.known.survey.pencils
    models = [{i: pencil_on(fits[i], scene.fit) for i in sorted(keys) if i in fits} for keys in (new, owned)]

    def report(_done: int, _total: int) -> None:
        if not go_on():
            raise _StoppedError

    yield Doing(f"New colours over yours on {scene.paper.name}", 0, 0)
    key = (scene.paper.id, scene.known.version, tuple(models[0]), tuple(models[1]))
    kept = collection_of(scene.session).new_pairs
    try:
        yield pairs_on(scene, kept.of(key, lambda: mix_new(models[0], models[1], scene.fit.model, PAIR_COATS, report)))
    except _StoppedError:
        return


class _StoppedError(Exception):
    """Nobody waits for it any more."""


def alone_and_layered(scene: Scene, pencils: AbstractSet[int], table: PairTable | None) -> Ways:
    """All ways with these pencils, pairs where they are mixed."""
    singles = singles_on(scene, pencils)
    return singles if table is None else joined(singles, pairs_on(scene, table).of_only(pencils))
