"""The sticks themselves: place, length, state, stamp, notes; lost and found; what is with her today."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.preferences import read_list, write_list, write_setting
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, revise, writing
from tidy_tinder.services.tidy.shelves import colour_named, existing, named
from tidy_tinder.storage.models import PENCIL_STATES, Colour, ColourRange, Pencil
from tidy_tinder.storage.queries.colours import pencils_by_colour

LONGEST_MM = 400


@dataclass(frozen=True)
class PencilAs:
    """All that can be said of one stick."""

    tin: str
    slot: int | None
    length_mm: int | None
    state: str
    stamp_readable: bool
    notes: str


@dataclass(frozen=True)
class Tin:
    """A place: how many pencils stand there, how many are stubs or lost, whether it is taken along."""

    name: str
    pencils: int
    stubs: int
    lost: int
    travels: bool


def edit_pencil(collection: Collection, pencil_id: int, revision: int, wanted: PencilAs) -> Changed | None:
    """Say anew all of one stick. Raises NotFoundError; RefusedError for a state or length that cannot be;
    ChangedMeanwhileError with both versions where it was changed since `revision`.
    """
    if wanted.state not in PENCIL_STATES:
        raise RefusedError(f"“{wanted.state}” is none of {', '.join(PENCIL_STATES)}.")
    if wanted.length_mm is not None and not 0 <= wanted.length_mm <= LONGEST_MM:
        raise RefusedError(f"A pencil is 0 to {LONGEST_MM} mm long, not {wanted.length_mm}.")
    with writing(collection, "Pencil") as session:
        pencil = _pencil(session, pencil_id)
        name = colour_named(session, pencil.colour_id)
        revise(pencil, revision, asdict(wanted), f"The pencil {name}")
        relabel(session, f"Pencil {name} changed")
        return _made(session)


def add_pencil(collection: Collection, colour_id: int) -> Changed:
    """One more stick of a colour: in use where there is none, else a spare. Raises NotFoundError."""
    with writing(collection, "Pencil added") as session:
        name = colour_named(session, colour_id)
        range_id = select(Colour.range_id).where(Colour.id == colour_id).scalar_subquery()
        length = session.scalar(select(ColourRange.new_length_mm).where(ColourRange.id == range_id))
        others = [p for p in pencils_by_colour(session).get(colour_id, ()) if p.drawable]
        session.add(Pencil(colour_id=colour_id, length_mm=length, state="spare" if others else "in_use"))
        relabel(session, f"One more {name}")
        return changed(session)


def remove_pencil(collection: Collection, pencil_id: int) -> Changed:
    """Own one stick no more; undo brings it back. Raises NotFoundError."""
    with writing(collection, "Pencil removed") as session:
        pencil = _pencil(session, pencil_id)
        relabel(session, f"Pencil {colour_named(session, pencil.colour_id)} removed")
        session.delete(pencil)
        return changed(session)


def lose(collection: Collection, colour_ids: Sequence[int]) -> Changed | None:
    """The pencil in use of each colour is lost (the spare where none is in use); a spare takes its place."""

    def lost(pencils: Sequence[Pencil]) -> None:
        usable = sorted((p for p in pencils if p.state in ("in_use", "spare")), key=lambda p: p.state)
        if usable:
            usable[0].state = "lost"
            if len(usable) > 1 and usable[1].state == "spare":
                usable[1].state = "in_use"

    return _with_each(collection, colour_ids, lost, "lost")


def find_again(collection: Collection, colour_ids: Sequence[int]) -> Changed | None:
    """Every lost pencil of these colours is found: in use, or a spare where another one is in use."""

    def found(pencils: Sequence[Pencil]) -> None:
        for pencil in (p for p in pencils if p.state == "lost"):
            pencil.state = "spare" if any(p.state == "in_use" for p in pencils) else "in_use"

    return _with_each(collection, colour_ids, found, "found again")


def move_to(collection: Collection, colour_ids: Sequence[int], tin: str) -> Changed | None:
    """Put all kept pencils of these colours into a tin, behind what stands there, in the order given."""
    tin = " ".join(tin.split())
    with collection() as session:
        last = session.scalar(select(func.max(Pencil.slot)).where(Pencil.tin == tin)) or 0
    slots = iter(range(last + 1, last + 10_000))

    def move(pencils: Sequence[Pencil]) -> None:
        for pencil in (p for p in pencils if p.state != "used_up" and p.tin != tin):
            pencil.tin, pencil.slot = tin, next(slots) if tin else None

    return _with_each(collection, colour_ids, move, f"moved to {tin}" if tin else "without a place")


def use_up(collection: Collection, colour_ids: Sequence[int]) -> Changed | None:
    """The pencil in use of each colour is used up; a spare takes its place."""

    def used(pencils: Sequence[Pencil]) -> None:
        in_use = next((p for p in pencils if p.state == "in_use"), None)
        spare = next((p for p in pencils if p.state == "spare"), None)
        if in_use is not None:
            in_use.state = "used_up"
            if spare is not None:
                spare.state = "in_use"

    return _with_each(collection, colour_ids, used, "used up")


def tins(collection: Collection) -> tuple[Tin, ...]:
    """Every place that a pencil stands at, by name; "" is no place."""
    with collection() as session:
        hand = at_hand_now(session)
        kept = [p for sticks in pencils_by_colour(session).values() for p in sticks if p.state != "used_up"]
    count = Counter(p.tin for p in kept)
    lost = Counter(p.tin for p in kept if p.state == "lost")
    stubs = Counter(p.tin for p in kept if p.drawable and p.length_mm is not None and p.length_mm < hand.stub_mm)
    names = sorted({*count, *hand.travel})
    return tuple(Tin(name, count[name], stubs[name], lost[name], name in hand.travel) for name in names)


def take_along(collection: Collection, tin: str, along: bool) -> Changed:
    """Say whether a tin is with her today; only those count while “with me” is on."""
    with writing(collection, f"{tin or 'No place'} {'with me' if along else 'at home'}", kind="setting") as session:
        now = [name for name in read_list(session, "travel_tins") if name != tin]
        write_list(session, "travel_tins", tuple(sorted([*now, tin] if along else now)))
        return changed(session)


def only_with_me(collection: Collection, on: bool) -> Changed:
    """Let only what is with her count, everywhere, or let all count again.

    Raises RefusedError where no tin is marked yet.
    """
    with writing(collection, "With me today", kind="setting") as session:
        if on and not read_list(session, "travel_tins"):
            raise RefusedError("No tin is marked as with you. Mark the travel tin under Places first.")
        write_setting(session, "with_me", "on" if on else "off")
        return changed(session)


def _with_each(
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


def _made(session: Session) -> Changed | None:
    made = changed(session)
    return made if made.rows else None


def _pencil(session: Session, pencil_id: int) -> Pencil:
    pencil = session.get(Pencil, pencil_id)
    if pencil is None:
        raise NotFoundError(f"There is no pencil number {pencil_id}. It may have been removed in another window.")
    return pencil
