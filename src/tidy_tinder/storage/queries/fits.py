"""What fitting reads and keeps: the dry marks that count, fits by their fingerprint, jobs."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import case, delete, func, insert, select, update
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import Effect, Finish, Ground, Pressure, Source
from tidy_tinder.storage.models import Colour, FittingJob, JobState, PencilFitted, Swatch
from tidy_tinder.storage.queries.swatches import WORST_FIRST

# SQLite takes some thousand values in one statement.
_AT_ONCE = 500


@dataclass(frozen=True)
class DryMark:
    """One making of a dry mark of an ordinary colour."""

    swatch_id: int
    colour_id: int
    paper_id: int
    pressure: Pressure
    layers: int
    over: Ground
    lab: tuple[float, float, float]
    spectrum: list[float] | None
    source: Source
    doubt: float | None


def dry_marks(session: Session) -> list[DryMark]:
    """Dry marks of every ordinary colour, in a steady order: of each kind the one that counts, and every other that was
    measured as surely, since repeated makings tell how a hand varies.
    """
    query = (
        select(
            Swatch.id, Swatch.colour_id, Swatch.paper_id, Swatch.pressure, Swatch.layers, Swatch.over, Swatch.lab_L,
            Swatch.lab_a, Swatch.lab_b,
        ).add_columns(Swatch.spectrum, Swatch.source, Swatch.doubt)
        .join(Colour, Swatch.colour_id == Colour.id)
        .where(Swatch.finish == Finish.DRY, Colour.effect == Effect.ORDINARY)
        .order_by(*WORST_FIRST)
    )  # fmt: skip
    makings: dict[tuple[int, int, Pressure, int, Ground], list[DryMark]] = {}
    for id_, colour, paper, pressure, layers, over, L, a, b, spectrum, source, doubt in session.execute(query).all():
        mark = DryMark(id_, colour, paper, pressure, layers, over, (L, a, b), spectrum, source, doubt)
        makings.setdefault((colour, paper, pressure, layers, over), []).append(mark)
    # Rows come worst first, so the one that counts is the last of its kind.
    return [
        mark
        for key in sorted(makings)
        for mark in sorted(makings[key], key=lambda mark: mark.swatch_id)
        if (mark.source, mark.doubt) == (makings[key][-1].source, makings[key][-1].doubt)
    ]


def swatch_count(session: Session) -> int:
    """How many swatches there are, whatever they are of."""
    return session.scalar(select(func.count(Swatch.id))) or 0


def kept_fits(session: Session, fingerprints: Sequence[str]) -> dict[str, Mapping[str, Any]]:
    """The fits that are kept, of those asked for."""
    kept: dict[str, Mapping[str, Any]] = {}
    for start in range(0, len(fingerprints), _AT_ONCE):
        part = fingerprints[start : start + _AT_ONCE]
        query = select(PencilFitted.fingerprint, PencilFitted.fitted).where(PencilFitted.fingerprint.in_(part))
        kept.update((fingerprint, fitted) for fingerprint, fitted in session.execute(query).all())
    return kept


def keep_fits(session: Session, fits: Mapping[str, Mapping[str, Any]]) -> None:
    """Keep new fits."""
    if fits:
        rows = [{"fingerprint": fingerprint, "fitted": fitted} for fingerprint, fitted in fits.items()]
        session.execute(insert(PencilFitted).prefix_with("OR IGNORE"), rows)


def drop_other_fits(session: Session, needed: Iterable[str]) -> None:
    """Forget every fit but those that are needed."""
    kept = set(needed)
    gone = [f for f in session.scalars(select(PencilFitted.fingerprint)) if f not in kept]
    for start in range(0, len(gone), _AT_ONCE):
        session.execute(delete(PencilFitted).where(PencilFitted.fingerprint.in_(gone[start : start + _AT_ONCE])))


def begin_job(session: Session, version: int, total: int) -> tuple[int, bool]:
    """The number of the job for a version, and whether it takes up one that was cut off; others are cancelled."""
    cut_off = session.scalars(select(FittingJob).where(FittingJob.state == JobState.RUNNING)).all()
    mine = None
    for job in cut_off:
        if job.version == version and mine is None:
            mine = job
            job.taken_up += 1
            job.done, job.reused, job.total = 0, 0, total
        else:
            job.state, job.ended_at = JobState.CANCELLED, datetime.now(UTC)
    if mine is None:
        job = FittingJob(version=version, total=total, started_at=datetime.now(UTC))
        session.add(job)
        session.flush()
        return job.id, False
    return mine.id, True


def advance_job(session: Session, job_id: int, done: int, reused: int) -> None:
    """How many pencils a job has fitted, and how many of them were kept from before."""
    values = {"done": case((FittingJob.total < done, FittingJob.total), else_=done), "reused": reused}
    session.execute(update(FittingJob).where(FittingJob.id == job_id).values(**values))


def end_job(session: Session, job_id: int, state: JobState) -> None:
    """A job is done or cancelled."""
    values = {"state": state, "ended_at": datetime.now(UTC)}
    if state is JobState.DONE:
        session.execute(update(FittingJob).where(FittingJob.id == job_id).values(**values, done=FittingJob.total))
    else:
        session.execute(update(FittingJob).where(FittingJob.id == job_id).values(**values))


def newest_jobs(session: Session, limit: int = 10) -> list[FittingJob]:
    """The newest jobs, the newest first."""
    return list(session.scalars(select(FittingJob).order_by(FittingJob.id.desc()).limit(limit)))
