"""The board, swatching sessions, swatches one by one, marks edge to edge."""

from __future__ import annotations

from tidy_tinder.services.swatches import sessions as swatching
from tidy_tinder.services.swatches.beside import MarkAsked, lay_beside
from tidy_tinder.services.swatches.board import board
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.services.swatches.session_plan import SessionPlan, count_marks, start_session
from tidy_tinder.services.swatches.store import note_swatch, remove_swatch
from tidy_tinder.web.endpoint import blueprint, collection_here, reader_here
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.paths import ItemPath, SessionPath, SwatchPath
from tidy_tinder.web.swatches.schemas import (
    BesidesIn,
    BoardOut,
    BoardRowOut,
    LaidOut,
    LaidsOut,
    NoteIn,
    RangeNameOut,
    ReadItemOut,
    SessionCardOut,
    SessionCountOut,
    SessionIn,
    SessionOut,
    SessionsOut,
    TypedIn,
)

api = blueprint("swatches")


@api.get("/board", responses={"200": BoardOut})
def get_board() -> BoardOut:
    """Papers × ranges: how much is swatched at which pressure."""
    counts = board(collection_here())
    return BoardOut(
        ranges=[RangeNameOut(id=i, name=name) for i, name in counts.ranges],
        rows=[BoardRowOut.model_validate(row) for row in counts.rows],
        swatches=counts.swatches,
    )


@api.get("/swatching", responses={"200": SessionsOut})
def get_sessions() -> SessionsOut:
    """All sessions, the newest first."""
    cards = swatching.session_cards(collection_here())
    return SessionsOut(sessions=[SessionCardOut.model_validate(card) for card in cards])


@api.post("/swatching", responses={"200": AddedOut})
def begin_session(body: SessionIn) -> AddedOut:
    """Begin a session."""
    number, change = start_session(collection_here(), _plan(body))
    return AddedOut(id=number, change=change_out(change))


@api.post("/swatching/count", responses={"200": SessionCountOut})
def count_session_marks(body: SessionIn) -> SessionCountOut:
    """How many marks a session would have; nothing is changed."""
    return SessionCountOut.model_validate(count_marks(collection_here(), _plan(body)))


def _plan(body: SessionIn) -> SessionPlan:
    values = body.model_dump(exclude={"pressures", "colour_ids"})
    return SessionPlan(pressures=tuple(body.pressures), colour_ids=tuple(body.colour_ids), **values)


@api.get("/swatching/<int:session_id>", responses={"200": SessionOut})
def get_session(path: SessionPath) -> SessionOut:
    """A session with all its marks."""
    return SessionOut.model_validate(swatching.open_session(collection_here(), path.session_id))


@api.post("/swatching/<int:session_id>/close", responses={"200": MadeOut})
def close_one_session(path: SessionPath) -> MadeOut:
    """Say that a session is done."""
    return made_out(swatching.close_session(collection_here(), path.session_id))


@api.post("/swatching/marks/<int:item_id>/reading", responses={"200": ReadItemOut})
def read_mark(path: ItemPath) -> ReadItemOut:
    """Read one mark with the colour reader and keep it at once."""
    return ReadItemOut.model_validate(swatching.read_item(collection_here(), reader_here(), path.item_id))


@api.post("/swatching/marks/<int:item_id>/keep", responses={"200": ReadItemOut})
def keep_doubted(path: ItemPath) -> ReadItemOut:
    """Keep a doubted reading all the same."""
    return ReadItemOut.model_validate(swatching.accept_item(collection_here(), reader_here(), path.item_id))


@api.post("/swatching/marks/<int:item_id>/again", responses={"200": ReadItemOut})
def read_mark_again(path: ItemPath) -> ReadItemOut:
    """Drop what waits and read the mark anew."""
    return ReadItemOut.model_validate(swatching.reread_item(collection_here(), path.item_id))


@api.post("/swatching/marks/<int:item_id>/skip", responses={"200": ReadItemOut})
def skip_mark(path: ItemPath) -> ReadItemOut:
    """Leave a mark out of this session."""
    return ReadItemOut.model_validate(swatching.skip_item(collection_here(), path.item_id))


@api.post("/swatches", responses={"200": AddedOut})
def type_in_swatch(body: TypedIn) -> AddedOut:
    """Store a typed Lab as a swatch."""
    L, a, b = body.lab
    new = NewTyped(lab=(L, a, b), **body.model_dump(exclude={"lab"}))
    number, change = type_swatch(collection_here(), new)
    return AddedOut(id=number, change=change_out(change))


@api.put("/swatches/<int:swatch_id>/note", responses={"200": MadeOut})
def put_note(path: SwatchPath, body: NoteIn) -> MadeOut:
    """Write a note to a swatch."""
    return made_out(note_swatch(collection_here(), path.swatch_id, body.revision, body.note))


@api.delete("/swatches/<int:swatch_id>", responses={"200": MadeOut})
def delete_swatch(path: SwatchPath) -> MadeOut:
    """Remove a swatch."""
    return made_out(remove_swatch(collection_here(), path.swatch_id))


@api.post("/swatches/beside", responses={"200": LaidsOut})
def lay_marks_beside(body: BesidesIn) -> LaidsOut:
    """Two to six marks, to be looked at edge to edge."""
    asked = [MarkAsked(m.colour_id, m.paper_id, m.pressure) for m in body.marks]
    laid = lay_beside(collection_here(), asked)
    return LaidsOut(laid=[LaidOut.model_validate(one) for one in laid])
