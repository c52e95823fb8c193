"""Ranked stand-ins for a call or any colour, and what neutralises a pencil."""

from __future__ import annotations

from tidy_tinder.core.layers import Layer
from tidy_tinder.services.standins.in_passage import Waiting, layered_for_call, layered_for_colour
from tidy_tinder.services.standins.mark_beside_mark import standins_for_call
from tidy_tinder.services.standins.neutralisers import neutralisers_of
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.shared.offers import StandinsOut, standins_out
from tidy_tinder.web.shared.paths import CallPath, ColourPath
from tidy_tinder.web.standins.schemas import (
    ColourLayeredQuery,
    LayeredOut,
    LayeredQuery,
    NeutralisedOut,
    NeutralisersQuery,
    StandinsQuery,
    layered_out,
)

api = blueprint("standins")

# So long a request waits for pairs to be mixed before it says how far they are.
_WAIT_SECONDS = 0.3


@api.get("/calls/<int:call_id>/standins", responses={"200": StandinsOut})
def get_standins(path: CallPath, query: StandinsQuery) -> StandinsOut:
    """Stand-ins for a call on a paper, nearest first, like with like."""
    ranked = standins_for_call(collection_here(), path.call_id, query.paper, query.closest, query.limit)
    return standins_out(ranked)


@api.get("/calls/<int:call_id>/layered", responses={"200": LayeredOut})
def get_layered(path: CallPath, query: LayeredQuery) -> LayeredOut:
    """Single and layered stand-ins for a call in its passage, nearest first, or how far they are."""
    closest = query.closest
    return layered_out(
        layered_for_call(
            collection_here(), path.call_id, query.paper, closest, query.wish, Waiting(_WAIT_SECONDS, query.again)
        )
    )


@api.get("/colours/<int:colour_id>/layered", responses={"200": LayeredOut})
def get_layered_for_colour(path: ColourPath, query: ColourLayeredQuery) -> LayeredOut:
    """Single and layered stand-ins for any colour by itself, nearest first, or how far they are."""
    asked, closest = Layer(path.colour_id, query.pressure, query.layers), query.closest
    return layered_out(
        layered_for_colour(
            collection_here(), asked, query.paper, closest, query.wish, Waiting(_WAIT_SECONDS, query.again)
        )
    )


@api.get("/colours/<int:colour_id>/neutralisers", responses={"200": NeutralisedOut})
def get_neutralisers(path: ColourPath, query: NeutralisersQuery) -> NeutralisedOut:
    """What darkens or greys a pencil without black, or how far the mixing is."""
    neutralised = neutralisers_of(
        collection_here(), Layer(path.colour_id, query.pressure), query.paper, _WAIT_SECONDS, query.again
    )
    return NeutralisedOut.model_validate(neutralised)
