"""What plans of recipes send and get."""

from __future__ import annotations

from pydantic import Field

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.planning.certificate import Surety
from tidy_tinder.services.recipes.choices import MOST_LAID
from tidy_tinder.services.recipes.plan_view import PlanView
from tidy_tinder.services.recipes.planning import PlanSoFar
from tidy_tinder.services.recipes.supposing import Supposed
from tidy_tinder.web.shared.base import Id, Out, Schema
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, PatchOut
from tidy_tinder.web.shared.offers import CoatIn, CoatOut
from tidy_tinder.web.shared.paths import ColourQuery

# Calls of a recipe that a plan can hold; more than a text can name.
_MOST_CALLS = 10_000


class SupposedQuery(ColourQuery):
    """With which pencils, where not with those at hand: only a range or a box, or one that would be bought; no_black:
    whether blacks are left out, whatever the drawing says.
    """

    only_range: Id | None = None
    only_set: Id | None = None
    bought: Id | None = None
    no_black: bool | None = None

    def supposed(self) -> Supposed:
        """As the services take it."""
        return Supposed(self.only_range, self.only_set, self.bought, self.no_black)


class PlanQuery(SupposedQuery):
    """again: work out anew what was stopped or failed."""

    again: bool = False


class PutIntoIn(Schema):
    """The range or the box into which a recipe is put, and how its plan is asked for."""

    paper_id: Id
    closest: Closest = Closest.OVERALL
    range_id: Id | None = None
    set_id: Id | None = None


class OtherHandsOut(Out):
    """A range or a box into which a recipe can be put."""

    id: int
    name: str
    colours: int


class AllOtherHandsOut(Schema):
    """All of them."""

    ranges: list[OtherHandsOut]
    boxes: list[OtherHandsOut]


class CallPlanOut(Out):
    """One call in a plan."""

    call_id: int
    laid: list[CoatOut]
    said: str
    instead: ColourOut | None
    asked: PatchOut
    alone: PatchOut
    asked_after: PatchOut
    planned_after: PatchOut
    difference: DifferenceOut
    settled: bool
    now: str
    changes: bool


class PassagePlanOut(Out):
    """One passage in a plan."""

    area: str
    calls: list[CallPlanOut]
    difference: DifferenceOut
    expected: float
    by_itself: float
    plus_minus: float
    asked_value: float
    planned_value: float
    to_buy: list[ColourOut]


class LeftOutCallOut(Schema):
    """A call that cannot be planned, and why."""

    call_id: int
    why: str


class PlanOut(Out):
    """A plan of a recipe on a paper. gap: by how much a better one could be better at most, where that is known."""

    standing: Surety
    passages: list[PassagePlanOut]
    expected: float
    by_itself: float
    cost: float
    gap: float | None
    tried: int
    pencils: int
    warnings: list[str]
    left_out: list[LeftOutCallOut]
    changes: int


class PlanSoFarOut(Schema):
    """The best plan there is yet, and how far the work on it is."""

    plan: PlanOut | None
    doing: str
    done: int
    total: int
    ended: bool
    stopped: bool
    problem: str
    failed: bool


class PlannedWayIn(Schema):
    """What a plan lays for a call, the lowest first; instead: of “A or B” it is planned for B."""

    call_id: Id
    instead: bool = False
    laid: list[CoatIn] = Field(min_length=1, max_length=MOST_LAID)


class TakePlanIn(Schema):
    """The plan as it was shown, for the calls that it changes."""

    paper_id: Id
    ways: list[PlannedWayIn] = Field(min_length=1, max_length=_MOST_CALLS)


class LockChoiceIn(Schema):
    """Whether plans leave what is chosen for a call as it is."""

    paper_id: Id
    locked: bool


class ExcludeIn(Schema):
    """A pencil that plans do not offer for a call, or offer again."""

    paper_id: Id
    colour_id: Id
    excluded: bool


def plan_so_far_out(found: PlanSoFar) -> PlanSoFarOut:
    """A plan as far as it is, for the browser."""
    return PlanSoFarOut(**{**vars(found), "plan": None if found.plan is None else _plan_out(found.plan)})


def _plan_out(plan: PlanView) -> PlanOut:
    left_out = [LeftOutCallOut(call_id=call, why=why) for call, why in plan.left_out.items()]
    return PlanOut.model_validate({**vars(plan), "left_out": left_out}, from_attributes=True)
