"""Restock: what to buy, what can go, what to pack, the list, prices, what runs out."""

from __future__ import annotations

from flask import Response

from tidy_tinder.formats.shopping_list import shopping_list_csv, shopping_list_pdf
from tidy_tinder.services.restock.lasting import measure_pencil, running_out
from tidy_tinder.services.restock.listing import (
    bought,
    list_colours,
    listed_for_paper,
    say_of_listed,
    shopping_list,
    strike,
)
from tidy_tinder.services.restock.prices import all_prices, set_currency, set_price
from tidy_tinder.services.restock.sparing import pack_into, packing_so_far, sparing_so_far
from tidy_tinder.services.restock.twins import owned_twins
from tidy_tinder.services.restock.view import what_to_buy
from tidy_tinder.web.endpoint import as_file, blueprint, collection_here, file_response
from tidy_tinder.web.restock.schemas import (
    AgainQuery,
    BuyQuery,
    BuysOut,
    CurrencyIn,
    DrawingQuery,
    GoneOut,
    LengthIn,
    ListedIn,
    ListedPath,
    ListIn,
    ListPageQuery,
    MeasuredPath,
    OwnedTwinsOut,
    PackIn,
    PackingOut,
    PackQuery,
    PriceIn,
    PricesOut,
    RunningOutOut,
    RunningOutsOut,
    ShoppingListOut,
    SparingOut,
    TwinsOut,
)
from tidy_tinder.web.shared.changes import MadeOut, made_out
from tidy_tinder.web.shared.drawn import ColourOut

api = blueprint("restock")

# So long a request waits for a first answer.
_WAIT_SECONDS = 0.3


@api.get("/restock/buys", responses={"200": BuysOut})
def get_buys(query: BuyQuery) -> BuysOut:
    """The few colours that bring most of what is missing closer; begun by asking."""
    return BuysOut.model_validate(what_to_buy(collection_here(), query.wish(), _WAIT_SECONDS, query.again))


@api.get("/restock/spare", responses={"200": SparingOut})
def get_spare(query: AgainQuery) -> SparingOut:
    """What could go and nothing would be missed; begun by asking."""
    return SparingOut.model_validate(sparing_so_far(collection_here(), _WAIT_SECONDS, query.again))


@api.get("/restock/twins", responses={"200": OwnedTwinsOut})
def get_owned_twins() -> OwnedTwinsOut:
    """Owned colours that nobody would tell apart, on the paper at hand."""
    return OwnedTwinsOut(groups=[TwinsOut.model_validate(one) for one in owned_twins(collection_here())])


@api.get("/restock/packing", responses={"200": PackingOut})
def get_packing(query: PackQuery) -> PackingOut:
    """The tin of so many pencils for some recipes; begun by asking."""
    found = packing_so_far(collection_here(), query.numbers(), query.count, _WAIT_SECONDS, query.again)
    return PackingOut.model_validate(found)


@api.post("/restock/packing", responses={"200": MadeOut})
def post_packing(body: PackIn) -> MadeOut:
    """Put these pencils into a tin, and take it along."""
    pack_into(collection_here(), body.colours, body.tin)
    return MadeOut(change=None)


@api.get("/restock/list", responses={"200": ShoppingListOut})
def get_shopping_list() -> ShoppingListOut:
    """What is to be bought."""
    return ShoppingListOut.model_validate(shopping_list(collection_here()))


@api.post("/restock/list", responses={"200": MadeOut})
def post_listed(body: ListIn) -> MadeOut:
    """Put colours on the list."""
    return made_out(list_colours(collection_here(), body.colours, body.why))


@api.put("/restock/list/<int:wanted_id>", responses={"200": MadeOut})
def put_listed(path: ListedPath, body: ListedIn) -> MadeOut:
    """How many, and whether it lies in the basket."""
    return made_out(say_of_listed(collection_here(), path.wanted_id, body.pieces, body.ticked))


@api.delete("/restock/list/<int:wanted_id>", responses={"200": MadeOut})
def delete_listed(path: ListedPath) -> MadeOut:
    """Strike a line off the list."""
    return made_out(strike(collection_here(), path.wanted_id))


@api.post("/restock/bought", responses={"200": MadeOut})
def post_bought() -> MadeOut:
    """What is ticked was bought: it goes into the tidy."""
    return made_out(bought(collection_here()))


@api.get("/restock/list.csv", responses={"200": file_response("text/csv")})
def get_list_csv() -> Response:
    """The list as CSV."""
    content = shopping_list_csv(listed_for_paper(collection_here()))
    return as_file(content.encode("utf-8"), "text/csv", "shopping-list.csv")


@api.get("/restock/list.pdf", responses={"200": file_response("application/pdf")})
def get_list_pdf(query: ListPageQuery) -> Response:
    """The list on paper."""
    content = shopping_list_pdf(listed_for_paper(collection_here()), query.size)
    return as_file(content, "application/pdf", "shopping-list.pdf")


@api.get("/restock/prices", responses={"200": PricesOut})
def get_prices() -> PricesOut:
    """Prices of ranges and boxes."""
    ranges, sets, currency = all_prices(collection_here())
    return PricesOut.model_validate({"ranges": ranges, "sets": sets, "currency": currency}, from_attributes=True)


@api.put("/restock/prices", responses={"200": MadeOut})
def put_price(body: PriceIn) -> MadeOut:
    """What a colour, any of a range, or a boxed set costs."""
    return made_out(set_price(collection_here(), body.of(), body.amount))


@api.put("/restock/currency", responses={"200": MadeOut})
def put_currency(body: CurrencyIn) -> MadeOut:
    """How amounts are written."""
    return made_out(set_currency(collection_here(), body.currency))


@api.get("/restock/running-out", responses={"200": RunningOutsOut})
def get_running_out(query: DrawingQuery) -> RunningOutsOut:
    """What runs out next."""
    found = running_out(collection_here(), query.drawing)
    return RunningOutsOut(
        pencils=[RunningOutOut.model_validate(one) for one in found.pencils],
        gone=[GoneOut(colour=ColourOut.model_validate(colour), state=state) for colour, state in found.gone],
        stub_mm=found.stub_mm,
    )


@api.put("/pencils/<int:pencil_id>/length", responses={"200": MadeOut})
def put_length(path: MeasuredPath, body: LengthIn) -> MadeOut:
    """How long a pencil is now."""
    return made_out(measure_pencil(collection_here(), path.pencil_id, body.length_mm))
