"""The shelves as JSON, fast: the cards, which seldom change, are packed once for each version of the marks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache

import orjson

from tidy_tinder.services.collection.cards import Cards
from tidy_tinder.services.tidy.shelves import Shelf
from tidy_tinder.web.shared.drawn import ColourCardOut


def shelves_json(cards: Cards, shelves: Sequence[Shelf]) -> bytes:
    """JSON of the shape ShelvesOut (a test holds it to that)."""
    packed = _packed(cards)
    body = {
        "shelves": [
            {
                "range_id": shelf.range_id, "maker": shelf.maker, "name": shelf.name, "feel": shelf.feel,
                "new_length_mm": shelf.new_length_mm, "holds_point": shelf.holds_point,
                "water_soluble": shelf.water_soluble, "revision": shelf.revision, "owned": shelf.owned,
                "colours": [
                    {
                        "id": c.colour_id, "owning": c.owning.value, "with_me": c.with_me,
                        "places": [{"tin": p.tin, "slot": p.slot} for p in c.places], "card": packed[c.colour_id],
                    }
                    for c in shelf.colours
                ],
                "sets": [{"id": s.id, "name": s.name, "colours": s.colours, "owned": s.owned} for s in shelf.sets],
            }
            for shelf in shelves
        ]
    }  # fmt: skip
    return orjson.dumps(body)


@lru_cache(maxsize=16)
def _packed(cards: Cards) -> Mapping[int, orjson.Fragment]:
    """Each card as finished JSON; Cards are compared by identity, and the cache keeps one for a version."""
    return {i: orjson.Fragment(ColourCardOut.model_validate(card).model_dump_json()) for i, card in cards.by_id.items()}
