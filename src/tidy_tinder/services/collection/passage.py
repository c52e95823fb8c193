"""The passage that a call belongs to: what the recipe lays below and above it in the same area."""

from __future__ import annotations

from collections.abc import Mapping
from collections.abc import Set as AbstractSet
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.fitting.pencil_fit import PencilFit
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.standins.passage import Passage
from tidy_tinder.core.standins.roles import Water
from tidy_tinder.core.vocabulary import Finish, Pressure, Role
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.storage.models import CallState, Colour, ColourRange, RecipeCall, RecipeStep

# A call that names no pressure is compared at heavy, one layer: the masstone is what a chart shows too.
DEFAULT_PRESSURE = Pressure.HEAVY


@dataclass(frozen=True)
class CalledPassage:
    """The layers below and above a call in its area, by colour, lowest first; left_out: calls there that are not
    modelled; water: what water does to the call there.
    """

    below: tuple[Layer[int], ...]
    above: tuple[Layer[int], ...]
    solvent: bool
    left_out: int
    water: Water = Water.NONE

    @property
    def passes(self) -> int:
        """How many layers there are round the call."""
        return sum(one.layers for one in (*self.below, *self.above))

    def modelled(self, pencils: Mapping[int, PencilFit]) -> Passage:
        """The same with fitted pencils, as the core takes it."""
        below, above = (tuple(one.of(pencils[one.pencil]) for one in side) for side in (self.below, self.above))
        return Passage(below, above, self.solvent)


# A colour outside any recipe.
ALONE = CalledPassage((), (), False, 0)


def find_call(session: Session, call_id: int) -> RecipeCall:
    """The call; raises NotFoundError."""
    call = session.get(RecipeCall, call_id)
    if call is None:
        raise NotFoundError(f"There is no call number {call_id}. It may have been removed in another window.")
    return call


def settled_call(session: Session, call_id: int) -> tuple[RecipeCall, int]:
    """The call and the colour that it asks for. Raises NotFoundError, RefusedError for one not settled yet."""
    call = find_call(session, call_id)
    if call.colour_id is None:
        raise RefusedError(f"“{call.as_written}” is not settled yet: say first which colour is meant.")
    return call, call.colour_id


def meant(call: RecipeCall, at_hand: AbstractSet[int]) -> int | None:
    """The colour that a call asks for: of “A or B” the second where only that one is at hand; None: not settled."""
    if call.other_colour_id in at_hand and call.colour_id not in at_hand:
        return call.other_colour_id
    return call.colour_id


def layer_of(call: RecipeCall, colour_id: int | None = None) -> Layer[int]:
    """What a settled call lays down; colour_id: of which colour, where not of its first."""
    pressure = Pressure.BURNISH if call.role == Role.BURNISHER else call.pressure or DEFAULT_PRESSURE
    return Layer(colour_id or call.colour_id or 0, pressure, call.layers)


def passage_of(
    session: Session, call: RecipeCall, pencils: Mapping[int, PencilFit], at_hand: AbstractSet[int]
) -> CalledPassage:
    """The passage round a call: the other calls of its area in the order of the recipe, those that are modelled."""
    step = session.get_one(RecipeStep, call.step_id)
    same_area = (RecipeStep.recipe_id == step.recipe_id, RecipeStep.area == step.area)
    rows = session.scalars(
        select(RecipeCall)
        .join(RecipeStep, RecipeCall.step_id == RecipeStep.id)
        .where(*same_area)
        .order_by(RecipeStep.position, RecipeCall.position)
    ).all()
    later = select(RecipeStep.finish).where(*same_area, RecipeStep.position >= step.position)
    finishes = session.scalars(later).all()
    at = next(i for i, row in enumerate(rows) if row.id == call.id)
    sides: tuple[list[Layer[int]], list[Layer[int]]] = ([], [])
    left_out = 0
    for i, row in enumerate(rows):
        if i == at or row.state == CallState.DISMISSED:
            continue
        colour_id = meant(row, at_hand)
        if colour_id in pencils:
            sides[i > at].append(layer_of(row, colour_id))
        else:
            left_out += 1
    water = water_for(session, call, Finish.WET in finishes)
    return CalledPassage(tuple(sides[0]), tuple(sides[1]), Finish.SOLVENT in finishes, left_out, water)


def water_for(session: Session, call: RecipeCall, wet: bool) -> Water:
    """What a wet wash, if one comes over a call, does to it: a pencil that is made for water is what it dissolves."""
    if not wet:
        return Water.NONE
    soluble = select(ColourRange.water_soluble).join(Colour, Colour.range_id == ColourRange.id)
    if session.scalar(soluble.where(Colour.id == call.colour_id)) is True:
        return Water.DISSOLVES_IT
    return Water.OVER_IT
