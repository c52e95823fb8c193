"""Recipes: pasted, read, settled, chosen for."""

from __future__ import annotations

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import LaidLayer
from tidy_tinder.services.recipes import view as service
from tidy_tinder.services.recipes.view import CallView, ReadCallPreview, RecipeCard, StepView
from tidy_tinder.web.collection.schemas import MadeOut
from tidy_tinder.web.drawn import LayeredOfferOut, change_out, colour_out, mark_out, offer_out
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.recipes.schemas import (
    CallOut,
    CallPath,
    CardOut,
    CardsOut,
    ChoiceIn,
    ReadCallOut,
    ReadingOut,
    ReadStepOut,
    RecipeOut,
    RecipePath,
    SavedOut,
    SettleIn,
    StepOut,
    TextIn,
)
from tidy_tinder.web.tidy.schemas import ColourQuery, PaperQuery

api = blueprint("recipes")


@api.get("/recipes", responses={"200": CardsOut})
def get_recipes(query: PaperQuery) -> CardsOut:
    """All recipes with how their calls stand on a paper."""
    return CardsOut(recipes=[_card(c) for c in service.recipe_cards(collection_here(), query.paper)])


@api.post("/recipes/reading", responses={"200": ReadingOut})
def read_recipe_text(body: TextIn) -> ReadingOut:
    """How a pasted text would be read; nothing is kept."""
    reading, calls = service.preview_recipe(collection_here(), body.text)
    shown = iter(calls)
    steps = [
        ReadStepOut(kind=step.kind, text=step.text, calls=[_read_call(next(shown)) for _ in step.calls])
        for step in reading.steps
    ]
    return ReadingOut(title=reading.title, ranges=list(reading.ranges), steps=steps)


@api.post("/recipes", responses={"200": SavedOut})
def save_recipe(body: TextIn) -> SavedOut:
    """Read a pasted text and keep it."""
    recipe_id, change = service.save_recipe(collection_here(), body.text, body.title)
    return SavedOut(recipe_id=recipe_id, change=change_out(change))


@api.get("/recipes/<int:recipe_id>", responses={"200": RecipeOut})
def get_recipe(path: RecipePath, query: ColourQuery) -> RecipeOut:
    """A recipe with every call answered on a paper."""
    recipe = service.open_recipe(collection_here(), path.recipe_id, query.paper, Closest(query.closest))
    return RecipeOut(
        id=recipe.id,
        title=recipe.title,
        source_text=recipe.source_text,
        steps=[_step(s) for s in recipe.steps],
        card=_card(recipe.card),
    )


@api.delete("/recipes/<int:recipe_id>", responses={"200": MadeOut})
def remove_recipe(path: RecipePath) -> MadeOut:
    """Remove a recipe; undo brings it back."""
    return MadeOut(change=change_out(service.remove_recipe(collection_here(), path.recipe_id)))


@api.put("/calls/<int:call_id>", responses={"200": MadeOut})
def settle_call(path: CallPath, body: SettleIn) -> MadeOut:
    """Say which colour a call means, or that it is none."""
    return MadeOut(change=change_out(service.settle_call(collection_here(), path.call_id, body.colour_id)))


@api.put("/calls/<int:call_id>/choice", responses={"200": MadeOut})
def choose_standin(path: CallPath, body: ChoiceIn) -> MadeOut:
    """Use a pencil for a call on a paper, or leave it open again."""
    if body.colour_id is None:
        return MadeOut(change=change_out(service.clear_choice(collection_here(), path.call_id, body.paper_id)))
    laid = [LaidLayer(one.colour_id, one.pressure, one.layers) for one in body.laid]
    change = service.choose_standin(collection_here(), path.call_id, body.paper_id, body.colour_id, laid)
    return MadeOut(change=change_out(change))


def _card(c: RecipeCard) -> CardOut:
    return CardOut(
        id=c.id, title=c.title, calls=c.calls, owned=c.owned, stand_ins=c.stand_ins, open=c.open,
        unsettled=c.unsettled,
    )  # fmt: skip


def _read_call(c: ReadCallPreview) -> ReadCallOut:
    return ReadCallOut(
        as_written=c.call.as_written,
        start=c.call.start,
        colour=colour_out(c.colour) if c.colour else None,
        candidates=[colour_out(e) for e in c.candidates],
        problem=c.call.problem,
        pressure=c.call.pressure,
        layers=c.call.layers,
    )


def _step(s: StepView) -> StepOut:
    return StepOut(
        id=s.id,
        kind=s.kind,
        number=s.number,
        area=s.area,
        text=s.text,
        pressure=s.pressure,
        layers=s.layers,
        finish=s.finish,
        calls=[_call(c) for c in s.calls],
    )


def _call(c: CallView) -> CallOut:
    return CallOut(
        id=c.id,
        as_written=c.as_written,
        start=c.start,
        answer=c.answer.value,
        colour=colour_out(c.colour) if c.colour else None,
        owning=c.owning.value,
        elsewhere=c.elsewhere,
        mark=mark_out(c.mark) if c.mark else None,
        pressure=c.pressure,
        compared_at=c.compared_at,
        layers=c.layers,
        role=c.role,
        problem=c.problem,
        candidates=[colour_out(row) for row in c.candidates],
        chosen=offer_out(c.chosen) if c.chosen else None,
        layered=LayeredOfferOut.model_validate(c.layered) if c.layered else None,
        working=c.working,
    )
