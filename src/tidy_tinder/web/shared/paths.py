"""Parameters of addresses that several routes share."""

from __future__ import annotations

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.web.shared.base import Asked, Id, Schema


class PaperQuery(Asked):
    """The paper at hand."""

    paper: Id


class ColourQuery(PaperQuery):
    """The paper at hand and what closest means."""

    closest: Closest = Closest.OVERALL


class ChangePath(Schema):
    """The number of a change."""

    change_id: Id


class PaperPath(Schema):
    """The number of a paper."""

    paper_id: Id


class ColourPath(Schema):
    """The number of a colour."""

    colour_id: Id


class PencilPath(Schema):
    """The number of a pencil."""

    pencil_id: Id


class RangePath(Schema):
    """The number of a range."""

    range_id: Id


class SetPath(Schema):
    """The number of a boxed set."""

    set_id: Id


class SessionPath(Schema):
    """The number of a session."""

    session_id: Id


class ItemPath(Schema):
    """The number of a mark in a session."""

    item_id: Id


class SwatchPath(Schema):
    """The number of a swatch."""

    swatch_id: Id


class RecipePath(Schema):
    """The number of a recipe."""

    recipe_id: Id


class StepPath(Schema):
    """The number of a line of a recipe."""

    step_id: Id


class CallPath(Schema):
    """The number of a call."""

    call_id: Id


class ScrapPath(Schema):
    """The number of a scrap."""

    scrap_id: Id


class SheetPath(Schema):
    """The number of a printed sheet."""

    sheet_id: Id
