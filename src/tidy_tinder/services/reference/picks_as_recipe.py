"""Picks written down as a recipe, in the words in which people write them and in which recipes are read.

Nothing is invented: each call is a charted colour, as it is laid; what is open is said to be so.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.names.finding import Catalogue
from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.formats.recipe_text import read_recipe
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import OwnedColour
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.stacks import layers_in_words
from tidy_tinder.services.reference.answering import PickAnswer
from tidy_tinder.services.reference.palette import Palette, PaletteRow


def picks_as_recipe(collection: Collection, palette: Palette) -> str:
    """The text of a recipe: one passage an area, each begun with a light map of it."""
    with collection() as session:
        catalogue = catalogue_of(session)
    lines = [f"{palette.drawing}, colours of {palette.picture}"]
    for area, rows in palette.areas.items():
        lines += ["", _heading(area, catalogue), *_passage(rows, catalogue)]
    return "\n".join(lines) + "\n"


def _heading(area: str, catalogue: Catalogue) -> str:
    """An area as a heading that is read as one."""
    return f"# {area.replace(':', ' ')}"


def _passage(rows: list[PaletteRow], catalogue: Catalogue) -> Iterator[str]:
    first = _map_of(rows)
    if first is not None:
        yield f"- Map: one light layer of {_named(first)}"
    for row in rows:
        if row.way is None:
            yield _sure(f"Colour {row.number}, {row.called}, is open", f"Colour {row.number} is open", "", catalogue)
            continue
        yield _sure(f"- {row.called}", f"- Colour {row.number}", f": {layers_in_words(row.way.laid)}", catalogue)


def _map_of(rows: list[PaletteRow]) -> Layer[OwnedColour] | None:
    """What an area is mapped with: the lowest pencil of its lightest way, so that nothing has to be lifted."""
    ways: list[PickAnswer] = [row.way for row in rows if row.way is not None]
    if not ways:
        return None
    lightest = max(ways, key=lambda way: way.offered.lab[0])
    return Layer(lightest.laid[0].pencil, Pressure.LIGHT)


def _named(layer: Layer[OwnedColour]) -> str:
    return f"{layer.pencil.colour.range_name} {layer.pencil.colour.code}"


def _sure(wanted: str, plain: str, rest: str, catalogue: Catalogue) -> str:
    """The line with its own words where these name no colour of any chart themselves, else with plain ones."""
    return plain + rest if read_recipe(f"Title\n\n{wanted}", catalogue).calls else wanted + rest
