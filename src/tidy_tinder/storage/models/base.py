"""What all tables have in common: names of constraints, closed words, bounds, the root of what is journaled."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from enum import StrEnum
from typing import Any, ClassVar

from sqlalchemy import CheckConstraint, MetaData, String
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column
from sqlalchemy.types import TypeDecorator

NAMING = {
    "ix": "ix_%(table_name)s_%(column_0_N_name)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_N_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}

# Without it SQLite gives the number of a removed row to the next new one, and undo could not bring it back.
KEEP_IDS = {"sqlite_autoincrement": True}


class Word(TypeDecorator[Any]):
    """A closed word of the vocabulary, kept as its value; "" stays "" where nothing is said."""

    impl = String
    cache_ok = True

    def __init__(self, words: type[StrEnum]) -> None:
        super().__init__()
        self.words = words
        self._of: dict[str | None, StrEnum] = {word.value: word for word in words}

    def process_bind_param(self, value: str | None, dialect: Dialect) -> str | None:
        """The value that is kept."""
        return None if value is None else str(value)

    def process_result_value(self, value: str | None, dialect: Dialect) -> str | None:
        """The word that a value stands for."""
        return self._of.get(value, value)

    def result_processor(self, dialect: Dialect, coltype: object) -> Callable[[Any], Any]:
        """The same without the detours of the decorator: thirty thousand swatches hold a hundred thousand words."""
        word_of = self._of.get

        def process(value: Any) -> Any:
            return word_of(value, value)

        return process


def one_of(column: str, allowed: Iterable[str], name: str) -> CheckConstraint:
    """A column holds one of these words."""
    quoted = ", ".join(f"'{value}'" for value in allowed)
    return CheckConstraint(f"{column} IN ({quoted})", name=name)


def lab_bounds(optional: bool) -> CheckConstraint:
    """A Lab that a surface can have, or, where it is optional, none."""
    inside = "lab_L BETWEEN 0 AND 100 AND lab_a BETWEEN -200 AND 200 AND lab_b BETWEEN -200 AND 200"
    # A comparison with NULL is neither true nor false, and a check that is not false passes: say both.
    missing = "lab_L IS NULL AND lab_a IS NULL AND lab_b IS NULL"
    given = f"lab_L IS NOT NULL AND lab_a IS NOT NULL AND lab_b IS NOT NULL AND {inside}"
    return CheckConstraint(f"({missing}) OR ({given})" if optional else inside, name="lab_bounds")


class Base(DeclarativeBase):
    """Root of all tables."""

    metadata = MetaData(naming_convention=NAMING)


class Journaled(Base):
    """A table whose every write goes into the journal; revision counts the writes of a row."""

    __abstract__ = True

    # Columns that settings change, which are no changes of the collection: undo looks past them.
    SETTINGS: ClassVar[frozenset[str]] = frozenset()

    id: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int] = mapped_column(default=1)
