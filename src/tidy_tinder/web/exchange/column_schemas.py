"""What is sent and got of the columns of a file."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints, TypeAdapter, ValidationError, field_validator

from tidy_tinder.formats.columns import Columns
from tidy_tinder.web.shared.base import Asked, Out

_Words = Annotated[str, StringConstraints(max_length=120)]
_SAID = TypeAdapter(Annotated[dict[_Words, _Words], Field(max_length=200)])


class ColumnsForm(Asked):
    """What columns of a file are, as the artist says: an object of JSON, from each heading to its field, which is empty
    where that column is not to be read.
    """

    columns: str = Field("", max_length=60_000)

    @field_validator("columns")
    @classmethod
    def _are_said(cls, said: str) -> str:
        try:
            _SAID.validate_json(said or "{}")
        except ValidationError as error:
            raise ValueError("an object of JSON, from headings to fields, is wanted") from error
        return said

    @property
    def said_columns(self) -> Columns:
        """What was said."""
        return _SAID.validate_json(self.columns or "{}")


class ReadAsOut(Out):
    """A column that is read: its heading, its field ("" for a spectrum), that in words, and whether the artist said so,
    now or before.
    """

    heading: str
    field: str
    meaning: str
    as_said: bool


class FieldOut(Out):
    """A field that a column may be read as, and what it is in words."""

    field: str
    meaning: str
