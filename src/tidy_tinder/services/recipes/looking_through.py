"""Lines with words that were read as nothing: the artist says which of them are colours, or that none is."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import Catalogue
from tidy_tinder.core.vocabulary import StepKind
from tidy_tinder.formats.recipe_left import words_left
from tidy_tinder.formats.recipe_reading import Span
from tidy_tinder.formats.recipe_words import SENTENCE, TOKEN, layers_in, pressure_in
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.storage.models import CallState, RecipeCall, RecipeStep


def look_through(collection: Collection, step_id: int, revision: int, as_note: bool = False) -> Changed:
    """Say that a line names no more colours than were read. as_note: it is no step at all, and stays as a note.

    revision: of the line that was looked at. Raises NotFoundError, ChangedMeanwhileError, and RefusedError for a note
    with a colour in it.
    """
    with writing(collection, "Line looked through") as session:
        step = _find_step(session, step_id)
        if as_note and step.calls:
            raise RefusedError("A line that lays a colour is a step. Say of its words first that they are no colour.")
        said: dict[str, Any] = {"to_look_through": False} | ({"kind": StepKind.NOTE} if as_note else {})
        revise(step, revision, said, "This line")
        named = "is a note" if as_note else "names no more colours"
        relabel(session, f"“{_shortened(step.text)}” {named}")
        return changed(session)


def call_for_words(collection: Collection, step_id: int, words: str, start: int | None = None) -> Changed:
    """Let words of a line name a colour, which is to be settled then. start: where they stand; None: where they do
    first.

    Raises NotFoundError, and RefusedError for words that are not in the line, or were read already.
    """
    with writing(collection, "Call added") as session:
        step = _find_step(session, step_id)
        written = " ".join(words.split())
        begins = _place_of(step, written, start)
        how = _how_of(step, begins + len(written))
        step.kind = StepKind.STEP
        call = RecipeCall(
            step_id=step.id, position=len(step.calls), as_written=step.text[begins : begins + len(written)],
            start=begins, state=CallState.UNSETTLED, problem="You say that it is a colour. Say which.",
            pressure=pressure_in(how), layers=layers_in(how),
        )  # fmt: skip
        session.add(call)
        session.flush()
        session.expire(step, ["calls"])
        in_their_order(session, step)
        relabel(session, f"“{call.as_written}” is a colour")
        return changed(session)


def in_their_order(session: Session, step: RecipeStep) -> None:
    """Let a call that came last take its place among the others of a line, before the first that stands after it."""
    *others, last = step.calls
    at = next((i for i, call in enumerate(others) if call.start > last.start), len(others))
    wanted = [*others[:at], last, *others[at:]]
    for aside, call in enumerate(wanted):
        call.position = -1 - aside
    session.flush()
    for position, call in enumerate(wanted):
        call.position = position
    session.flush()
    session.expire(step, ["calls"])


def left_in(step: RecipeStep, catalogue: Catalogue) -> tuple[Span, ...]:
    """Where a line that is kept has words that may name a colour and are none of its calls; none where it was looked
    through.
    """
    return words_left(step.text, places_of(step.text, step.calls), catalogue) if step.to_look_through else ()


def places_of(text: str, calls: Sequence[RecipeCall]) -> list[Span]:
    """Where the words of calls stand in their line: as they are written, or the one word that stands for them."""
    places: list[Span] = []
    for call in calls:
        stands = text.startswith(call.as_written, call.start)
        word = None if stands else TOKEN.match(text, call.start)
        end = call.start + len(call.as_written) if stands else word.end() if word else call.start
        places.append((call.start, end))
    return places


def _place_of(step: RecipeStep, words: str, start: int | None) -> int:
    """Where words stand in a line, as whole words that no call has. Raises RefusedError."""
    found = _standing(step.text, words)
    if not found or (start is not None and start not in found):
        raise RefusedError(f"“{words}” does not stand in this line. Write the words as they are in it.")
    free = _free(found, len(words), places_of(step.text, step.calls))
    wanted = [at for at in free if start in (None, at)]
    if not wanted:
        raise RefusedError(f"“{words}” was read as a colour already.")
    return wanted[0]


def free_place_of(step: RecipeStep, call: RecipeCall) -> int | None:
    """Where the words of a call stand in its line, and no other call's do; None where they do not."""
    others = places_of(step.text, [other for other in step.calls if other.id != call.id])
    free = _free(_standing(step.text, call.as_written), len(call.as_written), others)
    return free[0] if free else None


def _standing(text: str, words: str) -> list[int]:
    """Where words stand in a line as whole words."""
    if not words:
        return []
    return [found.start() for found in re.finditer(rf"(?<!\w){re.escape(words)}(?!\w)", text, re.IGNORECASE)]


def _free(places: Sequence[int], length: int, taken: Sequence[Span]) -> list[int]:
    """Those of some places where nothing else stands."""
    return [at for at in places if not any(at < end and begin < at + length for begin, end in taken)]


def _how_of(step: RecipeStep, end: int) -> str:
    """The words of a line that say how hard and how often a colour is laid whose own words end there: those up to the
    next colour or sentence, or all of the line where it has no other.
    """
    if not step.calls:
        return step.text
    following = min((call.start for call in step.calls if call.start >= end), default=len(step.text))
    over = SENTENCE.search(step.text, end, following)
    return step.text[end : over.end() if over else following]


def _find_step(session: Session, step_id: int) -> RecipeStep:
    step = session.get(RecipeStep, step_id)
    if step is None:
        raise NotFoundError("This line is gone. It may have been removed in another window.")
    return step


_MOST_SHOWN = 40
"""Characters of a line in the name of a change."""


def _shortened(text: str) -> str:
    return text if len(text) <= _MOST_SHOWN else f"{text[: _MOST_SHOWN - 1].rstrip()}…"
