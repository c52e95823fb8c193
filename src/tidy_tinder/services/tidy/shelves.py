"""The shelves: every range with its colours, how each is owned, and where its pencils stand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select

from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import AtHand, Owning
from tidy_tinder.services.collection.cards import Cards, cards_on
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.storage.models import ColourRange
from tidy_tinder.storage.queries.colours import PencilRow, set_contents


@dataclass(frozen=True)
class Place:
    """Where a pencil stands; slot None where none is given."""

    tin: str
    slot: int | None


@dataclass(frozen=True)
class ShelfColour:
    """One colour on a shelf: how it is owned, where its pencils stand, whether one is with her."""

    colour_id: int
    owning: Owning
    places: tuple[Place, ...]
    with_me: bool


@dataclass(frozen=True)
class ShelfSet:
    """A boxed set of a range and how many of its colours are owned."""

    id: int
    name: str
    colours: int
    owned: int


@dataclass(frozen=True)
class Shelf:
    """One range with its colours in chart order."""

    range_id: int
    maker: str
    name: str
    feel: str
    new_length_mm: int
    holds_point: bool | None
    water_soluble: bool | None
    revision: int
    colours: tuple[ShelfColour, ...]
    sets: tuple[ShelfSet, ...]

    @property
    def owned(self) -> int:
        """How many of its colours are owned, lost ones included."""
        return sum(c.owning is not Owning.NOT_OWNED for c in self.colours)


def shelves(collection: Collection, paper_id: int) -> tuple[Cards, tuple[Shelf, ...]]:
    """Every range with its colours and their cards on a paper. Raises NotFoundError for an unknown paper."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        cards = cards_on(session, scene.paper)
        by_range: dict[int, list[ShelfColour]] = {}
        for card in cards.by_id.values():
            sticks = scene.pencils.get(card.colour.id, ())
            by_range.setdefault(card.colour.range_id, []).append(_on_shelf(card.colour.id, sticks, scene.hand))
        owned = {c.colour_id for shelf in by_range.values() for c in shelf if c.owning is not Owning.NOT_OWNED}
        sets: dict[int, list[ShelfSet]] = {}
        for set_id, range_id, name, contents in set_contents(session):
            sets.setdefault(range_id, []).append(
                ShelfSet(set_id, name, len(contents), sum(i in owned for i in contents))
            )
        ranges = session.scalars(select(ColourRange).order_by(ColourRange.position, ColourRange.id)).all()
        standing = tuple(
            Shelf(
                r.id, r.maker, r.name, r.feel, r.new_length_mm, r.holds_point, r.water_soluble, r.revision,
                tuple(by_range.get(r.id, ())), tuple(sets.get(r.id, ())),
            )
            for r in ranges
        )  # fmt: skip
        return cards, standing


def _on_shelf(colour_id: int, pencils: Sequence[PencilRow], hand: AtHand) -> ShelfColour:
    kept = [p for p in pencils if p.state != PencilState.USED_UP]
    places = tuple(Place(p.tin, p.slot) for p in kept)
    return ShelfColour(colour_id, hand.owning(pencils), places, any(hand.carries(p) for p in kept))
