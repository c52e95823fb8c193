"""Eye practice: rounds with the question at hand, and every answer."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.practice.drills import Drill
from tidy_tinder.storage.models.base import KEEP_IDS, Base, Word, one_of


class PracticeRound(Base):
    """A round of questions. It is not journaled: an answer is not taken back. drills: the kinds that are asked;
    paper_id: whose marks are shown; seed: where its chance comes from; asked: questions so far; question: the one at
    hand with its answer, as JSON; ended_at: none while it goes on.
    """

    __tablename__ = "practice_round"
    __table_args__ = (CheckConstraint("asked >= 0", name="not_negative"), KEEP_IDS)

    id: Mapped[int] = mapped_column(primary_key=True)
    begun_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    drills: Mapped[list[str]] = mapped_column(JSON)
    paper_id: Mapped[int]
    seed: Mapped[int]
    asked: Mapped[int] = mapped_column(default=0)
    question: Mapped[dict[str, Any] | None] = mapped_column(JSON)


class PracticeAnswer(Base):
    """One answer. level: how hard it was, in the drill's own unit; region: the hue that it was about; other: that of
    the second colour, "" where there was one alone; signed: first less second, or named less true; first: whether the
    first was said to be lighter or warmer.
    """

    __tablename__ = "practice_answer"
    __table_args__ = (one_of("drill", Drill, "drill_known"), KEEP_IDS)

    id: Mapped[int] = mapped_column(primary_key=True)
    round_id: Mapped[int] = mapped_column(ForeignKey("practice_round.id", ondelete="CASCADE"), index=True)
    made_at: Mapped[datetime]
    drill: Mapped[Drill] = mapped_column(Word(Drill))
    level: Mapped[float]
    right: Mapped[bool]
    region: Mapped[str] = mapped_column(default="")
    other: Mapped[str] = mapped_column(default="")
    signed: Mapped[float | None]
    first: Mapped[bool | None]
