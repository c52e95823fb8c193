"""The list of what to buy: put on it with its reason, ticked in the shop, bought into the tidy with one undo."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.formats.shopping_list import ListedLine, PrintedList
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id, existing, named
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.restock.prices import prices_now
from tidy_tinder.services.restock.view import Near, Shower
from tidy_tinder.services.tidy.pencils import NewPencil, new_lengths, store_pencils
from tidy_tinder.storage.models import Wanted
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour

_MOST = 400
_MOST_PIECES = 99
_LONGEST_WHY = 200


@dataclass(frozen=True)
class ListedView:
    """A line of the list: price of one piece, None where nobody said; nearest: what is owned that comes nearest."""

    id: int
    colour: ColourRow
    pieces: int
    why: str
    ticked: bool
    price: float | None
    nearest: Near | None


@dataclass(frozen=True)
class ListView:
    """The list by range and code; cost: of what has a price; without_price: lines that have none."""

    lines: tuple[ListedView, ...]
    cost: float
    without_price: int
    currency: str


def shopping_list(collection: Collection) -> ListView:
    """The list, by range and code."""
    with collection() as session:
        prices = prices_now(session)
        shower, colours = Shower(session, prices), chart_by_id(session)
        order = {colour: i for i, colour in enumerate(colours)}
        rows = sorted(session.scalars(select(Wanted)).all(), key=lambda row: order[row.colour_id])
        lines = tuple(
            ListedView(
                row.id, colours[row.colour_id], row.pieces, row.why, row.ticked, shower.price(row.colour_id),
                shower.nearest(row.colour_id),
            )
            for row in rows
        )  # fmt: skip
        cost = sum(line.pieces * line.price for line in lines if line.price is not None)
        return ListView(lines, cost, sum(line.price is None for line in lines), prices.currency)


def listed_for_paper(collection: Collection) -> PrintedList:
    """The list as it is written into a file. Raises RefusedError where nothing is on it."""
    found = shopping_list(collection)
    if not found.lines:
        raise RefusedError("Nothing is on the list yet.")
    lines = tuple(
        ListedLine(
            line.colour.range_name, line.colour.code, line.colour.name, line.pieces,
            "" if line.price is None else in_money(line.price, found.currency), line.why,
            "" if line.nearest is None else _nearest_in_words(line.nearest),
        )
        for line in found.lines
    )  # fmt: skip
    count = sum(line.pieces for line in found.lines)
    cost = f", {in_money(found.cost, found.currency)}" if found.cost else ""
    without = f"; {found.without_price} without a price" if found.cost and found.without_price else ""
    return PrintedList(lines, f"{count} {'pencil' if count == 1 else 'pencils'}{cost}{without}")


def in_money(amount: float, currency: str) -> str:
    """An amount as it is written."""
    return f"{amount:.2f} {currency}".strip()


def _nearest_in_words(near: Near) -> str:
    owned = f"{near.colour.range_name} {near.colour.code}"
    return (
        f"twin of {owned}, which you have"
        if near.twin
        else f"nearest you have: {owned}, {near.difference.delta_e:.1f} off"
    )


def list_colours(collection: Collection, colour_ids: Sequence[int], why: str = "") -> Changed | None:
    """Put colours on the list; those that are on it stay as they are. Raises NotFoundError, RefusedError."""
    with writing(collection, "Listed") as session:
        colours = existing(session, colour_ids)
        there = set(session.scalars(select(Wanted.colour_id)))
        new = [i for i in colours if i not in there]
        if len(there) + len(new) > _MOST:
            raise RefusedError(f"The list holds {_MOST} colours. Buy or strike some first.")
        for colour in new:
            session.add(Wanted(colour_id=colour, pieces=1, why=why.strip()[:_LONGEST_WHY], ticked=False))
        relabel(session, f"{named({i: colours[i] for i in new})} on the list" if new else "Listed")
        return _made(session)


def say_of_listed(collection: Collection, wanted_id: int, pieces: int | None, ticked: bool | None) -> Changed | None:
    """How many of it, and whether it lies in the basket; None leaves it. Raises NotFoundError, RefusedError."""
    if pieces is not None and not 1 <= pieces <= _MOST_PIECES:
        raise RefusedError(f"Buy 1 to {_MOST_PIECES} of a colour.")
    with writing(collection, "List", kind="setting" if pieces is None else "collection") as session:
        row = _find(session, wanted_id)
        row.pieces = row.pieces if pieces is None else pieces
        row.ticked = row.ticked if ticked is None else ticked
        return _made(session)


def strike(collection: Collection, wanted_id: int) -> Changed:
    """Take a line off the list; undo puts it back. Raises NotFoundError."""
    with writing(collection, "Struck off the list") as session:
        session.delete(_find(session, wanted_id))
        return changed(session)


def bought(collection: Collection) -> Changed:
    """What is ticked was bought: it goes into the tidy, new, and off the list; one undo takes all of it back.

    The first pencil of a colour is in use, each further one a spare. Raises RefusedError where nothing is ticked.
    """
    with writing(collection, "Bought") as session:
        rows = session.scalars(select(Wanted).where(Wanted.ticked).order_by(Wanted.id)).all()
        if not rows:
            raise RefusedError("Tick first what you bought.")
        colours, lengths, sticks = chart_by_id(session), new_lengths(session), pencils_by_colour(session)
        for row in rows:
            has = any(pencil.drawable for pencil in sticks.get(row.colour_id, ()))
            states = [PencilState.SPARE if has or i else PencilState.IN_USE for i in range(row.pieces)]
            length = lengths[colours[row.colour_id].range_id]
            store_pencils(session, [NewPencil(row.colour_id, length_mm=length, state=state) for state in states])
            session.delete(row)
        relabel(session, f"{named({row.colour_id: colours[row.colour_id] for row in rows})} bought")
        return changed(session)


def _find(session: Session, wanted_id: int) -> Wanted:
    row = session.get(Wanted, wanted_id)
    if row is None:
        raise NotFoundError("This line is not on the list any more. It may have been struck in another window.")
    return row


def _made(session: Session) -> Changed | None:
    made = changed(session)
    return made if made.rows else None
