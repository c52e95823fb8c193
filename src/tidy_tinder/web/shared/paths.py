"""Parameters of addresses that several routes share."""

from __future__ import annotations

from pydantic import BaseModel

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.web.shared.base import Id


class PaperQuery(BaseModel):
    """The paper at hand."""

    paper: Id


class ColourQuery(PaperQuery):
    """The paper at hand and what closest means."""

    closest: Closest = Closest.OVERALL


class ChangePath(BaseModel):
    """The number of a change."""

    change_id: Id


class PaperPath(BaseModel):
    """The number of a paper."""

    paper_id: Id


class ColourPath(BaseModel):
    """The number of a colour."""

    colour_id: Id


class PencilPath(BaseModel):
    """The number of a pencil."""

    pencil_id: Id


class RangePath(BaseModel):
    """The number of a range."""

    range_id: Id


class SetPath(BaseModel):
    """The number of a boxed set."""

    set_id: Id


class SessionPath(BaseModel):
    """The number of a session."""

    session_id: Id


class ItemPath(BaseModel):
    """The number of a mark in a session."""

    item_id: Id


class SwatchPath(BaseModel):
    """The number of a swatch."""

    swatch_id: Id


class RecipePath(BaseModel):
    """The number of a recipe."""

    recipe_id: Id


class CallPath(BaseModel):
    """The number of a call."""

    call_id: Id


class ScrapPath(BaseModel):
    """The number of a scrap."""

    scrap_id: Id
