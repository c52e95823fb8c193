"""Owning: ticked by code, pasted as a list, a whole set at once; each one change with one undo."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.names.spans import read_spans
from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.formats.owned_list import ListedPiece, read_owned_list
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import catalogue_of, charted_colours, entry_of, existing, named
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.tidy.pencils import NewPencil, delete_pencils, new_lengths, store_pencils
from tidy_tinder.storage.models import BoxedSet, ColourRange, Pencil
from tidy_tinder.storage.queries.colours import PencilRow, pencils_by_colour, set_contents


@dataclass(frozen=True)
class Ticked:
    """What ticking codes did. unknown: what is not on that chart, as it was written."""

    changed: Changed | None
    newly: int
    already: int
    unknown: tuple[str, ...]


def tick(collection: Collection, range_id: int, text: str, owned: bool = True) -> Ticked:
    """Tick typed codes of one range as owned, or as not owned: “101-118, 122, 130”.

    What is on the chart is done, what is not is named in the answer. Raises NotFoundError for an unknown
    range.
    """
    with collection() as session:
        line = session.get(ColourRange, range_id)
        if line is None:
            raise NotFoundError(f"There is no range number {range_id}.")
        name = line.name
        chart = [entry_of(row) for row in charted_colours(session) if row.range_id == range_id]
    reading = read_spans(text, chart)
    if not reading.keys:
        return Ticked(None, 0, 0, reading.unknown)
    said = " ".join(text.split())[:60]
    made = mark_owned(collection, reading.keys, owned, f"{name} {said} {'owned' if owned else 'not owned'}")
    newly = made.rows if made else 0
    return Ticked(made, newly, len(reading.keys) - newly if owned else 0, reading.unknown)


def mark_owned(
    collection: Collection, colour_ids: Sequence[int], owned: bool, label: str = "", set_id: int | None = None
) -> Changed | None:
    """Own these colours (a new pencil each where there is none), or own them no more; one change, one undo.

    A colour that is named several times is owned so many times: what is more than one are spares. Returns None where
    nothing had to change. Raises NotFoundError for an unknown colour.
    """
    with writing(collection, label or "Owned") as session:
        colours = existing(session, colour_ids)
        if owned:
            own_these(session, Counter(colour_ids), set_id)
        else:
            going = [p.id for sticks in _kept(session, list(colours)).values() for p in sticks]
            delete_pencils(session, session.scalars(select(Pencil).where(Pencil.id.in_(going))).all())
        if not label:
            relabel(session, f"{named(colours)} {'owned' if owned else 'not owned'}")
        made = changed(session)
        return made if made.rows else None


def own_these(session: Session, wanted: Mapping[int, int], set_id: int | None = None) -> None:
    """Own so many pencils of each colour, within the caller's change: what there is already counts.

    Raises NotFoundError for an unknown colour.
    """
    colours, kept, lengths = existing(session, list(wanted)), _kept(session, list(wanted)), new_lengths(session)
    store_pencils(
        session,
        (
            NewPencil(
                i, set_id, length_mm=lengths[row.range_id], state=PencilState.SPARE if number else PencilState.IN_USE
            )
            for i, row in colours.items()
            for number in range(len(kept[i]), wanted[i])
        ),
    )


def _kept(session: Session, colour_ids: Sequence[int]) -> dict[int, list[PencilRow]]:
    """The sticks of each colour that are not used up."""
    pencils = pencils_by_colour(session)
    return {i: [p for p in pencils.get(i, ()) if p.state != PencilState.USED_UP] for i in colour_ids}


def own_set(collection: Collection, set_id: int) -> Changed | None:
    """Own every colour of a boxed set that is not owned yet. Raises NotFoundError; None where all were owned."""
    with collection() as session:
        boxed = session.get(BoxedSet, set_id)
        if boxed is None:
            raise NotFoundError(f"There is no set number {set_id}.")
        name = boxed.name
        contents = next(ids for known, _, _, ids in set_contents(session) if known == set_id)
    if not contents:
        raise RefusedError(f"The set {name} has no colours.")
    return mark_owned(collection, contents, True, f"Set {name} owned", set_id)


def read_pasted(collection: Collection, text: str) -> tuple[ListedPiece, ...]:
    """What a pasted list of what is owned means, piece by piece; nothing is changed."""
    with collection() as session:
        return read_owned_list(text, catalogue_of(session))
