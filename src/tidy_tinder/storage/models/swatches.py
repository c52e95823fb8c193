"""Swatches, the sessions that they are read in, scraps with their layers and readings."""

from __future__ import annotations

from datetime import date
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.vocabulary import (
    MARK_PRESSURES,
    MOST_LAYERS,
    Finish,
    Ground,
    Pressure,
    SaidPressure,
    Source,
)
from tidy_tinder.storage.models.base import KEEP_IDS, Journaled, Word, lab_bounds, one_of
from tidy_tinder.storage.models.states import ItemState, SessionState


class Swatch(Journaled):
    """A mark that was made and measured. doubt: standard deviation of its value in L*, a*, b*, where whoever measured
    it says it of this mark; None where only its source tells.
    """

    __tablename__ = "swatch"
    __table_args__ = (
        one_of("pressure", MARK_PRESSURES, "pressure_known"),
        one_of("finish", Finish, "finish_known"),
        one_of("over", Ground, "ground_known"),
        one_of("source", Source, "source_known"),
        lab_bounds(optional=False),
        CheckConstraint(f"layers BETWEEN 1 AND {MOST_LAYERS}", name="layers_bounds"),
        CheckConstraint("averaged_of BETWEEN 1 AND 9", name="averaged_of_bounds"),
        CheckConstraint("burnisher_id IS NULL OR finish = 'burnished'", name="burnisher_burnishes"),
        KEEP_IDS,
    )

    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    pressure: Mapped[Pressure] = mapped_column(Word(Pressure))
    layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[Finish] = mapped_column(Word(Finish), default=Finish.DRY)
    over: Mapped[Ground] = mapped_column(Word(Ground), default=Ground.PAPER)
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    spectrum: Mapped[list[float] | None] = mapped_column(JSON(none_as_null=True))
    spectrum_white: Mapped[str] = mapped_column(default="")
    source: Mapped[Source] = mapped_column(Word(Source))
    instrument: Mapped[str] = mapped_column(default="")
    aperture_mm: Mapped[float | None]
    averaged_of: Mapped[int] = mapped_column(default=1)
    doubt: Mapped[float | None]
    burnisher_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"))
    made_on: Mapped[date]
    note: Mapped[str] = mapped_column(default="")


class SwatchSession(Journaled):
    """A list of marks to be read one after another; it can be left and taken up days later."""

    __tablename__ = "swatch_session"
    __table_args__ = (
        one_of("state", SessionState, "state_known"),
        one_of("finish", Finish, "finish_known"),
        CheckConstraint(f"layers BETWEEN 1 AND {MOST_LAYERS}", name="layers_bounds"),
        CheckConstraint("average_of IN (1, 3)", name="average_of_known"),
        KEEP_IDS,
    )

    title: Mapped[str]
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[Finish] = mapped_column(Word(Finish), default=Finish.DRY)
    burnisher_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"))
    average_of: Mapped[int] = mapped_column(default=1)
    started_on: Mapped[date]
    state: Mapped[SessionState] = mapped_column(Word(SessionState), default=SessionState.OPEN)


class SessionItem(Journaled):
    """One mark of a session. layers: where it has others than the session's; readings: those taken so far; doubt: why
    the last one waits for the artist.
    """

    __tablename__ = "session_item"
    __table_args__ = (
        UniqueConstraint("session_id", "position"),
        one_of("pressure", MARK_PRESSURES, "pressure_known"),
        one_of("over", Ground, "ground_known"),
        one_of("state", ItemState, "state_known"),
        CheckConstraint(f"layers BETWEEN 1 AND {MOST_LAYERS}", name="layers_bounds"),
        KEEP_IDS,
    )

    session_id: Mapped[int] = mapped_column(ForeignKey("swatch_session.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[Pressure] = mapped_column(Word(Pressure))
    layers: Mapped[int | None]
    over: Mapped[Ground] = mapped_column(Word(Ground), default=Ground.PAPER)
    state: Mapped[ItemState] = mapped_column(Word(ItemState), default=ItemState.WAITING)
    swatch_id: Mapped[int | None] = mapped_column(ForeignKey("swatch.id"), index=True)
    readings: Mapped[list[Any]] = mapped_column(JSON, default=list)
    doubt: Mapped[str] = mapped_column(default="")

    def layers_in(self, session: SwatchSession) -> int:
        """How many layers it has in its session."""
        return self.layers or session.layers


class Scrap(Journaled):
    """Layers that were tried on a scrap of a paper: for which colour, and what the artist says of them.

    finish: dry, or solvent over all layers; burnishing is a layer. verdict: words of VERDICTS, none while it waits.
    """

    __tablename__ = "scrap"
    __table_args__ = (
        one_of("finish", (Finish.DRY, Finish.SOLVENT), "finish_known"),
        CheckConstraint(f"wanted_layers BETWEEN 1 AND {MOST_LAYERS}", name="wanted_layers_bounds"),
        one_of("wanted_pressure", (*Pressure, ""), "wanted_pressure_known"),
        KEEP_IDS,
    )

    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    wanted_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    wanted_pressure: Mapped[SaidPressure] = mapped_column(Word(Pressure), default="")
    wanted_layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[Finish] = mapped_column(Word(Finish), default=Finish.DRY)
    verdict: Mapped[list[Any]] = mapped_column(JSON, default=list)
    note: Mapped[str] = mapped_column(default="")
    made_on: Mapped[date]


class ScrapLayer(Journaled):
    """One pencil of a scrap's layers, the lowest at position 0."""

    __tablename__ = "scrap_layer"
    __table_args__ = (
        UniqueConstraint("scrap_id", "position"),
        one_of("pressure", Pressure, "pressure_known"),
        CheckConstraint(f"layers BETWEEN 1 AND {MOST_LAYERS}", name="layers_bounds"),
        KEEP_IDS,
    )

    scrap_id: Mapped[int] = mapped_column(ForeignKey("scrap.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[Pressure] = mapped_column(Word(Pressure))
    layers: Mapped[int] = mapped_column(default=1)


class ScrapReading(Journaled):
    """The layers of a scrap as they were measured, in their order or turned the other way round."""

    __tablename__ = "scrap_reading"
    __table_args__ = (
        UniqueConstraint("scrap_id", "turned"),
        one_of("source", Source, "source_known"),
        lab_bounds(optional=False),
        KEEP_IDS,
    )

    scrap_id: Mapped[int] = mapped_column(ForeignKey("scrap.id", ondelete="CASCADE"), index=True)
    turned: Mapped[bool]
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    spectrum: Mapped[list[float] | None] = mapped_column(JSON(none_as_null=True))
    source: Mapped[Source] = mapped_column(Word(Source))
    instrument: Mapped[str] = mapped_column(default="")
    made_on: Mapped[date]
