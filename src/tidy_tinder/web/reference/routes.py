"""References: taken in, looked at, picked from, answered."""

from __future__ import annotations

from flask import Response

from tidy_tinder.core.reference.views import View
from tidy_tinder.services.reference.answers import answers_for_pick, choose_way, picture_reach
from tidy_tinder.services.reference.picks import (
    add_pick,
    drop_picks,
    find_main_colours,
    look,
    merge_picks,
    name_pick,
    split_pick,
)
from tidy_tinder.services.reference.store import add_reference, remove_reference, step_on
from tidy_tinder.services.reference.view import (
    THUMB_SIDE,
    looked_at,
    original_file,
    picture_in_view,
    reference_cards,
    reference_view,
    zones_of,
)
from tidy_tinder.web.drawings.schemas import DrawingPath
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response, picture_opener_here
from tidy_tinder.web.reference.schemas import (
    AnswersOut,
    LookedOut,
    LoupeQuery,
    MainColoursIn,
    PickIn,
    PickNameIn,
    PickPath,
    PicksIn,
    ReachOut,
    ReferenceCardOut,
    ReferenceForm,
    ReferenceOut,
    ReferencePath,
    ReferencesOut,
    RemoveQuery,
    StepsIn,
    ViewQuery,
    WayIn,
    WishQuery,
    ZoneShareOut,
    ZonesOut,
    ZonesQuery,
)
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.paths import PaperQuery

api = blueprint("reference")
# So long a request waits for pairs to be mixed before it says how far they are.
_WAIT_SECONDS = 0.3


@api.get("/drawings/<int:drawing_id>/references", responses={"200": ReferencesOut})
def get_references(path: DrawingPath) -> ReferencesOut:
    """The pictures of a drawing, and how far each is opened."""
    cards = reference_cards(collection_here(), path.drawing_id)
    return ReferencesOut(references=[ReferenceCardOut.model_validate(card) for card in cards])


@api.post("/drawings/<int:drawing_id>/references", responses={"200": AddedOut})
def add_drawing_reference(path: DrawingPath, form: ReferenceForm) -> AddedOut:
    """Add a picture; it is opened in the background."""
    content, name = form.file.read(), form.file.filename or ""
    number, change = add_reference(collection_here(), path.drawing_id, name, content)
    picture_opener_here().wake()
    return AddedOut(id=number, change=change_out(change))


@api.get("/references/<int:reference_id>", responses={"200": ReferenceOut})
def get_reference(path: ReferencePath) -> ReferenceOut:
    """A picture with its steps and picks."""
    return ReferenceOut.model_validate(reference_view(collection_here(), path.reference_id))


@api.put("/references/<int:reference_id>/steps", responses={"200": MadeOut})
def put_steps(path: ReferencePath, body: StepsIn) -> MadeOut:
    """Lay these steps on the picture from now on."""
    return made_out(step_on(collection_here(), path.reference_id, body.revision, body.steps()))


@api.delete("/references/<int:reference_id>", responses={"200": MadeOut})
def delete_reference(path: ReferencePath, query: RemoveQuery) -> MadeOut:
    """Remove a picture with its picks; refused, with the reasons, where something came of it and she is not sure."""
    change = remove_reference(collection_here(), path.reference_id, query.sure)
    picture_opener_here().stop(path.reference_id)
    return made_out(change)


@api.get("/references/<int:reference_id>/picture", responses={"200": file_response("image/png")})
def get_picture(path: ReferencePath, query: ViewQuery) -> Response:
    """The picture as it is looked at."""
    png = picture_in_view(
        collection_here(), path.reference_id, query.view(), query.side, query.marked, query.sections
    )  # fmt: skip
    return Response(png, mimetype="image/png")


@api.get("/references/<int:reference_id>/thumbnail", responses={"200": file_response("image/png")})
def get_thumbnail(path: ReferencePath) -> Response:
    """The picture, small."""
    png = picture_in_view(collection_here(), path.reference_id, View(), THUMB_SIDE)
    return Response(png, mimetype="image/png")


@api.get("/references/<int:reference_id>/file", responses={"200": file_response("application/octet-stream")})
def get_reference_file(path: ReferencePath) -> Response:
    """The file as it came."""
    name, content = original_file(collection_here(), path.reference_id)
    return as_file(content, "application/octet-stream", name)


@api.get("/references/<int:reference_id>/zones", responses={"200": ZonesOut})
def get_zones(path: ReferencePath, query: ZonesQuery) -> ZonesOut:
    """The value zones of the picture."""
    zones = zones_of(collection_here(), path.reference_id, query.count, query.steps, query.borders, query.paper)
    return ZonesOut(zones=[ZoneShareOut.model_validate(zone) for zone in zones])


@api.get("/references/<int:reference_id>/loupe", responses={"200": LookedOut})
def get_loupe(path: ReferencePath, query: LoupeQuery) -> LookedOut:
    """What the loupe sees."""
    seen = look(collection_here(), path.reference_id, query.x, query.y, query.radius)
    colour, other = looked_at(collection_here(), path.reference_id, seen)
    return LookedOut.model_validate(
        {
            "colour": colour, "came": list(seen.lab), "spread": seen.spread, "near": seen.near,
            "two_meet": seen.two_meet, "other": other, "other_share": seen.other_share, "pixels": seen.pixels,
            "small": seen.small,
        },
        from_attributes=True,
    )  # fmt: skip


@api.post("/references/<int:reference_id>/picks", responses={"200": AddedOut})
def add_reference_pick(path: ReferencePath, body: PickIn) -> AddedOut:
    """Keep the colour under the loupe."""
    number, change = add_pick(collection_here(), path.reference_id, body.x, body.y, body.radius)
    return AddedOut(id=number, change=change_out(change))


@api.post("/references/<int:reference_id>/main-colours", responses={"200": MadeOut})
def add_main_colours(path: ReferencePath, body: MainColoursIn) -> MadeOut:
    """Find the main colours; they take the place of those found before."""
    return made_out(find_main_colours(collection_here(), path.reference_id, body.count))


@api.put("/picks/<int:pick_id>", responses={"200": MadeOut})
def put_pick(path: PickPath, body: PickNameIn) -> MadeOut:
    """Call a pick and its area."""
    return made_out(name_pick(collection_here(), path.pick_id, body.revision, body.name, body.area))


@api.post("/picks/drop", responses={"200": MadeOut})
def post_drop(body: PicksIn) -> MadeOut:
    """Remove picks."""
    return made_out(drop_picks(collection_here(), body.ids))


@api.post("/picks/merge", responses={"200": MadeOut})
def post_merge(body: PicksIn) -> MadeOut:
    """Make one of several picks."""
    return made_out(merge_picks(collection_here(), body.ids))


@api.post("/picks/<int:pick_id>/split", responses={"200": MadeOut})
def post_split(path: PickPath) -> MadeOut:
    """Make two picks of one."""
    return made_out(split_pick(collection_here(), path.pick_id))


@api.put("/picks/<int:pick_id>/way", responses={"200": MadeOut})
def put_way(path: PickPath, body: WayIn) -> MadeOut:
    """Use these layers for a pick, or leave it to what is nearest."""
    return made_out(choose_way(collection_here(), path.pick_id, [one.layer for one in body.laid]))


@api.get("/picks/<int:pick_id>/answers", responses={"200": AnswersOut})
def get_answers(path: PickPath, query: WishQuery) -> AnswersOut:
    """What of hers comes nearest to a pick on a paper."""
    answers = answers_for_pick(collection_here(), path.pick_id, query.paper, query.wish(), _WAIT_SECONDS)
    return AnswersOut.model_validate(answers)


@api.get("/references/<int:reference_id>/reach", responses={"200": ReachOut})
def get_reach(path: ReferencePath, query: PaperQuery) -> ReachOut:
    """Whether the paper reaches the darkest and the lightest of the picks."""
    return ReachOut.model_validate(picture_reach(collection_here(), path.reference_id, query.paper, _WAIT_SECONDS))
