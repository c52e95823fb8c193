"""What the pencils of one colour amount to: the state that its barrel shows, and whether one is at hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from sqlalchemy.orm import Session

from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.collection.preferences import read_list, read_setting
from tidy_tinder.storage.queries.colours import ColourRow, PencilRow

# Shorter than this a pencil is a stub, until the artist sets her own mark (common practice, no source: about
# where an extender is needed).
STUB_MM = 50


class Owning(StrEnum):
    """The barrel's state: the first that holds."""

    LOST = "lost"
    STUB = "stub"
    SPARE = "spare"
    OWNED = "owned"
    NOT_OWNED = "not owned"


@dataclass(frozen=True)
class OwnedColour:
    """A colour and how it is owned."""

    colour: ColourRow
    owning: Owning


@dataclass(frozen=True)
class AtHand:
    """What the artist has set about her pencils.

    stub_mm: shorter is a stub. travel: the tins that she takes along. with_me: whether only those count now.
    """

    stub_mm: int = STUB_MM
    travel: frozenset[str] = frozenset()
    with_me: bool = False

    def carries(self, pencil: PencilRow) -> bool:
        """Whether the pencil lies in a tin that is taken along."""
        return pencil.tin in self.travel

    def has(self, pencils: Sequence[PencilRow]) -> bool:
        """Whether one of a colour's pencils can be drawn with here and now."""
        return any(p.drawable and (not self.with_me or self.carries(p)) for p in pencils)

    def owning(self, pencils: Sequence[PencilRow]) -> Owning:
        """The state of a colour from its pencils. One that is used up counts as not owned."""
        kept = [p for p in pencils if p.state != PencilState.USED_UP]
        if not kept:
            return Owning.NOT_OWNED
        if not any(p.drawable for p in kept):
            return Owning.LOST
        in_use = [p.length_mm for p in kept if p.state == PencilState.IN_USE and p.length_mm is not None]
        if in_use and max(in_use) < self.stub_mm:
            return Owning.STUB
        if any(p.state == PencilState.SPARE for p in kept) or sum(p.state == PencilState.IN_USE for p in kept) > 1:
            return Owning.SPARE
        return Owning.OWNED


def at_hand_now(session: Session) -> AtHand:
    """What the artist has set, as it is now."""
    return AtHand(
        int(read_setting(session, "stub_mm", str(STUB_MM))),
        frozenset(read_list(session, "travel_tins")),
        read_setting(session, "with_me") == "on",
    )
