"""What the own tests of a colour have read, and what that is held to show; it goes before the chart's class."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.fading.change import Change, change_between
from tidy_tinder.core.fading.classes import FadeClass, held_classes
from tidy_tinder.core.vocabulary import FadeHalf
from tidy_tinder.services.background.inputs import reading_noise
from tidy_tinder.storage.models import FadeLook, FadeMark, FadeReading, FadeResult, FadeStrip


@dataclass(frozen=True)
class Seen:
    """A mark on one day: how far its open half has come. by_first: beside how it was read first, for want of a covered
    half that was read the same day; from_beginning: that is how it was before any light; hours, wool: as they were
    noted that day.
    """

    read_on: date
    change: Change
    by_first: bool
    from_beginning: bool
    hours: float | None
    wool: int | None


@dataclass(frozen=True)
class _Day:
    """A mark's readings of one day, so many days in the light."""

    look: FadeLook
    in_light: int
    halves: dict[FadeHalf, FadeReading]


def seen_of(session: Session, mark_ids: Iterable[int]) -> Mapping[int, tuple[Seen, ...]]:
    """Each mark's days, in order; a day on which its open half cannot be compared with anything is left out."""
    rows = session.execute(
        select(FadeReading, FadeLook, FadeStrip.begun_on)
        .join(FadeLook, FadeReading.look_id == FadeLook.id)
        .join(FadeStrip, FadeLook.strip_id == FadeStrip.id)
        .where(FadeReading.mark_id.in_(list(mark_ids)))
        .order_by(FadeLook.read_on, FadeReading.id)
    ).all()
    by_mark: dict[int, dict[int, _Day]] = {}
    for reading, look, begun_on in rows:
        day = _Day(look, (look.read_on - begun_on).days, {})
        by_mark.setdefault(reading.mark_id, {}).setdefault(look.id, day).halves[reading.half] = reading
    return {mark: _seen(list(days.values())) for mark, days in by_mark.items()}


def _seen(days: Sequence[_Day]) -> tuple[Seen, ...]:
    covered = next((day.halves[FadeHalf.COVERED] for day in days if FadeHalf.COVERED in day.halves), None)
    # How the mark was at first: its covered half is as it was whenever it was read, its open one on that day alone.
    first = covered or days[0].halves.get(FadeHalf.OPEN)
    found = []
    for day in days:
        now = day.halves.get(FadeHalf.OPEN)
        beside = day.halves.get(FadeHalf.COVERED) or first
        if now is None or beside is None or beside is now:
            continue
        change = change_between(_lab(beside), _lab(now), _noise(beside), _noise(now))
        found.append(
            Seen(
                day.look.read_on, change, FadeHalf.COVERED not in day.halves,
                beside.half is FadeHalf.COVERED or days[0].in_light == 0, day.look.light_hours, day.look.wool,
            )
        )  # fmt: skip
    return tuple(found)


def _lab(reading: FadeReading) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    return np.array((reading.lab_L, reading.lab_a, reading.lab_b))


def _noise(reading: FadeReading) -> float:
    return reading_noise(reading.source, reading.doubt)


def wool_of(seen: Sequence[Seen]) -> int | None:
    """The blue wool that tells how much light a mark had: the one noted last; None where nobody knows how the mark was
    before that light.
    """
    if not seen or not seen[-1].from_beginning:
        return None
    return next((one.wool for one in reversed(seen) if one.wool is not None), None)


def held_of(seen: Sequence[Seen], charted: str) -> tuple[FadeClass, ...]:
    """What the newest reading of a mark is held to have shown."""
    return held_classes(seen[-1].change.classes, wool_of(seen), charted) if seen else ()


def note_results(session: Session, colour_ids: Iterable[int]) -> None:
    """Write down anew, within a change, what the tests of these colours have read last."""
    wanted = set(colour_ids)
    marks: dict[int, list[int]] = {}
    session.flush()
    for mark in session.scalars(select(FadeMark).where(FadeMark.colour_id.in_(wanted))):
        marks.setdefault(mark.colour_id, []).append(mark.id)
    kept = {row.colour_id: row for row in session.scalars(select(FadeResult).where(FadeResult.colour_id.in_(wanted)))}
    for colour in wanted:
        seen = seen_of(session, marks.get(colour, ()))
        read = [[list(days[-1].change.classes), wool_of(days)] for days in seen.values() if days]
        row = kept.get(colour)
        if row is not None and not read:
            session.delete(row)
        elif row is not None and row.read != read:
            row.read = read
        elif row is None and read:
            session.add(FadeResult(colour_id=colour, read=read))
