"""Ranked stand-ins for a call."""

from __future__ import annotations

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.services.layered import Wish, layered_for_call
from tidy_tinder.services.standins import standins_for_call
from tidy_tinder.web.drawn import StandinsOut, standins_out
from tidy_tinder.web.endpoint import blueprint, sessions_here
from tidy_tinder.web.recipes.schemas import CallPath
from tidy_tinder.web.standins.schemas import LayeredOut, LayeredQuery, StandinsQuery

api = blueprint("standins")

# So long a request waits for pairs to be mixed before it says how far they are.
_WAIT_SECONDS = 0.3


@api.get("/calls/<int:call_id>/standins", responses={"200": StandinsOut})
def get_standins(path: CallPath, query: StandinsQuery) -> StandinsOut:
    """Stand-ins for a call on a paper, nearest first, like with like."""
    ranked = standins_for_call(sessions_here(), path.call_id, query.paper, Closest(query.closest), query.limit)
    return standins_out(ranked)


@api.get("/calls/<int:call_id>/layered", responses={"200": LayeredOut})
def get_layered(path: CallPath, query: LayeredQuery) -> LayeredOut:
    """Single and layered stand-ins for a call in its passage, nearest first, or how far they are."""
    wish = Wish(query.no_black, query.lasting, tuple(query.ranges))
    found = layered_for_call(sessions_here(), path.call_id, query.paper, Closest(query.closest), wish, _WAIT_SECONDS)
    return LayeredOut.model_validate(found)
