"""The tray along the bottom."""

from __future__ import annotations

from tidy_tinder.services.tray import empty_tray, put_in_tray, tray
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.shared.changes import MadeOut, made_out
from tidy_tinder.web.shared.paths import PaperQuery
from tidy_tinder.web.tray.schemas import TrayIn, TrayOut, tray_out

api = blueprint("tray")


@api.get("/tray", responses={"200": TrayOut})
def get_tray(query: PaperQuery) -> TrayOut:
    """What lies in the tray, from light to dark."""
    return tray_out(tray(collection_here(), query.paper))


@api.put("/tray", responses={"200": MadeOut})
def put_tray(body: TrayIn) -> MadeOut:
    """Put colours into the tray, or take them out."""
    return made_out(put_in_tray(collection_here(), body.colour_ids, body.into))


@api.delete("/tray", responses={"200": MadeOut})
def delete_tray() -> MadeOut:
    """Put everything back."""
    return made_out(empty_tray(collection_here()))
