"""The tray, or a range, as a palette for drawing programs: each mark as a screen shows it on a paper."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from sqlalchemy.orm import Session

from tidy_tinder.formats.gpl import PaletteColour, gimp_palette
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import pulled_out
from tidy_tinder.services.collection.cards import Card, cards_on
from tidy_tinder.services.collection.marks import Zone
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import Trust, patch
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.storage.models import ColourRange


def palette_on(collection: Collection, paper_id: int, range_id: int | None) -> tuple[str, str]:
    """Title and content of the palette of a range on a paper, or of the tray: of each colour its marks from heavy to
    light, and how each is known. Raises NotFoundError; RefusedError where no colour has a known value.
    """
    with collection() as session:
        paper = find_paper(session, paper_id)
        name, cards = _chosen(session, range_id, cards_on(session, paper).by_id)
        colours = [colour for card in cards for colour in _colours(card)]
        if not colours:
            raise RefusedError(f"{name} holds no colour whose value is known. Nothing was written.")
        title = f"{name} on {paper.name}"
        return title, gimp_palette(title, colours)


def _chosen(session: Session, range_id: int | None, cards: Mapping[int, Card]) -> tuple[str, list[Card]]:
    if range_id is None:
        return "The tray", [cards[i] for i in pulled_out(session)]
    line = session.get(ColourRange, range_id)
    if line is None:
        raise NotFoundError(f"There is no range number {range_id}.")
    return line.name, [card for card in cards.values() if card.colour.range_id == range_id]


def _colours(card: Card) -> Iterator[PaletteColour]:
    colour = card.colour
    for zone in card.mark.zones:
        if zone.trust is not Trust.NONE:
            name = f"{colour.range_name} {colour.code} {colour.name}, {zone.pressure}, {_known(zone)}"
            yield PaletteColour(patch(zone.lab).hex, name)


def _known(zone: Zone) -> str:
    known = f"{zone.trust}" if zone.band is None else f"{zone.trust} ±{zone.band:.1f}"
    return known if zone.on_screen else f"{known}, more vivid than a screen shows"
