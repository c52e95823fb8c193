"""Closed words in tables: kept as their values, read back as members, refused where they are none."""

from __future__ import annotations

import pytest
from sqlalchemy import Column, select, text
from sqlalchemy.exc import IntegrityError

from tidy_tinder.core.vocabulary import Opacity, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.journal import writing
from tidy_tinder.storage.models import Base, Colour, RecipeCall, Swatch
from tidy_tinder.storage.models.base import Word

WORD_COLUMNS = [
    column for table in Base.metadata.tables.values() for column in table.columns if isinstance(column.type, Word)
]


def test_a_word_is_kept_as_its_value_and_read_back_as_its_member(demo: Collection) -> None:
    with demo() as session:
        swatch = session.scalars(select(Swatch)).first()
        assert swatch is not None
        assert type(swatch.pressure) is Pressure
        kept = session.scalar(text("SELECT pressure FROM swatch WHERE id = :id"), {"id": swatch.id})
        assert kept == swatch.pressure.value
        heavy = session.scalars(select(Swatch).where(Swatch.pressure == Pressure.HEAVY)).all()
        plain = session.scalars(select(Swatch).where(Swatch.pressure == "heavy")).all()
        assert heavy
        assert heavy == plain


def test_what_is_not_said_stays_unsaid(demo: Collection) -> None:
    with writing(demo, "A chart that prints no cover") as session:
        colour = session.scalars(select(Colour).where(Colour.opacity == Opacity.OPAQUE)).first()
        assert colour is not None
        colour.opacity = ""
        number = colour.id
    with demo() as session:
        assert session.get_one(Colour, number).opacity == ""
        assert session.scalars(select(RecipeCall).where(RecipeCall.role == "")).first() is not None


@pytest.mark.parametrize("column", WORD_COLUMNS, ids=lambda column: f"{column.table.name}.{column.name}")
def test_no_table_takes_a_word_that_is_none(demo: Collection, column: Column[str]) -> None:
    """Also past the program, as a damaged or hand-made file might have it."""
    table = column.table.name
    with demo.engine.begin() as connection:
        rows = connection.scalar(text(f"SELECT count(*) FROM {table}"))
    if not rows:
        assert any(column.name in str(check.sqltext) for check in column.table.constraints if hasattr(check, "sqltext"))
        return
    with demo.engine.connect() as connection, pytest.raises(IntegrityError, match="CHECK"):
        connection.execute(text(f"UPDATE {table} SET {column.name} = 'rubbed in'"))


@pytest.mark.parametrize("column", WORD_COLUMNS, ids=lambda column: f"{column.table.name}.{column.name}")
def test_every_word_that_a_column_can_be_is_taken_by_its_table(column: Column[str]) -> None:
    """A word added to the vocabulary and not to the check of a table would fail only when somebody uses it."""
    assert isinstance(column.type, Word)
    checks = [
        str(c.sqltext) for c in column.table.constraints if hasattr(c, "sqltext") and column.name in str(c.sqltext)
    ]
    listed = next(check for check in checks if check.startswith(f"{column.name} IN"))
    allowed = {word.strip().strip("'") for word in listed.split("(", 1)[1].split(")")[0].split(",")}
    assert allowed - {""} <= {str(word) for word in column.type.words}
    assert allowed - {""}
