"""Drawings, the references that they are drawn from, and the colours that were picked in them."""

from __future__ import annotations

from datetime import date
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import LARGEST_DRAWING_MM, SMALLEST_DRAWING_MM, Blacks, WorkOrder
from tidy_tinder.storage.models.base import KEEP_IDS, Base, Journaled, Word, lab_bounds, one_of
from tidy_tinder.storage.models.states import DrawingState, PictureState, SectionKind, SectionState


class Drawing(Journaled):
    """What is worked on: its paper and size, what closest means for it, and how it is to be made."""

    __tablename__ = "drawing"
    __table_args__ = (
        UniqueConstraint("name"),
        one_of("closest", Closest, "closest_known"),
        one_of("black", Blacks, "black_known"),
        one_of("work_order", WorkOrder, "work_order_known"),
        one_of("state", DrawingState, "state_known"),
        CheckConstraint(
            f"width_mm BETWEEN {SMALLEST_DRAWING_MM} AND {LARGEST_DRAWING_MM} "
            f"AND height_mm BETWEEN {SMALLEST_DRAWING_MM} AND {LARGEST_DRAWING_MM}",
            name="size_bounds",
        ),
        KEEP_IDS,
    )

    name: Mapped[str]
    position: Mapped[int]
    paper_id: Mapped[int] = mapped_column(ForeignKey("paper.id"), index=True)
    width_mm: Mapped[float] = mapped_column(default=210.0)
    height_mm: Mapped[float] = mapped_column(default=297.0)
    closest: Mapped[Closest] = mapped_column(Word(Closest), default=Closest.OVERALL)
    for_sale: Mapped[bool] = mapped_column(default=False)
    black: Mapped[Blacks] = mapped_column(Word(Blacks), default=Blacks.ALLOWED)
    solvent: Mapped[bool] = mapped_column(default=False)
    work_order: Mapped[WorkOrder] = mapped_column(Word(WorkOrder), default=WorkOrder.LIGHT_TO_DARK)
    state: Mapped[DrawingState] = mapped_column(Word(DrawingState), default=DrawingState.AT_WORK)
    begun_on: Mapped[date]
    notes: Mapped[str] = mapped_column(default="")


class Reference(Journaled):
    """A picture that is drawn from. name: of the file that it came in; width, height: in pixels, upright, 0 until it is
    opened; steps: what is laid on it when it is shown (core.reference.adjusting), as JSON.
    """

    __tablename__ = "reference"
    __table_args__ = (KEEP_IDS,)

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    position: Mapped[int]
    added_on: Mapped[date]
    steps: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)


class ReferencePicture(Base):
    """The file of a reference as it came, and its working copy: neither journaled nor undone. It outlives a removed
    reference until the program is started anew, so that undo finds it.

    width, height: of the upright file, 0 until it is opened; message: why it is refused; taken_up: how often a program
    that began again went on with it; working: the copy, PNG in the file's own channels; curve, matrix: what its numbers
    stand for (core.reflectance.camera_space); profile: as the file calls it.
    """

    __tablename__ = "reference_picture"
    __table_args__ = (one_of("state", PictureState, "state_known"),)

    reference_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    content: Mapped[bytes] = mapped_column(deferred=True)
    state: Mapped[PictureState] = mapped_column(Word(PictureState), default=PictureState.WAITING)
    message: Mapped[str] = mapped_column(default="")
    taken_up: Mapped[int] = mapped_column(default=0)
    width: Mapped[int] = mapped_column(default=0)
    height: Mapped[int] = mapped_column(default=0)
    working: Mapped[bytes | None] = mapped_column(deferred=True)
    curve: Mapped[list[Any] | None] = mapped_column(JSON(none_as_null=True), deferred=True)
    matrix: Mapped[list[Any] | None] = mapped_column(JSON(none_as_null=True), deferred=True)
    profile: Mapped[str] = mapped_column(default="")


class Pick(Journaled):
    """A colour sampled from a reference. x, y: from 0 to 1 of the picture as it came; radius: in its pixels, 0 where it
    was found as a main colour; its Lab is that of the picture as it came, to which the reference's steps are applied
    when it is shown. number: on its pin; area: its group. laid: the way that was chosen for it, the lowest layer first,
    each with its colour's number, pressure and layers; None while none is.
    """

    __tablename__ = "pick"
    __table_args__ = (
        UniqueConstraint("reference_id", "number"),
        CheckConstraint("x BETWEEN 0 AND 1 AND y BETWEEN 0 AND 1", name="place_bounds"),
        CheckConstraint("radius >= 0 AND spread >= 0", name="not_negative"),
        lab_bounds(optional=False),
        KEEP_IDS,
    )

    reference_id: Mapped[int] = mapped_column(ForeignKey("reference.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    name: Mapped[str] = mapped_column(default="")
    area: Mapped[str] = mapped_column(default="")
    x: Mapped[float]
    y: Mapped[float]
    radius: Mapped[float]
    lab_L: Mapped[float]
    lab_a: Mapped[float]
    lab_b: Mapped[float]
    spread: Mapped[float]
    share: Mapped[float | None]
    laid: Mapped[list[dict[str, Any]] | None] = mapped_column(JSON(none_as_null=True), default=None)


class SectionMap(Journaled):
    """How a drawing is parted into sections. places: a small picture (PNG in base64) of which section each place of the
    drawing belongs to; reference_id: by whose shapes; width_mm, height_mm: of the drawing when it was parted.
    """

    __tablename__ = "section_map"
    __table_args__ = (UniqueConstraint("drawing_id"), one_of("kind", SectionKind, "kind_known"), KEEP_IDS)

    drawing_id: Mapped[int] = mapped_column(ForeignKey("drawing.id", ondelete="CASCADE"))
    reference_id: Mapped[int | None] = mapped_column(ForeignKey("reference.id"), index=True)
    kind: Mapped[SectionKind] = mapped_column(Word(SectionKind))
    places: Mapped[str]
    width_mm: Mapped[float]
    height_mm: Mapped[float]


class Section(Journaled):
    """One section. label: its number in the map; position: when its turn comes."""

    __tablename__ = "section"
    __table_args__ = (UniqueConstraint("map_id", "label"), one_of("state", SectionState, "state_known"), KEEP_IDS)

    map_id: Mapped[int] = mapped_column(ForeignKey("section_map.id", ondelete="CASCADE"), index=True)
    label: Mapped[int]
    position: Mapped[int]
    name: Mapped[str] = mapped_column(default="")
    state: Mapped[SectionState] = mapped_column(Word(SectionState), default=SectionState.TO_DO)
