"""Which section of a drawing is worked next: one that is dry, in the artist's own order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class SectionNow:
    """A section as it stands, by its key, in the order of work. waits: minutes until it is as likely dry as not, None
    where it is not wet.
    """

    key: int
    done: bool
    waits: float | None = None


@dataclass(frozen=True)
class Turn:
    """What comes next. key: the section to work on now, None where there is none that can be; others wait.

    minutes: how long the soonest of them takes, where all that is not done is wet.
    """

    key: int | None
    minutes: float | None = None


def next_turn(sections: Sequence[SectionNow], at: int | None = None) -> Turn:
    """The next section: the one at hand while it is dry and not done, else the next dry one after it in the order of
    work, from the beginning again at its end.
    """
    keys = [one.key for one in sections]
    begin = keys.index(at) if at in keys else 0
    inturn = [*sections[begin:], *sections[:begin]]
    for one in inturn:
        if not one.done and one.waits is None:
            return Turn(one.key)
    waits = [one.waits for one in inturn if not one.done and one.waits is not None]
    return Turn(None, min(waits)) if waits else Turn(None)
