"""Picks written down as a recipe, in the words in which people write them and in which recipes are read.

Nothing is invented: each call is a charted colour, as it is laid; what is open is said to be so.
"""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.names.finding import Catalogue
from tidy_tinder.core.vocabulary import Pressure, StepKind
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
    lines = [_title(palette, catalogue)]
    for number, (area, rows) in enumerate(palette.areas.items(), 1):
        lines += ["", _heading(area, number, catalogue), *_passage(rows, catalogue)]
    return "\n".join(lines) + "\n"


def _title(palette: Palette, catalogue: Catalogue) -> str:
    """The first of these that is read as a title: a drawing may be called as a colour is."""
    for title in (f"{palette.drawing}, colours of {palette.picture}", f"Colours of {palette.drawing}"):
        reading = read_recipe(f"{title}\n\nNext", catalogue)
        if reading.title == title and not reading.calls and not reading.ranges:
            return title
    return "Colours of a picture"


def _heading(area: str, number: int, catalogue: Catalogue) -> str:
    """An area as a heading that is read as one."""
    heading = f"# {area.replace(':', ' ')}"
    reading = read_recipe(f"Title\n\n{heading}", catalogue)
    read_so = [step.kind for step in reading.steps] == [StepKind.HEADING] and not reading.ranges
    return heading if read_so else f"# Area {number}"


def _passage(rows: list[PaletteRow], catalogue: Catalogue) -> Iterator[str]:
    first = _map_of(rows)
    if first is not None:
        yield f"- Map: one light layer of {_named(first)}"
    for row in rows:
        if row.way is None:
            lines = (f"Colour {row.number}, {row.called}, is open", f"Colour {row.number} is open")
            yield _sure(*lines, [], catalogue)
            continue
        said, keys = layers_in_words(row.way.laid), [one.pencil.colour.id for one in row.way.laid]
        yield _sure(f"- {row.called}: {said}", f"- Colour {row.number}: {said}", keys, catalogue)


def _map_of(rows: list[PaletteRow]) -> Layer[OwnedColour] | None:
    """What an area is mapped with: the lowest pencil of its lightest way, so that nothing has to be lifted."""
    ways: list[PickAnswer] = [row.way for row in rows if row.way is not None]
    if not ways:
        return None
    lightest = max(ways, key=lambda way: way.offered.lab[0])
    return Layer(lightest.laid[0].pencil, Pressure.LIGHT)


def _named(layer: Layer[OwnedColour]) -> str:
    return f"{layer.pencil.colour.range_name} {layer.pencil.colour.code}"


def _sure(line: str, plain: str, keys: list[int], catalogue: Catalogue) -> str:
    """The line with the pick's own words where it is read as these colours and no others, else with plain ones."""
    steps = read_recipe(f"Title\n\n{line}", catalogue).steps
    return line if [[call.key for call in step.calls] for step in steps] == [keys] else plain
