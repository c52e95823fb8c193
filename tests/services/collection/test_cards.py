"""The cards of a paper, where predictions come in while they are dealt."""

from __future__ import annotations

from itertools import chain, repeat

import pytest
from tests.services.at_home import VELLUM

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.tidy.shelves import shelves


def _predicted(collection: Collection) -> int:
    cards, _ = shelves(collection, VELLUM)
    return sum(card.mark.trust is Trust.PREDICTED for card in cards.by_id.values())


@pytest.mark.parametrize("first", ["known", "unknown"])
def test_cards_dealt_while_the_predictions_change_are_kept_for_nobody_else(
    demo: Collection, monkeypatch: pytest.MonkeyPatch, first: str
) -> None:
    """A program that begins saw predictions, then none, then the same again; and kept the bare cards for them."""
    known = demo.fitted
    with demo() as session:
        newest = known(session)
    order = {"known": [newest, None], "unknown": [None, newest]}[first]
    answers = chain(order, repeat(None))
    demo.cache.forget()
    monkeypatch.setattr(demo, "fitted", lambda _: next(answers))
    _predicted(demo)
    monkeypatch.setattr(demo, "fitted", known)
    assert _predicted(demo) > 100
