"""Plans of whole recipes: asked for, stopped, taken; what they leave alone and leave out."""

from __future__ import annotations

from tidy_tinder.services.recipes import choices, planning
from tidy_tinder.services.recipes.putting_into import put_into
from tidy_tinder.services.recipes.supposing import Supposed, other_hands
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.recipes.plan_schemas import (
    AllOtherHandsOut,
    ExcludeIn,
    LockChoiceIn,
    OtherHandsOut,
    PlanQuery,
    PlanSoFarOut,
    PutIntoIn,
    SupposedQuery,
    TakePlanIn,
    plan_so_far_out,
)
from tidy_tinder.web.recipes.schemas import SavedOut
from tidy_tinder.web.shared.changes import MadeOut, change_out, made_out
from tidy_tinder.web.shared.paths import CallPath, RecipePath

api = blueprint("plans")

# So long a request waits for the first answer.
_WAIT_SECONDS = 0.3


@api.get("/recipes/<int:recipe_id>/plan", responses={"200": PlanSoFarOut})
def get_plan(path: RecipePath, query: PlanQuery) -> PlanSoFarOut:
    """The plan of a recipe on a paper as far as it is; it is begun by asking."""
    here = collection_here()
    wait, supposed = _WAIT_SECONDS, query.supposed()
    return plan_so_far_out(
        planning.plan_for(here, path.recipe_id, query.paper, query.closest, wait, query.again, supposed)
    )


@api.delete("/recipes/<int:recipe_id>/plan", responses={"200": PlanSoFarOut})
def stop_plan(path: RecipePath, query: SupposedQuery) -> PlanSoFarOut:
    """Stop working on a plan; what was found stands."""
    here, supposed = collection_here(), query.supposed()
    planning.stop_planning(here, path.recipe_id, query.paper, query.closest, supposed)
    return plan_so_far_out(
        planning.plan_for(here, path.recipe_id, query.paper, query.closest, supposed=supposed)
    )  # fmt: skip


@api.get("/other-hands", responses={"200": AllOtherHandsOut})
def get_other_hands() -> AllOtherHandsOut:
    """The ranges and boxes into which recipes can be put."""
    ranges, boxes = other_hands(collection_here())
    return AllOtherHandsOut(
        ranges=[OtherHandsOut.model_validate(one) for one in ranges],
        boxes=[OtherHandsOut.model_validate(one) for one in boxes],
    )


@api.post("/recipes/<int:recipe_id>/into", responses={"200": SavedOut})
def put_recipe_into(path: RecipePath, body: PutIntoIn) -> SavedOut:
    """Write the plan of a recipe with the pencils of a range or a box as a recipe of its own."""
    supposed = Supposed(body.range_id, body.set_id)
    recipe_id, change = put_into(collection_here(), path.recipe_id, body.paper_id, body.closest, supposed)
    return SavedOut(recipe_id=recipe_id, change=change_out(change))


@api.put("/recipes/<int:recipe_id>/plan", responses={"200": MadeOut})
def take_plan(path: RecipePath, body: TakePlanIn) -> MadeOut:
    """Use what a plan lays for its calls, in one change."""
    ways = {way.call_id: [one.layer for one in way.laid] for way in body.ways}
    instead = {way.call_id for way in body.ways if way.instead}
    return made_out(choices.take_plan(collection_here(), path.recipe_id, body.paper_id, ways, instead))


@api.put("/calls/<int:call_id>/lock", responses={"200": MadeOut})
def lock_choice(path: CallPath, body: LockChoiceIn) -> MadeOut:
    """Let plans leave what is chosen for a call as it is, or not."""
    return made_out(choices.lock_choice(collection_here(), path.call_id, body.paper_id, body.locked))


@api.put("/calls/<int:call_id>/exclusion", responses={"200": MadeOut})
def exclude_pencil(path: CallPath, body: ExcludeIn) -> MadeOut:
    """Let plans not offer a pencil for a call, or offer it again."""
    here = collection_here()
    return made_out(choices.exclude(here, path.call_id, body.paper_id, body.colour_id, body.excluded))
