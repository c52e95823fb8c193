"""The whole bench of a drawing at a moment, as every screen beside it shows it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.planning.checks.cautions import FIRST
from tidy_tinder.core.vocabulary import StepState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import ClockView, clock_of, minutes_in_all
from tidy_tinder.services.bench.drying import DryingView, dryings_of
from tidy_tinder.services.bench.log import EntryView, log_of
from tidy_tinder.services.bench.place import turn_of
from tidy_tinder.services.bench.preparation import Needs, TaskView, tasks_for
from tidy_tinder.services.bench.rows import (
    bench_of,
    find_bench_recipe,
    first_recipe,
    open_sitting,
    section_now,
    sections_in_order,
    step_now,
)
from tidy_tinder.services.bench.steps import RecipeAtBench, StepAtBench, StepLine
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.journal import now, tables_version
from tidy_tinder.services.reference.sections import map_of, pieces_of
from tidy_tinder.storage.models import WHOLE, LogEntry, Recipe, SectionState, Sitting, SittingTime

# What every screen at the bench looks at.
BENCH_TABLES = (
    "bench", "sitting", "step_mark", "log_entry", "drying", "prepared", "own_task", "section", "section_map", "recipe",
    "recipe_step", "recipe_call", "choice", "drawing", "pencil", "swatch",
)  # fmt: skip
_LOG_SHOWN = 40
# The board of sections is a small map: so many places on its longer side.
_MAP_PLACES = 36


@dataclass(frozen=True)
class RecipeToWork:
    """A recipe that can be worked along; here: it belongs to this drawing."""

    id: int
    title: str
    here: bool


@dataclass(frozen=True)
class SectionAtBench:
    """A section as it stands; minutes: counted in it so far."""

    id: int
    revision: int
    label: int
    name: str
    state: SectionState
    cm2: float
    minutes: float


@dataclass(frozen=True)
class SectionBoard:
    """The map of the sections: rows of their labels, from the top, as a small grid."""

    columns: int
    rows: int
    labels: tuple[int, ...]


@dataclass(frozen=True)
class BenchView:
    """The bench. version: raised by every change that it shows; turn: the section that comes next, turn_minutes: until
    one is dry where all wait; wet_here: what dries where the work is; missing: all calls of the
    recipe with no pencil yet, as they are written; log: its newest lines of log_count; first: what
    comes before every caution; sittings, minutes: ended ones and the one that goes on, together.
    """

    drawing_id: int
    drawing: str
    paper_id: int
    paper: str
    version: int
    recipe_id: int | None
    recipes: tuple[RecipeToWork, ...]
    by_sections: bool
    section_id: int
    sections: tuple[SectionAtBench, ...]
    board: SectionBoard | None
    turn: int | None
    turn_minutes: float | None
    steps: tuple[StepLine, ...]
    step: StepAtBench | None
    missing: tuple[str, ...]
    finished: bool
    wet_here: DryingView | None
    dryings: tuple[DryingView, ...]
    clock: ClockView | None
    sittings: int
    minutes: float
    preparation: tuple[TaskView, ...]
    log: tuple[EntryView, ...]
    log_count: int
    first: str = FIRST


def bench(collection: Collection, drawing_id: int) -> BenchView:
    """The bench of a drawing as it is now; nothing is written by looking. Raises NotFoundError."""
    at = now()
    with collection() as session:
        drawing = find_drawing(session, drawing_id)
        row, sitting = bench_of(session, drawing_id), open_sitting(session, drawing_id)
        recipe = find_bench_recipe(session, row.recipe_id) if row else first_recipe(session, drawing_id)
        rows = sections_in_order(session, drawing_id)
        section_id = section_now(rows, row.section_id if row else None)
        open_rows = [r.id for r in rows if r.state is not SectionState.DONE] or [r.id for r in rows] or [WHOLE]
        times = _minutes_by_section(session, drawing_id)
        parted = map_of(session, drawing_id)
        pieces = pieces_of(parted) if parted is not None else None
        scene = Scene.on(session, drawing.paper_id)
        worked = RecipeAtBench(scene, recipe, drawing_id) if recipe is not None else None
        lines = worked.lines(section_id, open_rows) if worked else ()
        done = {line.id for line in lines if line.state is not StepState.TO_DO}
        step_id = step_now([line.id for line in lines], row.step_id if row else None, done)
        dryings = dryings_of(session, drawing_id, at)
        turn = turn_of(rows, dryings, section_id)
        clock = clock_of(session, sitting, at) if sitting else None
        return BenchView(
            drawing_id=drawing_id,
            drawing=drawing.name,
            paper_id=drawing.paper_id,
            paper=scene.paper.name,
            version=tables_version(session, BENCH_TABLES),
            recipe_id=recipe.id if recipe else None,
            recipes=_recipes(session, drawing_id),
            by_sections=row.by_sections if row else False,
            section_id=section_id,
            sections=tuple(
                SectionAtBench(
                    r.id, r.revision, r.label, r.name, r.state, float(pieces.cm2[r.label]) if pieces else 0.0,
                    times.get(r.id, 0.0),
                )
                for r in rows
            ),
            board=_board(pieces.section) if pieces is not None else None,
            turn=turn.key,
            turn_minutes=turn.minutes,
            steps=lines,
            step=worked.at(step_id, section_id) if worked and step_id is not None else None,
            missing=worked.missing if worked else (),
            finished=bool(lines) and all(line.done >= line.of for line in lines),
            wet_here=next((d for d in dryings if d.section_id == section_id), None),
            dryings=dryings,
            clock=clock,
            sittings=session.scalar(select(func.count(Sitting.id)).where(Sitting.drawing_id == drawing_id)) or 0,
            minutes=minutes_in_all(session, drawing_id, at),
            preparation=tasks_for(session, drawing_id, worked.needs if worked else Needs()),
            log=log_of(session, drawing_id, _LOG_SHOWN),
            log_count=session.scalar(select(func.count(LogEntry.id)).where(LogEntry.drawing_id == drawing_id)) or 0,
        )  # fmt: skip


def bench_version(collection: Collection, drawing_id: int) -> tuple[int, ClockView | None]:
    """What every screen asks for again and again: whether anything changed, and the clock. Raises NotFoundError."""
    at = now()
    with collection() as session:
        find_drawing(session, drawing_id)
        sitting = open_sitting(session, drawing_id)
        return tables_version(session, BENCH_TABLES), clock_of(session, sitting, at) if sitting else None


def look_at_step(collection: Collection, drawing_id: int, step_id: int) -> StepAtBench | None:
    """A step as it would be worked now, without going there; None where it is gone. Raises NotFoundError."""
    with collection() as session:
        drawing, row = find_drawing(session, drawing_id), bench_of(session, drawing_id)
        recipe = find_bench_recipe(session, row.recipe_id) if row else first_recipe(session, drawing_id)
        if recipe is None:
            return None
        section_id = section_now(sections_in_order(session, drawing_id), row.section_id if row else None)
        return RecipeAtBench(Scene.on(session, drawing.paper_id), recipe, drawing_id).at(step_id, section_id)


def _recipes(session: Session, drawing_id: int) -> tuple[RecipeToWork, ...]:
    """All recipes, those of the drawing first."""
    rows = session.scalars(select(Recipe).order_by(Recipe.position, Recipe.id)).all()
    mine = sorted(rows, key=lambda recipe: recipe.drawing_id != drawing_id)
    return tuple(RecipeToWork(recipe.id, recipe.title, recipe.drawing_id == drawing_id) for recipe in mine)


def _minutes_by_section(session: Session, drawing_id: int) -> Mapping[int, float]:
    query = (
        select(SittingTime.section_id, func.sum(SittingTime.seconds))
        .join(Sitting, SittingTime.sitting_id == Sitting.id)
        .where(Sitting.drawing_id == drawing_id)
        .group_by(SittingTime.section_id)
    )
    return {section_id: seconds / 60.0 for section_id, seconds in session.execute(query).all()}


def _board(section: np.ndarray[tuple[int, ...], np.dtype[np.uint8]]) -> SectionBoard:
    high, wide = section.shape
    scale = _MAP_PLACES / max(high, wide)
    rows, columns = max(round(high * scale), 1), max(round(wide * scale), 1)
    y = ((np.arange(rows) + 0.5) * high / rows).astype(int)
    x = ((np.arange(columns) + 0.5) * wide / columns).astype(int)
    return SectionBoard(columns, rows, tuple(int(v) for v in section[np.ix_(y, x)].ravel()))
