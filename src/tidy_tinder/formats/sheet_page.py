"""One printed page as it is handed to paper, to JSON, and to whoever reads a photo of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tidy_tinder.core.sheet.layout import Layout


@dataclass(frozen=True)
class Label:
    """What stands at a cell: the code and the name of its colour, and how many layers its marks have."""

    code: str
    name: str
    layers: int = 1

    @property
    def marked(self) -> str:
        """The code, which is never cut, and how many layers where there are several."""
        return self.code if self.layers == 1 else f"{self.code} ×{self.layers}"


@dataclass(frozen=True)
class PrintedPage:
    """A layout with what is written on it. token: of the set of pages; page: from 1 on; labels: by the cell's index."""

    layout: Layout
    token: str
    page: int
    pages: int
    title: str
    labels: Mapping[int, Label]

    @property
    def said_in_code(self) -> str:
        """The text of the QR code: a cross-check of what the markers say."""
        return f"TT1 {self.token} {self.page}/{self.pages} {self.layout.kind} {self.layout.size}"
