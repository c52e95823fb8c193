"""Photos of printed sheets: added, read in the background, looked through, taken, removed."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.photos.simulated import photograph_sheet
from tidy_tinder.services.photos.store import add_photo, mark_stopped, read_again, remove_photo
from tidy_tinder.services.photos.taking import take_cells
from tidy_tinder.services.photos.view import flat_page, original, photo_cards, photo_view
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, demo_here, file_response, photo_reader_here
from tidy_tinder.web.photos.schemas import (
    PhotoCardOut,
    PhotoForm,
    PhotoOut,
    PhotoPath,
    PhotosOut,
    SimulatedPhotoIn,
    TakeIn,
)
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.paths import SheetPath

api = blueprint("photos")


@api.get("/sheets/<int:sheet_id>/photos", responses={"200": PhotosOut})
def get_photos(path: SheetPath) -> PhotosOut:
    """The photos of a sheet, and how far each is read."""
    cards = photo_cards(collection_here(), path.sheet_id)
    return PhotosOut(photos=[PhotoCardOut.model_validate(card) for card in cards])


@api.post("/sheets/<int:sheet_id>/photos", responses={"200": AddedOut})
def add_sheet_photo(path: SheetPath, form: PhotoForm) -> AddedOut:
    """Add a photo of one of its pages; it is read in the background."""
    content, name = form.file.read(), form.file.filename or ""
    return _added(path.sheet_id, name, content)


@api.post("/sheets/<int:sheet_id>/simulated-photo", responses={"200": AddedOut})
def take_simulated_photo(path: SheetPath, body: SimulatedPhotoIn) -> AddedOut:
    """Let the simulated camera of the demo photograph a page that is coloured in."""
    demo_here()
    content = photograph_sheet(collection_here(), path.sheet_id, body.page, body.condition, body.filled)
    return _added(path.sheet_id, f"simulated, page {body.page}, {body.condition.value}.jpg", content)


@api.get("/photos/<int:photo_id>", responses={"200": PhotoOut})
def get_photo(path: PhotoPath) -> PhotoOut:
    """A photo with its cells."""
    return PhotoOut.model_validate(photo_view(collection_here(), path.photo_id))


@api.get("/photos/<int:photo_id>/page", responses={"200": file_response("image/jpeg")})
def get_flat_page(path: PhotoPath) -> Response:
    """The page made flat, at 10 pixels a mm."""
    return Response(flat_page(collection_here(), path.photo_id), mimetype="image/jpeg")


@api.get("/photos/<int:photo_id>/original", responses={"200": file_response("application/octet-stream")})
def get_original(path: PhotoPath) -> Response:
    """The file as it came."""
    name, content = original(collection_here(), path.photo_id)
    return as_file(content, "application/octet-stream", name)


@api.post("/photos/<int:photo_id>/stop", responses={"200": MadeOut})
def stop_photo(path: PhotoPath) -> MadeOut:
    """Do not read it any further."""
    mark_stopped(collection_here(), path.photo_id)
    photo_reader_here().stop(path.photo_id)
    return MadeOut(change=None)


@api.post("/photos/<int:photo_id>/again", responses={"200": MadeOut})
def read_photo_again(path: PhotoPath) -> MadeOut:
    """Read it once more, with what is known by now."""
    read_again(collection_here(), path.photo_id)
    photo_reader_here().wake()
    return MadeOut(change=None)


@api.post("/photos/<int:photo_id>/take", responses={"200": MadeOut})
def take_from_photo(path: PhotoPath, body: TakeIn) -> MadeOut:
    """Take the marks of some cells into the collection."""
    return made_out(take_cells(collection_here(), path.photo_id, body.cells))


@api.delete("/photos/<int:photo_id>", responses={"200": MadeOut})
def delete_photo(path: PhotoPath) -> MadeOut:
    """Remove a photo with its original; what was taken from it stays."""
    change = remove_photo(collection_here(), path.photo_id)
    photo_reader_here().stop(path.photo_id)
    return made_out(change)


def _added(sheet_id: int, name: str, content: bytes) -> AddedOut:
    number, change = add_photo(collection_here(), sheet_id, name, content)
    photo_reader_here().wake()
    return AddedOut(id=number, change=change_out(change))
