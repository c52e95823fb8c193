"""Drawings begun, described anew, chosen, copied, put away and removed."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from datetime import UTC, date, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import LARGEST_DRAWING_MM, SMALLEST_DRAWING_MM, Blacks, WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import AT_HAND, closest_at_hand, drawing_at_hand, paper_at_hand
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.preferences import write_setting
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.storage.models import (
    Bench,
    CheckOfValues,
    Drawing,
    DrawingPhoto,
    DrawingState,
    Drying,
    LogEntry,
    Pick,
    Prepared,
    Recipe,
    Reference,
    Section,
    SectionMap,
    Sitting,
    StepMark,
    TrayPencil,
)

LONGEST_NAME = 80
# What the bench holds of a drawing, what rests on others first.
_AT_BENCH = (DrawingPhoto, CheckOfValues, LogEntry, Drying, StepMark, Prepared, Bench, Sitting)


@dataclass(frozen=True)
class DrawingAs:
    """All that can be said of a drawing."""

    name: str
    paper_id: int
    width_mm: float
    height_mm: float
    closest: Closest
    for_sale: bool
    black: Blacks
    solvent: bool
    work_order: WorkOrder
    notes: str = ""


def begin_drawing(collection: Collection, wanted: DrawingAs) -> tuple[int, Changed]:
    """A new drawing, at hand from now on. Raises NotFoundError for its paper, RefusedError."""
    with writing(collection, f"Drawing “{wanted.name.strip()}” begun") as session:
        drawing = _begin(session, _values(session, wanted, None))
        write_setting(session, AT_HAND, str(drawing.id))
        return drawing.id, changed(session)


def begin_from_file(session: Session, wanted: DrawingAs, begun_on: date) -> Drawing:
    """A drawing that was begun elsewhere, under a free name where its own is taken. Raises RefusedError."""
    taken = session.scalar(select(Drawing.id).where(Drawing.name == " ".join(wanted.name.split()))) is not None
    said = replace(wanted, name=_free_name(session, wanted.name)) if taken else wanted
    drawing = _begin(session, _values(session, said, None))
    drawing.begun_on = begun_on
    return drawing


def edit_drawing(collection: Collection, drawing_id: int, revision: int, wanted: DrawingAs) -> Changed | None:
    """Say anew all of a drawing. Raises NotFoundError, RefusedError, ChangedMeanwhileError with both versions."""
    with writing(collection, f"Drawing “{wanted.name.strip()}” changed") as session:
        drawing = find_drawing(session, drawing_id)
        revise(drawing, revision, _values(session, wanted, drawing_id), f"The drawing {drawing.name}")
        made = changed(session)
        return made if made.rows else None


def choose_drawing(collection: Collection, drawing_id: int | None) -> Changed | None:
    """Work on this drawing from now on, or on none; paper, closest and tray follow. Raises NotFoundError."""
    with writing(collection, "Drawing at hand", kind="setting") as session:
        if drawing_id is None:
            _keep_paper_and_closest(session)
        else:
            drawing = find_drawing(session, drawing_id)
            if drawing.state is DrawingState.ARCHIVED:
                raise RefusedError(f"“{drawing.name}” is put away. Take it out again first.")
        write_setting(session, AT_HAND, "" if drawing_id is None else str(drawing_id))
        made = changed(session)
        return made if made.rows else None


def copy_drawing(collection: Collection, drawing_id: int) -> tuple[int, Changed]:
    """The same again: what is said of it and its tray, without pictures and recipes. Raises NotFoundError."""
    with writing(collection, "Drawing copied") as session:
        old = find_drawing(session, drawing_id)
        drawing = _begin(session, {**asdict(said_of(old)), "name": _free_name(session, old.name)})
        for row in session.scalars(select(TrayPencil).where(TrayPencil.drawing_id == old.id).order_by(TrayPencil.id)):
            session.add(TrayPencil(drawing_id=drawing.id, colour_id=row.colour_id))
        relabel(session, f"Drawing “{drawing.name}” begun")
        return drawing.id, changed(session)


def put_away(collection: Collection, drawing_id: int, away: bool) -> Changed | None:
    """Put a drawing away with all that belongs to it, or take it out again. Raises NotFoundError."""
    with writing(collection, "Drawing") as session:
        drawing = find_drawing(session, drawing_id)
        relabel(session, f"Drawing “{drawing.name}” {'put away' if away else 'taken out again'}")
        if away:
            _let_go(session, drawing)
        drawing.state = DrawingState.ARCHIVED if away else DrawingState.AT_WORK
        made = changed(session)
        return made if made.rows else None


def remove_drawing(collection: Collection, drawing_id: int) -> Changed:
    """Remove a drawing with its references, picks, tray, sittings and log; its recipes stay and belong to none. Undo
    brings it back.

    Raises NotFoundError.
    """
    with writing(collection, "Drawing removed") as session:
        drawing = find_drawing(session, drawing_id)
        relabel(session, f"Drawing “{drawing.name}” removed")
        _let_go(session, drawing)
        for recipe in session.scalars(select(Recipe).where(Recipe.drawing_id == drawing_id)):
            recipe.drawing_id = recipe.reference_id = None
        references = session.scalars(select(Reference).where(Reference.drawing_id == drawing_id)).all()
        picks = session.scalars(select(Pick).where(Pick.reference_id.in_([r.id for r in references]))).all()
        tray = session.scalars(select(TrayPencil).where(TrayPencil.drawing_id == drawing_id)).all()
        maps = session.scalars(select(SectionMap).where(SectionMap.drawing_id == drawing_id)).all()
        sections = session.scalars(select(Section).where(Section.map_id.in_([m.id for m in maps]))).all()
        # Children first, each by the ORM: what the database removed by itself would not be in the journal.
        bench = [session.scalars(select(each).where(each.drawing_id == drawing_id)).all() for each in _AT_BENCH]
        for rows in (*bench, picks, sections, maps, references, tray, [drawing]):
            for row in rows:
                session.delete(row)
            session.flush()
        return changed(session)


def find_drawing(session: Session, drawing_id: int) -> Drawing:
    """The drawing of this number; raises NotFoundError."""
    drawing = session.get(Drawing, drawing_id)
    if drawing is None:
        raise NotFoundError(f"There is no drawing number {drawing_id}. It may have been removed in another window.")
    return drawing


def said_of(drawing: Drawing) -> DrawingAs:
    """What is said of a drawing."""
    return DrawingAs(
        drawing.name, drawing.paper_id, drawing.width_mm, drawing.height_mm, drawing.closest, drawing.for_sale,
        drawing.black, drawing.solvent, drawing.work_order, drawing.notes,
    )  # fmt: skip


def _free_name(session: Session, name: str) -> str:
    """The name with the first number behind it that makes it another one, cut so that both have room."""
    taken = set(session.scalars(select(Drawing.name)))
    names = (f"{' '.join(name.split())[: LONGEST_NAME - 6]}, {number}" for number in range(2, 10_000))
    return next(free for free in names if free not in taken)


def _begin(session: Session, values: dict[str, object]) -> Drawing:
    last = session.scalar(select(func.max(Drawing.position)))
    drawing = Drawing(position=0 if last is None else last + 1, begun_on=datetime.now(UTC).date(), **values)
    session.add(drawing)
    session.flush()
    return drawing


def _let_go(session: Session, drawing: Drawing) -> None:
    """Where it is at hand, no drawing is from now on; the paper and closest stay."""
    at_hand = drawing_at_hand(session)
    if at_hand is not None and at_hand.id == drawing.id:
        _keep_paper_and_closest(session)
        write_setting(session, AT_HAND, "")


def _keep_paper_and_closest(session: Session) -> None:
    paper = paper_at_hand(session)
    write_setting(session, "closest", closest_at_hand(session))
    if paper is not None:
        write_setting(session, "paper", str(paper.id))


def _values(session: Session, wanted: DrawingAs, own_id: int | None) -> dict[str, object]:
    """The columns for what is wanted, checked."""
    name = " ".join(wanted.name.split())
    if not name:
        raise RefusedError("A drawing needs a name.")
    if len(name) > LONGEST_NAME:
        raise RefusedError(f"A drawing's name has at most {LONGEST_NAME} letters, not {len(name)}.")
    for side, mm in (("wide", wanted.width_mm), ("high", wanted.height_mm)):
        if not SMALLEST_DRAWING_MM <= mm <= LARGEST_DRAWING_MM:
            raise RefusedError(f"A drawing is {SMALLEST_DRAWING_MM} to {LARGEST_DRAWING_MM} mm {side}, not {mm:g}.")
    find_paper(session, wanted.paper_id)
    if session.scalar(select(Drawing.id).where(Drawing.name == name)) not in (None, own_id):
        raise RefusedError(f"There is a drawing called {name} already.")
    return {**asdict(wanted), "name": name}
