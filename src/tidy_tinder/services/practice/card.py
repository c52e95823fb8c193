"""A card to practise on paper: the same questions, on fields that are swatched with one's own pencils."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from tidy_tinder.core.practice.asking import Asked, Known, ask_order, ask_two, ask_value
from tidy_tinder.core.practice.drills import Drill
from tidy_tinder.formats.drill_card_pdf import CardQuestion, DrillCard
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import paper_at_hand
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.practice.stock import stock_on

# On paper nothing follows the artist: from easy to hard, L* or temperature (ours).
_LEVELS = (16.0, 9.0, 5.0)


def drill_card(collection: Collection, seed: int) -> DrillCard:
    """A card for the paper at hand. seed: another one makes another card.

    Raises RefusedError where too little is known.
    """
    with collection() as session:
        paper = paper_at_hand(session)
        assert paper is not None, "a collection always has a paper"
        scene = Scene(session, paper)
        stock = stock_on(scene)
        named = [f"{row.range_name} {row.code}" for row in (scene.colours[i] for i in stock.colours)]
        questions = tuple(_questions(stock.known, named, np.random.default_rng(seed))) if len(named) > 1 else ()
        if not questions:
            raise RefusedError("Too few of your pencils are known on this paper for a card. Swatch some first.")
        words = (
            f"Swatch each field heavy with its pencil, on {paper.name}, and forget it, or let somebody else do it. "
            "Then answer by eye. The answers are on the last page."
        )
        return DrillCard(words, questions)


def _questions(known: Known, named: Sequence[str], rng: np.random.Generator) -> Iterator[CardQuestion]:
    for level in _LEVELS:
        for drill, which in ((Drill.LIGHTER, "lighter"), (Drill.WARMER, "warmer")):
            asked = ask_two(known, drill, level, "", rng)
            if asked is not None:
                yield CardQuestion(
                    f"Which is {which}?", tuple(named[i] for i in asked.shown), _answer(asked, named, which)
                )
    for level in _LEVELS[:2]:
        order = ask_order(known, level / 2.0, rng)
        if order is not None:
            names = [named[i] for i in order.choices]
            right = ", ".join(names[i] for i in order.right)
            yield CardQuestion("Number them by value, the lightest first.", tuple(names), right)
    value = ask_value(known, "", rng)
    if value is not None:
        yield CardQuestion(
            "Which step of value, 0 black to 10 white?", (named[value.shown[0]],), f"{value.signed or 0.0:.1f}"
        )


def _answer(asked: Asked, named: Sequence[str], which: str) -> str:
    right = named[asked.choices[asked.right[0]]]
    return f"{right} is {which}, by {asked.level:.1f}"
