"""At the end: the log as a recipe of what was really done, the plan beside it line by line, and the hours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.bench.as_done import DoneLayer, DoneLine, Logged, done_lines
from tidy_tinder.core.bench.beside_plan import Planned, Use, beside_plan
from tidy_tinder.core.vocabulary import LogKind, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import minutes_in_all
from tidy_tinder.services.bench.rows import bench_of, find_bench_recipe, first_recipe, sections_in_order
from tidy_tinder.services.bench.steps import RecipeAtBench
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, now
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.storage.models import LogEntry, Sitting, SittingTime
from tidy_tinder.storage.queries.colours import ColourRow

_HEADING = "What is not in a step"
_WET_WORDS = {
    LogKind.SOLVENT: "Solvent over all of it; let it dry",
    LogKind.WASH: "A wash of water over all of it; let it dry",
    LogKind.FIXATIVE: "Fixative; let it dry",
}


@dataclass(frozen=True)
class UseLine:
    """One pencil, planned and used; None where it was not. layers: 0 where there are none."""

    use: Use
    step: int | None
    planned: ColourRow | None
    planned_layers: int
    used: ColourRow | None
    used_layers: int


class TimeOf(StrEnum):
    """What hours are told of."""

    SITTING = "sitting"
    STEP = "step"
    SECTION = "section"


@dataclass(frozen=True)
class TimeLine:
    """Minutes that the clock counted in a sitting, at a step, or in a section. began: of a sitting; name: a step's
    number, a section's name; "" where it was none, or is gone by now.
    """

    of: TimeOf
    name: str
    began: datetime | None
    minutes: float


@dataclass(frozen=True)
class AsDoneView:
    """What was done. title, text: as a recipe that can be edited before it is kept; lines: planned beside used;
    minutes: that the clock counted, times: the same by sitting, step and section, as far as it was counted by then;
    entries: lines of the log that it is made of.
    """

    title: str
    text: str
    lines: tuple[UseLine, ...]
    sittings: int
    minutes: float
    times: tuple[TimeLine, ...]
    entries: int


def as_done(collection: Collection, drawing_id: int) -> AsDoneView:
    """The log of a drawing as a recipe. Raises NotFoundError, and RefusedError while nothing is logged."""
    with collection() as session:
        drawing = find_drawing(session, drawing_id)
        log = _log(session, drawing_id)
        if not log:
            raise RefusedError("Nothing is logged for this drawing yet: press l and write the first pencil.")
        scene, bench = Scene.on(session, drawing.paper_id), bench_of(session, drawing_id)
        recipe = find_bench_recipe(session, bench.recipe_id) if bench else first_recipe(session, drawing_id)
        worked = RecipeAtBench(scene, recipe, drawing_id) if recipe else None
        lines = done_lines([_logged(one) for one in log])
        sittings = session.scalar(select(func.count(Sitting.id)).where(Sitting.drawing_id == drawing_id)) or 0
        minutes = minutes_in_all(session, drawing_id, now())
        title = f"{drawing.name}, as done"
        writer = _Writer(scene)
        hours = (
            f"Note: {_in_words(minutes)} in {sittings} sitting{'' if sittings == 1 else 's'}, on {scene.paper.name}."
        )
        text = "\n".join((title, *writer.lines(lines), *([hours] if minutes >= 1.0 else [])))
        return AsDoneView(
            title, text, _beside(scene, worked, log, lines), sittings, minutes,
            _times(session, drawing_id, worked), len(log),
        )  # fmt: skip


def keep_as_done(collection: Collection, drawing_id: int, text: str) -> tuple[int, Changed]:
    """Keep what was done, as edited, as a recipe of its own; the plan stays as it is.

    Raises NotFoundError, RefusedError for an empty text and one that is too long.
    """
    with collection() as session:
        find_drawing(session, drawing_id)
    return save_recipe(collection, text, drawing_id=drawing_id)


def _log(session: Session, drawing_id: int) -> Sequence[LogEntry]:
    query = select(LogEntry).where(LogEntry.drawing_id == drawing_id)
    return session.scalars(query.order_by(LogEntry.made_at, LogEntry.id)).all()


def _logged(entry: LogEntry) -> Logged:
    return Logged(
        entry.kind, entry.area, entry.colour_id, entry.pressure, entry.layers, entry.step_id, entry.section_id or None,
        entry.note,
    )  # fmt: skip


def _beside(
    scene: Scene, worked: RecipeAtBench | None, log: Sequence[LogEntry], done: Sequence[DoneLine]
) -> tuple[UseLine, ...]:
    planned: list[Planned] = []
    numbers: dict[int | None, int] = {}
    for number, step in enumerate(worked.steps if worked else (), 1):
        numbers[step.id] = number
        for _, way in worked.ways_of(step) if worked else ():
            for layer in way:
                used = [e for e in log if e.step_id == step.id and e.instead_of_id == layer.pencil]
                instead = tuple(e.colour_id for e in used if e.colour_id is not None)
                planned.append(Planned(step.id, layer.pencil, layer.layers, instead))
    colours = scene.colours
    return tuple(
        UseLine(
            one.use, numbers.get(one.step), colours.get(one.planned or 0), one.planned_layers,
            colours.get(one.used or 0), one.used_layers,
        )
        for one in beside_plan(planned, done)
    )  # fmt: skip


class _Writer:
    """Writes lines as a person would, so that they read back as the same calls."""

    def __init__(self, scene: Scene) -> None:
        self._scene = scene

    def lines(self, done: Sequence[DoneLine]) -> list[str]:
        """Areas as headings, each with its lines."""
        written, area = [], None
        for line in done:
            if line.area != area:
                area = line.area
                written.append(f"{area or _HEADING}:")
            written.append(self._line(line))
        return written

    def _line(self, line: DoneLine) -> str:
        if line.kind is LogKind.PENCIL:
            return ", then ".join(self._layer(one) for one in line.layers)
        return _WET_WORDS.get(line.kind) or f"Note: {line.note or line.kind}"

    def _layer(self, layer: DoneLayer) -> str:
        colour = self._scene.colour(layer.pencil)
        name = f"{colour.range_name} {colour.code} {colour.name}"
        how = "burnish" if layer.pressure is Pressure.BURNISH else str(layer.pressure)
        return " ".join(part for part in (name, how, f"{layer.layers} layers" if layer.layers > 1 else "") if part)


def _times(session: Session, drawing_id: int, worked: RecipeAtBench | None) -> tuple[TimeLine, ...]:
    """By sitting, then by step, then by section, each in its order; what took less than a minute is left out."""
    mine = select(SittingTime, Sitting).join(Sitting, SittingTime.sitting_id == Sitting.id)
    counted = session.execute(mine.where(Sitting.drawing_id == drawing_id).order_by(Sitting.id)).all()
    steps = {step.id: str(number) for number, step in enumerate(worked.steps if worked else (), 1)}
    sections = {section.id: section.name for section in sections_in_order(session, drawing_id)}
    seconds: dict[tuple[TimeOf, str, datetime | None], float] = {
        **{(TimeOf.STEP, name, None): 0.0 for name in steps.values()},
        **{(TimeOf.SECTION, name, None): 0.0 for name in sections.values()},
    }
    for time, sitting in counted:
        for line in (
            (TimeOf.SITTING, "", sitting.begun_at),
            (TimeOf.STEP, steps.get(time.step_id, ""), None),
            (TimeOf.SECTION, sections.get(time.section_id, ""), None),
        ):
            seconds[line] = seconds.get(line, 0.0) + time.seconds
    order = list(TimeOf)
    told = [TimeLine(of, name, began, spent / 60.0) for (of, name, began), spent in seconds.items() if spent >= 60.0]
    if not sections:
        told = [line for line in told if line.of is not TimeOf.SECTION]
    return tuple(sorted(told, key=lambda line: order.index(line.of)))


def _in_words(minutes: float) -> str:
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d} min" if hours else f"{rest} min"
