"""One printed page as it is handed to paper, to JSON, and to whoever reads a photo of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from tidy_tinder.core.sheet.layout import Layout


@dataclass(frozen=True)
class Label:
    """What stands at a cell: the code and the name of its colour."""

    code: str
    name: str


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
