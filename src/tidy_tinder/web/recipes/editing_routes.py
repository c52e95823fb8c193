"""Recipes edited: lines written anew, calls laid otherwise, versions kept, compared, gone back to."""

from __future__ import annotations

from tidy_tinder.services.recipes import editing, versions
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.recipes.editing_schemas import (
    ComparedLineOut,
    ComparedOut,
    CompareQuery,
    LayCallIn,
    LinesIn,
    RecipeVersionIn,
    RecipeVersionKeptOut,
    RecipeVersionOut,
    RecipeVersionPath,
    RecipeVersionsOut,
    WrittenOut,
)
from tidy_tinder.web.shared.changes import MadeOut, change_out, made_out
from tidy_tinder.web.shared.paths import CallPath, RecipePath

api = blueprint("editing")


@api.put("/recipes/<int:recipe_id>/lines", responses={"200": WrittenOut})
def write_lines(path: RecipePath, body: LinesIn) -> WrittenOut:
    """Let a recipe have these lines in this order."""
    lines = [editing.Line(**dict(line)) for line in body.lines]
    return WrittenOut.model_validate(
        editing.write_lines(collection_here(), path.recipe_id, body.revision, body.title, lines)
    )


@api.put("/calls/<int:call_id>/asked", responses={"200": MadeOut})
def lay_call(path: CallPath, body: LayCallIn) -> MadeOut:
    """Let a recipe ask for a call in another pressure and so many layers."""
    return made_out(editing.lay_call(collection_here(), path.call_id, body.pressure, body.layers))


@api.get("/recipes/<int:recipe_id>/versions", responses={"200": RecipeVersionsOut})
def get_versions(path: RecipePath) -> RecipeVersionsOut:
    """The versions of a recipe that are kept."""
    kept = versions.versions_of(collection_here(), path.recipe_id)
    return RecipeVersionsOut(versions=[RecipeVersionOut.model_validate(one) for one in kept])


@api.post("/recipes/<int:recipe_id>/versions", responses={"200": RecipeVersionKeptOut})
def keep_version(path: RecipePath, body: RecipeVersionIn) -> RecipeVersionKeptOut:
    """Keep a recipe as it stands now."""
    version_id, change = versions.keep_version(collection_here(), path.recipe_id, body.name)
    return RecipeVersionKeptOut(version_id=version_id, change=change_out(change))


@api.get("/recipes/<int:recipe_id>/versions/<int:version_id>", responses={"200": ComparedOut})
def compare_versions(path: RecipeVersionPath, query: CompareQuery) -> ComparedOut:
    """A version beside another, or beside the recipe as it is now, line by line."""
    lines = versions.compare_versions(collection_here(), path.recipe_id, path.version_id, query.beside)
    return ComparedOut(lines=[ComparedLineOut.model_validate(line) for line in lines])


@api.put("/recipes/<int:recipe_id>/versions/<int:version_id>", responses={"200": MadeOut})
def go_back_to_version(path: RecipeVersionPath) -> MadeOut:
    """Let a recipe be as it was in a version."""
    return made_out(versions.go_back(collection_here(), path.recipe_id, path.version_id))
