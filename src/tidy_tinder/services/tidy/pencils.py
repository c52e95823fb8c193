"""The sticks themselves, and the one writer of them: added, changed, removed, lost, found again, used up."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import asdict, dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import LONGEST_PENCIL_MM, PencilState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import colour_named, colour_row, entry_of, existing, named
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, add_many, changed, now, relabel, revise, writing
from tidy_tinder.storage.models import ColourRange, Pencil, PencilLength
from tidy_tinder.storage.queries.colours import DRAWABLE_STATES, pencils_by_colour


@dataclass(frozen=True)
class PencilAs:
    """All that can be said of one stick."""

    tin: str
    slot: int | None
    length_mm: int | None
    state: PencilState
    stamp_readable: bool
    notes: str


@dataclass(frozen=True)
class NewPencil:
    """One stick that is owned from now on; set_id: the box that it came in; length_mm None where it is not known."""

    colour_id: int
    set_id: int | None = None
    tin: str = ""
    slot: int | None = None
    length_mm: int | None = None
    state: PencilState = PencilState.IN_USE
    stamp_readable: bool = True


def store_pencils(session: Session, pencils: Iterable[NewPencil]) -> None:
    """Own these sticks, within the caller's change: the one place where pencils are written down.

    Raises RefusedError for a length that cannot be.
    """
    rows = [vars(new) for new in pencils]
    for row in rows:
        _check_length(row["length_mm"])
    add_many(session, Pencil, rows)


def new_lengths(session: Session) -> dict[int, int]:
    """The length of a new pencil in mm, by range."""
    return dict(session.execute(select(ColourRange.id, ColourRange.new_length_mm)).all())


def each_pencil(
    collection: Collection, colour_ids: Sequence[int], act: Callable[[Sequence[Pencil]], None], what: str
) -> Changed | None:
    """Do something with the pencils of each colour; one change; None where nothing had to change."""
    with writing(collection, what) as session:
        colours = existing(session, colour_ids)
        sticks: dict[int, list[Pencil]] = {i: [] for i in colours}
        for pencil in session.scalars(select(Pencil).where(Pencil.colour_id.in_(list(colours))).order_by(Pencil.id)):
            sticks[pencil.colour_id].append(pencil)
        for colour_id in colours:
            act(sticks[colour_id])
        touched = {p.colour_id for p in session.dirty if isinstance(p, Pencil)}
        if touched:
            relabel(session, f"{named({i: colours[i] for i in colours if i in touched})} {what}")
        return _made(session)


def edit_pencil(collection: Collection, pencil_id: int, revision: int, wanted: PencilAs) -> Changed | None:
    """Say anew all of one stick. Raises NotFoundError; RefusedError for a state or length that cannot be;
    ChangedMeanwhileError with both versions where it was changed since `revision`.
    """
    if wanted.state not in tuple(PencilState):
        raise RefusedError(f"“{wanted.state}” is none of {', '.join(PencilState)}.")
    _check_length(wanted.length_mm)
    with writing(collection, "Pencil") as session:
        pencil = find_pencil(session, pencil_id)
        name = colour_named(session, pencil.colour_id)
        before = pencil.length_mm
        revise(pencil, revision, asdict(wanted), f"The pencil {name}")
        if wanted.length_mm is not None and wanted.length_mm != before:
            note_length(session, pencil, wanted.length_mm)
        relabel(session, f"Pencil {name} changed")
        return _made(session)


def add_pencil(collection: Collection, colour_id: int) -> Changed:
    """One more stick of a colour: in use where there is none, else a spare. Raises NotFoundError."""
    with writing(collection, "Pencil added") as session:
        row = colour_row(session, colour_id)
        others = any(p.drawable for p in pencils_by_colour(session).get(colour_id, ()))
        state = PencilState.SPARE if others else PencilState.IN_USE
        store_pencils(session, [NewPencil(colour_id, length_mm=new_lengths(session)[row.range_id], state=state)])
        relabel(session, f"One more {entry_of(row).label}")
        return changed(session)


def remove_pencil(collection: Collection, pencil_id: int) -> Changed:
    """Own one stick no more; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Pencil removed") as session:
        pencil = find_pencil(session, pencil_id)
        relabel(session, f"Pencil {colour_named(session, pencil.colour_id)} removed")
        delete_pencils(session, [pencil])
        return changed(session)


def delete_pencils(session: Session, pencils: Sequence[Pencil]) -> None:
    """Sticks with what was noted of them, within the caller's change; children first, so that the journal has them."""
    for noted in session.scalars(select(PencilLength).where(PencilLength.pencil_id.in_([p.id for p in pencils]))):
        session.delete(noted)
    session.flush()
    for pencil in pencils:
        session.delete(pencil)


def lose(collection: Collection, colour_ids: Sequence[int]) -> Changed | None:
    """The pencil in use of each colour is lost (the spare where none is in use); a spare takes its place."""

    def lost(pencils: Sequence[Pencil]) -> None:
        usable = sorted((p for p in pencils if p.state in DRAWABLE_STATES), key=lambda p: p.state)
        if usable:
            usable[0].state = PencilState.LOST
            if len(usable) > 1 and usable[1].state == PencilState.SPARE:
                usable[1].state = PencilState.IN_USE

    return each_pencil(collection, colour_ids, lost, "lost")


def note_length(session: Session, pencil: Pencil, length_mm: int) -> None:
    """How long a stick is now, within the caller's change: two such notes tell how fast it wears.

    Raises RefusedError for a length that cannot be.
    """
    _check_length(length_mm)
    pencil.length_mm = length_mm
    session.add(PencilLength(pencil_id=pencil.id, measured_at=now(), length_mm=length_mm))


def find_again(collection: Collection, colour_ids: Sequence[int]) -> Changed | None:
    """Every lost pencil of these colours is found: in use, or a spare where another one is in use."""

    def found(pencils: Sequence[Pencil]) -> None:
        for pencil in (p for p in pencils if p.state == PencilState.LOST):
            pencil.state = (
                PencilState.SPARE if any(p.state == PencilState.IN_USE for p in pencils) else PencilState.IN_USE
            )

    return each_pencil(collection, colour_ids, found, "found again")


def use_up(collection: Collection, colour_ids: Sequence[int]) -> Changed | None:
    """The pencil in use of each colour is used up; a spare takes its place."""

    def used(pencils: Sequence[Pencil]) -> None:
        in_use = next((p for p in pencils if p.state == PencilState.IN_USE), None)
        spare = next((p for p in pencils if p.state == PencilState.SPARE), None)
        if in_use is not None:
            in_use.state = PencilState.USED_UP
            if spare is not None:
                spare.state = PencilState.IN_USE

    return each_pencil(collection, colour_ids, used, "used up")


def _made(session: Session) -> Changed | None:
    made = changed(session)
    return made if made.rows else None


def find_pencil(session: Session, pencil_id: int) -> Pencil:
    """The stick of this number; raises NotFoundError."""
    pencil = session.get(Pencil, pencil_id)
    if pencil is None:
        raise NotFoundError(f"There is no pencil number {pencil_id}. It may have been removed in another window.")
    return pencil


def _check_length(length_mm: int | None) -> None:
    if length_mm is not None and not 0 <= length_mm <= LONGEST_PENCIL_MM:
        raise RefusedError(f"A pencil is 0 to {LONGEST_PENCIL_MM} mm long, not {length_mm}.")
