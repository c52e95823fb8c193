"""What swatches as files send and get."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.core.vocabulary import MarkPressure
from tidy_tinder.formats.swatch_file.record import Ask, Said, White
from tidy_tinder.services.exchange.swatches import SwatchFileKind
from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.exchange.column_schemas import ColumnsForm, FieldOut, ReadAsOut
from tidy_tinder.web.shared.base import MAX_ID, Asked, Id, Out, Schema
from tidy_tinder.web.shared.changes import ChangeOut


class SwatchFileQuery(Asked):
    """Which format, and of which paper; 0 for all."""

    kind: SwatchFileKind
    paper: int = Field(0, ge=0, le=MAX_ID)


class PaletteQuery(Asked):
    """On which paper; of which range, 0 for the tray."""

    paper: Id
    range: int = Field(0, ge=0, le=MAX_ID)


class SwatchFileForm(ColumnsForm):
    """A file of marks, and what the artist says of it; empty where nothing is said."""

    file: UploadedFile
    range: str = Field("", max_length=200)
    paper: str = Field("", max_length=200)
    pressure: MarkPressure | None = None
    white: White | None = None

    @property
    def said(self) -> Said:
        """What was said."""
        return Said(self.range or None, self.paper or None, self.pressure, self.white, self.said_columns)


class MarkProblemOut(Out):
    """What is wrong in the file: its line, or the place of an object in it, and the field."""

    line: int
    field: str
    message: str


class HowManyOut(Out):
    """How many marks are on a paper, or of a range."""

    name: str
    marks: int


class SwatchesPreviewOut(Out):
    """What taking the file in would do, or why it cannot be taken in."""

    kind: str
    asks: list[Ask]
    problems: list[MarkProblemOut]
    new: int
    same: int
    papers: list[HowManyOut]
    ranges: list[HowManyOut]
    with_spectrum: int
    adapted: int
    regridded: int
    ignored: list[str]
    read_as: list[ReadAsOut]
    fields: list[FieldOut]
    changes_nothing: bool


class SwatchesTakenInOut(Schema):
    """What was done."""

    preview: SwatchesPreviewOut
    change: ChangeOut | None
