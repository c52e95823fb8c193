"""Recipes: pasted, read, settled, chosen for."""

from __future__ import annotations

from tidy_tinder.services.recipes import choices, looking_through, settling, text
from tidy_tinder.services.recipes.text import ReadCallPreview, ReadStepPreview
from tidy_tinder.services.recipes.view import open_recipe, recipe_cards
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.recipes.schemas import (
    CardsOut,
    ChoiceIn,
    ListedRecipeOut,
    LookedThroughIn,
    ReadCallOut,
    ReadingOut,
    ReadStepOut,
    RecipeOut,
    SavedOut,
    SettleIn,
    TextIn,
    WordsIn,
    words_at,
)
from tidy_tinder.web.shared.changes import MadeOut, change_out, made_out
from tidy_tinder.web.shared.drawn import colour_out
from tidy_tinder.web.shared.paths import CallPath, ColourQuery, PaperQuery, RecipePath, StepPath

api = blueprint("recipes")


@api.get("/recipes", responses={"200": CardsOut})
def get_recipes(query: PaperQuery) -> CardsOut:
    """All recipes with how their calls stand on a paper."""
    return CardsOut(
        recipes=[ListedRecipeOut.model_validate(card) for card in recipe_cards(collection_here(), query.paper)]
    )


@api.post("/recipes/reading", responses={"200": ReadingOut})
def read_recipe_text(body: TextIn) -> ReadingOut:
    """How a pasted text would be read; nothing is kept."""
    preview = text.preview_recipe(collection_here(), body.text)
    return ReadingOut(
        title=preview.title, ranges=list(preview.ranges), steps=[_read_step(step) for step in preview.steps]
    )


@api.post("/recipes", responses={"200": SavedOut})
def save_recipe(body: TextIn) -> SavedOut:
    """Read a pasted text and keep it."""
    recipe_id, change = text.save_recipe(collection_here(), body.text, body.title, body.reference_id)
    return SavedOut(recipe_id=recipe_id, change=change_out(change))


@api.get("/recipes/<int:recipe_id>", responses={"200": RecipeOut})
def get_recipe(path: RecipePath, query: ColourQuery) -> RecipeOut:
    """A recipe with every call answered on a paper."""
    return RecipeOut.model_validate(open_recipe(collection_here(), path.recipe_id, query.paper, query.closest))


@api.delete("/recipes/<int:recipe_id>", responses={"200": MadeOut})
def remove_recipe(path: RecipePath) -> MadeOut:
    """Remove a recipe; undo brings it back."""
    return made_out(text.remove_recipe(collection_here(), path.recipe_id))


@api.put("/steps/<int:step_id>/looked-through", responses={"200": MadeOut})
def look_through(path: StepPath, body: LookedThroughIn) -> MadeOut:
    """Say that a line of a recipe names no more colours."""
    return made_out(looking_through.look_through(collection_here(), path.step_id, body.revision, body.as_note))


@api.post("/steps/<int:step_id>/calls", responses={"200": MadeOut})
def call_for_words(path: StepPath, body: WordsIn) -> MadeOut:
    """Let words of a line name a colour, to be settled then."""
    return made_out(looking_through.call_for_words(collection_here(), path.step_id, body.words, body.start))


@api.put("/calls/<int:call_id>", responses={"200": MadeOut})
def settle_call(path: CallPath, body: SettleIn) -> MadeOut:
    """Say which colour a call means, or that it is none."""
    return made_out(settling.settle_call(collection_here(), path.call_id, body.colour_id, body.revision))


@api.put("/calls/<int:call_id>/choice", responses={"200": MadeOut})
def choose_standin(path: CallPath, body: ChoiceIn) -> MadeOut:
    """Use a pencil for a call on a paper, or leave it open again."""
    if body.colour_id is None:
        return made_out(choices.clear_choice(collection_here(), path.call_id, body.paper_id))
    laid = [one.layer for one in body.laid]
    return made_out(choices.choose_standin(collection_here(), path.call_id, body.paper_id, body.colour_id, laid))


def _read_step(s: ReadStepPreview) -> ReadStepOut:
    return ReadStepOut(
        kind=s.step.kind,
        text=s.step.text,
        left=words_at(s.step.left),
        calls=[_read_call(call) for call in s.calls],
        ranges=list(s.ranges),
    )


def _read_call(c: ReadCallPreview) -> ReadCallOut:
    return ReadCallOut(
        as_written=c.call.as_written,
        start=c.call.start,
        end=c.call.end,
        colour=colour_out(c.colour) if c.colour else None,
        other=colour_out(c.other) if c.other else None,
        candidates=[colour_out(e) for e in c.candidates],
        problem=c.call.problem,
        pressure=c.call.pressure,
        layers=c.call.layers,
    )
