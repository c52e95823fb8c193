"""What to buy: the few colours that bring most of what is missing closer, and the boxes; quick first, then proven."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from tidy_tinder.core.restocking.buying import (
    Bought,
    Purchase,
    buy_best,
    buy_greedily,
    how_many_to_mix,
    most_helpful,
)
from tidy_tinder.core.restocking.ways import NONE, Ways, each_alone, nearest_ways
from tidy_tinder.core.vocabulary import Effect
from tidy_tinder.services.background.runtime import Collection, fitted
from tidy_tinder.services.background.thinking import Doing, GoOn, SoFar
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.journal import tables_version
from tidy_tinder.services.restock.demands import (
    DEMAND_TABLES,
    UNANSWERED,
    Demand,
    demands_now,
    labs_of,
    paper_of_recipes,
    places_by_paper,
)
from tidy_tinder.services.restock.prices import prices_now
from tidy_tinder.services.restock.ways import (
    alone_and_layered,
    marks_of_each,
    mixed_on,
    new_over_owned,
    not_fitted_yet,
    singles_on,
)
from tidy_tinder.storage.queries.colours import drawable_colours

_Array = NDArray[np.float64]

# What a colour must improve in all, in ΔE00, to be worth a place in the tin.
_LEAST = 0.5
SEEN = 0.3
"""Brought closer is what comes closer by at least this much, in ΔE00: less nobody sees."""
# What the answers rest on, besides the fits.
_TABLES = (*DEMAND_TABLES, "price")


@dataclass(frozen=True)
class BuyWish:
    """What one wants. most: colours; ranges: only of these, of all where empty; lasting: only what is rated to last;
    dry: nothing water-soluble; budget: money in all, None for any; put_away: the weight of what is put away.
    """

    most: int = 3
    ranges: frozenset[int] = frozenset()
    lasting: bool = False
    dry: bool = False
    budget: float | None = None
    put_away: float = 0.25


@dataclass(frozen=True)
class Served:
    """A demand that a colour brings closer: expected ΔE00 before and after; layered_with: the owned pencil that it is
    layered with, None where it serves alone.
    """

    demand: Demand
    before: float
    after: float
    layered_with: int | None


@dataclass(frozen=True)
class Buy:
    """A colour to buy, what it serves and gains beside the others, and what it would gain if bought alone."""

    colour_id: int
    serves: tuple[Served, ...]
    gain: float
    gain_alone: float


@dataclass(frozen=True, eq=False)
class Buys:
    """The colours to buy together. layered: whether layers with owned ones were looked at; proven: that no others do
    better; demands: what is missing; offers: expected ΔE00 (C, U) of all candidates, for boxes; candidates: their
    numbers.
    """

    buys: tuple[Buy, ...]
    layered: bool
    proven: bool
    demands: tuple[Demand, ...]
    left_out: int
    base: _Array
    offers: _Array
    candidates: tuple[int, ...]
    without_price: int

    @cached_property
    def weights(self) -> _Array:
        """Of the demands (C,)."""
        return np.array([one.weight for one in self.demands])


def buys_so_far(collection: Collection, wish: BuyWish, wait: float, again: bool = False) -> SoFar[Buys]:
    """What to buy, as far as it is known; it is begun by asking. wait: seconds for the first answer."""
    with collection() as session:
        known = fitted(session)
        if known is None:
            return not_fitted_yet()
        key = (wish, tables_version(session, _TABLES), known.version, paper_of_recipes(session))
    return collection.buying.about(key, lambda go_on: _think(collection, wish, go_on), wait, again)


def _think(collection: Collection, wish: BuyWish, go_on: GoOn) -> Iterator[Buys | Doing]:
    """First by single pencils, at once; then with layers, paper by paper."""
    with collection() as session:
        buying = Buying(session, wish)
        quick = buying.by_singles()
        yield quick
        if not quick.demands or not quick.candidates:
            return
        yield from buying.with_layers(go_on)


class Buying:
    """One question: what is missing, who may be bought, and how near all of that comes."""

    def __init__(self, session: Session, wish: BuyWish) -> None:
        self._session, self._wish = session, wish
        found = demands_now(session, wish.put_away)
        self._demands, self._left_out = found.missing, found.left_out
        self._papers = {
            paper: (Scene.on(session, paper), places) for paper, places in places_by_paper(self._demands).items()
        }
        self._owned = frozenset(drawable_colours(session))
        self._prices = prices_now(session)
        self._weights = np.array([one.weight for one in self._demands])

    @cached_property
    def _candidates(self) -> tuple[int, ...]:
        """Colours that may be bought: charted, modelled, not owned, and as is wished."""
        wish = self._wish
        for scene, _ in self._papers.values():
            return tuple(
                i
                for i, row in scene.colours.items()
                if i in scene.predicted().places
                and i not in self._owned
                and row.effect is Effect.ORDINARY
                and (not wish.ranges or row.range_id in wish.ranges)
                and (not wish.lasting or row.lasts)
                and not (wish.dry and row.water_soluble)
            )
        return ()

    def by_singles(self) -> Buys:
        """What single pencils say: at once, and of little worth where two layers do already."""
        base, offers = np.full(len(self._demands), np.inf), self._nothing()
        for scene, places in self._papers.values():
            wanted, bands = labs_of([self._demands[i] for i in places])
            base[places] = nearest_ways(singles_on(scene, self._owned), wanted, bands).best
            offers[places] = self._alone(scene, places, wanted, bands)
        base = np.minimum(base, UNANSWERED)
        return self._told(self._greedy(base, offers), base, offers, layered=False, partners={})

    def with_layers(self, go_on: GoOn) -> Iterator[Buys | Doing]:
        """The same with layers of two."""
        base, offers = np.full(len(self._demands), UNANSWERED), self._nothing()
        for scene, places in self._papers.values():
            wanted, bands = labs_of([self._demands[i] for i in places])
            for news in mixed_on(scene, self._owned, f"Layers on {scene.paper.name}", go_on):
                if isinstance(news, Doing):
                    yield news
                else:
                    ways = alone_and_layered(scene, self._owned, news)
                    base[places] = np.minimum(nearest_ways(ways, wanted, bands).best, UNANSWERED)
            offers[places] = self._alone(scene, places, wanted, bands)
        if not go_on():
            return
        kept = most_helpful(self._purchase(base, offers), how_many_to_mix(len(self._owned)))
        partners: dict[tuple[int, int], int] = {}
        for scene, places in self._papers.values():
            for pairs in new_over_owned(scene, [self._candidates[u] for u in kept], self._owned, go_on):
                if isinstance(pairs, Doing):
                    yield pairs
                else:
                    self._layer(pairs, places, kept, offers, partners)
        if go_on():
            yield self._told(self._best(base, offers), base, offers, layered=True, partners=partners)

    def _nothing(self) -> _Array:
        return np.full((len(self._demands), len(self._candidates)), np.inf)

    def _alone(self, scene: Scene, places: Sequence[int], wanted: _Array, bands: _Array) -> _Array:
        """Expected ΔE00 of every candidate alone (C, U)."""
        lab, band = marks_of_each(scene, self._candidates)
        offers = each_alone(lab, band, wanted, bands)
        for at, place in enumerate(places):
            # The very pencil that is called for: whatever it looks like, that is what is meant.
            offers[at, [u for u, key in enumerate(self._candidates) if key in self._demands[place].meant]] = 0.0
        return offers

    def _layer(
        self, pairs: Ways, places: Sequence[int], kept: Sequence[int], offers: _Array,
        partners: dict[tuple[int, int], int],
    ) -> None:  # fmt: skip
        """Let the candidates that are kept serve layered with an owned pencil, where that comes closer than alone."""
        wanted, bands = labs_of([self._demands[i] for i in places])
        owned = np.array(sorted(self._owned))
        for u in kept:
            key = self._candidates[u]
            other = np.where(pairs.first == key, pairs.second, np.where(pairs.second == key, pairs.first, NONE))
            mine = np.isin(other, owned)
            if not mine.any():
                continue
            found = nearest_ways(pairs.rows(mine), wanted, bands)
            partner = other[mine][found.row[:, 0]]
            for at, place in enumerate(places):
                if found.best[at] < offers[place, u]:
                    offers[place, u] = found.best[at]
                    partners[place, u] = int(partner[at])

    def _purchase(self, base: _Array, offers: _Array) -> Purchase:
        prices = np.array([self._prices.of(i) for i in self._candidates])
        return Purchase(base, offers, self._weights, _LEAST, prices)

    def _greedy(self, base: _Array, offers: _Array) -> Bought:
        return buy_greedily(self._purchase(base, offers), self._wish.most, self._wish.budget)

    def _best(self, base: _Array, offers: _Array) -> Bought:
        return buy_best(self._purchase(base, offers), self._wish.most, self._wish.budget)

    def _told(
        self, bought: Bought, base: _Array, offers: _Array, *, layered: bool, partners: Mapping[tuple[int, int], int]
    ) -> Buys:  # fmt: skip
        purchase = self._purchase(base, offers)
        serves = purchase.serves(bought.chosen)
        buys = []
        for at, u in enumerate(bought.chosen):
            served = [
                Served(self._demands[c], float(base[c]), float(offers[c, u]), partners.get((int(c), u)))
                for c in np.flatnonzero(serves == at)
            ]
            gain = sum(one.demand.weight * (one.before - one.after) for one in served)
            served = [one for one in served if one.before - one.after >= SEEN]
            served.sort(key=lambda one: one.after - one.before)
            buys.append(Buy(self._candidates[u], tuple(served), gain, purchase.gain([u])))
        without = sum(np.isnan(self._prices.of(i)) for i in self._candidates)
        return Buys(
            tuple(sorted(buys, key=lambda one: -one.gain)), layered, bought.proven and layered, self._demands,
            self._left_out, base, offers, self._candidates, int(without) if self._wish.budget is not None else 0,
        )  # fmt: skip
