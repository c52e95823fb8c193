"""Recipes checked, checks switched, advice followed."""

from __future__ import annotations

from tidy_tinder.services.recipes import checking
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.recipes.checking_schemas import CheckedOut, FollowAdviceIn, SwitchIn
from tidy_tinder.web.shared.changes import MadeOut, made_out
from tidy_tinder.web.shared.paths import PaperQuery, RecipePath

api = blueprint("checking")


@api.get("/recipes/<int:recipe_id>/checks", responses={"200": CheckedOut})
def check_recipe(path: RecipePath, query: PaperQuery) -> CheckedOut:
    """What will not work in a recipe on a paper, and what is to be minded."""
    return CheckedOut.model_validate(checking.check_recipe(collection_here(), path.recipe_id, query.paper))


@api.put("/recipes/<int:recipe_id>/checks", responses={"200": MadeOut})
def switch_check(path: RecipePath, body: SwitchIn) -> MadeOut:
    """Switch a check off or on."""
    return made_out(checking.switch_check(collection_here(), path.recipe_id, body.rule, body.off, body.everywhere))


@api.post("/recipes/<int:recipe_id>/checks", responses={"200": MadeOut})
def follow_advice(path: RecipePath, body: FollowAdviceIn) -> MadeOut:
    """Do what a check advises."""
    here = collection_here()
    return made_out(checking.follow_advice(here, path.recipe_id, body.paper_id, body.rule, body.step, body.call))
