"""A GIMP palette: colours as a screen shows them, with their names. The format is GIMP's own, as its documentation has
it (from memory).
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

FIRST_LINE = "GIMP Palette"
_COLUMNS = 8
# A colour: three figures, then its name after blanks or a tab.
_COLOUR = re.compile(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*))?")
_NAME = re.compile(r"(?i)name\s*:(.*)")
_TOLD = re.compile(r"(?i)(?:name|columns|channels)\s*:")
# Bytes of a name: some readers take lines of up to a hundred (Pillow does), twelve of them being the figures.
_LONGEST_NAME = 86


@dataclass(frozen=True)
class PaletteColour:
    """One colour: six hexadecimal digits, and what it is called."""

    hex: str
    name: str


def gimp_palette(title: str, colours: Iterable[PaletteColour]) -> str:
    """The palette as text; line breaks in names are blanks, and a long name is cut in its middle."""
    lines = [FIRST_LINE, f"Name: {_on_one_line(title)}", f"Columns: {_COLUMNS}", "#"]
    for colour in colours:
        digits = colour.hex.lstrip("#")
        red, green, blue = (int(digits[at : at + 2], 16) for at in (0, 2, 4))
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{_cut(_on_one_line(colour.name))}")
    return "\n".join(lines) + "\n"


@dataclass(frozen=True)
class PaletteLines:
    """A palette as a list of colours, line for line: its title, each name with its colour as a screen shows it ("Fly
    Cap #c81e0a"), empty where a line says nothing of a colour; broken: the lines, counted from 1, that are none of a
    palette's.
    """

    title: str
    lines: tuple[str, ...]
    broken: frozenset[int]


def palette_lines(lines: Sequence[str]) -> PaletteLines | None:
    """What a palette says; None where the first line is not that of one."""
    if not lines or lines[0].strip() != FIRST_LINE:
        return None
    read = [_colour_of(line) for line in lines]
    names = (_NAME.fullmatch(line.strip()) for line in lines)
    title = next((name[1].strip() for name in names if name is not None), "")
    broken = (at for at, (line, colour) in enumerate(zip(lines, read, strict=True), 1) if not (colour or _tells(line)))
    return PaletteLines(title, tuple(colour or "" for colour in read), frozenset(broken))


def _colour_of(line: str) -> str:
    colour = _COLOUR.fullmatch(line)
    if colour is None or any(int(part) > 255 for part in colour.groups()[:3]):
        return ""
    red, green, blue = (int(part) for part in colour.groups()[:3])
    return f"{(colour[4] or '').strip() or 'Untitled'} #{red:02x}{green:02x}{blue:02x}"


def _tells(line: str) -> bool:
    """Whether it is a line of a palette that names no colour."""
    said = line.strip()
    return not said or said.startswith(("#", FIRST_LINE)) or bool(_TOLD.match(said))


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
