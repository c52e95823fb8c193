"""The value check: a photo of the drawing taken in, what it says, its picture."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.bench.values import check_drawing, checks_of, picture_of_check, remove_check
from tidy_tinder.web.bench.values_schemas import CheckForm, CheckOut, CheckPath, CheckPictureQuery, ChecksOut
from tidy_tinder.web.drawings.schemas import DrawingPath
from tidy_tinder.web.endpoint import blueprint, collection_here, file_response
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out

api = blueprint("values")


@api.get("/drawings/<int:drawing_id>/checks", responses={"200": ChecksOut})
def get_checks(path: DrawingPath) -> ChecksOut:
    """The checks of a drawing, the newest first."""
    return ChecksOut(checks=[CheckOut.model_validate(one) for one in checks_of(collection_here(), path.drawing_id)])


@api.post("/drawings/<int:drawing_id>/checks", responses={"200": AddedOut})
def post_check(path: DrawingPath, form: CheckForm) -> AddedOut:
    """Lay a photo of the drawing on its reference; it takes a few seconds."""
    content, name = form.file.read(), form.file.filename or ""
    number, change = check_drawing(
        collection_here(), path.drawing_id, form.reference_id, name, content, form.places(), form.overrule
    )  # fmt: skip
    return AddedOut(id=number, change=change_out(change))


@api.delete("/checks/<int:check_id>", responses={"200": MadeOut})
def delete_check(path: CheckPath) -> MadeOut:
    """Remove a check."""
    return made_out(remove_check(collection_here(), path.check_id))


@api.get("/checks/<int:check_id>/picture", responses={"200": file_response("image/png")})
def get_check_picture(path: CheckPath, query: CheckPictureQuery) -> Response:
    """The drawing as the photo shows it, flat and in even light."""
    png = picture_of_check(collection_here(), path.check_id, query.grey, query.squint)
    return Response(png, mimetype="image/png")
