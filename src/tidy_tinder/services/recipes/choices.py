"""What the artist decides about a call: which colour it means, and what stands in for it on a paper."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select

from tidy_tinder.core.layers import Layer
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import colour_row
from tidy_tinder.services.collection.passage import find_call, settled_call
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.storage.models import CallState, Choice, RecipeStep


def settle_call(collection: Collection, call_id: int, colour_id: int | None) -> Changed:
    """Say which colour a call means; None says that it is no colour at all. Raises NotFoundError."""
    with writing(collection, "Call settled") as session:
        call = find_call(session, call_id)
        if colour_id is None:
            call.state, call.colour_id = CallState.DISMISSED, None
            label = f"“{call.as_written}” is no colour"
        else:
            colour = colour_row(session, colour_id)
            call.state, call.colour_id = CallState.SETTLED, colour_id
            label = f"“{call.as_written}” means {colour.code} {colour.name}"
        for choice in session.scalars(select(Choice).where(Choice.call_id == call_id)):
            session.delete(choice)
        relabel(session, label)
        return changed(session)


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
        below, over = laid[0] if laid else None, laid[1] if len(laid) > 1 else None
        row.colour_id = colour_id
        row.pressure, row.layers = (below.pressure, below.layers) if below else ("", 1)
        row.over_colour_id = over.pencil if over else None
        row.over_pressure, row.over_layers = (over.pressure, over.layers) if over else ("", 1)
        label = f"{names[0]} stands in" if over is None else f"{names[0]} under {names[1]} stand in"
        relabel(session, f"{label} on {scene.paper.name}")
        return changed(session)


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
