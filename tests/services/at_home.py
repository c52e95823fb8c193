"""The demo's collection as the tests of the services speak of it."""

from __future__ import annotations

from sqlalchemy import select

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.cards import Card
from tidy_tinder.services.recipes.view import CallView, open_recipe
from tidy_tinder.services.tidy.ownership import mark_owned
from tidy_tinder.services.tidy.shelves import Shelf, shelves
from tidy_tinder.storage.models import Pencil
from tidy_tinder.storage.queries.colours import PencilRow, colour_rows, pencils_by_colour

VELLUM, HOT_PRESSED, PRINT, BUFF = 1, 2, 3, 4


def shelf(collection: Collection, name: str, paper: int = VELLUM) -> Shelf:
    return next(s for s in shelves(collection, paper)[1] if s.name == name)


def card(collection: Collection, colour_id: int, paper: int = VELLUM) -> Card:
    return shelves(collection, paper)[0].by_id[colour_id]


def colour_id(collection: Collection, range_name: str, code: str) -> int:
    cards = shelves(collection, VELLUM)[0].by_id.values()
    return next(c.colour.id for c in cards if (c.colour.range_name, c.colour.code) == (range_name, code))


def owned(collection: Collection, name: str) -> set[str]:
    """Codes of a range of which there is a pencil, wherever it is; read from the tables alone."""
    with collection() as session:
        pencils = pencils_by_colour(session)
        return {row.code for row in colour_rows(session) if row.range_name == name and pencils.get(row.id)}


def owning(collection: Collection, of: int) -> Owning:
    return next(c.owning for s in shelves(collection, VELLUM)[1] for c in s.colours if c.colour_id == of)


def pencils(collection: Collection, of: int) -> list[PencilRow]:
    with collection() as session:
        return list(pencils_by_colour(session).get(of, ()))


def stick(length: int | None = 150, state: PencilState = PencilState.IN_USE, tin: str = "") -> PencilRow:
    return PencilRow(1, 1, None, tin, None, length, state, True, "", 1)


def calls(collection: Collection, recipe: int, paper: int = VELLUM) -> list[CallView]:
    return [c for s in open_recipe(collection, recipe, paper, Closest.OVERALL).steps for c in s.calls]


def call(collection: Collection, code: str, recipe: int = 1, paper: int = VELLUM) -> CallView:
    return next(c for c in calls(collection, recipe, paper) if c.colour and c.colour.code == code)


def keep_every(step: int, collection: Collection) -> Collection:
    """The collection with every so many-th of its pencils, so that all pairs are mixed in a moment."""
    with collection() as session:
        owned = sorted(set(session.scalars(select(Pencil.colour_id))))
    mark_owned(collection, [i for at, i in enumerate(owned) if at % step], False)
    return collection
