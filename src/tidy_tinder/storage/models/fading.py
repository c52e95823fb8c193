"""Fade tests: strips in the light, their marks, the days on which they were read, and what each half was read as."""

from __future__ import annotations

from datetime import date
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.fading.classes import WOOLS
from tidy_tinder.core.vocabulary import MARK_PRESSURES, FadeHalf, FadePlace, Pressure, Source
from tidy_tinder.storage.models.base import KEEP_IDS, Journaled, Word, lab_bounds, one_of

MOST_LIGHT_HOURS = 100_000


class FadeStrip(Journaled):
    """A strip of a paper with marks, half of each covered, that lies in the light from a day on; over: it lies there no
    longer, and nobody is reminded of it.
    """

    __tablename__ = "fade_strip"
    __table_args__ = (UniqueConstraint("name"), one_of("place", FadePlace, "place_known"), KEEP_IDS)

    name: Mapped[str]
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    place: Mapped[FadePlace] = mapped_column(Word(FadePlace))
    begun_on: Mapped[date]
    over: Mapped[bool] = mapped_column(default=False)
    notes: Mapped[str] = mapped_column(default="")


class FadeMark(Journaled):
    """A mark on a strip."""

    __tablename__ = "fade_mark"
    __table_args__ = (
        UniqueConstraint("strip_id", "colour_id", "pressure"),
        one_of("pressure", MARK_PRESSURES, "pressure_known"),
        KEEP_IDS,
    )

    strip_id: Mapped[int] = mapped_column(ForeignKey("fade_strip.id", ondelete="CASCADE"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[Pressure] = mapped_column(Word(Pressure))
    position: Mapped[int]


class FadeLook(Journaled):
    """A day on which a strip was read. light_hours: of light until then, where somebody counted; wool: the highest blue
    wool beside it that had faded by then.
    """

    __tablename__ = "fade_look"
    __table_args__ = (
        UniqueConstraint("strip_id", "read_on"),
        CheckConstraint(
            f"light_hours IS NULL OR light_hours BETWEEN 0 AND {MOST_LIGHT_HOURS}", name="light_hours_bounds"
        ),
        CheckConstraint(f"wool IS NULL OR wool BETWEEN 1 AND {WOOLS}", name="wool_bounds"),
        KEEP_IDS,
    )

    strip_id: Mapped[int] = mapped_column(ForeignKey("fade_strip.id", ondelete="CASCADE"), index=True)
    read_on: Mapped[date]
    light_hours: Mapped[float | None]
    wool: Mapped[int | None]


class FadeReading(Journaled):
    """One half of a mark as it was read on a day. doubt: how far it may be off by what is known of this reading alone,
    one standard deviation; None where that is its source's own.
    """

    __tablename__ = "fade_reading"
    __table_args__ = (
        UniqueConstraint("look_id", "mark_id", "half"),
        one_of("half", FadeHalf, "half_known"),
        one_of("source", Source, "source_known"),
        lab_bounds(optional=False),
        KEEP_IDS,
    )

    look_id: Mapped[int] = mapped_column(ForeignKey("fade_look.id", ondelete="CASCADE"), index=True)
    mark_id: Mapped[int] = mapped_column(ForeignKey("fade_mark.id", ondelete="CASCADE"), index=True)
    half: Mapped[FadeHalf] = mapped_column(Word(FadeHalf))
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    source: Mapped[Source] = mapped_column(Word(Source))
    doubt: Mapped[float | None]


class FadeResult(Journaled):
    """What the own tests of a colour have read last: for each of its marks the classes that it may mean and the highest
    blue wool that had faded, as JSON [[classes, wool], …]. What that is held to show depends on the chart as it is now.
    """

    __tablename__ = "fade_result"
    __table_args__ = (UniqueConstraint("colour_id"), KEEP_IDS)

    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"))
    read: Mapped[list[Any]] = mapped_column(JSON)
