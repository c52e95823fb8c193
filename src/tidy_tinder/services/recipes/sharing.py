"""A recipe as a file for others, and one of theirs taken in."""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum

from sqlalchemy.orm import Session

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Pressure, StepKind
from tidy_tinder.formats.gpl import PaletteColour, gimp_palette
from tidy_tinder.formats.recipe_csv import CsvCall, recipe_as_csv
from tidy_tinder.formats.recipe_json import recipe_as_json, recipe_from_json
from tidy_tinder.formats.recipe_writing import WrittenCall, WrittenStep, write_recipe
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import drawing_at_hand
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.passage import meant
from tidy_tinder.services.collection.patches import patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import layers_in_words, owned_layers
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.recipes.in_file import add_recipe, file_of
from tidy_tinder.services.recipes.rows import chosen_ways, find_recipe
from tidy_tinder.storage.models import Recipe, RecipeStep


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
                content = _as_text(scene.session, recipe)
            case RecipeKind.JSON:
                content = recipe_as_json(file_of(scene, recipe))
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
        recipe = add_recipe(session, file, drawing.id if drawing else None)
        relabel(session, f"Recipe “{recipe.title}” taken in")
        return recipe.id, changed(session)


def _as_text(session: Session, recipe: Recipe) -> str:
    """The words that were pasted; once the recipe was edited, its lines as they are now, which read back the same."""
    if recipe.edited_at is None:
        return recipe.source_text
    return write_recipe(recipe.title, [_written(step) for step in recipe.steps], catalogue_of(session))


def _written(step: RecipeStep) -> WrittenStep:
    calls = tuple(
        WrittenCall(call.as_written, call.colour_id, call.pressure, call.layers, call.role, call.other_colour_id)
        for call in step.calls
    )
    return WrittenStep(step.kind, step.area, step.text, step.finish, step.purpose, step.waits, calls)


def _csv_calls(scene: Scene, recipe: Recipe) -> Iterator[CsvCall]:
    chosen = chosen_ways(scene.session, recipe.id, scene.paper.id)
    number = 0
    for step in recipe.steps:
        number += step.kind == StepKind.STEP
        for call in step.calls:
            asked = meant(call, scene.at_hand)
            colour, way = scene.colours.get(asked or 0), chosen.get(call.id)
            owned = asked in scene.at_hand
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
