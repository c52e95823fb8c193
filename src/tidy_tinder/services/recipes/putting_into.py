"""A recipe put into another range or box: its plan with those pencils, written as a recipe of its own."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.vocabulary import Pressure, Role, SaidRole
from tidy_tinder.formats.recipe_writing import WrittenCall, WrittenStep, write_recipe
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.scene import Stock
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed
from tidy_tinder.services.recipes.planning import ways_in_plan
from tidy_tinder.services.recipes.rows import find_recipe
from tidy_tinder.services.recipes.supposing import Supposed, called, in_words
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.standins.nearest import Layers
from tidy_tinder.storage.models import RecipeCall, RecipeStep


def put_into(
    collection: Collection, recipe_id: int, paper_id: int, closest: Closest, supposed: Supposed
) -> tuple[int, Changed]:
    """Write the plan of a recipe with other pencils as a new recipe: its number, and the change.

    What the plan leaves out stays as it is called for. Raises NotFoundError, RefusedError where no other pencils are
    supposed, a line is still to be looked through, or there is no plan yet.
    """
    if not supposed.other_hands:
        raise RefusedError("Say first into which range or box the recipe is put.")
    _check_looked_through(collection, recipe_id)
    ways = ways_in_plan(collection, recipe_id, paper_id, closest, supposed)
    with collection() as session:
        recipe, stock = find_recipe(session, recipe_id), Stock(session)
        steps = [_step(stock, step, ways) for step in recipe.steps]
        title = f"{recipe.title}, with {called(session, supposed)}"
        text = write_recipe(title, steps, catalogue_of(session))
    return save_recipe(collection, text, title, looked_through=True)


def _check_looked_through(collection: Collection, recipe_id: int) -> None:
    """A line with other pencils may be written out as its calls alone: what was not read in it would be gone.

    Raises NotFoundError, and RefusedError where a line is still to be looked through.
    """
    with collection() as session:
        asked = sum(step.to_look_through for step in find_recipe(session, recipe_id).steps)
    if asked:
        lines = "1 line is" if asked == 1 else f"{asked} lines are"
        raise RefusedError(f"{lines} still to be looked through. Say first which words in them are colours.")


def _step(stock: Stock, step: RecipeStep, ways: Mapping[int, Layers]) -> WrittenStep:
    calls = tuple(call for row in step.calls for call in _calls(stock, row, ways.get(row.id)))
    return WrittenStep(
        step.kind, step.area, _in_place(stock, step, ways), step.finish, step.purpose, step.waits, calls
    )  # fmt: skip


def _calls(stock: Stock, row: RecipeCall, way: Layers | None) -> Iterator[WrittenCall]:
    if way is None or _as_asked(row, way):
        yield WrittenCall(row.as_written, row.colour_id, row.pressure, row.layers, row.role, row.other_colour_id)
        return
    for one in way:
        burnishes = one.pressure == Pressure.BURNISH
        role: SaidRole = Role.BURNISHER if burnishes else row.role if len(way) == 1 else ""
        pressure = row.pressure if burnishes else one.pressure
        yield WrittenCall(in_words(stock.colours[one.pencil]), one.pencil, pressure, one.layers, role)


def _as_asked(row: RecipeCall, way: Iterable[Layer[int]]) -> bool:
    return [one.pencil for one in way] == [row.colour_id]


def _in_place(stock: Stock, step: RecipeStep, ways: Mapping[int, Layers]) -> str:
    """The step's own words with the other pencils in the places of the first ones; the last call first, so that the
    places of those before it stay.
    """
    text = step.text
    for row in sorted(step.calls, key=lambda call: -call.start):
        way, end = ways.get(row.id), row.start + len(row.as_written)
        if way is not None and len(way) == 1 and not _as_asked(row, way) and text[row.start : end] == row.as_written:
            text = text[: row.start] + in_words(stock.colours[way[0].pencil]) + text[end:]
    return text
