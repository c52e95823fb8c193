"""Recipes with their steps and calls, and the stand-ins that were chosen."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import JSON, CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from tidy_tinder.core.vocabulary import (
    MARK_PRESSURES,
    MOST_LAYERS,
    Finish,
    Pressure,
    Purpose,
    Role,
    SaidPressure,
    SaidPurpose,
    SaidRole,
    StepKind,
)
from tidy_tinder.storage.models.base import KEEP_IDS, Journaled, Word, one_of
from tidy_tinder.storage.models.states import CallState


class Recipe(Journaled):
    """A recipe as it was pasted, and how it was read; reference_id: the picture whose picks it was begun with.

    edited_at: when its lines were changed last, None where they stand as they were taken in; checks_off: the checks
    that are switched off for it, as JSON.
    """

    __tablename__ = "recipe"
    __table_args__ = (KEEP_IDS,)

    drawing_id: Mapped[int | None] = mapped_column(ForeignKey("drawing.id"), index=True)
    reference_id: Mapped[int | None] = mapped_column(ForeignKey("reference.id"), index=True)
    title: Mapped[str]
    source_text: Mapped[str]
    position: Mapped[int]
    edited_at: Mapped[datetime | None]
    checks_off: Mapped[list[str]] = mapped_column(JSON, default=list)
    steps: Mapped[list[RecipeStep]] = relationship(order_by="RecipeStep.position", viewonly=True)


class RecipeStep(Journaled):
    """One line of a recipe: a heading, a note, or a step with calls. Its text is kept as written.

    purpose: what the artist says that it is for, "" where its words count; waits: she says that it is left to dry;
    to_look_through: it has words that were not read, and she has not said yet that they name no colour.
    """

    __tablename__ = "recipe_step"
    __table_args__ = (
        UniqueConstraint("recipe_id", "position"),
        one_of("kind", StepKind, "kind_known"),
        one_of("pressure", (*MARK_PRESSURES, ""), "pressure_known"),
        one_of("finish", Finish, "finish_known"),
        one_of("purpose", (*Purpose, ""), "purpose_known"),
        KEEP_IDS,
    )

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipe.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    kind: Mapped[StepKind] = mapped_column(Word(StepKind))
    area: Mapped[str] = mapped_column(default="")
    text: Mapped[str]
    pressure: Mapped[SaidPressure] = mapped_column(Word(Pressure), default="")
    layers: Mapped[int] = mapped_column(default=1)
    finish: Mapped[Finish] = mapped_column(Word(Finish), default=Finish.DRY)
    purpose: Mapped[SaidPurpose] = mapped_column(Word(Purpose), default="")
    waits: Mapped[bool] = mapped_column(default=False)
    to_look_through: Mapped[bool] = mapped_column(default=False)
    calls: Mapped[list[RecipeCall]] = relationship(order_by="RecipeCall.position", viewonly=True)


class RecipeCall(Journaled):
    """One colour that a step asks for; without a colour it is still to be settled by the artist.

    other_colour_id: the second of “A or B”, which serves as well.
    """

    __tablename__ = "recipe_call"
    __table_args__ = (
        UniqueConstraint("step_id", "position"),
        one_of("state", CallState, "state_known"),
        one_of("pressure", (*MARK_PRESSURES, ""), "pressure_known"),
        one_of("role", (*Role, ""), "role_known"),
        CheckConstraint(f"layers BETWEEN 1 AND {MOST_LAYERS}", name="layers_bounds"),
        CheckConstraint("state IN ('unsettled', 'dismissed') OR colour_id IS NOT NULL", name="settled_has_colour"),
        KEEP_IDS,
    )

    step_id: Mapped[int] = mapped_column(ForeignKey("recipe_step.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    as_written: Mapped[str]
    start: Mapped[int]
    colour_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    other_colour_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    state: Mapped[CallState] = mapped_column(Word(CallState))
    problem: Mapped[str] = mapped_column(default="")
    pressure: Mapped[SaidPressure] = mapped_column(Word(Pressure), default="")
    layers: Mapped[int] = mapped_column(default=1)
    role: Mapped[SaidRole] = mapped_column(Word(Role), default="")


class RecipeVersion(Journaled):
    """A recipe as it stood at a time, as its JSON file has it (formats.recipe_json); name: what the artist calls it."""

    __tablename__ = "recipe_version"
    __table_args__ = (KEEP_IDS,)

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipe.id", ondelete="CASCADE"), index=True)
    kept_at: Mapped[datetime]
    name: Mapped[str]
    content: Mapped[str]


class Choice(Journaled):
    """A stand-in that was chosen: it belongs to a recipe, a call and a paper.

    Without a pressure the pencil is laid as the call asks; over_colour_id is the second of two layered pencils. locked:
    a plan leaves it as it is.
    """

    __tablename__ = "choice"
    __table_args__ = (
        UniqueConstraint("call_id", "paper_id"),
        one_of("pressure", (*Pressure, ""), "pressure_known"),
        one_of("over_pressure", (*Pressure, ""), "over_pressure_known"),
        CheckConstraint(
            f"layers BETWEEN 1 AND {MOST_LAYERS} AND over_layers BETWEEN 1 AND {MOST_LAYERS}", name="layers_bounds"
        ),
        CheckConstraint(
            "over_colour_id IS NULL OR (pressure <> '' AND over_pressure <> '')", name="pair_has_pressures"
        ),
        KEEP_IDS,
    )

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipe.id", ondelete="CASCADE"), index=True)
    call_id: Mapped[int] = mapped_column(ForeignKey("recipe_call.id", ondelete="CASCADE"), index=True)
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    pressure: Mapped[SaidPressure] = mapped_column(Word(Pressure), default="")
    layers: Mapped[int] = mapped_column(default=1)
    over_colour_id: Mapped[int | None] = mapped_column(ForeignKey("colour.id"), index=True)
    over_pressure: Mapped[SaidPressure] = mapped_column(Word(Pressure), default="")
    over_layers: Mapped[int] = mapped_column(default=1)
    locked: Mapped[bool] = mapped_column(default=True)


class Exclusion(Journaled):
    """A pencil that a plan does not offer for a call on a paper, because the artist does not want it there."""

    __tablename__ = "exclusion"
    __table_args__ = (UniqueConstraint("call_id", "paper_id", "colour_id"), KEEP_IDS)

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipe.id", ondelete="CASCADE"), index=True)
    call_id: Mapped[int] = mapped_column(ForeignKey("recipe_call.id", ondelete="CASCADE"), index=True)
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
