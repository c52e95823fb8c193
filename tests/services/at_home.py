"""The demo's collection as the tests of the services speak of it."""

from __future__ import annotations

from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.tidy.shelves import Card, Shelf, shelves
from tidy_tinder.storage.engine import SessionFactory
from tidy_tinder.storage.queries.colours import PencilRow, pencils_by_colour

VELLUM, HOT_PRESSED, PRINT, BUFF = 1, 2, 3, 4


def shelf(sessions: SessionFactory, name: str, paper: int = VELLUM) -> Shelf:
    return next(s for s in shelves(sessions, paper)[1] if s.name == name)


def card(sessions: SessionFactory, colour_id: int, paper: int = VELLUM) -> Card:
    return shelves(sessions, paper)[0].by_id[colour_id]


def colour_id(sessions: SessionFactory, range_name: str, code: str) -> int:
    cards = shelves(sessions, VELLUM)[0].by_id.values()
    return next(c.colour.id for c in cards if (c.colour.range_name, c.colour.code) == (range_name, code))


def owned(sessions: SessionFactory, name: str) -> set[str]:
    return {
        card(sessions, c.colour_id).colour.code
        for c in shelf(sessions, name).colours
        if c.owning is not Owning.NOT_OWNED
    }


def owning(sessions: SessionFactory, of: int) -> Owning:
    return next(c.owning for s in shelves(sessions, VELLUM)[1] for c in s.colours if c.colour_id == of)


def pencils(sessions: SessionFactory, of: int) -> list[PencilRow]:
    with sessions() as session:
        return list(pencils_by_colour(session).get(of, ()))


def stick(length: int | None = 150, state: str = "in_use", tin: str = "") -> PencilRow:
    return PencilRow(1, 1, None, tin, None, length, state, True, "", 1)
