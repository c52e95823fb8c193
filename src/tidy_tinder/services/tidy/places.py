"""Where pencils stand: tins and slots, and what is with the artist today."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import func, select

from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.preferences import read_list, write_list, write_setting
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import Changed, changed, writing
from tidy_tinder.services.tidy.pencils import each_pencil
from tidy_tinder.storage.models import Pencil
from tidy_tinder.storage.queries.colours import pencils_by_colour


@dataclass(frozen=True)
class Tin:
    """A place: how many pencils stand there, how many are stubs or lost, whether it is taken along."""

    name: str
    pencils: int
    stubs: int
    lost: int
    travels: bool


def move_to(collection: Collection, colour_ids: Sequence[int], tin: str) -> Changed | None:
    """Put all kept pencils of these colours into a tin, behind what stands there, in the order given."""
    tin = " ".join(tin.split())
    with collection() as session:
        last = session.scalar(select(func.max(Pencil.slot)).where(Pencil.tin == tin)) or 0
    slots = iter(range(last + 1, last + 10_000))

    def move(pencils: Sequence[Pencil]) -> None:
        for pencil in (p for p in pencils if p.state != PencilState.USED_UP and p.tin != tin):
            pencil.tin, pencil.slot = tin, next(slots) if tin else None

    return each_pencil(collection, colour_ids, move, f"moved to {tin}" if tin else "without a place")


def tins(collection: Collection) -> tuple[Tin, ...]:
    """Every place that a pencil stands at, by name; "" is no place."""
    with collection() as session:
        hand = at_hand_now(session)
        kept = [p for sticks in pencils_by_colour(session).values() for p in sticks if p.state != PencilState.USED_UP]
    count = Counter(p.tin for p in kept)
    lost = Counter(p.tin for p in kept if p.state == PencilState.LOST)
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
