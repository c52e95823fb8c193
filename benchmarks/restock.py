"""What to buy on the demo's collection: against greedy, against single pencils alone, against all pairs mixed, in time.

The demands are the marks of charted colours that are not owned, as recipes would call for them, on vellum board.
"""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray
from tests.conftest import build_demo_of, demo_copy

from benchmarks import restock_truth
from benchmarks.extent import some
from benchmarks.page import Row
from tidy_tinder.core.layering.prediction.marks import pencil_on
from tidy_tinder.core.restocking.buying import Purchase, buy_best, buy_greedily, how_many_to_mix, most_helpful
from tidy_tinder.core.restocking.spare import Need, can_go
from tidy_tinder.core.restocking.ways import (
    NONE,
    Ways,
    each_alone,
    joined,
    nearest_ways,
    pairs_as_ways,
    singles_as_ways,
    varied_ways,
)
from tidy_tinder.core.standins.pairs import mix_new, mix_pairs
from tidy_tinder.core.vocabulary import MARK_PRESSURES
from tidy_tinder.services.background.pair_tables import PAIR_COATS
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.scene import Scene

Array = NDArray[np.float64]
T = TypeVar("T")
_MOST, _CALLS, _OWNED = 3, 400, 300
_CASES = len(some(range(6), 2))


def rows() -> list[Row]:
    """(what, figure, aim) of how good the purchases are."""
    with _the_demo() as collection:
        with collection() as session:
            found = _Judged(Scene.on(session, 1)).rows()
        return [*found, *restock_truth.rows(collection)]


def times() -> list[Row]:
    """(what, figure, aim) of a large collection, mostly how long its answers take."""
    with _the_demo() as collection, collection() as session:
        return _Judged(Scene.on(session, 1)).large()


@contextmanager
def _the_demo() -> Iterator[Collection]:
    with tempfile.TemporaryDirectory() as folder:
        build_demo_of(Path(folder) / "demo.sqlite", drawings=True)
        collection = open_collection(demo_copy(Path(folder) / "demo.sqlite", Path(folder) / "copy" / "demo.sqlite"))
        try:
            yield collection
        finally:
            collection.close()


class _Judged:
    """Cases with other pencils owned each time, out of the demo's charts."""

    def __init__(self, scene: Scene) -> None:
        assert scene.known is not None, "the demo is fitted"
        self._fit, self._fits = scene.fit, scene.known.survey.pencils
        self._predicted = [scene.predicted(layers) for layers in (1, 2, 3)]
        self._keys = sorted(i for i in self._predicted[0].places if i in self._fits)

    def rows(self) -> list[Row]:
        """The figures."""
        rng = np.random.default_rng(81)
        shares, singles, greedy, solving, beaten = [], [], [], [], 0
        for _ in range(_CASES):
            owned = sorted(rng.choice(self._keys, 120, replace=False).tolist())
            base, offers, weights = self._case(owned, rng, 60)
            new = [i for i in self._keys if i not in owned]
            whole = self._layered(offers.copy(), owned, new, range(len(new)))
            kept = most_helpful(Purchase(base, offers, weights), how_many_to_mix(len(owned)))
            cheap = self._layered(offers.copy(), owned, new, kept)
            best = buy_best(Purchase(base, whole, weights), _MOST)
            found, taken = _timed(lambda: buy_best(Purchase(base, cheap, weights), _MOST))  # noqa: B023 -- called at once
            solving.append(taken)
            value = Purchase(base, whole, weights).gain
            shares.append(value(found.chosen) / best.gain)
            singles.append(value(buy_best(Purchase(base, offers, weights), _MOST).chosen) / best.gain)
            by_turns = buy_greedily(Purchase(base, whole, weights), _MOST)
            greedy.append(by_turns.gain / best.gain)
            beaten += by_turns.gain > best.gain + 1e-9
        least, middle = 100 * np.min(shares), 100 * np.median(shares)
        return [
            ("value of the three bought, of what all pairs mixed would give: median; worst",
             f"{middle:.1f} %; {least:.1f} %", "≥ 95 %"),
            ("the same, greedily one after the other; by single pencils alone: worst",
             f"{100 * np.min(greedy):.1f} %; {100 * np.min(singles):.1f} %", ""),
            ("greedy better than the best; solver, longest", f"{beaten} of {_CASES}; {max(solving):.2f} s", "0; .2 s"),
        ]  # fmt: skip

    def large(self) -> list[Row]:
        """The figures of many calls and many pencils."""
        rng = np.random.default_rng(82)
        owned = sorted(rng.choice(self._keys, _OWNED, replace=False).tolist())
        new = [i for i in self._keys if i not in owned]
        table, mixing = _timed(
            lambda: mix_pairs({i: pencil_on(self._fits[i], self._fit) for i in owned}, self._fit.model, PAIR_COATS)
        )
        pairs = pairs_as_ways(table, self._bands(owned))

        def whole() -> tuple[Purchase, tuple[int, ...]]:
            base, offers, weights = self._case(owned, rng, _CALLS, pairs)
            kept = most_helpful(Purchase(base, offers, weights), how_many_to_mix(len(owned)))
            purchase = Purchase(base, self._layered(offers, owned, new, kept), weights)
            return purchase, buy_best(purchase, _MOST).chosen

        (cheap, chosen), taken = _timed(whole)
        # Beside what mixing all of the others as well would have given.
        everything = Purchase(cheap.base, self._layered(cheap.offers, owned, new, range(len(new))), cheap.weights)
        share = everything.gain(chosen) / buy_best(everything, _MOST).gain
        wanted, band = self._wanted(rng, _CALLS)
        ways = joined(self._alone(owned), pairs)
        _, going = _timed(lambda: can_go(_needs(ways, wanted, band), frozenset(owned), 0.05 * _CALLS))
        return [
            (f"{_CALLS} calls, {_OWNED} owned: whole answer, once pairs of owned ones are mixed; mixing these",
             f"{taken:.1f} s; {mixing:.0f} s", "5 s"),
            ("the same: value of the three, of what all pairs mixed would give", f"{100 * share:.1f} %", "≥ 95 %"),
            ("the same: what could go together", f"{going:.1f} s", "1.5 s"),
        ]  # fmt: skip

    def _marks(self, keys: list[int]) -> tuple[Array, Array]:
        places = [[by.places[i] for i in keys] for by in self._predicted]
        lab = np.stack([by.lab[at] for by, at in zip(self._predicted, places, strict=True)], axis=1)
        band = np.stack([by.band[at] for by, at in zip(self._predicted, places, strict=True)], axis=1)
        return lab.reshape(len(keys), -1, 3), band.reshape(len(keys), -1)

    def _alone(self, keys: list[int]) -> Ways:
        return singles_as_ways(keys, *self._marks(keys))

    def _bands(self, keys: list[int]) -> dict[int, Array]:
        by = {coat.layers: self._predicted[coat.layers - 1] for coat in PAIR_COATS}
        return {
            i: np.array(
                [by[c.layers].band[by[c.layers].places[i], MARK_PRESSURES.index(c.pressure)] for c in PAIR_COATS]
            )
            for i in keys
        }

    def _wanted(self, rng: np.random.Generator, count: int, among: list[int] | None = None) -> tuple[Array, Array]:
        keys = rng.choice(among or self._keys, count).tolist()
        lab, band = self._marks(keys)
        kind = rng.integers(0, 3, count)
        return lab[np.arange(count), kind], band[np.arange(count), kind]

    def _case(
        self, owned: list[int], rng: np.random.Generator, count: int, pairs: Ways | None = None
    ) -> tuple[Array, Array, Array]:  # fmt: skip
        """What is owned now, what each other pencil alone would give, and the weights, of calls for what is not owned.

        No call is answered by its own pencil: what is judged is how near others come.
        """
        new = [i for i in self._keys if i not in owned]
        self._now = self._wanted(rng, count, new)
        if pairs is None:
            mine = {i: pencil_on(self._fits[i], self._fit) for i in owned}
            pairs = pairs_as_ways(mix_pairs(mine, self._fit.model, PAIR_COATS), self._bands(owned))
        base = nearest_ways(joined(self._alone(owned), pairs), *self._now).best
        lab, band = self._marks(new)
        return base, each_alone(lab, band, *self._now), rng.choice([0.25, 1.0], count)

    def _layered(self, offers: Array, owned: list[int], new: list[int], places: Sequence[int]) -> Array:
        """The offers with layers of one new and one owned pencil, of some of the new ones."""
        some = [new[u] for u in places]
        models = [{i: pencil_on(self._fits[i], self._fit) for i in keys} for keys in (some, owned)]
        pairs = pairs_as_ways(mix_new(models[0], models[1], self._fit.model, PAIR_COATS), self._bands([*some, *owned]))
        for u in places:
            mine = pairs.rows((pairs.first == new[u]) | (pairs.second == new[u]))
            offers[:, u] = np.minimum(offers[:, u], nearest_ways(mine, *self._now).best)
        return offers


def _needs(ways: Ways, wanted: Array, band: Array) -> list[Need]:
    singles, pairs = ways.rows(ways.second == NONE), ways.rows(ways.second != NONE)
    alone, layered = varied_ways(singles, wanted, band, 40, 1), varied_ways(pairs, wanted, band, 60, 12)
    return [
        Need(tuple(sorted([*one, *two], key=lambda option: option.cost)), 1.0, 60.0)
        for one, two in zip(alone, layered, strict=True)
    ]


def _timed(do: Callable[[], T]) -> tuple[T, float]:
    begun = time.perf_counter()
    made = do()
    return made, time.perf_counter() - begun
