"""Layers tried on a scrap: begun, read, judged, remembered."""

from __future__ import annotations

from tidy_tinder.services.scraps import reading, store, telling, view
from tidy_tinder.web.endpoint import blueprint, collection_here, reader_here
from tidy_tinder.web.scraps.schemas import (
    ScrapCardOut,
    ScrapIn,
    ScrapOut,
    ScrapsOut,
    StripIn,
    StripReadOut,
    TellingOut,
    VerdictIn,
)
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.paths import PaperQuery, ScrapPath

api = blueprint("scraps")


@api.get("/scraps", responses={"200": ScrapsOut})
def get_scraps(query: PaperQuery) -> ScrapsOut:
    """What was tried on a paper."""
    cards = view.scraps_on(collection_here(), query.paper)
    return ScrapsOut(scraps=[ScrapCardOut.model_validate(one) for one in cards])


@api.get("/scraps/telling", responses={"200": TellingOut})
def get_telling_strips(query: PaperQuery) -> TellingOut:
    """Which strips would tell most of how layers lie over one another on a paper."""
    return TellingOut.model_validate(telling.strips_to_make(collection_here(), query.paper))


@api.post("/scraps", responses={"200": AddedOut})
def begin_one_scrap(body: ScrapIn) -> AddedOut:
    """Write down layers that are about to be tried."""
    layers = tuple(one.layer for one in body.laid)
    new = store.NewScrap(layers=layers, **body.model_dump(exclude={"laid"}))
    number, change = store.begin_scrap(collection_here(), new)
    return AddedOut(id=number, change=change_out(change))


@api.get("/scraps/<int:scrap_id>", responses={"200": ScrapOut})
def get_scrap(path: ScrapPath) -> ScrapOut:
    """A scrap with its strip."""
    return ScrapOut.model_validate(view.open_scrap(collection_here(), path.scrap_id))


@api.put("/scraps/<int:scrap_id>", responses={"200": MadeOut})
def put_verdict(path: ScrapPath, body: VerdictIn) -> MadeOut:
    """Say what a scrap turned out like."""
    return made_out(
        store.judge_scrap(collection_here(), path.scrap_id, body.revision, body.verdict, body.note)
    )  # fmt: skip


@api.delete("/scraps/<int:scrap_id>", responses={"200": MadeOut})
def delete_scrap(path: ScrapPath) -> MadeOut:
    """Remove a scrap; undo brings it back."""
    return made_out(store.remove_scrap(collection_here(), path.scrap_id))


@api.post("/scraps/<int:scrap_id>/readings", responses={"200": StripReadOut})
def read_one_strip(path: ScrapPath, body: StripIn) -> StripReadOut:
    """Read one of the two orders, or keep a typed value for it."""
    if body.lab is None:
        read = reading.read_strip(collection_here(), reader_here(), path.scrap_id, body.turned, body.keep)
    else:
        L, a, b = body.lab
        read = reading.type_strip(collection_here(), path.scrap_id, body.turned, (L, a, b), body.keep)
    return StripReadOut.model_validate(read)
