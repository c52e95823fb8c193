"""Fade tests: strips begun, read, noted, ended, removed."""

from __future__ import annotations

from tidy_tinder.core.fading.classes import LIMITS
from tidy_tinder.services.fading.store import (
    begin_strip,
    end_strip,
    note_light,
    read_from_photo,
    read_half,
    remove_strip,
)
from tidy_tinder.services.fading.view import fade_strip, fade_strips
from tidy_tinder.web.endpoint import blueprint, collection_here, reader_here
from tidy_tinder.web.fading.schemas import (
    FadeMarkPath,
    FadeStripIn,
    FadeStripOut,
    FadeStripPageOut,
    FadeStripPath,
    FadeStripsOut,
    FromPhotoIn,
    HalfIn,
    LightIn,
    OverIn,
    SheetPhotoOut,
)
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out

api = blueprint("fading")


@api.get("/fade-strips", responses={"200": FadeStripsOut})
def get_fade_strips() -> FadeStripsOut:
    """All strips: those that are to be read again first."""
    return FadeStripsOut(strips=[FadeStripOut.model_validate(one) for one in fade_strips(collection_here())])


@api.post("/fade-strips", responses={"200": AddedOut})
def post_fade_strip(body: FadeStripIn) -> AddedOut:
    """Lay a strip into the light."""
    number, change = begin_strip(collection_here(), body.said())
    return AddedOut(id=number, change=change_out(change))


@api.get("/fade-strips/<int:strip_id>", responses={"200": FadeStripPageOut})
def get_fade_strip(path: FadeStripPath) -> FadeStripPageOut:
    """One strip."""
    strip, photos = fade_strip(collection_here(), path.strip_id)
    return FadeStripPageOut(
        strip=FadeStripOut.model_validate(strip),
        photos=[SheetPhotoOut.model_validate(one) for one in photos],
        limits=list(LIMITS),
    )


@api.put("/fade-marks/<int:mark_id>/half", responses={"200": MadeOut})
def put_fade_half(path: FadeMarkPath, body: HalfIn) -> MadeOut:
    """Keep how one half of a mark looks on a day."""
    lab = None if body.lab is None else (body.lab[0], body.lab[1], body.lab[2])
    return made_out(read_half(collection_here(), reader_here(), path.mark_id, body.half, body.read_on, lab))


@api.post("/fade-strips/<int:strip_id>/from-photo", responses={"200": MadeOut})
def post_fade_photo(path: FadeStripPath, body: FromPhotoIn) -> MadeOut:
    """Read one half of all marks from a photo of a sheet."""
    return made_out(read_from_photo(collection_here(), path.strip_id, body.photo_id, body.half, body.read_on))


@api.put("/fade-strips/<int:strip_id>/light", responses={"200": MadeOut})
def put_fade_light(path: FadeStripPath, body: LightIn) -> MadeOut:
    """Note the light until a day."""
    return made_out(note_light(collection_here(), path.strip_id, body.read_on, body.light_hours, body.wool))


@api.put("/fade-strips/<int:strip_id>/over", responses={"200": MadeOut})
def put_fade_over(path: FadeStripPath, body: OverIn) -> MadeOut:
    """Take a strip out of the light, or lay it back."""
    return made_out(end_strip(collection_here(), path.strip_id, body.over))


@api.delete("/fade-strips/<int:strip_id>", responses={"200": MadeOut})
def delete_fade_strip(path: FadeStripPath) -> MadeOut:
    """Remove a strip with all its readings."""
    return made_out(remove_strip(collection_here(), path.strip_id))
