"""The tray or a range as a palette: Pillow reads it, and its colours are those that the page shows."""

from __future__ import annotations

import io

import pytest
from PIL.GimpPaletteFile import GimpPaletteFile
from sqlalchemy import select

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.cards import cards_on
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.exchange.palettes import palette_on
from tidy_tinder.services.tray import put_in_tray
from tidy_tinder.storage.models import ColourRange


def test_the_tray_goes_out_from_heavy_to_light_and_says_how_each_is_known(demo: Collection) -> None:
    with demo() as session:
        cards = cards_on(session, find_paper(session, 1)).by_id
    chosen = [cards[i] for i in (20, 37)]
    with pytest.raises(RefusedError, match="The tray holds no colour"):
        palette_on(demo, 1, None)
    put_in_tray(demo, [20, 37], into=True)
    title, content = palette_on(demo, 1, None)
    assert title == "The tray on Vellum board"
    palette, mode = GimpPaletteFile(io.BytesIO(content.encode())).getpalette()
    zones = [zone for card in chosen for zone in card.mark.zones]
    assert mode == "RGB"
    assert palette[: 3 * len(zones)] == bytes.fromhex("".join(patch(zone.lab).hex.lstrip("#") for zone in zones))
    lines = content.splitlines()[4:]
    assert len(lines) == len(zones)
    for line, zone in zip(lines, zones, strict=True):
        assert f", {zone.pressure}, {zone.trust}" in line
        assert ("±" in line) == (zone.band is not None)


def test_a_range_goes_out_whole_and_one_that_is_not_there_is_refused(demo: Collection) -> None:
    with demo() as session:
        line = session.scalars(select(ColourRange)).first()
        assert line is not None
        cards = cards_on(session, find_paper(session, 4)).by_id
        marks = [zone for card in cards.values() if card.colour.range_id == line.id for zone in card.mark.zones]
    title, content = palette_on(demo, 4, line.id)
    assert title.startswith(f"{line.name} on ")
    assert len(content.splitlines()) - 4 == len(marks)
    with pytest.raises(NotFoundError):
        palette_on(demo, 4, 999)
