"""What the own tests of a colour are held to have shown; it goes before the chart's class."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.fading.change import Change, change_between
from tidy_tinder.core.fading.classes import FadeClass, held_classes, in_one_word, worse
from tidy_tinder.core.vocabulary import FadeHalf
from tidy_tinder.services.background.inputs import reading_noise
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.storage.models import FadeLook, FadeMark, FadeReading, FadeResult


@dataclass(frozen=True)
class Seen:
    """A mark on one day: how far its open half has come. by_first: beside how it was on the first day, for want of a
    covered half that was read the same day; hours, wool: as they were noted that day.
    """

    read_on: date
    change: Change
    by_first: bool
    hours: float | None
    wool: int | None


def seen_of(session: Session, mark_ids: Iterable[int]) -> Mapping[int, tuple[Seen, ...]]:
    """Each mark's days, in order; a day on which its open half cannot be compared with anything is left out."""
    rows = session.execute(
        select(FadeReading, FadeLook)
        .join(FadeLook, FadeReading.look_id == FadeLook.id)
        .where(FadeReading.mark_id.in_(list(mark_ids)))
        .order_by(FadeLook.read_on, FadeReading.id)
    ).all()
    by_mark: dict[int, dict[date, tuple[FadeLook, dict[FadeHalf, FadeReading]]]] = {}
    for reading, look in rows:
        day = by_mark.setdefault(reading.mark_id, {}).setdefault(look.read_on, (look, {}))
        day[1][reading.half] = reading
    return {mark: _days(list(days.values())) for mark, days in by_mark.items()}


def _days(days: Sequence[tuple[FadeLook, Mapping[FadeHalf, FadeReading]]]) -> tuple[Seen, ...]:
    first = _first([halves for _, halves in days])
    found = []
    for look, halves in days:
        now, covered = halves.get(FadeHalf.OPEN), halves.get(FadeHalf.COVERED)
        beside = covered or (first if first is not None and first is not now else None)
        if now is not None and beside is not None:
            change = change_between(_lab(beside), _lab(now), _noise(beside), _noise(now))
            found.append(Seen(look.read_on, change, covered is None, look.light_hours, look.wool))
    return tuple(found)


def _first(days: Sequence[Mapping[FadeHalf, FadeReading]]) -> FadeReading | None:
    """How the mark was at the beginning: its covered half, which is as it was, else its open one on the first day."""
    covered = next((halves[FadeHalf.COVERED] for halves in days if FadeHalf.COVERED in halves), None)
    return covered or (days[0].get(FadeHalf.OPEN) if days else None)


def _lab(reading: FadeReading) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    return np.array((reading.lab_L, reading.lab_a, reading.lab_b))


def _noise(reading: FadeReading) -> float:
    return reading_noise(reading.source, reading.doubt)


def held_of(seen: Sequence[Seen], charted: str) -> tuple[FadeClass, ...]:
    """What the newest reading of a mark is held to have shown; the wool counts that was noted last."""
    if not seen:
        return ()
    wool = next((one.wool for one in reversed(seen) if one.wool is not None), None)
    return held_classes(seen[-1].change.classes, wool, charted)


def note_results(session: Session, colour_ids: Iterable[int]) -> None:
    """Write down anew, within a change, what the tests of these colours show: of several the worst."""
    wanted = set(colour_ids)
    marks: dict[int, list[int]] = {}
    session.flush()
    for mark in session.scalars(select(FadeMark).where(FadeMark.colour_id.in_(wanted))):
        marks.setdefault(mark.colour_id, []).append(mark.id)
    kept = {row.colour_id: row for row in session.scalars(select(FadeResult).where(FadeResult.colour_id.in_(wanted)))}
    colours = chart_by_id(session)
    for colour in wanted:
        seen = seen_of(session, marks.get(colour, ()))
        held = [held_of(days, colours[colour].lightfastness) for days in seen.values()]
        rated = in_one_word(_worst([one for one in held if one]))
        row = kept.get(colour)
        if row is not None and not rated:
            session.delete(row)
        elif row is not None and row.rated != rated:
            row.rated = rated
        elif row is None and rated:
            session.add(FadeResult(colour_id=colour, rated=rated))


def _worst(held: Sequence[tuple[FadeClass, ...]]) -> tuple[FadeClass, ...]:
    worst: tuple[FadeClass, ...] = ()
    for one in held:
        if not worst or worse(one[-1], worst[-1]) or (one[-1] == worst[-1] and worse(one[0], worst[0])):
            worst = one
    return worst
