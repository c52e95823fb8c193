"""Parts of a recipe removed, children first: what the database removed by itself would not be in the journal."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.storage.models import Choice, Exclusion, RecipeCall, RecipeStep


def remove_step(session: Session, step: RecipeStep) -> None:
    """A step with its calls."""
    for call in list(step.calls):
        remove_call(session, call)
    session.flush()
    session.delete(step)
    session.flush()


def remove_call(session: Session, call: RecipeCall) -> None:
    """A call with what was decided about it."""
    for table in (Choice, Exclusion):
        for row in session.scalars(select(table).where(table.call_id == call.id)):
            session.delete(row)
    session.flush()
    session.delete(call)
