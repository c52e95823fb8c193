"""The context that holds everywhere: the papers, the one at hand, what closest means, what waits where."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.fading.reminding import next_reading
from tidy_tinder.core.vocabulary import Lead, PencilState, Tooth
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import AtHand, at_hand_now
from tidy_tinder.services.collection.at_work import (
    closest_at_hand,
    drawing_at_hand,
    paper_at_hand,
    papers_in_order,
)
from tidy_tinder.services.collection.chart import charted_colours
from tidy_tinder.services.collection.paper import paper_lab
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.preferences import read_setting, rest_after
from tidy_tinder.services.journal import (
    BEGINNING,
    PastChange,
    collection_version,
    now,
    past_changes,
    undoable,
    writing,
)
from tidy_tinder.storage.models import (
    Drawing,
    DrawingPhoto,
    DrawingState,
    FadeLook,
    FadeStrip,
    ItemState,
    Paper,
    Recipe,
    SessionItem,
    SessionState,
    SwatchSession,
    Wanted,
)
from tidy_tinder.storage.queries.colours import PencilRow, pencils_by_colour

# L* 96 with a trace of yellow: an ordinary white drawing paper (common practice, no source).
_FIRST_PAPER_LAB = (96.0, -0.3, 1.5)


@dataclass(frozen=True)
class PaperView:
    """A paper with its own colour as a patch."""

    id: int
    name: str
    kind: str
    tooth: Tooth
    colour: Patch


@dataclass(frozen=True)
class DrawingAtHand:
    """The drawing that the context follows."""

    id: int
    name: str
    width_mm: float
    height_mm: float


@dataclass(frozen=True)
class Context:
    """What the shell shows: papers in order, the one at hand, closest, counts for the rail.

    newest: what was done last, be it the taking back of something; last: what undo would take back now.
    """

    version: int
    last: PastChange | None
    newest: PastChange | None
    papers: tuple[PaperView, ...]
    paper_id: int
    closest: Closest
    drawing: DrawingAtHand | None
    drawings: int
    owned: int
    charted: int
    recipes: int
    waiting_marks: int
    stub_mm: int
    rest_minutes: int
    listed: int
    waiting_photos: int
    strips_due: int
    leads: Lead
    travel: tuple[str, ...]
    with_me: bool


def begin_collection(collection: Collection) -> None:
    """Give a new collection its one white paper; does nothing where there is a paper."""
    with collection() as session:
        if session.scalar(select(Paper.id).limit(1)) is not None:
            return
    with writing(collection, "New collection", kind=BEGINNING) as session:
        L, a, b = _FIRST_PAPER_LAB
        kind = "ordinary white drawing paper"
        session.add(Paper(name="White paper", kind=kind, position=0, lab_L=L, lab_a=a, lab_b=b))


def context(collection: Collection) -> Context:
    """The collection's context as it is now."""
    with collection() as session:
        papers, paper = papers_in_order(session), paper_at_hand(session)
        assert paper is not None, "a collection always has a paper"
        owned, hand = pencils_by_colour(session), at_hand_now(session)
        waiting = (
            select(func.count(SessionItem.id))
            .join(SwatchSession, SessionItem.session_id == SwatchSession.id)
            .where(SwatchSession.state == SessionState.OPEN, SessionItem.state == ItemState.WAITING)
        )
        return Context(
            version=collection_version(session),
            last=undoable(session),
            newest=next(iter(past_changes(session, 1)), None),
            papers=tuple(PaperView(p.id, p.name, p.kind, p.tooth, patch(paper_lab(p))) for p in papers),
            paper_id=paper.id,
            closest=closest_at_hand(session),
            drawing=_at_hand(drawing_at_hand(session)),
            drawings=session.scalar(_at_work_count()) or 0,
            owned=sum(_counts(pencils, hand) for pencils in owned.values()),
            charted=len(charted_colours(session)),
            recipes=session.scalar(select(func.count(Recipe.id))) or 0,
            waiting_marks=session.scalar(waiting) or 0,
            stub_mm=hand.stub_mm,
            rest_minutes=rest_after(session),
            waiting_photos=session.scalar(select(func.count(DrawingPhoto.id))) or 0,
            strips_due=_strips_due(session),
            listed=session.scalar(select(func.count(Wanted.id))) or 0,
            leads=Lead(read_setting(session, "leads", Lead.CODE)),
            travel=tuple(sorted(hand.travel)),
            with_me=hand.with_me,
        )


def _strips_due(session: Session) -> int:
    """How many fade tests it is time to read again."""
    strips = session.execute(
        select(FadeStrip.begun_on, func.max(FadeLook.read_on))
        .outerjoin(FadeLook, FadeLook.strip_id == FadeStrip.id)
        .where(FadeStrip.over.is_(False))
        .group_by(FadeStrip.id)
    ).all()
    due = 0
    for begun_on, last in strips:
        days = next_reading(None if last is None else (last - begun_on).days)
        due += days is not None and begun_on + timedelta(days=days) <= now().date()
    return due


def _at_hand(drawing: Drawing | None) -> DrawingAtHand | None:
    if drawing is None:
        return None
    return DrawingAtHand(drawing.id, drawing.name, drawing.width_mm, drawing.height_mm)


def _at_work_count() -> Select[int]:
    return select(func.count(Drawing.id)).where(Drawing.state == DrawingState.AT_WORK)


def _counts(pencils: Sequence[PencilRow], hand: AtHand) -> bool:
    """Whether a colour counts as owned: a pencil of it is kept, and with her while only that counts."""
    return any(p.state != PencilState.USED_UP and (not hand.with_me or hand.carries(p)) for p in pencils)


def changes(collection: Collection) -> tuple[PastChange, ...]:
    """The newest changes, each with its undo."""
    with collection() as session:
        return past_changes(session)
