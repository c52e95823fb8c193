"""The passage that a call belongs to: what the recipe lays below and above it in the same area."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layering.prediction.stacks import FittedLayer
from tidy_tinder.core.standins.passage import Passage
from tidy_tinder.core.standins.roles import Water
from tidy_tinder.services.standins.mark_beside_mark import DEFAULT_PRESSURE
from tidy_tinder.storage.models import Colour, ColourRange, RecipeCall, RecipeStep


@dataclass(frozen=True)
class CallLayer:
    """A call as layers: its colour, pressure (or “burnish”) and how many."""

    call_id: int
    colour_id: int
    pressure: str
    layers: int


@dataclass(frozen=True)
class CalledPassage:
    """The layers below and above a call in its area, lowest first; left_out: calls there that are not modelled;
    water: what water does to the call there.
    """

    below: tuple[CallLayer, ...]
    above: tuple[CallLayer, ...]
    solvent: bool
    left_out: int
    water: Water = Water.NONE

    @property
    def passes(self) -> int:
        """How many layers there are round the call."""
        return sum(one.layers for one in (*self.below, *self.above))

    def fitted(self, pencils: Mapping[int, PencilFit]) -> Passage:
        """The same with fitted pencils, as the core takes it."""
        below, above = (
            tuple(FittedLayer(pencils[one.colour_id], one.pressure, one.layers) for one in side)
            for side in (self.below, self.above)
        )
        return Passage(below, above, self.solvent)


# A colour outside any recipe.
ALONE = CalledPassage((), (), False, 0)


def layer_of(call: RecipeCall) -> CallLayer:
    """What a settled call lays down."""
    pressure = "burnish" if call.role == "burnisher" else call.pressure or DEFAULT_PRESSURE
    return CallLayer(call.id, call.colour_id or 0, pressure, call.layers)


def passage_of(session: Session, call: RecipeCall, pencils: Mapping[int, PencilFit]) -> CalledPassage:
    """The passage round a call: the other calls of its area in the order of the recipe, those that are modelled."""
    step = session.get_one(RecipeStep, call.step_id)
    rows = session.scalars(
        select(RecipeCall)
        .join(RecipeStep, RecipeCall.step_id == RecipeStep.id)
        .where(RecipeStep.recipe_id == step.recipe_id, RecipeStep.area == step.area)
        .order_by(RecipeStep.position, RecipeCall.position)
    ).all()
    finishes = session.scalars(
        select(RecipeStep.finish).where(
            RecipeStep.recipe_id == step.recipe_id, RecipeStep.area == step.area, RecipeStep.position >= step.position
        )
    ).all()
    at = next(i for i, row in enumerate(rows) if row.id == call.id)
    sides: tuple[list[CallLayer], list[CallLayer]] = ([], [])
    left_out = 0
    for i, row in enumerate(rows):
        if i == at or row.state == "dismissed":
            continue
        if row.colour_id in pencils:
            sides[i > at].append(layer_of(row))
        else:
            left_out += 1
    water = _water(session, call) if "wet" in finishes else Water.NONE
    return CalledPassage(tuple(sides[0]), tuple(sides[1]), "solvent" in finishes, left_out, water)


def _water(session: Session, call: RecipeCall) -> Water:
    """What a wet wash does to a call that it comes over: a pencil that is made for water is what it dissolves."""
    soluble = select(ColourRange.water_soluble).join(Colour, Colour.range_id == ColourRange.id)
    if session.scalar(soluble.where(Colour.id == call.colour_id)) is True:
        return Water.DISSOLVES_IT
    return Water.OVER_IT
