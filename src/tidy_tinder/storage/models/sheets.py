"""Printed sheets and frames: which pencil has which place on which page."""

from __future__ import annotations

from datetime import date
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.sheet.layout import LayoutKind, PageSize
from tidy_tinder.core.vocabulary import MOST_LAYERS
from tidy_tinder.storage.models.base import KEEP_IDS, Base, Journaled, Word, one_of
from tidy_tinder.storage.models.states import PhotoState


class Sheet(Journaled):
    """A set of pages that were printed together. token: stands on each of them; cells: how many an A4 page would have;
    layout_version: of the layouts that it was printed by; ramp: Lab of each step of its grey ramp, by its share of
    black in per cent, where a reader measured it.
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
    ramp: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))


class SheetPlace(Journaled):
    """The place of one pencil. page: from 1 on; cell: its index in the layout; layers: of each of its marks."""

    __tablename__ = "sheet_place"
    __table_args__ = (
        UniqueConstraint("sheet_id", "page", "cell"),
        CheckConstraint("page BETWEEN 1 AND 31", name="page_bounds"),
        CheckConstraint("cell >= 0", name="cell_bounds"),
        CheckConstraint(f"layers BETWEEN 1 AND {MOST_LAYERS}", name="layers_bounds"),
        KEEP_IDS,
    )

    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheet.id", ondelete="CASCADE"))
    page: Mapped[int]
    cell: Mapped[int]
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    layers: Mapped[int] = mapped_column(default=1, server_default="1")


class Photo(Journaled):
    """A picture of one page of a sheet. name: of the file that it came in; taken: indices of the cells whose colours
    were taken from it.
    """

    __tablename__ = "photo"
    __table_args__ = (KEEP_IDS,)

    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheet.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    added_on: Mapped[date]
    taken: Mapped[list[Any]] = mapped_column(JSON, default=list)


class PhotoReading(Base):
    """The picture itself and what was read from it: worked out, so neither journaled nor undone. It outlives a removed
    photo until the program is started anew, so that undo finds it.

    content: the file as it came; step: what is being done while it is read; message: why it is refused; taken_up: how
    often a program that began again went on with it; found: the reading; flat: the page made flat, as JPEG.
    """

    __tablename__ = "photo_reading"
    __table_args__ = (one_of("state", PhotoState, "state_known"),)

    photo_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    content: Mapped[bytes] = mapped_column(deferred=True)
    state: Mapped[PhotoState] = mapped_column(Word(PhotoState), default=PhotoState.WAITING)
    step: Mapped[str] = mapped_column(default="")
    message: Mapped[str] = mapped_column(default="")
    taken_up: Mapped[int] = mapped_column(default=0)
    page: Mapped[int | None]
    found: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True), deferred=True)
    flat: Mapped[bytes | None] = mapped_column(deferred=True)
