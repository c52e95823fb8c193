"""A recipe's lines written anew: moved, split, joined, doubled, put in other words; one change with one undo.

A line whose words stay keeps its calls with all that was decided about them. One with other words is read again among
the lines round it: a call that is still named keeps what was settled and chosen for it, and what the artist has set by
hand outlives a reading that says the same as before.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import count
from typing import Any

from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import MOST_LAYERS, MarkPressure, SaidPurpose, StepKind
from tidy_tinder.formats.recipe_reading import ReadCall, ReadStep
from tidy_tinder.formats.recipe_text import LONGEST_LINE, LONGEST_TEXT, read_lines
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.passage import find_call
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, revise, writing
from tidy_tinder.services.recipes.looking_through import free_place_of, in_their_order
from tidy_tinder.services.recipes.removing import remove_call, remove_step
from tidy_tinder.services.recipes.rows import find_recipe
from tidy_tinder.services.recipes.text import call_row
from tidy_tinder.services.recipes.versions import keep_as_taken_in
from tidy_tinder.storage.models import CallState, Recipe, RecipeCall, RecipeStep

MOST_LINES = 400
"""Lines of a recipe that is edited."""
_LONGEST_TITLE = 200


@dataclass(frozen=True)
class Line:
    """A line as it shall be. id: of the step that it is, None for a new one; copy_of: of the step that a new one
    doubles. purpose, waits: as the artist says; None leaves them.
    """

    text: str
    kind: StepKind = StepKind.STEP
    id: int | None = None
    copy_of: int | None = None
    purpose: SaidPurpose | None = None
    waits: bool | None = None


@dataclass(frozen=True)
class Written:
    """A recipe whose lines were written anew: its revision then, the steps that its lines are, and the change, None
    where nothing was changed.
    """

    revision: int
    step_ids: tuple[int, ...]
    change: Changed | None


def write_lines(collection: Collection, recipe_id: int, revision: int, title: str, lines: Sequence[Line]) -> Written:
    """Let a recipe have these lines in this order; those of its steps that are not among them are removed, and lines
    without words are left out.

    revision: of the recipe when it was opened. Raises NotFoundError, ChangedMeanwhileError, and RefusedError with the
    number of the line for what is too long, twice, or not of this recipe.
    """
    wanted = [line for line in (_tidied(line) for line in lines) if line.text]
    title = " ".join(title.split()) or "Untitled recipe"
    _check(title, wanted)
    with writing(collection, "Recipe edited") as session:
        recipe = find_recipe(session, recipe_id)
        revise(recipe, revision, {"title": title}, "This recipe")
        relabel(session, f"Recipe “{title}” edited")
        made = session.is_modified(recipe)
        made = Rewriting(session, recipe).write(wanted) or made
        change = changed(session) if made else None
        return Written(recipe.revision, tuple(step.id for step in recipe.steps), change)


def lay_call(collection: Collection, call_id: int, pressure: MarkPressure, layers: int) -> Changed:
    """Let a recipe ask for a call in another pressure and so many layers. Raises NotFoundError, RefusedError."""
    if not 1 <= layers <= MOST_LAYERS:
        raise RefusedError(f"A pencil is laid in 1 to {MOST_LAYERS} layers, not {layers}.")
    with writing(collection, "Call laid otherwise") as session:
        call = find_call(session, call_id)
        recipe = find_recipe(session, session.get_one(RecipeStep, call.step_id).recipe_id)
        keep_as_taken_in(session, recipe)
        call.pressure, call.layers = pressure, layers
        recipe.edited_at = now()
        relabel(session, f"“{call.as_written}” is asked for {pressure}, {layers} layer{'s' * (layers > 1)}")
        return changed(session)


def lines_of(recipe: Recipe) -> list[Line]:
    """The lines of a recipe as they are."""
    return [Line(step.text, step.kind, step.id) for step in recipe.steps]


class Rewriting:
    """Writes the lines of one recipe anew, within the caller's transaction."""

    def __init__(self, session: Session, recipe: Recipe) -> None:
        self._session, self._recipe = session, recipe
        self._catalogue = catalogue_of(session)
        self._steps: Mapping[int, RecipeStep] = {step.id: step for step in recipe.steps}

    def write(self, lines: Sequence[Line]) -> bool:
        """Whether this changed anything. Raises RefusedError where a line is of another recipe, or stands twice."""
        self._check(lines)
        if self._as_they_are(lines):
            return False
        keep_as_taken_in(self._session, self._recipe)
        old = list(self._recipe.steps)
        before = dict(zip((step.id for step in old), self._read(lines_of(self._recipe)), strict=True))
        readings = self._read(lines)
        kept = {line.id for line in lines}
        for step in old:
            if step.id not in kept:
                remove_step(self._session, step)
        self._make_room([step for step in old if step.id in kept])
        for position, (line, reading) in enumerate(zip(lines, readings, strict=True)):
            self._write_line(position, line, reading, before)
        self._recipe.edited_at = now()
        self._session.flush()
        self._session.expire(self._recipe, ["steps"])
        return True

    def _check(self, lines: Sequence[Line]) -> None:
        seen: set[int] = set()
        for number, line in enumerate(lines, 1):
            for one in (line.id, line.copy_of):
                if one is not None and one not in self._steps:
                    raise RefusedError(f"Line {number} is no line of this recipe. Open the recipe again.")
            if line.id in seen:
                raise RefusedError(f"Line {number} stands twice. Double it as a new line.")
            if line.id is not None:
                seen.add(line.id)

    def _as_they_are(self, lines: Sequence[Line]) -> bool:
        now = [(s.id, s.text, s.kind, s.purpose, s.waits) for s in self._recipe.steps]
        return now == [self._as_wanted(line) for line in lines]

    def _as_wanted(self, line: Line) -> tuple[Any, ...]:
        step = self._steps.get(line.id or 0)
        purpose = line.purpose if line.purpose is not None else step.purpose if step else ""
        waits = line.waits if line.waits is not None else step.waits if step else False
        return (line.id, line.text, line.kind, purpose, waits)

    def _read(self, lines: Sequence[Line]) -> tuple[ReadStep, ...]:
        return read_lines(self._recipe.title, [_as_pasted(line) for line in lines], self._catalogue)

    def _make_room(self, steps: Sequence[RecipeStep]) -> None:
        """Positions are unique: each step steps aside before it takes its new one."""
        for at, step in enumerate(steps):
            step.position = -1 - at
        self._session.flush()

    def _write_line(self, position: int, line: Line, reading: ReadStep, before: Mapping[int, ReadStep]) -> None:
        step = self._steps.get(line.id or 0)
        pattern = self._steps.get(line.copy_of or 0)
        if step is None:
            step = RecipeStep(recipe_id=self._recipe.id, position=position, kind=line.kind, text="")
            self._fill(step, line, reading)
            self._session.add(step)
            self._session.flush()
            if pattern is not None and pattern.text == line.text:
                step.to_look_through = pattern.to_look_through
                self._session.add_all(_doubled(call, step.id) for call in pattern.calls)
            elif step.kind != StepKind.HEADING:
                self._session.add_all(call_row(step.id, i, call) for i, call in enumerate(reading.calls))
            return
        was = before[step.id]
        step.position = position
        if step.area == was.area:
            step.area = reading.area
        if step.text != line.text or step.kind != line.kind:
            self._fill(step, line, reading)
            calls = () if step.kind == StepKind.HEADING else reading.calls
            self._write_calls(step, calls, was.calls)
        step.purpose = step.purpose if line.purpose is None else line.purpose
        step.waits = step.waits if line.waits is None else line.waits

    def _fill(self, step: RecipeStep, line: Line, reading: ReadStep) -> None:
        """What a line's words say of the line itself."""
        if step.text != line.text:
            step.to_look_through = bool(reading.left)
        step.text = line.text
        heading = StepKind.HEADING in (line.kind, reading.kind)
        step.kind = StepKind.HEADING if heading else line.kind
        if reading.calls and not heading:
            step.kind = StepKind.STEP
        step.area = reading.area
        step.pressure, step.layers, step.finish = reading.pressure, reading.layers, reading.finish
        step.purpose, step.waits = line.purpose or "", line.waits or False

    def _write_calls(self, step: RecipeStep, calls: Sequence[ReadCall], before: Sequence[ReadCall]) -> None:
        """The calls of a line in other words; those that it still names stay the rows that they are."""
        left = list(step.calls)
        was = _by_words(before)
        aside = count(-1, -1)
        for row in left:
            row.position = next(aside)
        self._session.flush()
        for position, call in enumerate(calls):
            kept = next((each for each in left if each.as_written == call.as_written), None)
            if kept is None:
                self._session.add(call_row(step.id, position, call))
                continue
            left.remove(kept)
            kept.position, kept.start = position, call.start
            _take_over(kept, call, was.get(call.as_written))
        said = [row for row in left if row.as_written not in was and step.kind != StepKind.HEADING]
        for row in left:
            if row not in said:
                remove_call(self._session, row)
        self._session.flush()
        self._session.expire(step, ["calls"])
        self._keep_said(step, said)

    def _keep_said(self, step: RecipeStep, calls: Sequence[RecipeCall]) -> None:
        """Calls that no reading found but the artist: they stay where their words still stand in the line."""
        for row in calls:
            begins = free_place_of(step, row)
            if begins is None:
                remove_call(self._session, row)
            else:
                row.position, row.start = len(step.calls), begins
            self._session.flush()
            self._session.expire(step, ["calls"])
            if begins is not None:
                in_their_order(self._session, step)


def _take_over(row: RecipeCall, now: ReadCall, was: ReadCall | None) -> None:
    """What the words say now, but for what was set otherwise than they said before."""
    state = CallState.READ if now.key is not None else CallState.UNSETTLED
    if row.state in (CallState.READ, CallState.UNSETTLED) and (was is None or row.colour_id == was.key):
        row.colour_id, row.state, row.problem = now.key, state, now.problem
        row.other_colour_id = now.other
    if was is None or row.pressure == was.pressure:
        row.pressure = now.pressure
    if was is None or row.layers == was.layers:
        row.layers = now.layers
    if was is None or row.role == was.role:
        row.role = now.role


def _by_words(calls: Iterable[ReadCall]) -> Mapping[str, ReadCall]:
    """Calls by their words; of several the first."""
    found: dict[str, ReadCall] = {}
    for call in calls:
        found.setdefault(call.as_written, call)
    return found


def _doubled(call: RecipeCall, step_id: int) -> RecipeCall:
    return RecipeCall(
        step_id=step_id, position=call.position, as_written=call.as_written, start=call.start,
        colour_id=call.colour_id, state=call.state, problem=call.problem, pressure=call.pressure, layers=call.layers,
        role=call.role, other_colour_id=call.other_colour_id,
    )  # fmt: skip


def _as_pasted(line: Line) -> str:
    """A line as the reader of texts takes it: a step has a bullet, a heading a colon."""
    match line.kind:
        case StepKind.HEADING:
            return line.text.rstrip(": ") + ":"
        case StepKind.STEP:
            return f"- {line.text}"
        case StepKind.NOTE:
            # A file of others may hold a note without a word, and each line is read as one.
            return line.text.strip() or "-"


def _tidied(line: Line) -> Line:
    text = " ".join(line.text.split())
    return Line(text, line.kind, line.id, line.copy_of, line.purpose, line.waits)


def _check(title: str, lines: Sequence[Line]) -> None:
    if len(title) > _LONGEST_TITLE:
        raise RefusedError(f"The title has {len(title)} characters; it may have {_LONGEST_TITLE}.")
    if len(lines) > MOST_LINES:
        raise RefusedError(f"The recipe has {len(lines)} lines; it may have {MOST_LINES}. Make two of it.")
    for number, line in enumerate(lines, 1):
        if len(line.text) > LONGEST_LINE:
            raise RefusedError(
                f"Line {number} has {len(line.text)} characters; a step has at most {LONGEST_LINE}. Split it."
            )
    if sum(len(line.text) + 1 for line in lines) > LONGEST_TEXT:
        raise RefusedError(f"The recipe has more than {LONGEST_TEXT} characters. Make two of it.")
