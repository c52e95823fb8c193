"""Which colour a call means, as the artist says: the same words of a recipe, and what points at them, mean it too."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import fold
from tidy_tinder.formats.recipe_repeats import only_points, pointed_at
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import colour_row
from tidy_tinder.services.collection.passage import find_call
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.services.recipes.rows import find_recipe
from tidy_tinder.storage.models import CallState, Choice, Exclusion, Recipe, RecipeCall, RecipeStep


def settle_call(
    collection: Collection, call_id: int, colour_id: int | None, revision: int | None = None
) -> Changed:  # fmt: skip
    """Say which colour a call means; None says that it is no colour at all.

    Calls of the recipe that ask for the same words mean that colour too, and lines that repeat one of these follow it
    where the artist has not settled them otherwise. revision: of the call that was looked at, None for the newest.
    Raises NotFoundError, and ChangedMeanwhileError where it was changed since.
    """
    with writing(collection, "Call settled") as session:
        call = find_call(session, call_id)
        state, said = CallState.DISMISSED, "is no colour"
        if colour_id is not None:
            colour = colour_row(session, colour_id)
            state, said = CallState.SETTLED, f"means {colour.code} {colour.name}"
        recipe = find_recipe(session, session.get_one(RecipeStep, call.step_id).recipe_id)
        alike = [call, *_in_the_same_words(recipe, call)] if colour_id is not None else [call]
        settled = [*alike, *_that_repeat(recipe, alike)]
        means = {"state": state, "colour_id": colour_id, "other_colour_id": None}
        revise(call, call.revision if revision is None else revision, means, f"What “{call.as_written}” means")
        for each in settled:
            _settle(session, each, means)
        also = f", in {len(settled)} places" if len(settled) > 1 else ""
        relabel(session, f"“{call.as_written}” {said}{also}")
        return changed(session)


def _settle(session: Session, call: RecipeCall, means: Mapping[str, Any]) -> None:
    """Let a call mean something else; what was decided about it is forgotten."""
    for name, value in means.items():
        setattr(call, name, value)
    for row in (Choice, Exclusion):
        for gone in session.scalars(select(row).where(row.call_id == call.id)):
            session.delete(gone)


def _in_the_same_words(recipe: Recipe, call: RecipeCall) -> Iterator[RecipeCall]:
    """The other calls that ask what these words mean."""
    if call.state != CallState.UNSETTLED:
        return
    for step in recipe.steps:
        for other in step.calls:
            same = fold(other.as_written) == fold(call.as_written) and fold(other.problem) == fold(call.problem)
            if other.id != call.id and other.state == CallState.UNSETTLED and same:
                yield other


def _that_repeat(recipe: Recipe, settled: list[RecipeCall]) -> list[RecipeCall]:
    """The calls that do no more than point at one of these, or at one of those again, and mean the same yet."""
    followed = {call.id for call in settled}
    found: list[RecipeCall] = []
    for at, step in enumerate(recipe.steps):
        meant = pointed_at(step.text, recipe.steps[:at])
        if len(meant) != len(step.calls):
            continue
        for before, call in zip(meant, step.calls, strict=True):
            # The numbers of the steps are not kept: what asks otherwise was pointed at by another one.
            asks_alike = (call.state, call.colour_id, call.problem) == (before.state, before.colour_id, before.problem)
            follows = asks_alike and only_points(step.text, call.as_written, call.start)
            if before.id in followed and call.id not in followed and follows:
                followed.add(call.id)
                found.append(call)
    return found
