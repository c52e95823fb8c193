"""What was wetted and dries: timers that go on without a program, and what they teach of each paper."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.bench.drying import Answer, DryingTime, Said, drying_time
from tidy_tinder.core.vocabulary import LogKind, Wetting
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.rows import check_section, open_sitting, stand, step_here
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, writing
from tidy_tinder.storage.models import Drying, DryingState, LogEntry, Paper

# So many wettings of a section are its first passes.
_FIRST_PASSES = 2
# What is told of a paper rests on the newest of its answers.
_MOST_ANSWERS = 200
_SAID = {DryingState.DRY: Said.DRY, DryingState.DRY_BEFORE: Said.DRY_BEFORE}


@dataclass(frozen=True)
class DryingView:
    """Something that dries, at a moment: minutes since it was wetted, how long it usually takes here (nine of ten lie
    between low and high), from how many times that is known, minutes until it is as likely dry as not, and how likely
    it is dry by now.
    """

    id: int
    section_id: int
    wetting: Wetting
    begun_at: datetime
    minutes: float
    low: float
    high: float
    answers: int
    left: float
    likely: float


def begin_drying(collection: Collection, drawing_id: int, section_id: int, wetting: Wetting, key: str) -> Changed:
    """A section is wet from now on; the log says so too. Raises NotFoundError, RefusedError where it is wet already."""
    stand(collection, drawing_id)
    with writing(collection, "Drying") as session:
        drawing = find_drawing(session, drawing_id)
        check_section(session, drawing_id, section_id)
        here = (Drying.drawing_id == drawing_id, Drying.section_id == section_id)
        before = session.scalars(select(Drying).where(*here)).all()
        if any(one.state is DryingState.WET for one in before):
            raise RefusedError("This section dries already. Say first that it is dry.")
        at = now()
        session.add(
            Drying(
                drawing_id=drawing_id, paper_id=drawing.paper_id, section_id=section_id, wetting=wetting,
                first_passes=len(before) < _FIRST_PASSES, begun_at=at,
            )
        )  # fmt: skip
        sitting, step = open_sitting(session, drawing_id), step_here(session, drawing_id)
        session.add(
            LogEntry(
                drawing_id=drawing_id, sitting_id=sitting.id if sitting else None, key=key, made_at=at,
                kind=LogKind(wetting.value), section_id=section_id, step_id=step.id if step else None,
                area=step.area if step else "",
            )
        )  # fmt: skip
        relabel(session, f"{wetting.capitalize()} on “{drawing.name}”: drying")
        return changed(session)


def say_of_drying(collection: Collection, drying_id: int, state: DryingState) -> Changed | None:
    """It is dry just now, was dry before, or is not to be learned from. Raises NotFoundError, RefusedError."""
    if state is DryingState.WET:
        raise RefusedError("It is wet until you say that it is dry.")
    with writing(collection, "Dry") as session:
        row = session.get(Drying, drying_id)
        if row is None:
            raise NotFoundError(f"There is no timer number {drying_id}. It may have been taken back in another window.")
        if row.state is not DryingState.WET:
            return None  # the other device said so first
        row.state, row.ended_at = state, now()
        relabel(session, "Timer dropped" if state is DryingState.DROPPED else "Said to be dry")
        return changed(session)


def drying_on(session: Session, paper: Paper, wetting: Wetting, first_passes: bool) -> DryingTime:
    """How long it takes on a paper, by what was said of earlier times there."""
    rows = session.scalars(
        select(Drying)
        .where(Drying.paper_id == paper.id, Drying.wetting == wetting, Drying.state.in_(_SAID))
        .order_by(Drying.id.desc())
        .limit(_MOST_ANSWERS)
    ).all()
    answers = [
        Answer(_minutes(row.begun_at, row.ended_at), _SAID[row.state], paper.absorbent and row.first_passes)
        for row in rows
        if row.ended_at is not None
    ]
    return drying_time(answers, paper.absorbent and first_passes)


def dryings_of(session: Session, drawing_id: int, at: datetime) -> tuple[DryingView, ...]:
    """All that dries on a drawing, the oldest first."""
    wet = select(Drying).where(Drying.drawing_id == drawing_id, Drying.state == DryingState.WET)
    return tuple(_view(session, row, at) for row in session.scalars(wet.order_by(Drying.begun_at, Drying.id)))


def _view(session: Session, row: Drying, at: datetime) -> DryingView:
    told = drying_on(session, session.get_one(Paper, row.paper_id), row.wetting, row.first_passes)
    minutes = _minutes(row.begun_at, at)
    return DryingView(
        row.id, row.section_id, row.wetting, row.begun_at, minutes, told.low, told.high, told.answers,
        told.left_after(minutes), told.dry_by(minutes),
    )  # fmt: skip


def _minutes(begun: datetime, at: datetime) -> float:
    """Minutes between two times; none where a clock was set back."""
    return max((at - begun).total_seconds() / 60.0, 0.0)
