"""The value check: photos of the drawing that wait, the check of one, what it says, its picture."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.bench.photos import (
    add_drawing_photo,
    corners_in,
    picture_of_photo,
    remove_drawing_photo,
    waiting_photos,
)
from tidy_tinder.services.bench.simulated import photograph_at_bench
from tidy_tinder.services.bench.values import check_drawing, checks_of, picture_of_check, reach_of_check, remove_check
from tidy_tinder.web.bench.values_schemas import (
    CheckIn,
    CheckOut,
    CheckPath,
    CheckPictureQuery,
    ChecksOut,
    CornersOut,
    CornersQuery,
    DrawingPhotoForm,
    DrawingPhotoOut,
    DrawingPhotoPath,
    DrawingPhotosOut,
    SimulatedDrawingIn,
)
from tidy_tinder.web.drawings.schemas import DrawingPath
from tidy_tinder.web.endpoint import blueprint, collection_here, demo_here, file_response
from tidy_tinder.web.reference.schemas import ReachOut
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out

api = blueprint("values")

# So long a request waits for pairs to be mixed before it says how far they are.
_WAIT_SECONDS = 0.3


@api.get("/drawings/<int:drawing_id>/photos", responses={"200": DrawingPhotosOut})
def get_drawing_photos(path: DrawingPath) -> DrawingPhotosOut:
    """The photos of a drawing that wait for their check, the newest first."""
    waiting = waiting_photos(collection_here(), path.drawing_id)
    return DrawingPhotosOut(photos=[DrawingPhotoOut.model_validate(one) for one in waiting])


@api.post("/drawings/<int:drawing_id>/photos", responses={"200": AddedOut})
def post_drawing_photo(path: DrawingPath, form: DrawingPhotoForm) -> AddedOut:
    """Take a photo of the drawing in."""
    return _added(path.drawing_id, form.file.filename or "", form.file.read())


@api.post("/drawings/<int:drawing_id>/simulated-photo", responses={"200": AddedOut})
def photograph_simulated_drawing(path: DrawingPath, body: SimulatedDrawingIn) -> AddedOut:
    """Let the demo's camera photograph the drawing as its simulated hand has drawn it so far."""
    demo_here()
    content = photograph_at_bench(
        collection_here(), path.drawing_id, body.reference_id, body.condition, body.mended, body.finished
    )  # fmt: skip
    return _added(path.drawing_id, f"simulated, {body.condition.value}{', gone over' if body.mended else ''}", content)


@api.get("/drawing-photos/<int:photo_id>/picture", responses={"200": file_response("image/png")})
def get_drawing_photo(path: DrawingPhotoPath) -> Response:
    """The photo, upright."""
    return Response(picture_of_photo(collection_here(), path.photo_id), mimetype="image/png")


@api.get("/drawing-photos/<int:photo_id>/corners", responses={"200": CornersOut})
def get_corners(path: DrawingPhotoPath, query: CornersQuery) -> CornersOut:
    """The corners of the picture in it, where they are found."""
    found = corners_in(collection_here(), path.photo_id, query.reference_id)
    return CornersOut(corners=None if found is None else list(found))


@api.delete("/drawing-photos/<int:photo_id>", responses={"200": MadeOut})
def delete_drawing_photo(path: DrawingPhotoPath) -> MadeOut:
    """Do without a photo."""
    return made_out(remove_drawing_photo(collection_here(), path.photo_id))


@api.get("/drawings/<int:drawing_id>/checks", responses={"200": ChecksOut})
def get_checks(path: DrawingPath) -> ChecksOut:
    """The checks of a drawing, the newest first."""
    return ChecksOut(checks=[CheckOut.model_validate(one) for one in checks_of(collection_here(), path.drawing_id)])


@api.post("/checks", responses={"200": AddedOut})
def post_check(body: CheckIn) -> AddedOut:
    """Lay a photo of a drawing on its reference; it takes a few seconds."""
    number, change = check_drawing(
        collection_here(), body.photo_id, body.reference_id, body.corners, body.overrule, body.patch
    )  # fmt: skip
    return AddedOut(id=number, change=change_out(change))


@api.delete("/checks/<int:check_id>", responses={"200": MadeOut})
def delete_check(path: CheckPath) -> MadeOut:
    """Remove a check."""
    return made_out(remove_check(collection_here(), path.check_id))


@api.get("/checks/<int:check_id>/reach", responses={"200": ReachOut})
def get_reach_of_check(path: CheckPath) -> ReachOut:
    """How far the drawing's paper reaches the values that the picture asks for."""
    return ReachOut.model_validate(reach_of_check(collection_here(), path.check_id, _WAIT_SECONDS))


@api.get("/checks/<int:check_id>/picture", responses={"200": file_response("image/png")})
def get_check_picture(path: CheckPath, query: CheckPictureQuery) -> Response:
    """The drawing as the photo shows it, flat and in even light."""
    png = picture_of_check(collection_here(), path.check_id, query.grey, query.squint)
    return Response(png, mimetype="image/png")


def _added(drawing_id: int, name: str, content: bytes) -> AddedOut:
    number, change = add_drawing_photo(collection_here(), drawing_id, name, content)
    return AddedOut(id=number, change=change_out(change))
