"""What taking a catalogue in sends and gets."""

from __future__ import annotations

from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.exchange.column_schemas import ColumnsForm, FieldOut, ReadAsOut
from tidy_tinder.web.shared.base import Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut


class CatalogueForm(ColumnsForm):
    """The file, as the browser sends it."""

    file: UploadedFile


class FileProblemOut(Out):
    """What is wrong in the file, by line and column."""

    line: int
    column: str
    message: str


class PreviewOut(Out):
    """What taking the file in would do, or why it cannot be taken in."""

    problems: list[FileProblemOut]
    ranges: list[str]
    new_colours: int
    changed_colours: int
    same_colours: int
    new_pencils: int
    without_colour: int
    adapted_from_d50: int
    more_pencils_here: int
    ignored_columns: list[str]
    read_as: list[ReadAsOut]
    fields: list[FieldOut]
    changes_nothing: bool


class TakenInOut(Schema):
    """What was done."""

    preview: PreviewOut
    change: ChangeOut | None
