"""What is to be bought and at what price, and how long pencils were."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from tidy_tinder.core.vocabulary import LONGEST_PENCIL_MM
from tidy_tinder.storage.models.base import KEEP_IDS, Journaled


class Wanted(Journaled):
    """A colour on the list of what to buy. why: in words, as it was then; ticked: it lies in the basket."""

    SETTINGS = frozenset({"ticked"})

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
