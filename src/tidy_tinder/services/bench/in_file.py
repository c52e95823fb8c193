"""A drawing with its log between the database and its file."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import Entry
from tidy_tinder.core.vocabulary import LogKind
from tidy_tinder.formats.drawing_json import (
    AlongInFile,
    ColourInFile,
    DrawingFile,
    LineInFile,
    MarkInFile,
    SittingInFile,
    TimeInFile,
)
from tidy_tinder.services.collection.scene import Stock
from tidy_tinder.services.recipes.in_file import Charted, add_recipe, charted, entry_called, file_of, is_there
from tidy_tinder.services.reference.sections_file import add_sections, sections_in_file
from tidy_tinder.storage.models import (
    WHOLE,
    Drawing,
    LogEntry,
    Paper,
    Recipe,
    RecipeStep,
    Sitting,
    SittingClock,
    SittingTime,
    StepMark,
)


def drawing_in_file(session: Session, drawing: Drawing) -> DrawingFile:
    """A drawing as its file has it. Raises pydantic's ValidationError where it is more than a file holds."""
    paper = session.get_one(Paper, drawing.paper_id)
    mine = select(Recipe).where(Recipe.drawing_id == drawing.id).order_by(Recipe.position, Recipe.id)
    recipes = session.scalars(mine).all()
    parted, sections = sections_in_file(session, drawing.id)
    sittings = session.scalars(select(Sitting).where(Sitting.drawing_id == drawing.id).order_by(Sitting.id)).all()
    stock = Stock(session)
    places = _Places.of(recipes, sections, sittings)
    marks = session.scalars(select(StepMark).where(StepMark.drawing_id == drawing.id).order_by(StepMark.id))
    lines = select(LogEntry).where(LogEntry.drawing_id == drawing.id).order_by(LogEntry.made_at, LogEntry.id)
    return DrawingFile(
        name=drawing.name, paper=paper.name, width_mm=drawing.width_mm, height_mm=drawing.height_mm,
        closest=drawing.closest, for_sale=drawing.for_sale, black=drawing.black, solvent=drawing.solvent,
        work_order=drawing.work_order, begun_on=drawing.begun_on, notes=drawing.notes,
        recipes=tuple(file_of(stock, recipe) for recipe in recipes), parted=parted,
        sittings=tuple(_sitting(session, sitting, places) for sitting in sittings),
        marks=tuple(_mark(mark, places) for mark in marks if mark.step_id in places.steps),
        log=tuple(_line(line, stock, places) for line in session.scalars(lines)),
    )  # fmt: skip


@dataclass(frozen=True)
class _Places:
    """Where in the file each row stands: recipes, sections and sittings by their number, steps by recipe and step,
    calls by their place in the step.
    """

    recipes: Mapping[int, int]
    steps: Mapping[int, tuple[int, int]]
    calls: Mapping[int, int]
    sections: Mapping[int, int]
    sittings: Mapping[int, int]

    @classmethod
    def of(cls, recipes: Sequence[Recipe], sections: Mapping[int, int], sittings: Sequence[Sitting]) -> _Places:
        steps = {step.id: (r, s) for r, recipe in enumerate(recipes) for s, step in enumerate(recipe.steps)}
        calls = {call.id: at for recipe in recipes for step in recipe.steps for at, call in enumerate(step.calls)}
        by_id = {recipe.id: at for at, recipe in enumerate(recipes)}
        return cls(by_id, steps, calls, sections, {sitting.id: at for at, sitting in enumerate(sittings)})

    def along(self, step_id: int | None, section_id: int) -> dict[str, int | None]:
        """The fields that say along what something was done."""
        recipe, step = self.steps.get(step_id or 0, (None, None))
        return {"recipe": recipe, "step": step, "section": self.sections.get(section_id)}


def _sitting(session: Session, sitting: Sitting, places: _Places) -> SittingInFile:
    rows = session.scalars(
        select(SittingTime).where(SittingTime.sitting_id == sitting.id).order_by(SittingTime.id)
    ).all()
    clock = session.get(SittingClock, sitting.id)
    ended = sitting.ended_at or (clock.last_at if clock else sitting.begun_at)
    return SittingInFile(
        begun_at=_utc(sitting.begun_at), ended_at=_utc(ended), recipe=places.recipes.get(sitting.recipe_id or 0),
        times=tuple(TimeInFile(**places.along(row.step_id, row.section_id), seconds=row.seconds) for row in rows),
    )  # fmt: skip


def _mark(mark: StepMark, places: _Places) -> MarkInFile:
    return MarkInFile(**places.along(mark.step_id, mark.section_id), state=mark.state)


def _line(line: LogEntry, stock: Stock, places: _Places) -> LineInFile:
    along = places.along(line.step_id, line.section_id)
    return LineInFile(
        **along, at=_utc(line.made_at), kind=line.kind, sitting=places.sittings.get(line.sitting_id or 0),
        call=places.calls.get(line.call_id or 0) if along["step"] is not None else None,
        colour=_colour(stock, line.colour_id), instead_of=_colour(stock, line.instead_of_id), area=line.area,
        pressure=line.pressure, layers=line.layers, note=line.note,
    )  # fmt: skip


def _colour(stock: Stock, colour_id: int | None) -> ColourInFile | None:
    if colour_id is None:
        return None
    colour = stock.colour(colour_id)
    return ColourInFile(maker=colour.maker, range=colour.range_name, code=colour.code, name=colour.name)


def add_what_belongs(session: Session, drawing: Drawing, file: DrawingFile) -> int:
    """Everything that belongs to a drawing of a file, which was just begun; how many lines of its log name a colour
    that is on no chart here: they stand in it as notes. Raises UnreadableError.
    """
    sections = add_sections(session, drawing.id, file.parted) if file.parted else []
    rows = _Rows([_recipe_rows(session, drawing, file, at) for at in range(len(file.recipes))], sections)
    sittings = [_add_sitting(session, drawing, sitting, rows) for sitting in file.sittings]
    for (step_id, section_id), state in {rows.along(mark): mark.state for mark in file.marks}.items():
        if step_id is not None:
            session.add(StepMark(drawing_id=drawing.id, step_id=step_id, section_id=section_id, state=state))
    charts = charted(session)
    unknown = 0
    for line in file.log:
        row = _log_row(line, charts)
        unknown += row.kind is not line.kind
        row.drawing_id, row.key = drawing.id, secrets.token_hex(16)
        row.sitting_id = None if line.sitting is None else sittings[line.sitting]
        row.step_id, row.section_id = rows.along(line)
        row.call_id = rows.call(line)
        session.add(row)
    session.flush()
    return unknown


@dataclass(frozen=True)
class _RecipeRows:
    """A recipe that was taken in: its number, and of each step of the file the row, None where it says nothing."""

    id: int
    steps: Sequence[RecipeStep | None]


@dataclass(frozen=True)
class _Rows:
    """What the places in a file have become."""

    recipes: Sequence[_RecipeRows]
    sections: Sequence[int]

    def along(self, said: AlongInFile) -> tuple[int | None, int]:
        """The step and the section; none, and the whole, where the file says nothing of them."""
        step = self._step(said)
        return step.id if step else None, WHOLE if said.section is None else self.sections[said.section]

    def call(self, line: LineInFile) -> int | None:
        """The call whose layer a line ticks."""
        step = self._step(line)
        return None if step is None or line.call is None else step.calls[line.call].id

    def _step(self, said: AlongInFile) -> RecipeStep | None:
        return None if said.recipe is None or said.step is None else self.recipes[said.recipe].steps[said.step]


def _recipe_rows(session: Session, drawing: Drawing, file: DrawingFile, at: int) -> _RecipeRows:
    recipe = add_recipe(session, file.recipes[at], drawing.id)
    session.flush()
    mine = select(RecipeStep).where(RecipeStep.recipe_id == recipe.id).order_by(RecipeStep.position)
    rows = iter(session.scalars(mine).all())
    return _RecipeRows(recipe.id, [next(rows) if is_there(step) else None for step in file.recipes[at].steps])


def _add_sitting(session: Session, drawing: Drawing, sitting: SittingInFile, rows: _Rows) -> int:
    recipe_id = None if sitting.recipe is None else rows.recipes[sitting.recipe].id
    begun, ended = _naive(sitting.begun_at), _naive(sitting.ended_at)
    row = Sitting(drawing_id=drawing.id, recipe_id=recipe_id, begun_at=begun, ended_at=ended)
    session.add(row)
    session.flush()
    seconds: dict[tuple[int, int], float] = {}
    for time in sitting.times:
        step_id, section_id = rows.along(time)
        at = (step_id or 0, section_id)
        seconds[at] = seconds.get(at, 0.0) + time.seconds
    for (step_id, section_id), counted in seconds.items():
        session.add(SittingTime(sitting_id=row.id, step_id=step_id, section_id=section_id, seconds=counted))
    session.add(SittingClock(sitting_id=row.id, running=False, last_at=ended, since=begun, not_counted=0))
    return row.id


def _log_row(line: LineInFile, charts: Charted) -> LogEntry:
    """A line as it is kept; one of a colour that is on no chart here becomes a note that names it."""
    colour, instead = _entry(line.colour, charts), _entry(line.instead_of, charts)
    known = line.colour is None or colour is not None
    return LogEntry(
        made_at=_naive(line.at), kind=line.kind if known else LogKind.NOTE, colour_id=colour.key if colour else None,
        instead_of_id=instead.key if instead else None, area=line.area, pressure=line.pressure, layers=line.layers,
        note=line.note if known else _named(line)[:500],
    )  # fmt: skip


def _named(line: LineInFile) -> str:
    colour = line.colour
    assert colour is not None, "a line is unknown by its colour alone"
    named = " ".join(part for part in (colour.maker, colour.range, colour.code, colour.name) if part)
    return f"{named or 'a colour without a name'}{': ' if line.note else ''}{line.note}"


def _entry(colour: ColourInFile | None, charts: Charted) -> Entry | None:
    return None if colour is None else entry_called(charts, colour.maker, colour.range, colour.code)


def _utc(at: datetime) -> datetime:
    return at.replace(tzinfo=UTC)


def _naive(at: datetime) -> datetime:
    return at.astimezone(UTC).replace(tzinfo=None)
