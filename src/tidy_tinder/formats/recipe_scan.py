"""A line of a recipe while it is read: as it is written, with what is no colour masked, and the ranges met so far."""

from __future__ import annotations

import re

from tidy_tinder.core.names.finding import Catalogue
from tidy_tinder.formats.recipe_figures import mask_figures
from tidy_tinder.formats.recipe_words import BULLET, LAYERS


class Scan:
    """What is known of a line while it is read.

    line: its text without its bullet; number: the one that stands in that, 0 without; scanned: the line with what is no
    colour masked; written_counts: by where a code begins, how many layers are written to it; counted: where the words
    of “two light layers” stand, which count and name no colour; begins: where its colours begin, after “Gills:”; led:
    whether it begins with a colour and a colon; scope: the ranges that hold from here on; ranges: those that the line
    names itself; outer: those that held before it.
    """

    def __init__(self, line: str, scope: tuple[str, ...], catalogue: Catalogue) -> None:
        self.line = BULLET.sub("", line, count=1).strip()
        self.bulleted = self.line != line
        figures = re.search(r"\d{1,2}", line[: len(line.rstrip()) - len(self.line)])
        self.number = int(figures.group()) if figures else 0
        masked = mask_figures(self.line, catalogue)
        self.scanned, self.written_counts = masked.line, masked.counts
        self.counted = frozenset(i for count in LAYERS.finditer(self.line) for i in range(*count.span()))
        self.catalogue = catalogue
        self.begins, self.led = 0, False
        self.scope = self.outer = scope
        self.ranges: list[str] = []

    def meet(self, ranges: tuple[str, ...]) -> None:
        """A range named in the line holds for what follows in it."""
        self.scope = ranges
        self.ranges.extend(ranges)
