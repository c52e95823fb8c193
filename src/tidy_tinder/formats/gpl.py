"""A GIMP palette: colours as a screen shows them, with their names. The format is GIMP's own, as its documentation has
it (from memory).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

_COLUMNS = 8
# Bytes of a name: some readers take lines of up to a hundred (Pillow does), twelve of them being the figures.
_LONGEST_NAME = 86


@dataclass(frozen=True)
class PaletteColour:
    """One colour: six hexadecimal digits, and what it is called."""

    hex: str
    name: str


def gimp_palette(title: str, colours: Iterable[PaletteColour]) -> str:
    """The palette as text; line breaks in names are blanks, and a long name is cut in its middle."""
    lines = ["GIMP Palette", f"Name: {_on_one_line(title)}", f"Columns: {_COLUMNS}", "#"]
    for colour in colours:
        digits = colour.hex.lstrip("#")
        red, green, blue = (int(digits[at : at + 2], 16) for at in (0, 2, 4))
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{_cut(_on_one_line(colour.name))}")
    return "\n".join(lines) + "\n"


def _on_one_line(text: str) -> str:
    return " ".join(text.split())


def _cut(name: str) -> str:
    """A name as far as there is room; what it begins with and how it ends tell most."""
    kept = len(name)
    cut = name
    while len(cut.encode()) > _LONGEST_NAME:
        kept -= 1
        cut = f"{name[: (kept + 1) // 2].rstrip()} … {name[len(name) - kept // 2 :].lstrip()}"
    return cut
