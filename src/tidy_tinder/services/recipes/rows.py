"""A recipe by its number."""

from __future__ import annotations

from sqlalchemy.orm import Session

from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.storage.models import Recipe


def find_recipe(session: Session, recipe_id: int) -> Recipe:
    """The recipe; raises NotFoundError."""
    recipe = session.get(Recipe, recipe_id)
    if recipe is None:
        raise NotFoundError(f"There is no recipe number {recipe_id}. It may have been removed in another window.")
    return recipe
