"""What to buy as it is shown: each colour with what it serves, what she owns that is nearest, its price; the boxes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.background.thinking import SoFar
from tidy_tinder.services.collection.at_work import paper_at_hand
from tidy_tinder.services.collection.marks import Mark
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.restock.buying import SEEN, Buy, Buys, BuyWish, buys_so_far
from tidy_tinder.services.restock.demands import DemandOf
from tidy_tinder.services.restock.prices import Prices, name_of_set, prices_now
from tidy_tinder.services.restock.twins import apart, are_twins
from tidy_tinder.storage.models import Wanted
from tidy_tinder.storage.queries.colours import ColourRow, drawable_colours, set_contents

HOLE_BEYOND = 6.0
"""Further than this from all that is owned a colour is a hole (the design's), in expected ΔE00."""
_MOST_HOLES = 20
_HEAVY = MARK_PRESSURES.index(Pressure.HEAVY)


@dataclass(frozen=True)
class ServedView:
    """What a colour brings closer. before, after: expected ΔE00."""

    of: DemandOf
    title: str
    words: str
    before: float
    after: float
    layered_with: ColourRow | None


@dataclass(frozen=True)
class Near:
    """The owned pencil whose heavy mark is nearest, and how it differs; twin: so near that one is enough."""

    colour: ColourRow
    difference: Difference
    twin: bool


@dataclass(frozen=True)
class BuyView:
    """A colour to buy. middle: median of what it brings closer, ΔE00; gain: in all, beside the others; gain_alone: if
    bought by itself; by_chart: whether only its chart tells how it looks; price: None where nobody said.
    """

    colour: ColourRow
    mark: Mark
    serves: tuple[ServedView, ...]
    middle: float
    gain: float
    gain_alone: float
    nearest: Near | None
    by_chart: bool
    price: float | None
    is_listed: bool


@dataclass(frozen=True)
class BoxView:
    """A boxed set. colours, new: in it, and not owned; answered: demands that it brings closer; gain: by how much in
    all, ΔE00; twins: of the new ones that are twins of owned ones; price, each_new: None where nobody said.
    """

    set_id: int
    name: str
    colours: int
    new: int
    twins: int
    answered: int
    gain: float
    price: float | None
    each_new: float | None


@dataclass(frozen=True)
class Hole:
    """What nothing that is owned comes near to, alone or layered. nearest: expected ΔE00 of what comes nearest."""

    of: DemandOf
    title: str
    words: str
    colour: Patch
    nearest: float


@dataclass(frozen=True)
class BuysView:
    """The answer as far as it is. looked_at: colours that may be bought; missing: demands that have no pencil of their
    own; left_out: calls that say nothing that could be compared; without_price: colours that a budget leaves out, their
    price not being known.
    """

    buys: tuple[BuyView, ...]
    boxes: tuple[BoxView, ...]
    holes: tuple[Hole, ...]
    layered: bool
    proven: bool
    looked_at: int
    missing: int
    left_out: int
    without_price: int
    currency: str
    doing: str
    done: int
    total: int
    ended: bool
    failed: bool


def what_to_buy(collection: Collection, wish: BuyWish, wait: float, again: bool = False) -> BuysView:
    """The few colours that bring most of what is missing closer, and what each box would do; begun by asking.

    wait: seconds to wait for the first answer.
    """
    found = buys_so_far(collection, wish, wait, again)
    with collection() as session:
        prices = prices_now(session)
        if found.answer is None:
            return _so_far(found, (), (), prices.currency)
        shower = Shower(session, prices)
        buys = tuple(shower.buy(one) for one in found.answer.buys)
        return _so_far(found, buys, shower.boxes(found.answer), prices.currency)


def _holes(buys: Buys) -> tuple[Hole, ...]:
    """What is further than a hole from all that is owned, the furthest first."""
    found = [
        Hole(one.of, one.title, one.words, patch(one.lab), float(near))
        for one, near in zip(buys.demands, buys.base, strict=True)
        if near > HOLE_BEYOND
    ]
    return tuple(sorted(found, key=lambda hole: -hole.nearest)[:_MOST_HOLES])


def _so_far(
    found: SoFar[Buys], buys: tuple[BuyView, ...], boxes: tuple[BoxView, ...], currency: str
) -> BuysView:  # fmt: skip
    work = (currency, found.doing, found.done, found.total, found.ended, found.failed)
    answer = found.answer
    if answer is None:
        return BuysView((), (), (), False, False, 0, 0, 0, 0, *work)
    return BuysView(
        buys, boxes, _holes(answer), answer.layered, answer.proven, len(answer.candidates), len(answer.demands),
        answer.left_out, answer.without_price, *work,
    )  # fmt: skip


class Shower:
    """Puts colours beside what is owned, on the paper at hand."""

    def __init__(self, session: Session, prices: Prices) -> None:
        paper = paper_at_hand(session)
        assert paper is not None, "a collection always has a paper"
        self._scene, self._prices = Scene(session, paper), prices
        predicted = self._scene.predicted()
        self._owned = [i for i in drawable_colours(session) if i in predicted.places]
        self._marks = predicted.lab[[predicted.places[i] for i in self._owned]]
        self._listed = set(session.scalars(select(Wanted.colour_id)))

    def buy(self, one: Buy) -> BuyView:
        """One colour to buy."""
        colours = self._scene.colours
        serves = tuple(
            ServedView(
                s.demand.of, s.demand.title, s.demand.words, s.before, s.after, colours.get(s.layered_with or 0)
            )
            for s in one.serves
        )  # fmt: skip
        middle = float(np.median([s.before - s.after for s in one.serves])) if one.serves else 0.0
        return BuyView(
            colours[one.colour_id], self._scene.marks[one.colour_id], serves, middle, one.gain, one.gain_alone,
            self.nearest(one.colour_id), one.colour_id in self._scene.predicted().by_chart,
            self.price(one.colour_id), one.colour_id in self._listed,
        )  # fmt: skip

    def nearest(self, colour_id: int) -> Near | None:
        """What is owned that comes nearest to a colour; None where nothing is known of it, or nothing is owned."""
        at = self._scene.predicted().places.get(colour_id)
        others = [i for i, own in enumerate(self._owned) if own != colour_id]
        if at is None or not others:
            return None
        wanted = self._scene.predicted().lab[at]
        heavy, light = apart(wanted, self._marks[others])
        best = int(heavy.argmin())
        nearest = others[best]
        told = difference(wanted[_HEAVY], self._marks[nearest, _HEAVY])
        return Near(self._scene.colours[self._owned[nearest]], told, bool(are_twins(heavy[best], light[best])))

    def price(self, colour_id: int) -> float | None:
        """Of one pencil; None where nobody said."""
        price = self._prices.of(colour_id)
        return None if math.isnan(price) else price

    def boxes(self, buys: Buys) -> tuple[BoxView, ...]:
        """Every boxed set with something new in it, what gains most first."""
        place = {colour: u for u, colour in enumerate(buys.candidates)}
        owned = set(self._owned)
        made = [
            self._box(set_id, name, colours, [place[i] for i in colours if i in place], buys, owned)
            for set_id, _, name, colours in set_contents(self._scene.session)
            if any(i not in owned for i in colours)
        ]
        return tuple(sorted(made, key=lambda box: (-box.gain, box.new)))

    def _box(
        self, set_id: int, name: str, colours: Sequence[int], places: Sequence[int], buys: Buys, owned: set[int]
    ) -> BoxView:  # fmt: skip
        gains = np.zeros(len(buys.demands))
        if places:
            gains = np.maximum(buys.base - buys.offers[:, list(places)].min(axis=1), 0.0)
        new = [i for i in colours if i not in owned]
        near = [self.nearest(i) for i in new]
        price = self._prices.sets.get(set_id)
        return BoxView(
            set_id, name_of_set(self._scene.colours[colours[0]].range_name, name), len(colours), len(new),
            sum(one is not None and one.twin for one in near), int((gains >= SEEN).sum()),
            float((buys.weights * gains).sum()), price, price / len(new) if price is not None else None,
        )  # fmt: skip
