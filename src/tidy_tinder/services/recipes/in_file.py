"""A recipe between the database and its JSON file, which versions of it are kept in, too."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal, TypeAlias

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import Entry
from tidy_tinder.core.vocabulary import MarkPressure, Pressure, SaidPressure
from tidy_tinder.formats.recipe_json import CallInFile, RecipeFile, StepInFile
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.scene import Stock
from tidy_tinder.storage.models import CallState, Recipe, RecipeCall, RecipeStep

Charted: TypeAlias = Mapping[tuple[str, str], Sequence[Entry]]
"""The colours of all charts, by range and code; several where two makers have a range of one name."""


def file_of(stock: Stock, recipe: Recipe) -> RecipeFile:
    """A recipe as its file has it."""
    return RecipeFile(
        title=recipe.title[:200],
        source_text=recipe.source_text,
        steps=tuple(_step_in_file(stock, step) for step in recipe.steps),
    )


def _step_in_file(stock: Stock, step: RecipeStep) -> StepInFile:
    return StepInFile(
        kind=step.kind,
        area=step.area,
        text=step.text,
        pressure=_mark(step.pressure),
        layers=step.layers,
        finish=step.finish,
        purpose=step.purpose,
        waits=step.waits,
        to_look_through=step.to_look_through,
        calls=tuple(_call_in_file(stock, call) for call in step.calls),
    )


def _call_in_file(stock: Stock, call: RecipeCall) -> CallInFile:
    colour, other = stock.colours.get(call.colour_id or 0), stock.colours.get(call.other_colour_id or 0)
    return CallInFile(
        as_written=call.as_written,
        start=call.start,
        maker=colour.maker if colour else "",
        range=colour.range_name if colour else "",
        code=colour.code if colour else "",
        name=colour.name if colour else "",
        or_maker=other.maker if other else "",
        or_range=other.range_name if other else "",
        or_code=other.code if other else "",
        no_colour=call.state == CallState.DISMISSED,
        pressure=_mark(call.pressure),
        layers=call.layers,
        role=call.role,
    )


def add_recipe(session: Session, file: RecipeFile, drawing_id: int | None) -> Recipe:
    """A recipe of a file as it is kept here, the last of all, with its steps and calls."""
    last = session.scalar(select(func.max(Recipe.position))) or 0
    recipe = Recipe(
        drawing_id=drawing_id, title=file.title, source_text=file.source_text or _text_of(file), position=last + 1
    )
    session.add(recipe)
    session.flush()
    charts = charted(session)
    for position, step in enumerate(step for step in file.steps if is_there(step)):
        add_step(session, recipe.id, position, step, charts)
    return recipe


def is_there(step: StepInFile) -> bool:
    """Whether a line of a file says anything; one that does not is left out."""
    return bool(step.text.strip() or step.calls)


def add_step(session: Session, recipe_id: int, position: int, step: StepInFile, charts: Charted) -> RecipeStep:
    """A step of a file as it is kept here, with its calls."""
    row = RecipeStep(
        recipe_id=recipe_id, position=position, kind=step.kind, area=step.area, text=_words(step),
        pressure=step.pressure, layers=step.layers, finish=step.finish, purpose=step.purpose, waits=step.waits,
        to_look_through=step.to_look_through,
    )  # fmt: skip
    session.add(row)
    session.flush()
    session.add_all(_call_row(row.id, at, call, charts) for at, call in enumerate(step.calls))
    return row


def _text_of(file: RecipeFile) -> str:
    return "\n".join([file.title, *(step.text for step in file.steps)])


def _words(step: StepInFile) -> str:
    """The words of a line; a file of others may leave them out where there are calls."""
    named = (" ".join(p for p in (c.range, c.code, c.name) if p) or c.as_written for c in step.calls)
    return step.text if step.text.strip() else "; ".join(named)


def _call_row(step_id: int, position: int, call: CallInFile, charts: Charted) -> RecipeCall:
    """A call of a file as it is kept here: found by maker, range and code, else by range and code."""
    meant = entry_called(charts, call.maker, call.range, call.code)
    other = entry_called(charts, call.or_maker, call.or_range, call.or_code) if meant else None
    state = CallState.DISMISSED if call.no_colour else CallState.READ if meant else CallState.UNSETTLED
    named = " ".join(part for part in (call.maker, call.range, call.code, call.name) if part)
    problem = "" if state != CallState.UNSETTLED else f"“{named or call.as_written}” is on no chart here."
    return RecipeCall(
        step_id=step_id, position=position, as_written=call.as_written, start=call.start,
        colour_id=meant.key if meant and not call.no_colour else None, state=state, problem=problem,
        pressure=call.pressure, layers=call.layers, role=call.role, other_colour_id=other.key if other else None,
    )  # fmt: skip


def charted(session: Session) -> Charted:
    """The colours of all charts, by range and code."""
    charts: dict[tuple[str, str], list[Entry]] = {}
    for entry in catalogue_of(session).entries:
        charts.setdefault((entry.range_name, entry.code), []).append(entry)
    return charts


def entry_called(charts: Charted, maker: str, line: str, code: str) -> Entry | None:
    """The colour of a chart that a file names by maker, range and code; by range and code where that is but one."""
    same = charts.get((line, code), ())
    return next((e for e in same if e.maker == maker), same[0] if len(same) == 1 else None)


def _mark(pressure: SaidPressure) -> MarkPressure | Literal[""]:
    """A pressure of a mark; what burnishes says so by its role."""
    match pressure:
        case Pressure.LIGHT | Pressure.MEDIUM | Pressure.HEAVY:
            return pressure
        case _:
            return ""
