"""Plans of whole recipes: asked for, stopped, taken; what they leave alone and leave out."""

from __future__ import annotations

from tidy_tinder.services.recipes import choices, planning
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.recipes.plan_schemas import (
    ExcludeIn,
    LockChoiceIn,
    PlanQuery,
    PlanSoFarOut,
    TakePlanIn,
    plan_so_far_out,
)
from tidy_tinder.web.shared.changes import MadeOut, made_out
from tidy_tinder.web.shared.paths import CallPath, ColourQuery, RecipePath

api = blueprint("plans")

# So long a request waits for the first answer.
_WAIT_SECONDS = 0.3


@api.get("/recipes/<int:recipe_id>/plan", responses={"200": PlanSoFarOut})
def get_plan(path: RecipePath, query: PlanQuery) -> PlanSoFarOut:
    """The plan of a recipe on a paper as far as it is; it is begun by asking."""
    here = collection_here()
    return plan_so_far_out(
        planning.plan_for(here, path.recipe_id, query.paper, query.closest, _WAIT_SECONDS, query.again)
    )


@api.delete("/recipes/<int:recipe_id>/plan", responses={"200": PlanSoFarOut})
def stop_plan(path: RecipePath, query: ColourQuery) -> PlanSoFarOut:
    """Stop working on a plan; what was found stands."""
    planning.stop_planning(collection_here(), path.recipe_id, query.paper, query.closest)
    return plan_so_far_out(planning.plan_for(collection_here(), path.recipe_id, query.paper, query.closest))


@api.put("/recipes/<int:recipe_id>/plan", responses={"200": MadeOut})
def take_plan(path: RecipePath, body: TakePlanIn) -> MadeOut:
    """Use what a plan lays for its calls, in one change."""
    ways = {way.call_id: [one.layer for one in way.laid] for way in body.ways}
    return made_out(choices.take_plan(collection_here(), path.recipe_id, body.paper_id, ways))


@api.put("/calls/<int:call_id>/lock", responses={"200": MadeOut})
def lock_choice(path: CallPath, body: LockChoiceIn) -> MadeOut:
    """Let plans leave what is chosen for a call as it is, or not."""
    return made_out(choices.lock_choice(collection_here(), path.call_id, body.paper_id, body.locked))


@api.put("/calls/<int:call_id>/exclusion", responses={"200": MadeOut})
def exclude_pencil(path: CallPath, body: ExcludeIn) -> MadeOut:
    """Let plans not offer a pencil for a call, or offer it again."""
    here = collection_here()
    return made_out(choices.exclude(here, path.call_id, body.paper_id, body.colour_id, body.excluded))
