"""What sharing drawings sends and gets."""

from __future__ import annotations

from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Asked, Id, Schema
from tidy_tinder.web.shared.changes import ChangeOut


class DrawingFileForm(Asked):
    """The file, as the browser sends it, and the paper that the drawing is on where the file's own is not here."""

    file: UploadedFile
    paper_id: Id | None = None


class DrawingTakenInOut(Schema):
    """A drawing that was taken in; unknown: lines of its log whose colour is on no chart here."""

    id: int
    name: str
    recipes: int
    lines: int
    unknown: int
    change: ChangeOut | None
