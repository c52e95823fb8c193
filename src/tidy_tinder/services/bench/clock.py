"""The clock of a sitting: it runs while something happens, and stands still after ten minutes without anything.

What is kept are the times at which something happened, never a count that runs: so it is right after a restart, a
browser that slept for a night, and a clock that was set back.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.rows import bench_of, open_sitting, sitting_now, stand
from tidy_tinder.services.collection.preferences import rest_after
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, unjournaled, writing
from tidy_tinder.storage.models import WHOLE, DrawingState, Drying, DryingState, Sitting, SittingClock, SittingTime

IDLE_SECONDS = 600.0
"""So long without a key, a tap or a timer, and the clock stands still."""
# A timer keeps the clock running for so long: what takes longer dries by itself.
_TIMER_KEEPS = timedelta(minutes=45)


@dataclass(frozen=True)
class ClockView:
    """The clock of a sitting at a moment: seconds that count, whether it runs, seconds that may be counted after all,
    and whether a rest is due.
    """

    sitting_id: int
    begun_at: datetime
    seconds: float
    running: bool
    not_counted: int
    rest: bool


def begin_sitting(collection: Collection, drawing_id: int) -> Changed | None:
    """Begin a sitting at a drawing; one that goes on goes on. Raises NotFoundError, RefusedError for one put away."""
    stand(collection, drawing_id)
    at = now()
    with writing(collection, "Sitting begun") as session:
        drawing = find_drawing(session, drawing_id)
        if open_sitting(session, drawing_id) is not None:
            return None
        if drawing.state is DrawingState.ARCHIVED:
            raise RefusedError(f"“{drawing.name}” is put away. Take it out again first.")
        bench = bench_of(session, drawing_id)
        sitting = Sitting(drawing_id=drawing_id, recipe_id=bench.recipe_id if bench else None, begun_at=at)
        session.add(sitting)
        session.flush()
        _clock(session, sitting, at)
        relabel(session, f"Sitting at “{drawing.name}” begun")
        return changed(session)


def end_sitting(collection: Collection, drawing_id: int) -> Changed:
    """End the sitting that goes on; undo lets it go on. Raises RefusedError where there is none."""
    alive(collection, drawing_id)
    with writing(collection, "Sitting ended") as session:
        sitting = sitting_now(session, drawing_id)
        sitting.ended_at = now()
        return changed(session)


def alive(collection: Collection, drawing_id: int) -> None:
    """Something happened at the bench: count the time since something last did, and run. Does nothing without a
    sitting.
    """
    with unjournaled(collection) as session:
        sitting = open_sitting(session, drawing_id)
        if sitting is not None:
            _count(session, sitting, now())
            clock = _clock(session, sitting, now())
            if not clock.running:
                clock.running, clock.since, clock.last_at = True, now(), now()


def pause(collection: Collection, drawing_id: int) -> None:
    """Let the clock stand still. Raises RefusedError where no sitting goes on."""
    with unjournaled(collection) as session:
        sitting = sitting_now(session, drawing_id)
        _count(session, sitting, now())
        _clock(session, sitting, now()).running = False


def give_back(collection: Collection, drawing_id: int) -> None:
    """Count the minutes that the clock let pass before it stood still. Raises RefusedError where there are none."""
    with unjournaled(collection) as session:
        sitting = sitting_now(session, drawing_id)
        _count(session, sitting, now())
        clock = _clock(session, sitting, now())
        if not clock.not_counted:
            raise RefusedError("There are no minutes to give back: the clock has counted all of them.")
        _add(session, sitting, clock.not_counted)
        clock.not_counted = 0


def clock_of(session: Session, sitting: Sitting, at: datetime) -> ClockView:
    """The clock as it is at a moment; nothing is written."""
    clock = session.get(SittingClock, sitting.id)
    if clock is None:
        return ClockView(sitting.id, sitting.begun_at, 0.0, False, 0, False)
    seconds = session.scalar(select(func.sum(SittingTime.seconds)).where(SittingTime.sitting_id == sitting.id)) or 0.0
    gap = max((at - clock.last_at).total_seconds(), 0.0)
    runs = clock.running and (gap <= IDLE_SECONDS or _a_timer_runs(session, sitting, at))
    stood, rest = clock.running and not runs, rest_after(session)
    return ClockView(
        sitting_id=sitting.id,
        begun_at=sitting.begun_at,
        seconds=seconds + (gap if runs else 0.0),
        running=runs,
        not_counted=clock.not_counted + (int(IDLE_SECONDS) if stood else 0),
        rest=runs and 0 < rest <= (at - clock.since).total_seconds() / 60.0,
    )


def minutes_in_all(session: Session, drawing_id: int, at: datetime) -> float:
    """Minutes that count of all sittings of a drawing, at a moment."""
    counted = (
        select(func.sum(SittingTime.seconds))
        .join(Sitting, SittingTime.sitting_id == Sitting.id)
        .where(Sitting.drawing_id == drawing_id)
    )
    going = open_sitting(session, drawing_id)
    kept = select(func.sum(SittingTime.seconds)).where(SittingTime.sitting_id == (going.id if going else 0))
    running = clock_of(session, going, at).seconds - (session.scalar(kept) or 0.0) if going else 0.0
    return ((session.scalar(counted) or 0.0) + running) / 60.0


def _clock(session: Session, sitting: Sitting, at: datetime) -> SittingClock:
    """The clock of a sitting, which runs from the first time that it is asked for."""
    clock = session.get(SittingClock, sitting.id)
    if clock is None:
        clock = SittingClock(sitting_id=sitting.id, running=True, last_at=at, since=at, not_counted=0)
        session.add(clock)
        session.flush()
    return clock


def _count(session: Session, sitting: Sitting, at: datetime) -> None:
    """Count up to a moment where the clock ran, and let it stand still where nothing happened for too long."""
    clock = _clock(session, sitting, at)
    gap = (at - clock.last_at).total_seconds()
    clock.last_at = at
    if gap <= 0.0 or not clock.running:
        return  # set back, or it stood still
    if gap <= IDLE_SECONDS or _a_timer_runs(session, sitting, at):
        _add(session, sitting, gap)
    else:
        clock.running, clock.not_counted = False, clock.not_counted + int(IDLE_SECONDS)


def _add(session: Session, sitting: Sitting, seconds: float) -> None:
    """Count seconds at the step and in the section that are at hand."""
    bench = bench_of(session, sitting.drawing_id)
    step, section = (bench.step_id or 0, bench.section_id) if bench else (0, WHOLE)
    here = (SittingTime.sitting_id == sitting.id, SittingTime.step_id == step, SittingTime.section_id == section)
    row = session.scalar(select(SittingTime).where(*here))
    if row is None:
        row = SittingTime(sitting_id=sitting.id, step_id=step, section_id=section, seconds=0.0)
        session.add(row)
    row.seconds += seconds
    session.flush()


def _a_timer_runs(session: Session, sitting: Sitting, at: datetime) -> bool:
    wet = (Drying.drawing_id == sitting.drawing_id, Drying.state == DryingState.WET)
    return session.scalar(select(Drying.id).where(*wet, Drying.begun_at > at - _TIMER_KEEPS).limit(1)) is not None
