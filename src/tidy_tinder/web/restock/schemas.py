"""What restock sends and gets. Figures of expected ΔE00 hold D65, 2°."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tidy_tinder.core.sheet.layout import PageSize
from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.restock.buying import BuyWish
from tidy_tinder.services.restock.demands import DemandOf
from tidy_tinder.services.restock.prices import PriceOf
from tidy_tinder.web.shared.base import Asked, Id, Out, Schema
from tidy_tinder.web.shared.drawn import ColourOut, DifferenceOut, MarkOut, PatchOut

_MOST_BOUGHT, _MOST_IDS = 12, 400
_DEAREST = 999_999.0


class BuyQuery(Asked):
    """What one wants. most: colours; ranges: numbers parted by spaces, all where empty; again: begin anew."""

    most: int = Field(default=3, ge=1, le=_MOST_BOUGHT)
    ranges: str = Field(default="", max_length=400, pattern=r"^[0-9 ]*$")
    lasting: bool = False
    dry: bool = False
    budget: float | None = Field(default=None, ge=0.0, le=_DEAREST, allow_inf_nan=False)
    put_away: float = Field(default=0.25, ge=0.0, le=1.0, allow_inf_nan=False)
    again: bool = False

    def wish(self) -> BuyWish:
        """As the services take it."""
        ranges = frozenset(int(one) for one in self.ranges.split() if len(one) < 18)
        return BuyWish(self.most, ranges, self.lasting, self.dry, self.budget, self.put_away)


class ServedOut(Out):
    """What a colour brings closer, expected ΔE00 before and after."""

    of: DemandOf
    title: str
    words: str
    before: float
    after: float
    layered_with: ColourOut | None


class NearOut(Out):
    """The owned pencil that is nearest, and how it differs."""

    colour: ColourOut
    difference: DifferenceOut
    twin: bool


class BuyOut(Out):
    """A colour to buy."""

    colour: ColourOut
    mark: MarkOut
    serves: list[ServedOut]
    middle: float
    gain: float
    gain_alone: float
    nearest: NearOut | None
    by_chart: bool
    price: float | None
    is_listed: bool


class BoxOut(Out):
    """A boxed set, and what it would do."""

    set_id: int
    name: str
    colours: int
    new: int
    twins: int
    answered: int
    gain: float
    price: float | None
    each_new: float | None


class HoleOut(Out):
    """What nothing that is owned comes near to."""

    of: DemandOf
    title: str
    words: str
    colour: PatchOut
    nearest: float


class BuysOut(Out):
    """What to buy as far as it is known."""

    buys: list[BuyOut]
    boxes: list[BoxOut]
    holes: list[HoleOut]
    layered: bool
    proven: bool
    looked_at: int
    missing: int
    left_out: int
    without_price: int
    currency: str
    doing: str
    done: int
    total: int
    ended: bool
    failed: bool


class AgainQuery(Asked):
    """again: begin anew what was stopped or failed."""

    again: bool = False


class PackQuery(Asked):
    """A tin of `count` pencils for some recipes, their numbers parted by spaces."""

    recipes: str = Field(default="", max_length=2000, pattern=r"^[0-9 ]*$")
    count: int = Field(default=24, ge=1, le=200)
    again: bool = False

    def numbers(self) -> list[int]:
        """Of the recipes."""
        return [int(one) for one in self.recipes.split() if len(one) < 18]


class MissedOut(Out):
    """An owned colour, and by how much all comes out worse without it, ΔE00."""

    colour: ColourOut
    worse: float


class SparingSaidOut(Out):
    """What could go."""

    alone: list[MissedOut]
    together: list[ColourOut]
    demands: int


class PackingSaidOut(Out):
    """What to take along."""

    colours: list[ColourOut]
    middle: float
    best: float
    worse: list[str]
    proven: bool
    demands: int


class TwinsOut(Out):
    """Owned colours that nobody would tell apart."""

    colours: list[ColourOut]
    heavy: float
    light: float


class OwnedTwinsOut(Schema):
    """All groups of twins, the largest first."""

    groups: list[TwinsOut]


class SparingOut(Out):
    """What could go, as far as it is known."""

    answer: SparingSaidOut | None
    doing: str
    done: int
    total: int
    ended: bool
    failed: bool


class PackingOut(Out):
    """What to take along, as far as it is known."""

    answer: PackingSaidOut | None
    doing: str
    done: int
    total: int
    ended: bool
    failed: bool


class PackIn(Schema):
    """Put these pencils into a tin that is with the artist."""

    colours: Annotated[list[Id], Field(min_length=1, max_length=200)]
    tin: str = Field(min_length=1, max_length=60)


class ListIn(Schema):
    """Put colours on the list."""

    colours: Annotated[list[Id], Field(min_length=1, max_length=_MOST_IDS)]
    why: str = Field(default="", max_length=400)


class ListedPath(Schema):
    """The number of a line of the list."""

    wanted_id: Id


class ListedIn(Schema):
    """How many, and whether it lies in the basket; what is not named stays."""

    pieces: int | None = Field(default=None, ge=1, le=99)
    ticked: bool | None = None


class ListedOut(Out):
    """A line of the list."""

    id: int
    colour: ColourOut
    pieces: int
    why: str
    ticked: bool
    price: float | None
    nearest: NearOut | None


class ShoppingListOut(Out):
    """The list by range and code."""

    lines: list[ListedOut]
    cost: float
    without_price: int
    currency: str


class ListPageQuery(Asked):
    """The paper that the list is printed on."""

    size: PageSize = PageSize.A4


class PriceIn(Schema):
    """What one thing costs, one of the three being named; null: nobody knows."""

    colour_id: Id | None = None
    range_id: Id | None = None
    set_id: Id | None = None
    amount: float | None = Field(default=None, ge=0.0, le=_DEAREST, allow_inf_nan=False)

    def of(self) -> PriceOf:
        """What it is the price of."""
        return PriceOf(self.colour_id, self.range_id, self.set_id)


class CurrencyIn(Schema):
    """How amounts are written."""

    currency: str = Field(max_length=8)


class PricedOut(Out):
    """A range or a boxed set with its price."""

    id: int
    name: str
    price: float | None


class PricesOut(Schema):
    """Prices of ranges and boxes, and how amounts are written."""

    ranges: list[PricedOut]
    sets: list[PricedOut]
    currency: str


class LastsOut(Out):
    """So many, nine of ten between low and high."""

    use: float
    low: float
    high: float


class WearOut(Out):
    """How fast a range wears: mm an hour."""

    mm: float
    low: float
    high: float
    stretches: int
    is_guess: bool


class RunningOutOut(Out):
    """A pencil in use and how long it lasts."""

    pencil_id: int
    colour: ColourOut
    state: PencilState
    length_mm: int | None
    hours: float
    wear: WearOut
    lasts: LastsOut | None
    sittings: LastsOut | None
    layers: LastsOut | None


class GoneOut(Schema):
    """A colour of which nothing is left to draw with."""

    colour: ColourOut
    state: PencilState


class RunningOutsOut(Schema):
    """What runs out next, first; what is gone."""

    pencils: list[RunningOutOut]
    gone: list[GoneOut]
    stub_mm: int


class DrawingQuery(Asked):
    """Of one drawing, or of all."""

    drawing: Id | None = None


class MeasuredPath(Schema):
    """The number of a pencil."""

    pencil_id: Id


class LengthIn(Schema):
    """How long a pencil is now."""

    length_mm: int = Field(ge=0, le=400)
