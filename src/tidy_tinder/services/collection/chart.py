"""The resolver over the collection's charts, made once for each version."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy.orm import Session

from tidy_tinder.core.names.finding import Catalogue, Entry, Finding
from tidy_tinder.services.background.cache import CHART_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.marks import charted_colours
from tidy_tinder.storage.queries.colours import ColourRow


def catalogue_of(session: Session) -> Catalogue:
    """The resolver for all charted colours as they are now."""
    return for_version(
        session, "catalogue", CHART_TABLES, lambda: Catalogue(entry_of(r) for r in charted_colours(session))
    )


def entry_of(row: ColourRow) -> Entry:
    """A charted colour as the resolver needs it; its key is the colour's id."""
    return Entry(row.id, row.maker, row.range_name, row.code, row.name)


def find(collection: Collection, text: str, limit: int = 12) -> Finding:
    """What the finder shows for `text`."""
    with collection() as session:
        return catalogue_of(session).suggest(text, limit)


def colours_by_id(collection: Collection) -> Mapping[int, ColourRow]:
    """All charted colours by their number."""
    with collection() as session:
        return {row.id: row for row in charted_colours(session)}
