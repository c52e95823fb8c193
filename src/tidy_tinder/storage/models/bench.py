"""The bench: sittings and their clock, the log, what dries, what became of each step, what is prepared.

The log outlives what it was done along: steps, calls and sections that it names may be rewritten or parted anew, so it
holds their numbers without a foreign key. A number is never given twice (KEEP_IDS).
"""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.vocabulary import MOST_LAYERS, LogKind, Pressure, SaidPressure, StepState, Wetting
from tidy_tinder.storage.models.base import KEEP_IDS, Base, Journaled, Word, one_of
from tidy_tinder.storage.models.states import DryingState

WHOLE = 0
"""The section of a drawing that has none."""


class Bench(Journaled):
    """Where the work on a drawing stands: the recipe it goes along (none as one goes), the step, the section.

    by_sections: all steps in one section, then the next; else one step through all sections.
    """

    __tablename__ = "bench"
    __table_args__ = (UniqueConstraint("drawing_id"), KEEP_IDS)

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"))
    recipe_id: Mapped[int | None]
    step_id: Mapped[int | None]
    section_id: Mapped[int] = mapped_column(default=WHOLE)
    by_sections: Mapped[bool] = mapped_column(default=False)


class Sitting(Journaled):
    """One sitting at a drawing; ended_at: None while it goes on."""

    __tablename__ = "sitting"
    __table_args__ = (KEEP_IDS,)

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    recipe_id: Mapped[int | None]
    begun_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]


class SittingClock(Base):
    """The clock of a sitting: neither journaled nor undone; it outlives a sitting that was taken back or removed with
    its drawing, so that undo finds it. last_at: when something happened last, up to which time is
    counted; since: when it began to run without a rest; not_counted: seconds that it let pass and may be given back.
    """

    __tablename__ = "sitting_clock"
    __table_args__ = (CheckConstraint("not_counted >= 0", name="not_negative"),)

    sitting_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    running: Mapped[bool]
    last_at: Mapped[datetime]
    since: Mapped[datetime]
    not_counted: Mapped[int] = mapped_column(default=0)


class SittingTime(Base):
    """Seconds of a sitting at one step in one section (0: none): neither journaled nor undone, as its clock."""

    __tablename__ = "sitting_time"
    __table_args__ = (
        UniqueConstraint("sitting_id", "step_id", "section_id"),
        CheckConstraint("seconds >= 0", name="not_negative"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    sitting_id: Mapped[int]
    step_id: Mapped[int] = mapped_column(default=0)
    section_id: Mapped[int] = mapped_column(default=WHOLE)
    seconds: Mapped[float] = mapped_column(default=0.0)


class StepMark(Journaled):
    """What became of a step in a section; to do where there is no row."""

    __tablename__ = "step_mark"
    __table_args__ = (
        UniqueConstraint("drawing_id", "step_id", "section_id"),
        one_of("state", StepState, "state_known"),
        KEEP_IDS,
    )

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    step_id: Mapped[int]
    section_id: Mapped[int] = mapped_column(default=WHOLE)
    state: Mapped[StepState] = mapped_column(Word(StepState))


class LogEntry(Journaled):
    """One line of the log. key: made by who sends it, so that what is sent twice is kept once; call_id: of the step's
    call whose layer was ticked; instead_of_id: the colour in whose place it was used; layers: 0 where nobody said.
    """

    __tablename__ = "log_entry"
    __table_args__ = (
        UniqueConstraint("key"),
        one_of("kind", LogKind, "kind_known"),
        one_of("pressure", (*Pressure, ""), "pressure_known"),
        CheckConstraint(f"layers BETWEEN 0 AND {MOST_LAYERS}", name="layers_bounds"),
        CheckConstraint("(kind = 'pencil') = (colour_id IS NOT NULL)", name="pencil_has_colour"),
        KEEP_IDS,
    )

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    sitting_id: Mapped[int | None] = mapped_column(ForeignKey("sitting.id"), index=True)
    key: Mapped[str]
    made_at: Mapped[datetime]
    kind: Mapped[LogKind] = mapped_column(Word(LogKind))
    colour_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    instead_of_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    step_id: Mapped[int | None]
    section_id: Mapped[int] = mapped_column(default=WHOLE)
    call_id: Mapped[int | None]
    area: Mapped[str] = mapped_column(default="")
    pressure: Mapped[SaidPressure] = mapped_column(Word(Pressure), default="")
    layers: Mapped[int] = mapped_column(default=0)
    note: Mapped[str] = mapped_column(default="")


class Drying(Journaled):
    """A section that was wetted, and what was said of it. first_passes: of solvent, wash or fixative there; ended_at:
    when that was said, None while it dries.
    """

    __tablename__ = "drying"
    __table_args__ = (
        one_of("wetting", Wetting, "wetting_known"),
        one_of("state", DryingState, "state_known"),
        CheckConstraint("(state = 'wet') = (ended_at IS NULL)", name="ended_is_said"),
        KEEP_IDS,
    )

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    section_id: Mapped[int] = mapped_column(default=WHOLE)
    wetting: Mapped[Wetting] = mapped_column(Word(Wetting))
    first_passes: Mapped[bool]
    begun_at: Mapped[datetime]
    state: Mapped[DryingState] = mapped_column(Word(DryingState), default=DryingState.WET)
    ended_at: Mapped[datetime | None]


class Prepared(Journaled):
    """A line of the preparation that is ticked for a drawing; task: its name, or “own” and the number of an own one."""

    __tablename__ = "prepared"
    __table_args__ = (UniqueConstraint("drawing_id", "task"), KEEP_IDS)

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    task: Mapped[str]


class OwnTask(Journaled):
    """A line that the artist added to the preparation, of this drawing and of all that come."""

    __tablename__ = "own_task"
    __table_args__ = (KEEP_IDS,)

    words: Mapped[str]


class CheckOfValues(Journaled):
    """A photo of the drawing laid on a reference: what it said. reference_id: of the picture, which may be gone by now;
    told: the regions and zones as they were told, as JSON.
    """

    __tablename__ = "check_of_values"
    __table_args__ = (KEEP_IDS,)

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    reference_id: Mapped[int]
    made_at: Mapped[datetime]
    name: Mapped[str]
    told: Mapped[dict[str, Any]] = mapped_column(JSON)


class CheckPicture(Base):
    """The drawing as the photo shows it, flat and in even light (PNG): neither journaled nor undone; it outlives its
    check, so that undo finds it.
    """

    __tablename__ = "check_picture"

    check_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    content: Mapped[bytes] = mapped_column(deferred=True)


class DrawingPhoto(Journaled):
    """A photo of a drawing that waits for its values to be checked."""

    __tablename__ = "drawing_photo"
    __table_args__ = (KEEP_IDS,)

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    sent_at: Mapped[datetime]


class DrawingPhotoPicture(Base):
    """The picture of such a photo: neither journaled nor undone; it outlives its photo, so that undo finds it.

    working: upright, PNG in the file's own channels; curve, matrix, profile: what its numbers stand for.
    """

    __tablename__ = "drawing_photo_picture"

    photo_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    working: Mapped[bytes] = mapped_column(deferred=True)
    curve: Mapped[list[Any]] = mapped_column(JSON)
    matrix: Mapped[list[Any]] = mapped_column(JSON)
    profile: Mapped[str]
