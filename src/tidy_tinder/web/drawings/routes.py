"""Drawings: the page of all of them, and the one at hand."""

from __future__ import annotations

from tidy_tinder.services.drawings.store import (
    begin_drawing,
    choose_drawing,
    copy_drawing,
    edit_drawing,
    put_away,
    remove_drawing,
)
from tidy_tinder.services.drawings.view import drawing_cards
from tidy_tinder.web.drawings.schemas import (
    AtHandIn,
    AwayIn,
    DrawingCardOut,
    DrawingEditIn,
    DrawingIn,
    DrawingPath,
    DrawingsOut,
)
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out

api = blueprint("drawings")


@api.get("/drawings", responses={"200": DrawingsOut})
def get_drawings() -> DrawingsOut:
    """All drawings, those at work first."""
    return DrawingsOut(drawings=[DrawingCardOut.model_validate(card) for card in drawing_cards(collection_here())])


@api.post("/drawings", responses={"200": AddedOut})
def add_drawing(body: DrawingIn) -> AddedOut:
    """Begin a drawing, which is at hand from now on."""
    number, change = begin_drawing(collection_here(), body.said())
    return AddedOut(id=number, change=change_out(change))


@api.put("/drawings/at-hand", responses={"200": MadeOut})
def put_drawing_at_hand(body: AtHandIn) -> MadeOut:
    """Work on another drawing, or on none."""
    return made_out(choose_drawing(collection_here(), body.drawing_id))


@api.put("/drawings/<int:drawing_id>", responses={"200": MadeOut})
def put_drawing(path: DrawingPath, body: DrawingEditIn) -> MadeOut:
    """Say anew all of a drawing."""
    return made_out(edit_drawing(collection_here(), path.drawing_id, body.revision, body.said()))


@api.post("/drawings/<int:drawing_id>/copy", responses={"200": AddedOut})
def add_drawing_copy(path: DrawingPath) -> AddedOut:
    """The same again, without pictures and recipes."""
    number, change = copy_drawing(collection_here(), path.drawing_id)
    return AddedOut(id=number, change=change_out(change))


@api.put("/drawings/<int:drawing_id>/away", responses={"200": MadeOut})
def put_drawing_away(path: DrawingPath, body: AwayIn) -> MadeOut:
    """Put a drawing away, or take it out again."""
    return made_out(put_away(collection_here(), path.drawing_id, body.away))


@api.delete("/drawings/<int:drawing_id>", responses={"200": MadeOut})
def delete_drawing(path: DrawingPath) -> MadeOut:
    """Remove a drawing with its pictures and tray; its recipes stay."""
    return made_out(remove_drawing(collection_here(), path.drawing_id))
