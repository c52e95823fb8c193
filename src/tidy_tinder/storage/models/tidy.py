"""Ranges with their charts and sets, pencils, papers, the tray, and what the artist set."""

from __future__ import annotations

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from tidy_tinder.core.vocabulary import (
    LONGEST_PENCIL_MM,
    MOST_PAPER_LAYERS,
    SHORTEST_NEW_PENCIL_MM,
    Effect,
    Opacity,
    PencilState,
    PrintedOpacity,
    Tooth,
)
from tidy_tinder.storage.models.base import KEEP_IDS, Journaled, Word, lab_bounds, one_of


class ColourRange(Journaled):
    """One line of pencils of a maker."""

    __tablename__ = "colour_range"
    __table_args__ = (
        UniqueConstraint("maker", "name"),
        CheckConstraint(
            f"new_length_mm BETWEEN {SHORTEST_NEW_PENCIL_MM} AND {LONGEST_PENCIL_MM}", name="new_length_bounds"
        ),
        KEEP_IDS,
    )

    maker: Mapped[str]
    name: Mapped[str]
    feel: Mapped[str] = mapped_column(default="")
    position: Mapped[int]
    new_length_mm: Mapped[int] = mapped_column(default=175)
    # None where nobody has said so.
    holds_point: Mapped[bool | None]
    water_soluble: Mapped[bool | None]
    colours: Mapped[list[Colour]] = relationship(order_by="Colour.position", viewonly=True)


class Colour(Journaled):
    """One entry of a range's chart; range and code are its key."""

    __tablename__ = "colour"
    __table_args__ = (
        UniqueConstraint("range_id", "code"),
        one_of("opacity", (*Opacity, ""), "opacity_known"),
        one_of("effect", Effect, "effect_known"),
        lab_bounds(optional=True),
        KEEP_IDS,
    )

    range_id: Mapped[int] = mapped_column(ForeignKey("colour_range.id"), index=True)
    code: Mapped[str]
    name: Mapped[str]
    position: Mapped[int]
    lab_L: Mapped[float | None]
    lab_a: Mapped[float | None]
    lab_b: Mapped[float | None]
    chart_source: Mapped[str] = mapped_column(default="")
    opacity: Mapped[PrintedOpacity] = mapped_column(Word(Opacity), default="")
    lightfastness: Mapped[str] = mapped_column(default="")
    effect: Mapped[Effect] = mapped_column(Word(Effect), default=Effect.ORDINARY)
    range: Mapped[ColourRange] = relationship(viewonly=True)


class BoxedSet(Journaled):
    """A boxed selection of a range."""

    __tablename__ = "boxed_set"
    __table_args__ = (UniqueConstraint("range_id", "name"), KEEP_IDS)

    range_id: Mapped[int] = mapped_column(ForeignKey("colour_range.id"), index=True)
    name: Mapped[str]


class SetColour(Journaled):
    """A colour that a set holds."""

    __tablename__ = "set_colour"
    __table_args__ = (UniqueConstraint("set_id", "colour_id"), KEEP_IDS)

    set_id: Mapped[int] = mapped_column(ForeignKey("boxed_set.id", ondelete="CASCADE"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)


class Pencil(Journaled):
    """One owned stick of a colour."""

    __tablename__ = "pencil"
    __table_args__ = (
        one_of("state", PencilState, "state_known"),
        CheckConstraint(f"length_mm IS NULL OR length_mm BETWEEN 0 AND {LONGEST_PENCIL_MM}", name="length_bounds"),
        KEEP_IDS,
    )

    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"), index=True)
    set_id: Mapped[int | None] = mapped_column(ForeignKey("boxed_set.id"))
    tin: Mapped[str] = mapped_column(default="")
    slot: Mapped[int | None]
    length_mm: Mapped[int | None]
    state: Mapped[PencilState] = mapped_column(Word(PencilState), default=PencilState.IN_USE)
    stamp_readable: Mapped[bool] = mapped_column(default=True)
    notes: Mapped[str] = mapped_column(default="")


class Paper(Journaled):
    """A surface that is drawn on."""

    __tablename__ = "paper"
    __table_args__ = (
        UniqueConstraint("name"),
        one_of("tooth", Tooth, "tooth_known"),
        lab_bounds(optional=False),
        CheckConstraint(f"most_layers BETWEEN 1 AND {MOST_PAPER_LAYERS}", name="layers_bounds"),
        KEEP_IDS,
    )

    name: Mapped[str]
    mill: Mapped[str] = mapped_column(default="")
    kind: Mapped[str] = mapped_column(default="")
    position: Mapped[int]
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    tooth: Mapped[Tooth] = mapped_column(Word(Tooth), default=Tooth.MEDIUM)
    most_layers: Mapped[int] = mapped_column(default=8)
    absorbent: Mapped[bool] = mapped_column(default=False)
    stands_solvent: Mapped[bool] = mapped_column(default=True)
    notes: Mapped[str] = mapped_column(default="")
    copied_from_id: Mapped[int | None] = mapped_column(ForeignKey("paper.id"))


class TrayPencil(Journaled):
    """A colour that is pulled out for a drawing, or for none."""

    __tablename__ = "tray_pencil"
    __table_args__ = (UniqueConstraint("drawing_id", "colour_id"), KEEP_IDS)

    drawing_id: Mapped[int | None] = mapped_column(ForeignKey("drawing.id"), index=True)
    colour_id: Mapped[int] = mapped_column(ForeignKey("colour.id"))


class Setting(Journaled):
    """What the artist set: one row a name."""

    __tablename__ = "setting"
    __table_args__ = (UniqueConstraint("name"), KEEP_IDS)

    name: Mapped[str]
    value: Mapped[str]
