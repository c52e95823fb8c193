"""Sheets written down as they are printed, and removed."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.sheet.layout import LayoutKind
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.sheets.plan import LAYOUT_VERSION, SheetPlan, check_printable, layout_of, plan_sheet
from tidy_tinder.storage.models import Photo, Sheet, SheetPlace

# Letters and figures that no print and no eye takes for one another.
_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
_TOKEN = 8


def prepare_sheet(collection: Collection, plan: SheetPlan) -> tuple[int, Changed]:
    """Give each pencil its place on the pages of a new set. Raises NotFoundError, RefusedError."""
    with writing(collection, "Sheet made") as session:
        scene = Scene.on(session, plan.paper_id)
        planned = plan_sheet(scene, plan)
        check_printable(planned)
        places = layout_of(plan.kind, plan.size, plan.cells).places
        what = "Frame" if plan.kind is LayoutKind.FRAME else "Sheet"
        count = len(planned.colour_ids)
        title = f"{what} of {count} {'pencil' if count == 1 else 'pencils'} for {scene.paper.name}"
        sheet = Sheet(
            token="".join(secrets.choice(_LETTERS) for _ in range(_TOKEN)), kind=plan.kind, size=plan.size,
            cells=int(plan.cells), pages=planned.pages, layout_version=LAYOUT_VERSION, paper_id=plan.paper_id,
            title=title, made_on=datetime.now(UTC).date(),
        )  # fmt: skip
        session.add(sheet)
        session.flush()
        session.add_all(
            SheetPlace(
                sheet_id=sheet.id,
                page=i // len(places) + 1,
                cell=places[i % len(places)].index,
                colour_id=colour_id,
                layers=layers,
            )
            for i, (colour_id, layers) in enumerate(planned.places)
        )
        relabel(session, f"{title} made")
        return sheet.id, changed(session)


def remove_sheet(collection: Collection, sheet_id: int) -> Changed:
    """Forget a sheet; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Sheet removed") as session:
        sheet = sheet_called(session, sheet_id)
        for table in (SheetPlace, Photo):
            for row in session.scalars(select(table).where(table.sheet_id == sheet_id)):
                session.delete(row)
        session.flush()
        relabel(session, f"{sheet.title} forgotten")
        session.delete(sheet)
        return changed(session)


def sheet_called(session: Session, sheet_id: int) -> Sheet:
    """The sheet of this number; raises NotFoundError."""
    sheet = session.get(Sheet, sheet_id)
    if sheet is None:
        raise NotFoundError(f"There is no sheet number {sheet_id}. It may have been removed in another window.")
    return sheet
