"""Before the first step: what to make ready, each with its reason, ticked off for a drawing; own lines stay for the
next one.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import Finish, Material, Purpose
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.drawings.store import find_drawing
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.storage.models import OwnTask, Prepared

_LONGEST_WORDS = 120
_MOST_OWN = 40
_OWN = "own "


class Task(StrEnum):
    """What the program knows to make ready (common practice, no source)."""

    SHARPEN = "sharpen"
    GRAPHITE = "graphite"
    INDENT = "indent"
    TAPE = "tape"
    HAND = "hand"
    TIPS = "tips"
    SCRAP = "scrap"
    TISSUE = "tissue"
    WINDOW = "window"


_WORDS: Mapping[Task, tuple[str, str]] = {
    Task.SHARPEN: ("Sharpen the pencils", "A point reaches into the tooth; a blunt one rides over it."),
    Task.GRAPHITE: (
        "Lift the graphite until it is hardly seen",
        "Under a pale passage it shows through, and it muddies what is laid over it.",
    ),
    Task.INDENT: ("Indent or lay what must stay white", "Once colour lies there it cannot be kept white any more."),
    Task.TAPE: ("Tape the edges", "The border stays clean, and the sheet lies still."),
    Task.HAND: ("Lay a sheet under the hand", "Skin leaves grease, and a sleeve smears."),
    Task.TIPS: ("Clean the tips of the pale pencils", "They carry darker wax from the last drawing into the light."),
    Task.SCRAP: ("Try the solvent or wash on a scrap of this very paper", "Not every paper stands it."),
    Task.TISSUE: ("Lay out brush and tissue", "Once it is wet there is no time to look for them."),
    Task.WINDOW: ("Open the window", "Solvent and spray need fresh air."),
}


@dataclass(frozen=True)
class TaskView:
    """A line of the preparation; own: the number of a line of the artist's own, None for one of the program's."""

    task: str
    words: str
    reason: str
    ticked: bool
    own: int | None


@dataclass(frozen=True)
class Needs:
    """What a recipe names that something is to be made ready for."""

    purposes: frozenset[str] = frozenset()
    finishes: frozenset[Finish] = frozenset()
    materials: frozenset[Material] = frozenset()


def tasks_for(session: Session, drawing_id: int, needs: Needs) -> tuple[TaskView, ...]:
    """The preparation of a drawing."""
    ticked = set(session.scalars(select(Prepared.task).where(Prepared.drawing_id == drawing_id)))
    known = [TaskView(task, *_WORDS[task], ticked=task in ticked, own=None) for task in _needed(needs)]
    own = session.scalars(select(OwnTask).order_by(OwnTask.id)).all()
    return (*known, *(TaskView(f"{_OWN}{o.id}", o.words, "", f"{_OWN}{o.id}" in ticked, o.id) for o in own))


def tick(collection: Collection, drawing_id: int, task: str, done: bool) -> Changed | None:
    """Tick a line for a drawing, or take the tick back. Raises NotFoundError for a drawing or line there is not."""
    with writing(collection, "Preparation", kind="setting") as session:
        find_drawing(session, drawing_id)
        _check(session, task)
        row = session.scalar(select(Prepared).where(Prepared.drawing_id == drawing_id, Prepared.task == task))
        if done and row is None:
            session.add(Prepared(drawing_id=drawing_id, task=task))
        elif not done and row is not None:
            session.delete(row)
        made = changed(session)
        return made if made.rows else None


def add_own_task(collection: Collection, words: str) -> tuple[int, Changed]:
    """Add a line of the artist's own. Raises RefusedError for none, a long one, and too many."""
    said = " ".join(words.split())
    if not 1 <= len(said) <= _LONGEST_WORDS:
        raise RefusedError(f"A line of the preparation has 1 to {_LONGEST_WORDS} letters, not {len(said)}.")
    with writing(collection, f"“{said}” added to the preparation") as session:
        if len(session.scalars(select(OwnTask.id)).all()) >= _MOST_OWN:
            raise RefusedError(f"The preparation holds {_MOST_OWN} lines of your own. Take one out first.")
        own = OwnTask(words=said)
        session.add(own)
        session.flush()
        return own.id, changed(session)


def remove_own_task(collection: Collection, own_id: int) -> Changed:
    """Take an own line out of the preparation of every drawing. Raises NotFoundError."""
    with writing(collection, "Preparation") as session:
        own = session.get(OwnTask, own_id)
        if own is None:
            raise NotFoundError(f"There is no line number {own_id} in the preparation.")
        for row in session.scalars(select(Prepared).where(Prepared.task == f"{_OWN}{own_id}")):
            session.delete(row)
        session.delete(own)
        relabel(session, f"“{own.words}” taken out of the preparation")
        return changed(session)


def _needed(needs: Needs) -> Iterable[Task]:
    wet = bool(needs.finishes & {Finish.SOLVENT, Finish.WET}) or Material.SOLVENT in needs.materials
    fumes = bool(needs.materials & {Material.SOLVENT, Material.SPRAY}) or Finish.SOLVENT in needs.finishes
    called_for = {
        Task.INDENT: Purpose.RESIST in needs.purposes, Task.SCRAP: wet, Task.TISSUE: wet, Task.WINDOW: fumes,
    }  # fmt: skip
    return [task for task in Task if called_for.get(task, True)]


def _check(session: Session, task: str) -> None:
    if task in tuple(Task):
        return
    number = task.removeprefix(_OWN)
    if not (task.startswith(_OWN) and number.isascii() and number.isdigit() and len(number) < 18) or (
        session.get(OwnTask, int(number)) is None
    ):
        raise NotFoundError("There is no such line in the preparation. It may have been taken out in another window.")
