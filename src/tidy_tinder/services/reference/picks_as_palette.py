"""The picks of a picture as a palette for drawing programs: each as it is there, and what is laid for it."""

from __future__ import annotations

from collections.abc import Iterator

from tidy_tinder.formats.gpl import PaletteColour, gimp_palette
from tidy_tinder.services.reference.palette import Palette, PaletteRow


def picks_as_palette(palette: Palette) -> str:
    """The content of the palette, in the drawing's order of work."""
    colours = [colour for row in palette.rows for colour in _colours(row)]
    return gimp_palette(f"{palette.picture} on {palette.paper_name}", colours)


def _colours(row: PaletteRow) -> Iterator[PaletteColour]:
    yield PaletteColour(row.wanted.hex, f"{row.number} {row.called}, in the picture")
    if row.way is not None:
        yield PaletteColour(row.way.offered.hex, f"{row.number} {row.called}, {row.way.said}, as predicted")
