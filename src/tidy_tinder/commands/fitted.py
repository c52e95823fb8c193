"""A collection that is served: kept drawn and fitted in the background, its first page left for the next start."""

from __future__ import annotations

from importlib import import_module

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.cards import deal_cards, deal_cards_on_all
from tidy_tinder.services.collection.predictions import keep_predictions
from tidy_tinder.web.first_page import FirstPage
from tidy_tinder.web.kept_answers import KeptAnswers

# What the first stand-ins and the first plan need takes most of a second to load: done when all else is.
_ASKED_LATER = ("scipy.special", "scipy.sparse", "scipy.optimize", "scipy.spatial")


def keep_fitted(collection: Collection, first_page: FirstPage, kept: KeptAnswers) -> None:
    """Begin to draw and to fit a collection, in a thread of its own."""

    def before_the_first_fit() -> None:
        try:
            deal_cards(collection)
        finally:
            first_page.all_is_drawn()

    def after_a_fit() -> None:
        deal_cards_on_all(collection)
        for name in _ASKED_LATER:
            import_module(name)

    def at_rest() -> None:
        keep_predictions(collection)
        kept.keep_of(first_page.answers)

    # While the browser loads the page, its marks are drawn, and only then is anything fitted.
    collection.keep_fitted(first=before_the_first_fit, then=after_a_fit, at_rest=at_rest)


def leave(collection: Collection, first_page: FirstPage, kept: KeptAnswers) -> None:
    """Leave the file whole, and the answers of the first page beside it for the next start."""
    try:
        answers = first_page.answers()
        keep_predictions(collection)
    finally:
        collection.close()
    kept.keep(answers)
