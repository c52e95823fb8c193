"""What every change was, and what is worked out and kept."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from tidy_tinder.storage.models.base import KEEP_IDS, Base, Word, one_of
from tidy_tinder.storage.models.states import JobState


class JournalChange(Base):
    """One change as the artist made it.

    The id of the newest change that is no setting is the collection's version; a change of a setting, such as the
    paper at hand, leaves what was computed from the collection valid. What a collection begins with is not undone.
    """

    __tablename__ = "journal_change"
    __table_args__ = (
        one_of("kind", ("collection", "setting", "beginning"), "kind_known"),
        KEEP_IDS,
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    made_at: Mapped[datetime]
    label: Mapped[str]
    kind: Mapped[str] = mapped_column(default="collection")
    undoes_id: Mapped[int | None] = mapped_column(ForeignKey("journal_change.id"), index=True)
    entries: Mapped[list[JournalEntry]] = relationship(order_by="JournalEntry.position", viewonly=True)


class JournalEntry(Base):
    """What one row was before and after a change; no before for a new row, no after for a removed one."""

    __tablename__ = "journal_entry"
    __table_args__ = (
        UniqueConstraint("change_id", "position"),
        Index("ix_journal_entry_table_name_change_id", "table_name", "change_id"),
        KEEP_IDS,
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    change_id: Mapped[int] = mapped_column(ForeignKey("journal_change.id"), index=True)
    position: Mapped[int]
    table_name: Mapped[str]
    row_id: Mapped[int]
    before: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    after: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))


class PencilFitted(Base):
    """What fitting a pencil to some marks gave: worked out, so neither journaled nor undone.

    fingerprint: of the marks and the class of cover that it was fitted to; the same again has the same answer.
    """

    __tablename__ = "pencil_fitted"
    __table_args__ = (UniqueConstraint("fingerprint"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    fingerprint: Mapped[str]
    fitted: Mapped[dict[str, Any]] = mapped_column(JSON)


class FittingJob(Base):
    """One going over of the whole collection. version: of the marks that it is for; reused: how many of those done
    were kept from before; taken_up: how often a program that began again went on with it.
    """

    __tablename__ = "fitting_job"
    __table_args__ = (
        one_of("state", JobState, "state_known"),
        CheckConstraint("done BETWEEN 0 AND total", name="done_bounds"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int]
    state: Mapped[JobState] = mapped_column(Word(JobState), default=JobState.RUNNING)
    done: Mapped[int] = mapped_column(default=0)
    reused: Mapped[int] = mapped_column(default=0)
    total: Mapped[int]
    taken_up: Mapped[int] = mapped_column(default=0)
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
