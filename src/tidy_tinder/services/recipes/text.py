"""Recipes as text: previewed, taken in, removed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import Entry
from tidy_tinder.formats.recipe_ranges import ranges_line
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_text import LONGEST_LINE, LONGEST_TEXT, RecipeReading, read_recipe
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import drawing_at_hand
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.recipes.removing import remove_step
from tidy_tinder.services.recipes.rows import find_recipe
from tidy_tinder.storage.models import CallState, Recipe, RecipeCall, RecipeStep, RecipeVersion, Reference


@dataclass(frozen=True)
class ReadCallPreview:
    """A call of a text that is only being looked at: the colour it is read as (or one of two), or what it can mean."""

    call: ReadCall
    colour: Entry | None
    other: Entry | None
    candidates: tuple[Entry, ...]


@dataclass(frozen=True)
class ReadStepPreview:
    """A line of a text that is only being looked at. ranges: those that it names, where it says nothing else."""

    step: ReadStep
    calls: tuple[ReadCallPreview, ...]
    ranges: tuple[str, ...]


@dataclass(frozen=True)
class RecipePreview:
    """A text that is only being looked at. ranges: those named once for all of it."""

    title: str
    ranges: tuple[str, ...]
    steps: tuple[ReadStepPreview, ...]


def preview_recipe(collection: Collection, text: str) -> RecipePreview:
    """How a pasted text would be read; nothing is kept. Raises RefusedError where there is nothing to read."""
    with collection() as session:
        reading, catalogue = _read(session, text), catalogue_of(session)
    entries = {entry.key: entry for entry in catalogue.entries}
    steps = (
        ReadStepPreview(step, tuple(_meant(c, entries) for c in step.calls), ranges_line(step.text, catalogue))
        for step in reading.steps
    )
    return RecipePreview(reading.title, reading.ranges, tuple(steps))


def _meant(call: ReadCall, entries: Mapping[int, Entry]) -> ReadCallPreview:
    candidates = tuple(entries[key] for key in call.candidates)
    return ReadCallPreview(call, entries.get(call.key or 0), entries.get(call.other or 0), candidates)


def save_recipe(
    collection: Collection, text: str, title: str = "", reference_id: int | None = None, drawing_id: int | None = None,
    looked_through: bool = False,
) -> tuple[int, Changed]:  # fmt: skip
    """Read a pasted text and keep it: its number, and the change. reference_id: the picture whose picks it began with;
    drawing_id: the drawing that it belongs to, where not to the one at hand; looked_through: no line is to be asked
    about, since the artist has answered for its words already.

    Raises RefusedError for an empty text, NotFoundError for a picture that is gone.
    """
    with writing(collection, "Recipe") as session:
        reading = _read(session, text)
        last = session.scalar(select(func.max(Recipe.position))) or 0
        recipe = Recipe(
            drawing_id=drawing_id or _drawing_of(session, reference_id),
            reference_id=reference_id,
            title=title.strip() or reading.title,
            source_text=text,
            position=last + 1,
        )
        session.add(recipe)
        session.flush()
        _add_steps(session, recipe.id, reading, looked_through)
        relabel(session, f"Recipe “{recipe.title}” taken in")
        return recipe.id, changed(session)


def remove_recipe(collection: Collection, recipe_id: int) -> Changed:
    """Remove a recipe with its calls and choices; undo brings all of it back. Raises NotFoundError."""
    with writing(collection, "Recipe removed") as session:
        recipe = find_recipe(session, recipe_id)
        relabel(session, f"Recipe “{recipe.title}” removed")
        for step in list(recipe.steps):
            remove_step(session, step)
        for version in session.scalars(select(RecipeVersion).where(RecipeVersion.recipe_id == recipe_id)):
            session.delete(version)
        session.flush()
        session.delete(recipe)
        return changed(session)


def _drawing_of(session: Session, reference_id: int | None) -> int | None:
    """The drawing that a new recipe belongs to: that of its picture, else the one at hand."""
    if reference_id is None:
        drawing = drawing_at_hand(session)
        return drawing.id if drawing else None
    reference = session.get(Reference, reference_id)
    if reference is None:
        raise NotFoundError("The picture that this recipe began with is gone. Take it in without it.")
    return reference.drawing_id


def _read(session: Session, text: str) -> RecipeReading:
    if not text.strip():
        raise RefusedError("There is no text yet. Paste the recipe as it was written, one step a line.")
    if len(text) > LONGEST_TEXT:
        raise RefusedError(f"The text has {len(text)} characters; a recipe has at most {LONGEST_TEXT}. Split it.")
    for number, line in enumerate(text.splitlines(), 1):
        if len(line) > LONGEST_LINE:
            raise RefusedError(
                f"Line {number} has {len(line)} characters; a step has at most {LONGEST_LINE}. Break it into several "
                "lines."
            )
    return read_recipe(text, catalogue_of(session))


def _add_steps(session: Session, recipe_id: int, reading: RecipeReading, looked_through: bool) -> None:
    for position, step in enumerate(reading.steps):
        row = RecipeStep(
            recipe_id=recipe_id, position=position, kind=step.kind, area=step.area, text=step.text,
            pressure=step.pressure, layers=step.layers, finish=step.finish,
            to_look_through=bool(step.left) and not looked_through,
        )  # fmt: skip
        session.add(row)
        session.flush()
        session.add_all(call_row(row.id, i, call) for i, call in enumerate(step.calls))


def call_row(step_id: int, position: int, call: ReadCall) -> RecipeCall:
    """A call as it was read, as it is kept."""
    return RecipeCall(
        step_id=step_id, position=position, as_written=call.as_written, start=call.start, colour_id=call.key,
        state=CallState.READ if call.key is not None else CallState.UNSETTLED, problem=call.problem,
        pressure=call.pressure, layers=call.layers, role=call.role, other_colour_id=call.other,
    )  # fmt: skip
