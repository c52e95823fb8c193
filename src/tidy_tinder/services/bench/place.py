"""Where the work stands, and how it goes on: done, skipped, back, another step, another section, another recipe."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.bench.turns import SectionNow, Turn, next_turn
from tidy_tinder.core.vocabulary import StepState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import alive
from tidy_tinder.services.bench.drying import DryingView, dryings_of
from tidy_tinder.services.bench.rows import (
    bench_here,
    check_section,
    done_in,
    find_bench_recipe,
    sections_in_order,
    stand,
    steps_at,
)
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, writing
from tidy_tinder.storage.models import (
    Bench,
    RecipeStep,
    Section,
    SectionState,
    StepMark,
)


@dataclass(frozen=True)
class PlaceAs:
    """Where to work from now on; None leaves it as it is, a recipe of 0 is none: as one goes."""

    recipe_id: int | None = None
    step_id: int | None = None
    section_id: int | None = None
    by_sections: bool | None = None


def work_at(collection: Collection, drawing_id: int, wanted: PlaceAs) -> None:
    """Work there from now on. Raises NotFoundError, RefusedError."""
    alive(collection, drawing_id)
    with writing(collection, "Place at the bench", kind="setting") as session:
        bench = bench_here(session, find_drawing(session, drawing_id))
        if wanted.recipe_id is not None:
            _take_recipe(session, bench, wanted.recipe_id)
        if wanted.by_sections is not None:
            bench.by_sections = wanted.by_sections
        if wanted.section_id is not None:
            check_section(session, drawing_id, wanted.section_id)
            bench.section_id = wanted.section_id
        if wanted.step_id is not None:
            _check_step(session, bench, wanted.step_id)
            bench.step_id = wanted.step_id


def go_on(collection: Collection, drawing_id: int, step_id: int, state: StepState) -> Changed | None:
    """Say what became of the step at hand, and go to the next one. step_id: of the step that was looked at, so that
    two who press at once do not go two steps.

    Raises NotFoundError, RefusedError without a recipe and where another device has gone on already.
    """
    alive(collection, drawing_id)
    stand(collection, drawing_id)
    with writing(collection, "Step") as session:
        drawing = find_drawing(session, drawing_id)
        bench = bench_here(session, drawing)
        step = _check_step(session, bench, step_id)
        if bench.step_id != step_id:
            raise RefusedError("The other device has gone on already. Look where the work stands now.")
        _mark(session, bench, step_id, state)
        number = steps_at(session, bench).index(step) + 1
        relabel(session, f"Step {number} of “{drawing.name}” {'skipped' if state is StepState.SKIPPED else 'done'}")
        made = changed(session)
    with writing(collection, "Place at the bench", kind="setting") as session:
        bench = bench_here(session, find_drawing(session, drawing_id))
        bench.step_id, bench.section_id = _next(session, bench)
    return made if made.rows else None


def go_back(collection: Collection, drawing_id: int) -> None:
    """To the step before; what was marked and logged stays. Raises NotFoundError, RefusedError without a recipe."""
    alive(collection, drawing_id)
    with writing(collection, "Place at the bench", kind="setting") as session:
        bench = bench_here(session, find_drawing(session, drawing_id))
        steps = steps_at(session, bench)
        if not steps:
            raise RefusedError("There is no recipe at this bench, and so no step before.")
        at = next((i for i, step in enumerate(steps) if step.id == bench.step_id), len(steps))
        bench.step_id = steps[max(at - 1, 0)].id


def turn_of(sections: Sequence[Section], dryings: Sequence[DryingView], at: int) -> Turn:
    """The section that comes next: the one at hand while it is dry, else the next dry one."""
    wet = {one.section_id: one.left for one in dryings}
    return next_turn([SectionNow(s.id, s.state is SectionState.DONE, wet.get(s.id)) for s in sections], at)


def _take_recipe(session: Session, bench: Bench, recipe_id: int) -> None:
    if recipe_id == 0:
        bench.recipe_id = bench.step_id = None
        return
    recipe = find_bench_recipe(session, recipe_id)
    if recipe is None:
        raise NotFoundError(f"There is no recipe number {recipe_id}. It may have been removed in another window.")
    if bench.recipe_id == recipe_id:
        return
    bench.recipe_id = recipe_id
    steps = steps_at(session, bench)
    marks = _done_here(session, bench)
    bench.step_id = next((s.id for s in steps if s.id not in marks), steps[0].id if steps else None)


def _check_step(session: Session, bench: Bench, step_id: int) -> RecipeStep:
    step = next((one for one in steps_at(session, bench) if one.id == step_id), None)
    if step is None:
        raise NotFoundError("This step is not in the recipe at the bench any more. Reload the page.")
    return step


def _mark(session: Session, bench: Bench, step_id: int, state: StepState) -> None:
    here = (
        StepMark.drawing_id == bench.drawing_id, StepMark.step_id == step_id, StepMark.section_id == bench.section_id,
    )  # fmt: skip
    row = session.scalar(select(StepMark).where(*here))
    if row is None:
        row = StepMark(drawing_id=bench.drawing_id, step_id=step_id, section_id=bench.section_id, state=state)
        session.add(row)
    row.state = state
    session.flush()


def _next(session: Session, bench: Bench) -> tuple[int | None, int]:
    """The step and section that come next: the next step here, or this step in the next dry section."""
    steps, every = steps_at(session, bench), sections_in_order(session, bench.drawing_id)
    sections = [section for section in every if section.state is not SectionState.DONE]
    if not sections or bench.by_sections:
        following = _following(steps, bench.step_id, _done_here(session, bench))
        if following is not None or not sections:
            return (following if following is not None else bench.step_id), bench.section_id
        return _first_open(session, bench, steps, sections)
    return _through_sections(session, bench, steps, sections)


def _first_open(
    session: Session, bench: Bench, steps: Sequence[RecipeStep], sections: Sequence[Section]
) -> tuple[int | None, int]:  # fmt: skip
    """All steps are done here: the next dry section where one is left to do, and its first open step."""
    wet = {one.section_id for one in dryings_of(session, bench.drawing_id, now())}
    for dry in (True, False):
        for section in _after(sections, bench.section_id):
            done = done_in(session, bench.drawing_id, section.id)
            left = next((step.id for step in steps if step.id not in done), None)
            if left is not None and ((section.id not in wet) or not dry):
                return left, section.id
    return bench.step_id, bench.section_id


def _through_sections(
    session: Session, bench: Bench, steps: Sequence[RecipeStep], sections: Sequence[Section]
) -> tuple[int | None, int]:  # fmt: skip
    """The same step in the next dry section that still waits for it; after the last, the next step in the first."""
    wet = {one.section_id for one in dryings_of(session, bench.drawing_id, now())}
    at = next((i for i, step in enumerate(steps) if step.id == bench.step_id), 0)
    for step in steps[at:]:
        waiting = [
            s for s in _after(sections, bench.section_id) if step.id not in done_in(session, bench.drawing_id, s.id)
        ]
        if waiting:
            return step.id, next((s.id for s in waiting if s.id not in wet), waiting[0].id)
    return bench.step_id, bench.section_id


def _after(sections: Sequence[Section], at: int) -> list[Section]:
    """The sections after one in the order of work, round to itself."""
    place = next((i for i, s in enumerate(sections) if s.id == at), -1)
    return [*sections[place + 1 :], *sections[: place + 1]]


def _following(steps: Sequence[RecipeStep], at: int | None, done: set[int]) -> int | None:
    """The next step that is neither done nor skipped, after the one at hand or else from the beginning."""
    place = next((i for i, step in enumerate(steps) if step.id == at), -1)
    return next((s.id for s in (*steps[place + 1 :], *steps[: place + 1]) if s.id not in done), None)


def _done_here(session: Session, bench: Bench) -> set[int]:
    return done_in(session, bench.drawing_id, bench.section_id)
