"""Changes as the browser gets them, each with its undo."""

from __future__ import annotations

from pydantic import AliasChoices, Field

from tidy_tinder.services.journal import Changed
from tidy_tinder.web.shared.base import Out, Schema


class ChangeOut(Out):
    """A change that was made; id is for undo."""

    id: int = Field(validation_alias=AliasChoices("id", "change_id"))
    label: str
    rows: int


class MadeOut(Out):
    """The change that was made, if anything changed."""

    change: ChangeOut | None


class AddedOut(Schema):
    """The number of what was added, and the change."""

    id: int
    change: ChangeOut | None


def change_out(change: Changed | None) -> ChangeOut | None:
    """A change for the browser; nothing where nothing changed."""
    return ChangeOut.model_validate(change) if change else None


def made_out(change: Changed | None) -> MadeOut:
    """What was made, for a route that has no more to tell."""
    return MadeOut(change=change_out(change))
