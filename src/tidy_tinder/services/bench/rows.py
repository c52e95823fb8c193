"""The rows of the bench: where the work on a drawing stands, the open sitting, and writes that are not undone."""

from __future__ import annotations

from collections.abc import Sequence
from collections.abc import Set as AbstractSet

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import StepKind, StepState
from tidy_tinder.formats.recipe_purposes import materials_in, purpose_in, waits_in
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import writing
from tidy_tinder.storage.models import (
    WHOLE,
    Bench,
    Drawing,
    Recipe,
    RecipeStep,
    Section,
    SectionMap,
    SectionState,
    Sitting,
    StepMark,
)


def bench_of(session: Session, drawing_id: int) -> Bench | None:
    """Where the work on a drawing stands; None before the first time."""
    return session.scalar(select(Bench).where(Bench.drawing_id == drawing_id))


def open_sitting(session: Session, drawing_id: int) -> Sitting | None:
    """The sitting that goes on, the newest if there were two."""
    going = select(Sitting).where(Sitting.drawing_id == drawing_id, Sitting.ended_at.is_(None))
    return session.scalars(going.order_by(Sitting.id.desc())).first()


def sitting_now(session: Session, drawing_id: int) -> Sitting:
    """The sitting that goes on; raises RefusedError where there is none."""
    sitting = open_sitting(session, drawing_id)
    if sitting is None:
        raise RefusedError("No sitting goes on. Begin one first.")
    return sitting


def check_section(session: Session, drawing_id: int, section_id: int) -> None:
    """Raises NotFoundError unless it is a section of this drawing, or the whole."""
    if section_id == WHOLE:
        return
    mine = (
        select(Section.id)
        .join(SectionMap, Section.map_id == SectionMap.id)
        .where(SectionMap.drawing_id == drawing_id, Section.id == section_id)
    )
    if session.scalar(mine) is None:
        raise NotFoundError(f"This drawing has no section number {section_id}. It may have been parted anew.")


def find_bench_recipe(session: Session, recipe_id: int | None) -> Recipe | None:
    """The recipe at the bench; None where there is none, or it was removed since."""
    return session.get(Recipe, recipe_id) if recipe_id is not None else None


def stand(collection: Collection, drawing_id: int) -> None:
    """See to it that it is kept where the work on a drawing stands. Raises NotFoundError."""
    with writing(collection, "Place at the bench", kind="setting") as session:
        bench_here(session, find_drawing(session, drawing_id))


def bench_here(session: Session, drawing: Drawing) -> Bench:
    """Where the work on a drawing stands; it begins with the drawing's first recipe, where it has one. A section or a
    step that is gone by now (parted anew, edited) gives way to the first that is to do.
    """
    bench = bench_of(session, drawing.id)
    if bench is None:
        recipe = first_recipe(session, drawing.id)
        bench = Bench(
            drawing_id=drawing.id, recipe_id=recipe.id if recipe else None, section_id=WHOLE, by_sections=False
        )  # fmt: skip
        session.add(bench)
    bench.section_id = section_now(sections_in_order(session, drawing.id), bench.section_id)
    done = done_in(session, drawing.id, bench.section_id)
    bench.step_id = step_now([step.id for step in steps_at(session, bench)], bench.step_id, done)
    session.flush()
    return bench


def section_now(sections: Sequence[Section], at: int | None) -> int:
    """The section at hand while there is such a one; else the first that is not done, or the whole."""
    if not sections:
        return WHOLE
    if at in [section.id for section in sections]:
        return at or WHOLE
    return next((s.id for s in sections if s.state is not SectionState.DONE), sections[0].id)


def step_now(steps: Sequence[int], at: int | None, done: AbstractSet[int]) -> int | None:
    """The step at hand while there is such a one; else the first that is neither done nor skipped."""
    if at in steps:
        return at
    return next((step for step in steps if step not in done), steps[0] if steps else None)


def done_in(session: Session, drawing_id: int, section_id: int) -> set[int]:
    """The steps that are done or skipped in a section."""
    marks = select(StepMark.step_id).where(
        StepMark.drawing_id == drawing_id, StepMark.section_id == section_id, StepMark.state != StepState.TO_DO
    )
    return set(session.scalars(marks))


def first_recipe(session: Session, drawing_id: int) -> Recipe | None:
    """The recipe that a bench begins with."""
    mine = select(Recipe).where(Recipe.drawing_id == drawing_id).order_by(Recipe.position, Recipe.id)
    return session.scalars(mine.limit(1)).first()


def sections_in_order(session: Session, drawing_id: int) -> Sequence[Section]:
    """The sections of a drawing in the order of work."""
    mine = select(Section).join(SectionMap, Section.map_id == SectionMap.id)
    return session.scalars(mine.where(SectionMap.drawing_id == drawing_id).order_by(Section.position)).all()


def steps_at(session: Session, bench: Bench) -> list[RecipeStep]:
    """The steps of the recipe at the bench, in order."""
    at_bench = find_bench_recipe(session, bench.recipe_id)
    return [step for step in at_bench.steps if is_worked(step)] if at_bench else []


def step_here(session: Session, drawing_id: int) -> RecipeStep | None:
    """The step at hand, while it is there."""
    bench = bench_of(session, drawing_id)
    return session.get(RecipeStep, bench.step_id) if bench and bench.step_id is not None else None


def is_worked(step: RecipeStep) -> bool:
    """Whether a line of a recipe is a step at the bench: also one without a colour that names what is done (a blade, a
    spray, a resist, drying). Other notes are read beside the step that they come before.
    """
    if step.kind is not StepKind.NOTE:
        return step.kind is StepKind.STEP
    return bool(materials_in(step.text) or step.purpose or purpose_in(step.text) or step.waits or waits_in(step.text))
