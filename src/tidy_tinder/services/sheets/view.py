"""Sheets as they are shown and printed."""

from __future__ import annotations

import json
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.sheet.layout import Layout, LayoutKind, PageSize
from tidy_tinder.core.sheet.printed_sheet import CellCount
from tidy_tinder.formats.sheet_json import page_as_json
from tidy_tinder.formats.sheet_page import Label, PrintedPage
from tidy_tinder.formats.sheet_pdf import sheet_pdf
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.sheets.plan import layout_of
from tidy_tinder.services.sheets.store import sheet_called
from tidy_tinder.storage.models import Paper, Sheet, SheetPlace


@dataclass(frozen=True)
class SheetCard:
    """A sheet in the list. ramp: the steps of its grey ramp that were measured, in per cent of black."""

    id: int
    title: str
    token: str
    kind: LayoutKind
    size: PageSize
    pages: int
    pencils: int
    paper_id: int
    paper_name: str
    made_on: str
    ramp: tuple[tuple[int, LabTriple], ...]


def sheet_cards(collection: Collection) -> tuple[SheetCard, ...]:
    """All sheets, the newest first."""
    with collection() as session:
        counted = select(SheetPlace.sheet_id, func.count(SheetPlace.colour_id.distinct())).group_by(SheetPlace.sheet_id)
        counts: dict[int, int] = dict(session.execute(counted).all())
        rows = session.execute(
            select(Sheet, Paper.name).join(Paper, Paper.id == Sheet.paper_id).order_by(Sheet.id.desc())
        ).all()
        return tuple(
            SheetCard(
                s.id, s.title, s.token, s.kind, s.size, s.pages, counts.get(s.id, 0), s.paper_id, paper,
                s.made_on.isoformat(), _ramp(s),
            )
            for s, paper in rows
        )  # fmt: skip


def _ramp(sheet: Sheet) -> tuple[tuple[int, LabTriple], ...]:
    return tuple((int(step), (lab[0], lab[1], lab[2])) for step, lab in (sheet.ramp or {}).items())


def sheet_card(collection: Collection, sheet_id: int) -> SheetCard:
    """One of them. Raises NotFoundError."""
    with collection() as session:
        sheet_called(session, sheet_id)
    return next(card for card in sheet_cards(collection) if card.id == sheet_id)


def printed_pages(collection: Collection, sheet_id: int) -> tuple[PrintedPage, ...]:
    """The pages of a sheet. Raises NotFoundError."""
    with collection() as session:
        return pages_of(session, sheet_called(session, sheet_id))


def sheet_as_pdf(collection: Collection, sheet_id: int) -> bytes:
    """A sheet to be printed. Raises NotFoundError."""
    return sheet_pdf(printed_pages(collection, sheet_id))


def sheet_as_json(collection: Collection, sheet_id: int) -> bytes:
    """The layout of each page in mm, so that anybody can check one. Raises NotFoundError."""
    pages = [page_as_json(page) for page in printed_pages(collection, sheet_id)]
    return json.dumps(pages, ensure_ascii=False, indent=1).encode()


def layout_on(sheet: Sheet, page: int) -> Layout:
    """The layout of one page of a sheet, from 1 on."""
    return layout_of(sheet.kind, sheet.size, CellCount(sheet.cells), page - 1)


def pages_of(session: Session, sheet: Sheet) -> tuple[PrintedPage, ...]:
    """The pages of a sheet with what is written on them."""
    colours = chart_by_id(session)
    labels: dict[int, dict[int, Label]] = {page: {} for page in range(1, sheet.pages + 1)}
    for place in session.scalars(select(SheetPlace).where(SheetPlace.sheet_id == sheet.id)):
        colour = colours[place.colour_id]
        labels[place.page][place.cell] = Label(colour.code, colour.name, place.layers)
    return tuple(
        PrintedPage(layout_on(sheet, page), sheet.token, page, sheet.pages, sheet.title, labels[page])
        for page in labels
    )
