"""Printed sheets and frames: which pencil has which place on which page."""

from __future__ import annotations

from datetime import date

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.sheet.layout import LayoutKind, PageSize
from tidy_tinder.storage.models.base import KEEP_IDS, Journaled, Word, one_of


class Sheet(Journaled):
    """A set of pages that were printed together. token: stands on each of them; cells: how many an A4 page would have;
    layout_version: of the layouts that it was printed by.
    """

    __tablename__ = "sheet"
    __table_args__ = (
        one_of("kind", LayoutKind, "kind_known"),
        one_of("size", PageSize, "size_known"),
        CheckConstraint("length(token) = 8", name="token_length"),
        CheckConstraint("pages BETWEEN 1 AND 31", name="pages_bounds"),
        KEEP_IDS,
    )

    token: Mapped[str] = mapped_column(unique=True)
    kind: Mapped[LayoutKind] = mapped_column(Word(LayoutKind))
    size: Mapped[PageSize] = mapped_column(Word(PageSize))
    cells: Mapped[int]
    pages: Mapped[int]
    layout_version: Mapped[int]
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    title: Mapped[str]
    made_on: Mapped[date]


class SheetPlace(Journaled):
    """The place of one pencil. page: from 1 on; cell: its index in the layout."""

    __tablename__ = "sheet_place"
    __table_args__ = (
        UniqueConstraint("sheet_id", "page", "cell"),
        CheckConstraint("page BETWEEN 1 AND 31", name="page_bounds"),
        CheckConstraint("cell >= 0", name="cell_bounds"),
        KEEP_IDS,
    )

    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheet.id", ondelete="CASCADE"))
    page: Mapped[int]
    cell: Mapped[int]
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
