"""What the artist decides about a call on a paper: what stands in for it, and what does not."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from collections.abc import Set as AbstractSet

from sqlalchemy import select

from tidy_tinder.core.layers import Layer
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.passage import find_call, settled_call
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.recipes.rows import find_recipe
from tidy_tinder.storage.models import Choice, Exclusion, RecipeStep

MOST_LAID = 2
"""Pencils that stand in for one call."""


def choose_standin(
    collection: Collection, call_id: int, paper_id: int, colour_id: int, laid: Sequence[Layer[int]] = ()
) -> Changed:
    """Use a pencil for a call on a paper from now on; another choice there is replaced.

    laid: one or two layers, the lower first, where it is not simply laid as the call asks; the first is of this colour.
    Raises NotFoundError, and RefusedError for a colour that is not at hand, an unsettled call, or layers that do not
    begin with this colour.
    """
    with writing(collection, "Stand-in chosen") as session:
        call, _ = settled_call(session, call_id)
        scene = Scene.on(session, paper_id)
        if laid and laid[0].pencil != colour_id:
            raise RefusedError("The first layer is not of the pencil that is chosen.")
        names = [_at_hand(scene, i) for i in (colour_id, *(one.pencil for one in laid[1:]))]
        recipe_id = session.scalar(select(RecipeStep.recipe_id).where(RecipeStep.id == call.step_id)) or 0
        row = session.scalar(select(Choice).where(Choice.call_id == call_id, Choice.paper_id == paper_id))
        if row is None:
            row = Choice(recipe_id=recipe_id, call_id=call_id, paper_id=paper_id, colour_id=colour_id)
            session.add(row)
        _lay(row, colour_id, laid)
        row.locked = True
        label = f"{names[0]} stands in" if len(laid) < 2 else f"{names[0]} under {names[1]} stand in"
        relabel(session, f"{label} on {scene.paper.name}")
        return changed(session)


def _lay(row: Choice, colour_id: int, laid: Sequence[Layer[int]]) -> None:
    """Write the layers of a choice; without any, the pencil is laid as its call asks."""
    below, over = laid[0] if laid else None, laid[1] if len(laid) > 1 else None
    row.colour_id = colour_id
    row.pressure, row.layers = (below.pressure, below.layers) if below else ("", 1)
    row.over_colour_id = over.pencil if over else None
    row.over_pressure, row.over_layers = (over.pressure, over.layers) if over else ("", 1)


def _at_hand(scene: Scene, colour_id: int) -> str:
    """The code and name of a colour; raises where there is none or it cannot be drawn with."""
    colour = scene.colour(colour_id)
    if colour_id not in scene.at_hand:
        raise RefusedError(f"{colour.code} {colour.name} is not at hand, so it cannot stand in.")
    return f"{colour.code} {colour.name}"


def clear_choice(collection: Collection, call_id: int, paper_id: int) -> Changed:
    """Leave a call open again on a paper. Raises NotFoundError where nothing was chosen."""
    with writing(collection, "Stand-in taken back") as session:
        row = session.scalar(select(Choice).where(Choice.call_id == call_id, Choice.paper_id == paper_id))
        if row is None:
            raise NotFoundError("No stand-in is chosen for this call on this paper.")
        session.delete(row)
        return changed(session)


def take_plan(
    collection: Collection, recipe_id: int, paper_id: int, ways: Mapping[int, Sequence[Layer[int]]],
    instead: AbstractSet[int] = frozenset(),
) -> Changed:  # fmt: skip
    """Use what a plan lays for calls of a recipe on a paper, all in one change; what is locked stays as it is.

    ways: by call, its layers, the lowest first; instead: calls of “A or B” for which B was planned, which then comes
    first. Raises NotFoundError, and RefusedError where a call is not of this
    recipe, is locked, or is given no layer or more than two, or where a pencil is not at hand.
    """
    with writing(collection, "Plan taken") as session:
        recipe, scene = find_recipe(session, recipe_id), Scene.on(session, paper_id)
        for call_id, laid in ways.items():
            call, _ = settled_call(session, call_id)
            if session.get_one(RecipeStep, call.step_id).recipe_id != recipe_id:
                raise RefusedError(f"“{call.as_written}” is no call of this recipe.")
            if not 1 <= len(laid) <= MOST_LAID:
                raise RefusedError(f"“{call.as_written}” is laid with one pencil or two, not with {len(laid)}.")
            for one in laid:
                _at_hand(scene, one.pencil)
            if call_id in instead and call.other_colour_id is not None:
                call.colour_id, call.other_colour_id = call.other_colour_id, call.colour_id
            row = session.scalar(select(Choice).where(Choice.call_id == call_id, Choice.paper_id == paper_id))
            if row is not None and row.locked:
                raise RefusedError(
                    f"“{call.as_written}” was locked meanwhile. Look at the plan again, and take it then."
                )
            if row is None:
                row = Choice(recipe_id=recipe_id, call_id=call_id, paper_id=paper_id)
                session.add(row)
            _lay(row, laid[0].pencil, laid)
            row.locked = False
        count = len(ways)
        relabel(session, f"Plan for “{recipe.title}” taken on {scene.paper.name}: {count} stand-in{'s' * (count != 1)}")
        return changed(session)


def lock_choice(collection: Collection, call_id: int, paper_id: int, locked: bool) -> Changed:
    """Let plans leave the chosen stand-in of a call as it is, or not. Raises NotFoundError where nothing is chosen."""
    with writing(collection, "Stand-in locked" if locked else "Stand-in unlocked") as session:
        row = session.scalar(select(Choice).where(Choice.call_id == call_id, Choice.paper_id == paper_id))
        if row is None:
            raise NotFoundError("No stand-in is chosen for this call on this paper.")
        row.locked = locked
        call, scene = find_call(session, call_id), Scene.on(session, paper_id)
        relabel(session, f"Stand-in for “{call.as_written}” {'locked' if locked else 'unlocked'} on {scene.paper.name}")
        return changed(session)


def exclude(collection: Collection, call_id: int, paper_id: int, colour_id: int, excluded: bool) -> Changed:
    """Let plans not offer a pencil for a call on a paper, or offer it again. Raises NotFoundError."""
    with writing(collection, "Left out") as session:
        call, _ = settled_call(session, call_id)
        scene = Scene.on(session, paper_id)
        colour = scene.colour(colour_id)
        mine = (Exclusion.call_id == call_id, Exclusion.paper_id == paper_id, Exclusion.colour_id == colour_id)
        row = session.scalar(select(Exclusion).where(*mine))
        if excluded and row is None:
            recipe_id = session.get_one(RecipeStep, call.step_id).recipe_id
            session.add(Exclusion(recipe_id=recipe_id, call_id=call_id, paper_id=paper_id, colour_id=colour_id))
        elif row is not None and not excluded:
            session.delete(row)
        what = "left out of plans" if excluded else "offered in plans again"
        relabel(session, f"{colour.code} {colour.name} {what} for “{call.as_written}”")
        return changed(session)
