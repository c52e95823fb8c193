"""The finder: what a code, a name or colour words can mean, each as a mark on a paper with how it is owned."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tidy_tinder.core.names.colour_words import Look, read_colour_words
from tidy_tinder.core.names.finding import Match
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.cards import Card, cards_on
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.scene import Scene


@dataclass(frozen=True)
class Hit:
    """A colour that may be meant: its mark on the paper at hand, and how it is owned."""

    card: Card
    owning: Owning


@dataclass(frozen=True)
class Found:
    """What a text can mean. hits: by code and name; message: where a code and a name do not belong together.

    by_look: by value, chroma and hue, where each word is a colour word; look: those words as they were understood.
    """

    match: Match
    message: str
    hits: tuple[Hit, ...]
    by_look: tuple[Hit, ...]
    look: tuple[str, ...]


def find_colours(collection: Collection, text: str, paper_id: int, limit: int = 12) -> Found:
    """What the finder shows for a text. Raises NotFoundError for an unknown paper."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        cards = cards_on(session, scene.paper).by_id
        finding, look = catalogue_of(session).suggest(text, limit), read_colour_words(text)
        conflict = finding.conflict
        named = [e.key for e in finding.hits or (conflict.by_code + conflict.by_name if conflict else ())]
        alike = [] if look is None else [i for i in _by_look(look, list(cards.values())) if i not in named][:limit]
        hits, by_look = (tuple(Hit(cards[i], scene.owning(i)) for i in ids) for ids in (named, alike))
        return Found(finding.match, conflict.message if conflict else "", hits, by_look, look.words if look else ())


def _by_look(look: Look, cards: Sequence[Card]) -> list[int]:
    """The colours that look so on the paper, those in the middle of what is meant first."""
    fits: list[tuple[float, int]] = []
    for card in cards:
        if card.order is None:
            continue
        apart = look.apart(card.order.value, card.order.chroma, card.order.hue, card.order.temperature)
        if apart is not None:
            fits.append((apart, card.colour.id))
    return [colour_id for _, colour_id in sorted(fits)]
