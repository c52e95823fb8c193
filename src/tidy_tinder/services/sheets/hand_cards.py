"""Pages that are coloured in by hand and kept: ordered pairs of the tray to practise on, and a blank palette card."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy.orm import Session

from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.formats.hand_cards_pdf import palette_card_pdf, practice_pdf
from tidy_tinder.formats.sheet_page import Label
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import pulled_out
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.sheets.plan import SheetPlan, plan_sheet

FEWEST, MOST = 2, 12
"""Pencils of which every two are practised on: twelve make 66 pairs in both orders."""


def practice_sheet(collection: Collection, size: PageSize) -> bytes:
    """Every two pencils of the tray in both orders, as PDF. Raises RefusedError for too few or too many."""
    with collection() as session:
        ids = pulled_out(session)
        if not FEWEST <= len(ids) <= MOST:
            raise RefusedError(
                f"Pairs are made of {FEWEST} to {MOST} pencils of the tray; it holds {len(ids)}. "
                f"{'Put some in with p.' if len(ids) < FEWEST else 'Put some back first.'}"
            )
        return practice_pdf(_labels(session, ids), size)


def palette_card(collection: Collection, plan: SheetPlan) -> bytes:
    """A blank for each pencil that a sheet of this plan would hold, as PDF. Raises NotFoundError, RefusedError."""
    with collection() as session:
        scene = Scene.on(session, plan.paper_id)
        planned = plan_sheet(scene, plan)
        if not planned.colour_ids:
            raise RefusedError("No pencil is left for this card. Choose others, or say in the tidy which you own.")
        title = f"{len(planned.colour_ids)} pencils on {scene.paper.name}"
        return palette_card_pdf(title, _labels(session, planned.colour_ids), plan.size)


def _labels(session: Session, ids: Iterable[int]) -> list[Label]:
    colours = chart_by_id(session)
    return [Label(colours[i].code, colours[i].name) for i in ids]
