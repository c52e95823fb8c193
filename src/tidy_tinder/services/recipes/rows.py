"""A recipe by its number, and what is chosen for its calls on a paper."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layers import Layer
from tidy_tinder.services.collection.passage import layer_of
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.storage.models import Choice, Recipe, RecipeCall


@dataclass(frozen=True)
class ChosenWay:
    """The layers that stand in for a call, the lowest first; locked: a plan leaves them as they are."""

    layers: tuple[Layer[int], ...]
    locked: bool


def find_recipe(session: Session, recipe_id: int) -> Recipe:
    """The recipe; raises NotFoundError."""
    recipe = session.get(Recipe, recipe_id)
    if recipe is None:
        raise NotFoundError(f"There is no recipe number {recipe_id}. It may have been removed in another window.")
    return recipe


def chosen_ways(session: Session, recipe_id: int, paper_id: int) -> Mapping[int, ChosenWay]:
    """What is chosen for the calls of a recipe on a paper, by call."""
    chosen = select(Choice, RecipeCall).join(RecipeCall, Choice.call_id == RecipeCall.id)
    rows = session.execute(chosen.where(Choice.recipe_id == recipe_id, Choice.paper_id == paper_id)).all()
    return {choice.call_id: ChosenWay(_layers_of(choice, call), choice.locked) for choice, call in rows}


def _layers_of(choice: Choice, call: RecipeCall) -> tuple[Layer[int], ...]:
    """The layers of a choice; without a pressure of its own a pencil is laid as the call asks."""
    if not choice.pressure:
        return (layer_of(call).of(choice.colour_id),)
    below = Layer(choice.colour_id, choice.pressure, choice.layers)
    if choice.over_colour_id is None or not choice.over_pressure:
        return (below,)
    return (below, Layer(choice.over_colour_id, choice.over_pressure, choice.over_layers))
