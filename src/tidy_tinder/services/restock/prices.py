"""Prices: of a colour, of any of a range, of a boxed set; the artist's own, in one currency, none needed."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.preferences import read_setting, write_setting
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.storage.models import BoxedSet, ColourRange, Price

_LONGEST_CURRENCY = 8
_DEAREST = 1_000_000.0


@dataclass(frozen=True)
class PriceOf:
    """One thing that has a price: a colour, a range (any pencil of it), or a boxed set."""

    colour_id: int | None = None
    range_id: int | None = None
    set_id: int | None = None


@dataclass(frozen=True)
class Prices:
    """All prices. ranges: by colour, of the range that it belongs to."""

    colours: Mapping[int, float]
    ranges: Mapping[int, float]
    sets: Mapping[int, float]
    range_of: Mapping[int, int]
    currency: str

    def of(self, colour_id: int) -> float:
        """Of one pencil; NaN where nobody said."""
        if colour_id in self.colours:
            return self.colours[colour_id]
        return self.ranges.get(self.range_of.get(colour_id, 0), math.nan)


def prices_now(session: Session) -> Prices:
    """All prices as they are now."""
    rows = session.scalars(select(Price)).all()
    return Prices(
        {row.colour_id: row.amount for row in rows if row.colour_id is not None},
        {row.range_id: row.amount for row in rows if row.range_id is not None},
        {row.set_id: row.amount for row in rows if row.set_id is not None},
        {i: colour.range_id for i, colour in chart_by_id(session).items()},
        read_setting(session, "currency"),
    )


def set_price(collection: Collection, of: PriceOf, amount: float | None) -> Changed | None:
    """Say what something costs; None: nobody knows. Raises NotFoundError, RefusedError for what is no price."""
    if amount is not None and not (math.isfinite(amount) and 0.0 <= amount < _DEAREST):
        raise RefusedError("A price is a number from 0 to below a million.")
    with writing(collection, "Price") as session:
        _check(session, of)
        row = session.scalar(
            select(Price).where(
                Price.colour_id.is_(None) if of.colour_id is None else Price.colour_id == of.colour_id,
                Price.range_id.is_(None) if of.range_id is None else Price.range_id == of.range_id,
                Price.set_id.is_(None) if of.set_id is None else Price.set_id == of.set_id,
            )
        )
        if amount is None:
            if row is not None:
                session.delete(row)
        elif row is None:
            session.add(Price(colour_id=of.colour_id, range_id=of.range_id, set_id=of.set_id, amount=amount))
        else:
            row.amount = amount
        relabel(session, "Price forgotten" if amount is None else "Price set")
        made = changed(session)
        return made if made.rows else None


def set_currency(collection: Collection, currency: str) -> Changed:
    """How amounts are written: “€”, “kr”. Raises RefusedError for what is too long."""
    word = currency.strip()
    if len(word) > _LONGEST_CURRENCY:
        raise RefusedError(f"A currency is written in at most {_LONGEST_CURRENCY} letters.")
    with writing(collection, "Currency", kind="setting") as session:
        write_setting(session, "currency", word)
        return changed(session)


def _check(session: Session, of: PriceOf) -> None:
    if sum(one is not None for one in (of.colour_id, of.range_id, of.set_id)) != 1:
        raise RefusedError("A price belongs to one colour, one range or one set.")
    missing = (
        (of.range_id is not None and session.get(ColourRange, of.range_id) is None)
        or (of.set_id is not None and session.get(BoxedSet, of.set_id) is None)
        or (of.colour_id is not None and of.colour_id not in chart_by_id(session))
    )
    if missing:
        raise NotFoundError("What this price is for is not on your charts. It may have been removed in another window.")


@dataclass(frozen=True)
class Priced:
    """A range or a boxed set with its price; None where nobody said."""

    id: int
    name: str
    price: float | None


def name_of_set(range_name: str, name: str) -> str:
    """A boxed set by its whole name: with its range, where that is not in it."""
    return name if range_name.casefold() in name.casefold() else f"{range_name} {name}"


def all_prices(collection: Collection) -> tuple[tuple[Priced, ...], tuple[Priced, ...], str]:
    """Ranges and boxed sets with their prices, and how amounts are written."""
    with collection() as session:
        prices = prices_now(session)
        lines = session.scalars(select(ColourRange).order_by(ColourRange.position, ColourRange.id)).all()
        names = {line.id: line.name for line in lines}
        sets = session.scalars(select(BoxedSet).order_by(BoxedSet.range_id, BoxedSet.id)).all()
        return (
            tuple(Priced(line.id, line.name, prices.ranges.get(line.id)) for line in lines),
            tuple(Priced(one.id, name_of_set(names[one.range_id], one.name), prices.sets.get(one.id)) for one in sets),
            prices.currency,
        )
