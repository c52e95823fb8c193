"""A drawing with its log as a file: JSON out and in, its log as CSV."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.bench.sharing import share_drawing, share_log, take_in_drawing
from tidy_tinder.web.bench.sharing_schemas import DrawingFileForm, DrawingTakenInOut
from tidy_tinder.web.drawings.schemas import DrawingPath
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.shared.changes import change_out

api = blueprint("drawing-files")


@api.get("/drawings/<int:drawing_id>/file", responses={"200": file_response("application/json")})
def get_drawing_file(path: DrawingPath) -> Response:
    """A drawing with its recipes, sections, sittings and log as a file for others."""
    name, content = share_drawing(collection_here(), path.drawing_id)
    return as_file(content.encode("utf-8"), "application/json", f"{name}.json")


@api.get("/drawings/<int:drawing_id>/log/file", responses={"200": file_response("text/csv")})
def get_log_file(path: DrawingPath) -> Response:
    """The log of a drawing as CSV."""
    name, content = share_log(collection_here(), path.drawing_id)
    return as_file(content.encode("utf-8"), "text/csv", f"{name}, log.csv")


@api.post("/drawings/file", responses={"200": DrawingTakenInOut})
def take_in_drawing_file(form: DrawingFileForm) -> DrawingTakenInOut:
    """Take a drawing in from its file, whole or not at all."""
    taken, change = take_in_drawing(collection_here(), form.file.read(), form.paper_id)
    return DrawingTakenInOut(
        id=taken.id, name=taken.name, recipes=taken.recipes, lines=taken.lines, unknown=taken.unknown,
        change=change_out(change),
    )  # fmt: skip
