"""Ranked stand-ins for a call."""

from __future__ import annotations

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.services.standins import standins_for_call
from tidy_tinder.web.drawn import StandinsOut, standins_out
from tidy_tinder.web.endpoint import blueprint, sessions_here
from tidy_tinder.web.recipes.schemas import CallPath
from tidy_tinder.web.standins.schemas import StandinsQuery

api = blueprint("standins")


@api.get("/calls/<int:call_id>/standins", responses={"200": StandinsOut})
def get_standins(path: CallPath, query: StandinsQuery) -> StandinsOut:
    """Stand-ins for a call on a paper, nearest first, like with like."""
    ranked = standins_for_call(sessions_here(), path.call_id, query.paper, Closest(query.closest), query.limit)
    return standins_out(ranked)
