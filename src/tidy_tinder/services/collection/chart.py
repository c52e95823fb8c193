"""The charted colours: all of them, some by number, by name in messages, and as the resolver needs them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import Catalogue, Entry
from tidy_tinder.services.background.cache import CHART_TABLES, COLOUR_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.storage.queries.colours import ColourRow, colour_rows


def charted_colours(session: Session) -> Sequence[ColourRow]:
    """All charted colours in order; kept until a chart changes."""
    return for_version(session, "colours", COLOUR_TABLES, lambda: colour_rows(session))


def chart_by_id(session: Session) -> Mapping[int, ColourRow]:
    """All charted colours by their number, in order; kept until a chart changes."""
    return for_version(
        session, "colours by id", COLOUR_TABLES, lambda: {row.id: row for row in charted_colours(session)}
    )


def colours_by_id(collection: Collection) -> Mapping[int, ColourRow]:
    """All charted colours by their number."""
    with collection() as session:
        return chart_by_id(session)


def colour_row(session: Session, colour_id: int) -> ColourRow:
    """One charted colour; raises NotFoundError."""
    row = chart_by_id(session).get(colour_id)
    if row is None:
        raise no_colour(colour_id)
    return row


def existing(session: Session, colour_ids: Sequence[int]) -> dict[int, ColourRow]:
    """The colours by id, each once; raises NotFoundError for one that is not there."""
    return {i: colour_row(session, i) for i in colour_ids}


def no_colour(colour_id: int) -> NotFoundError:
    """What is said of a colour that is not there."""
    return NotFoundError(f"There is no colour number {colour_id}. It may have been removed in another window.")


def named(colours: Mapping[int, ColourRow]) -> str:
    """One colour by its name, several by their number."""
    first = next(iter(colours.values()))
    return first.name if len(colours) == 1 else f"{len(colours)} colours"


def colour_named(session: Session, colour_id: int) -> str:
    """“Heron 119 Fly Cap”; raises NotFoundError."""
    return entry_of(colour_row(session, colour_id)).label


def catalogue_of(session: Session) -> Catalogue:
    """The resolver for all charted colours as they are now."""
    return for_version(
        session, "catalogue", CHART_TABLES, lambda: Catalogue(entry_of(r) for r in charted_colours(session))
    )


def entry_of(row: ColourRow) -> Entry:
    """A charted colour as the resolver needs it; its key is the colour's id."""
    return Entry(row.id, row.maker, row.range_name, row.code, row.name)
