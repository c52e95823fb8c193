"""The simulated camera told what to photograph: a page of a sheet, coloured in with the pencils of the hidden world."""

from __future__ import annotations

import json

import numpy as np
from sqlalchemy import select

from tidy_tinder.devices.simulated_camera.colouring_in import coloured_in, true_paper, true_papers
from tidy_tinder.devices.simulated_camera.conditions import SHOTS, Condition
from tidy_tinder.devices.simulated_camera.shooting import photograph
from tidy_tinder.formats.errors import UnreadableError
from tidy_tinder.formats.sheet_json import page_from_json
from tidy_tinder.formats.sheet_page import PrintedPage
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.paper import find_paper, root_name
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.sheets.store import sheet_called
from tidy_tinder.services.sheets.view import pages_of
from tidy_tinder.storage.models import SheetPlace

__all__ = ["CONDITIONS", "Condition", "photograph_layout", "photograph_sheet"]

CONDITIONS = {condition.value: condition for condition in Condition}
"""By their names, for whoever asks in words."""


def photograph_sheet(
    collection: Collection, sheet_id: int, page: int, condition: Condition, filled: int = 100
) -> bytes:
    """A photo of one page of a sheet, as JPEG; filled: how much of it is coloured in, in per cent.

    Raises NotFoundError.
    """
    with collection() as session:
        sheet = sheet_called(session, sheet_id)
        printed = next((p for p in pages_of(session, sheet) if p.page == page), None)
        if printed is None:
            raise NotFoundError(f"This sheet has {sheet.pages} pages; there is no page {page}.")
        colours = chart_by_id(session)
        places = session.scalars(select(SheetPlace).where(SheetPlace.sheet_id == sheet_id, SheetPlace.page == page))
        pencils = {p.cell: f"{colours[p.colour_id].range_name} {colours[p.colour_id].code}" for p in places}
        paper = find_paper(session, sheet.paper_id)
        true = true_paper(root_name(session, paper), np.array([paper.lab_L, paper.lab_a, paper.lab_b]))
    return _photographed(printed, pencils, true, condition, filled)


def photograph_layout(content: bytes, page: int, condition: Condition, paper: str, filled: int = 100) -> bytes:
    """The same from the layout of a sheet as JSON, for a printed page of any collection.

    Raises UnreadableError, NotFoundError for a page or a paper that is not there.
    """
    try:
        pages = [page_from_json(one) for one in json.loads(content)]
    except (ValueError, TypeError) as problem:
        raise UnreadableError(f"This is no layout of a sheet as JSON: {problem}.") from problem
    printed = next((p for p in pages if p.page == page), None)
    if printed is None:
        raise NotFoundError(f"This layout has {len(pages)} pages; there is no page {page}.")
    if paper not in true_papers():
        raise NotFoundError(f"The demo has no paper “{paper}”; it has {', '.join(true_papers())}.")
    pencils = {index: f"{label.code} {label.name}" for index, label in printed.labels.items()}
    return _photographed(printed, pencils, paper, condition, filled)


def _photographed(
    printed: PrintedPage, pencils: dict[int, str], paper: str, condition: Condition, filled: int
) -> bytes:
    words = {index: label.code for index, label in printed.labels.items()}
    layers = {index: label.layers for index, label in printed.labels.items()}
    page = coloured_in(printed.layout, printed.said_in_code, pencils, words, paper, filled, layers)
    return photograph(page, SHOTS[condition])
