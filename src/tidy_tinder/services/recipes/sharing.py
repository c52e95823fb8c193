"""A recipe as a file for others, and one of theirs taken in."""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum
from typing import Literal

from sqlalchemy import func, select

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.names.finding import Entry
from tidy_tinder.core.vocabulary import MarkPressure, Pressure, SaidPressure, StepKind
from tidy_tinder.formats.gpl import PaletteColour, gimp_palette
from tidy_tinder.formats.recipe_csv import CsvCall, recipe_as_csv
from tidy_tinder.formats.recipe_json import CallInFile, RecipeFile, StepInFile, recipe_as_json, recipe_from_json
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import drawing_at_hand
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import layers_in_words, owned_layers
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.recipes.rows import chosen_ways, find_recipe
from tidy_tinder.storage.models import CallState, Recipe, RecipeCall, RecipeStep


class RecipeKind(StrEnum):
    """The kinds of file that a recipe is shared as."""

    TEXT = "text"
    JSON = "json"
    CSV = "csv"
    PALETTE = "palette"


def recipe_as_file(collection: Collection, recipe_id: int, paper_id: int, kind: RecipeKind) -> tuple[str, str]:
    """The title of a recipe, and the content of its file; what stands in, and how it looks, as on this paper.

    Raises NotFoundError.
    """
    with collection() as session:
        recipe, scene = find_recipe(session, recipe_id), Scene.on(session, paper_id)
        match kind:
            case RecipeKind.TEXT:
                content = recipe.source_text
            case RecipeKind.JSON:
                content = recipe_as_json(_file_of(scene, recipe))
            case RecipeKind.CSV:
                content = recipe_as_csv(_csv_calls(scene, recipe))
            case RecipeKind.PALETTE:
                content = gimp_palette(f"{recipe.title} on {scene.paper.name}", _palette(scene, recipe))
        return recipe.title, content


def take_in_recipe(collection: Collection, content: bytes) -> tuple[int, Changed]:
    """Take a recipe in from its JSON: its number, and the change. A colour that is on no chart here is to be settled.

    Raises UnreadableError, which says where and what is wrong.
    """
    file = recipe_from_json(content)
    with writing(collection, "Recipe") as session:
        drawing = drawing_at_hand(session)
        last = session.scalar(select(func.max(Recipe.position))) or 0
        recipe = Recipe(
            drawing_id=drawing.id if drawing else None,
            title=file.title,
            source_text=file.source_text or _text_of(file),
            position=last + 1,
        )
        session.add(recipe)
        session.flush()
        entries = catalogue_of(session).entries
        for position, step in enumerate(file.steps):
            row = RecipeStep(
                recipe_id=recipe.id, position=position, kind=step.kind, area=step.area, text=step.text,
                pressure=step.pressure, layers=step.layers, finish=step.finish,
            )  # fmt: skip
            session.add(row)
            session.flush()
            session.add_all(_call_row(row.id, at, call, entries) for at, call in enumerate(step.calls))
        relabel(session, f"Recipe “{recipe.title}” taken in")
        return recipe.id, changed(session)


def _file_of(scene: Scene, recipe: Recipe) -> RecipeFile:
    return RecipeFile(
        title=recipe.title[:200],
        source_text=recipe.source_text,
        steps=tuple(
            StepInFile(
                kind=step.kind,
                area=step.area,
                text=step.text,
                pressure=_mark(step.pressure),
                layers=step.layers,
                finish=step.finish,
                calls=tuple(_call_in_file(scene, call) for call in step.calls),
            )
            for step in recipe.steps
        ),
    )


def _call_in_file(scene: Scene, call: RecipeCall) -> CallInFile:
    colour = scene.colours.get(call.colour_id or 0)
    return CallInFile(
        as_written=call.as_written,
        start=call.start,
        maker=colour.maker if colour else "",
        range=colour.range_name if colour else "",
        code=colour.code if colour else "",
        name=colour.name if colour else "",
        no_colour=call.state == CallState.DISMISSED,
        pressure=_mark(call.pressure),
        layers=call.layers,
        role=call.role,
    )


def _call_row(step_id: int, position: int, call: CallInFile, entries: tuple[Entry, ...]) -> RecipeCall:
    """A call of a file as it is kept here: found by maker, range and code, else by range and code."""
    same = [e for e in entries if (e.range_name, e.code) == (call.range, call.code)]
    meant = next((e for e in same if e.maker == call.maker), same[0] if len(same) == 1 else None)
    state = CallState.DISMISSED if call.no_colour else CallState.READ if meant else CallState.UNSETTLED
    named = " ".join(part for part in (call.maker, call.range, call.code, call.name) if part)
    problem = "" if state != CallState.UNSETTLED else f"“{named or call.as_written}” is on no chart here."
    return RecipeCall(
        step_id=step_id, position=position, as_written=call.as_written, start=call.start,
        colour_id=meant.key if meant and not call.no_colour else None, state=state, problem=problem,
        pressure=call.pressure, layers=call.layers, role=call.role,
    )  # fmt: skip


def _csv_calls(scene: Scene, recipe: Recipe) -> Iterator[CsvCall]:
    chosen = chosen_ways(scene.session, recipe.id, scene.paper.id)
    number = 0
    for step in recipe.steps:
        number += step.kind == StepKind.STEP
        for call in step.calls:
            colour, way = scene.colours.get(call.colour_id or 0), chosen.get(call.id)
            owned = call.colour_id in scene.at_hand
            stands = "owned" if owned else "stand-in" if way else "open" if colour else call.state.value
            yield CsvCall(
                str(number), step.area, step.text, colour.maker if colour else "", colour.range_name if colour else "",
                colour.code if colour else "", colour.name if colour else call.as_written, call.pressure, call.layers,
                call.role, stands,
                "" if owned or way is None else layers_in_words(owned_layers(scene, way.layers)),
            )  # fmt: skip


def _palette(scene: Scene, recipe: Recipe) -> Iterator[PaletteColour]:
    """What the recipe calls for, each colour once, as its heavy mark looks on the paper; else as its chart has it."""
    called = dict.fromkeys(call.colour_id for step in recipe.steps for call in step.calls if call.colour_id)
    for colour_id in called:
        colour = scene.colours[colour_id]
        seen = scene.look(Layer(colour_id, Pressure.HEAVY))
        shown = seen.patch if seen is not None else patch(colour.lab) if colour.lab else None
        if shown is not None:
            yield PaletteColour(shown.hex, f"{colour.range_name} {colour.code} {colour.name}")


def _text_of(file: RecipeFile) -> str:
    return "\n".join([file.title, *(step.text for step in file.steps)])


def _mark(pressure: SaidPressure) -> MarkPressure | Literal[""]:
    """A pressure of a mark; what burnishes says so by its role."""
    match pressure:
        case Pressure.LIGHT | Pressure.MEDIUM | Pressure.HEAVY:
            return pressure
        case _:
            return ""
