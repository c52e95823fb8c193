"""What is to be bought and at what price, how long pencils were, what lies in the light, what an eye answered."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.vocabulary import LONGEST_PENCIL_MM, Drill, FadeHalf, FadePlace, HueRegion, Pressure, Source
from tidy_tinder.storage.models.base import KEEP_IDS, Base, Journaled, Word, lab_bounds, one_of


class Wanted(Journaled):
    """A colour on the list of what to buy. why: in words, as it was then; ticked: it lies in the basket."""

    __tablename__ = "wanted"
    __table_args__ = (
        UniqueConstraint("colour_id"),
        CheckConstraint("pieces BETWEEN 1 AND 99", name="pieces_bounds"),
        KEEP_IDS,
    )

    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"))
    pieces: Mapped[int] = mapped_column(default=1)
    why: Mapped[str] = mapped_column(default="")
    ticked: Mapped[bool] = mapped_column(default=False)


class Price(Journaled):
    """What one pencil of a colour, or any of a range, or a boxed set costs, in the artist's currency."""

    __tablename__ = "price"
    __table_args__ = (
        UniqueConstraint("colour_id"),
        UniqueConstraint("range_id"),
        UniqueConstraint("set_id"),
        CheckConstraint(
            "(colour_id IS NOT NULL) + (range_id IS NOT NULL) + (set_id IS NOT NULL) = 1", name="of_one_thing"
        ),
        CheckConstraint("amount >= 0 AND amount < 1000000", name="amount_bounds"),
        KEEP_IDS,
    )

    colour_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"))
    range_id: Mapped[int | None] = mapped_column(ForeignKey("colour_range.id"))
    set_id: Mapped[int | None] = mapped_column(ForeignKey("boxed_set.id"))
    amount: Mapped[float]


class PencilLength(Journaled):
    """How long a pencil was at a time; two of them tell how fast it wears."""

    __tablename__ = "pencil_length"
    __table_args__ = (
        CheckConstraint(f"length_mm BETWEEN 0 AND {LONGEST_PENCIL_MM}", name="length_bounds"),
        KEEP_IDS,
    )

    pencil_id: Mapped[int] = mapped_column(ForeignKey("pencil.id", ondelete="CASCADE"), index=True)
    measured_at: Mapped[datetime]
    length_mm: Mapped[int]


class FadeTest(Journaled):
    """Marks on one paper, half of each covered, laid into the light. ended_on: None while it lies there."""

    __tablename__ = "fade_test"
    __table_args__ = (one_of("place", FadePlace, "place_known"), KEEP_IDS)

    name: Mapped[str]
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    place: Mapped[FadePlace] = mapped_column(Word(FadePlace))
    begun_on: Mapped[date]
    ended_on: Mapped[date | None]


class FadeMark(Journaled):
    """One mark of a fade test."""

    __tablename__ = "fade_mark"
    __table_args__ = (
        UniqueConstraint("test_id", "colour_id", "pressure"),
        one_of("pressure", Pressure, "pressure_known"),
        KEEP_IDS,
    )

    test_id: Mapped[int] = mapped_column(ForeignKey("fade_test.id", ondelete="CASCADE"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[Pressure] = mapped_column(Word(Pressure))


class FadeReading(Journaled):
    """One half of a mark as it was read. hours: of light by then, None where nobody counted them; blue_wool: the
    highest number of the card beside it that has faded by then, None without a card.
    """

    __tablename__ = "fade_reading"
    __table_args__ = (
        one_of("half", FadeHalf, "half_known"),
        one_of("source", Source, "source_known"),
        lab_bounds(optional=False),
        CheckConstraint("hours IS NULL OR hours BETWEEN 0 AND 1000000", name="hours_bounds"),
        CheckConstraint("blue_wool IS NULL OR blue_wool BETWEEN 0 AND 8", name="blue_wool_bounds"),
        KEEP_IDS,
    )

    mark_id: Mapped[int] = mapped_column(ForeignKey("fade_mark.id", ondelete="CASCADE"), index=True)
    half: Mapped[FadeHalf] = mapped_column(Word(FadeHalf))
    read_on: Mapped[date]
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    source: Mapped[Source] = mapped_column(Word(Source))
    hours: Mapped[float | None]
    blue_wool: Mapped[int | None]


class PracticeAnswer(Base):
    """One question of eye practice and what was answered: a record, neither journaled nor undone. kind, region: of the
    question; asked: all of it, so that it stands again after a reload; level: how far apart what is asked lies; right:
    None while it waits for its answer; error: signed, in the unit of the kind, where there is one.
    """

    __tablename__ = "practice_answer"
    __table_args__ = (one_of("kind", Drill, "kind_known"), one_of("region", HueRegion, "region_known"), KEEP_IDS)

    id: Mapped[int] = mapped_column(primary_key=True)
    asked_at: Mapped[datetime]
    kind: Mapped[Drill] = mapped_column(Word(Drill))
    region: Mapped[HueRegion] = mapped_column(Word(HueRegion))
    level: Mapped[float]
    asked: Mapped[dict[str, Any]] = mapped_column(JSON)
    chosen: Mapped[int | None]
    right: Mapped[bool | None]
    error: Mapped[float | None]
