"""Shelves, ticking, sets, pencils and their places, charts, a colour's page, what is this."""

from __future__ import annotations

from flask import Response

from tidy_tinder.services.collection.chart import colours_by_id
from tidy_tinder.services.tidy import charts, pencils, places
from tidy_tinder.services.tidy.colour_page import ColourPage, colour_page
from tidy_tinder.services.tidy.kin import colour_kin
from tidy_tinder.services.tidy.ownership import mark_owned, own_set, read_pasted, tick
from tidy_tinder.services.tidy.shelves import shelves
from tidy_tinder.services.tidy.what_is_this import what_is_this
from tidy_tinder.services.tidy.written_chart import ListToWrite, preview_written, write_chart
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.drawn import colour_out
from tidy_tinder.web.shared.offers import standins_out
from tidy_tinder.web.shared.paths import ColourPath, ColourQuery, PaperQuery, PencilPath, RangePath, SetPath
from tidy_tinder.web.tidy.colour_schemas import (
    ColourPageOut,
    IdentifiedOut,
    KinOut,
    WhatIn,
)
from tidy_tinder.web.tidy.schemas import (
    ChartIn,
    OwnedIn,
    PastedIn,
    PastedLineOut,
    PastedOut,
    PencilIn,
    PencilOut,
    PencilsIn,
    RangeIn,
    SetIn,
    ShelvesOut,
    TickedOut,
    TickIn,
    TinOut,
    TinsOut,
    TravelIn,
)
from tidy_tinder.web.tidy.shelf_json import shelves_json
from tidy_tinder.web.tidy.written_schemas import ChartListIn, ChartReadOut, ChartWrittenOut, chart_read_out

api = blueprint("tidy")


@api.get("/tidy", responses={"200": ShelvesOut})
def get_tidy(query: PaperQuery) -> Response:
    """Every range with its colours and their marks on a paper."""
    return Response(shelves_json(*shelves(collection_here(), query.paper)), mimetype="application/json")


@api.get("/colours/<int:colour_id>", responses={"200": ColourPageOut})
def get_colour(path: ColourPath, query: ColourQuery) -> ColourPageOut:
    """What the panel says of one colour on a paper."""
    return _page(colour_page(collection_here(), path.colour_id, query.paper, query.closest))


@api.get("/colours/<int:colour_id>/kin", responses={"200": KinOut})
def get_kin(path: ColourPath, query: PaperQuery) -> KinOut:
    """Twins, grades, neighbours, sisters and history of a colour."""
    return KinOut.model_validate(colour_kin(collection_here(), path.colour_id, query.paper))


@api.post("/tidy/ticks", responses={"200": TickedOut})
def tick_codes(body: TickIn) -> TickedOut:
    """Tick typed codes of one range; what is not on its chart is named."""
    done = tick(collection_here(), body.range_id, body.text, body.owned)
    return TickedOut(
        change=change_out(done.changed), newly=done.newly, already=done.already, unknown=list(done.unknown)
    )


@api.post("/tidy/owned", responses={"200": MadeOut})
def set_owned(body: OwnedIn) -> MadeOut:
    """Own colours, or own them no more; one change, one undo."""
    return made_out(mark_owned(collection_here(), body.colour_ids, body.owned))


@api.post("/tidy/pasted", responses={"200": PastedOut})
def read_pasted_list(body: PastedIn) -> PastedOut:
    """What a pasted list of codes or names means; nothing is changed."""
    lines = read_pasted(collection_here(), body.text)
    rows = colours_by_id(collection_here())
    return PastedOut(
        lines=[
            PastedLineOut(text=x.text, colours=[colour_out(rows[i]) for i in x.keys], count=x.count, problem=x.problem)
            for x in lines
        ]
    )


@api.post("/tidy/charts/read", responses={"200": ChartReadOut})
def read_written_chart(body: ChartListIn) -> ChartReadOut:
    """What a pasted list of colours says, line by line; nothing is changed."""
    return chart_read_out(preview_written(collection_here(), ListToWrite(**body.model_dump())))


@api.post("/tidy/charts", responses={"200": ChartWrittenOut})
def write_chart_of_list(body: ChartListIn) -> ChartWrittenOut:
    """Write a pasted list: range, colours, set and owned pencils; one change, one undo."""
    return ChartWrittenOut.model_validate(write_chart(collection_here(), ListToWrite(**body.model_dump())))


@api.post("/sets/<int:set_id>/own", responses={"200": MadeOut})
def own_boxed_set(path: SetPath) -> MadeOut:
    """Own every colour of a boxed set."""
    return made_out(own_set(collection_here(), path.set_id))


@api.post("/tidy/pencils", responses={"200": MadeOut})
def act_on_pencils(body: PencilsIn) -> MadeOut:
    """Lose, find again, use up or move the pencils of some colours; one change, one undo."""
    acts = {"lost": pencils.lose, "found": pencils.find_again, "used up": pencils.use_up}
    if body.act == "move":
        return made_out(places.move_to(collection_here(), body.colour_ids, body.tin))
    return made_out(acts[body.act](collection_here(), body.colour_ids))


@api.post("/colours/<int:colour_id>/pencils", responses={"200": MadeOut})
def add_one_pencil(path: ColourPath) -> MadeOut:
    """One more stick of a colour."""
    return made_out(pencils.add_pencil(collection_here(), path.colour_id))


@api.put("/pencils/<int:pencil_id>", responses={"200": MadeOut})
def put_pencil(path: PencilPath, body: PencilIn) -> MadeOut:
    """Say anew all of one stick; refused where it was changed since."""
    wanted = pencils.PencilAs(**body.model_dump(exclude={"revision"}))
    return made_out(pencils.edit_pencil(collection_here(), path.pencil_id, body.revision, wanted))


@api.delete("/pencils/<int:pencil_id>", responses={"200": MadeOut})
def delete_pencil(path: PencilPath) -> MadeOut:
    """Own one stick no more."""
    return made_out(pencils.remove_pencil(collection_here(), path.pencil_id))


@api.get("/tins", responses={"200": TinsOut})
def get_tins() -> TinsOut:
    """Every place that a pencil stands at."""
    return _tins()


@api.put("/tins/travel", responses={"200": TinsOut})
def put_travel(body: TravelIn) -> TinsOut:
    """Say whether a tin is taken along."""
    places.take_along(collection_here(), body.tin, body.along)
    return _tins()


@api.post("/ranges", responses={"200": AddedOut})
def add_new_range(body: RangeIn) -> AddedOut:
    """A new, empty range."""
    number, change = charts.add_range(collection_here(), charts.RangeAs(**body.model_dump(exclude={"revision"})))
    return AddedOut(id=number, change=change_out(change))


@api.put("/ranges/<int:range_id>", responses={"200": MadeOut})
def put_range(path: RangePath, body: RangeIn) -> MadeOut:
    """Say anew all of a range."""
    wanted = charts.RangeAs(**body.model_dump(exclude={"revision"}))
    return made_out(charts.edit_range(collection_here(), path.range_id, body.revision, wanted))


@api.delete("/ranges/<int:range_id>", responses={"200": MadeOut})
def delete_range(path: RangePath) -> MadeOut:
    """Remove a range; refused, with the reason, where anything hangs on it."""
    return made_out(charts.remove_range(collection_here(), path.range_id))


@api.post("/ranges/<int:range_id>/colours", responses={"200": AddedOut})
def add_new_colour(path: RangePath, body: ChartIn) -> AddedOut:
    """A new colour at the end of a chart."""
    number, change = charts.add_colour(collection_here(), path.range_id, _chart(body))
    return AddedOut(id=number, change=change_out(change))


@api.put("/colours/<int:colour_id>", responses={"200": MadeOut})
def put_colour(path: ColourPath, body: ChartIn) -> MadeOut:
    """Correct what a chart says."""
    return made_out(charts.correct_colour(collection_here(), path.colour_id, body.revision, _chart(body)))


@api.delete("/colours/<int:colour_id>", responses={"200": MadeOut})
def delete_colour(path: ColourPath) -> MadeOut:
    """Remove a colour from its chart; refused, with the reason, where anything hangs on it."""
    return made_out(charts.remove_colour(collection_here(), path.colour_id))


@api.post("/ranges/<int:range_id>/sets", responses={"200": AddedOut})
def add_new_set(path: RangePath, body: SetIn) -> AddedOut:
    """A boxed set from typed codes."""
    number, change = charts.add_set(collection_here(), path.range_id, body.name, body.codes)
    return AddedOut(id=number, change=change_out(change))


@api.delete("/sets/<int:set_id>", responses={"200": MadeOut})
def delete_set(path: SetPath) -> MadeOut:
    """Remove a boxed set; refused where pencils came from it."""
    return made_out(charts.remove_set(collection_here(), path.set_id))


@api.post("/tidy/what", responses={"200": IdentifiedOut})
def identify_mark(body: WhatIn) -> IdentifiedOut:
    """Which colours a measured mark can be."""
    L, a, b = body.lab
    return IdentifiedOut.model_validate(what_is_this(collection_here(), (L, a, b), body.paper, body.pressure))


def _tins() -> TinsOut:
    return TinsOut(tins=[TinOut.model_validate(t) for t in places.tins(collection_here())])


def _chart(body: ChartIn) -> charts.ColourAs:
    lab = (body.lab[0], body.lab[1], body.lab[2]) if body.lab is not None else None
    return charts.ColourAs(body.code, body.name, lab, body.opacity, body.lightfastness, body.effect)


def _page(page: ColourPage) -> ColourPageOut:
    sticks = [PencilOut.model_validate(p).model_copy(update={"set_name": name}) for p, name in page.pencils]
    said = {**vars(page), "chart": page.colour, "pencils": sticks, "nearest": standins_out(page.nearest)}
    return ColourPageOut.model_validate(said, from_attributes=True)
