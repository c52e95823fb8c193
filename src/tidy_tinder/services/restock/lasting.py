"""How long pencils last: lengths typed in, hours from the log, how fast each range wears, what runs out next."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.restocking.wear import Lasts, Stretch, Wear, lasts, wear_of
from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.chart import chart_by_id, colour_named
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.tidy.pencils import find_pencil, note_length
from tidy_tinder.storage.models import LogEntry, Pencil, PencilLength, Sitting, SittingTime
from tidy_tinder.storage.queries.colours import ColourRow

_MOST_SHOWN = 60


@dataclass(frozen=True)
class RunningOut:
    """A pencil that is used. hours: with it so far, by the log; length_mm: None where nobody measured; wear: of its
    range; lasts: until it is a stub, None without a length; sittings: the same in sittings as they were with it, None
    while there were none.
    """

    pencil_id: int
    colour: ColourRow
    state: PencilState
    length_mm: int | None
    hours: float
    wear: Wear
    lasts: Lasts | None
    sittings: Lasts | None


@dataclass(frozen=True)
class RunningOuts:
    """What runs out next, first; gone: colours that are used up or lost and of which nothing is left to draw with."""

    pencils: tuple[RunningOut, ...]
    gone: tuple[tuple[ColourRow, PencilState], ...]
    stub_mm: int


def running_out(collection: Collection, drawing_id: int | None = None) -> RunningOuts:
    """The pencils in use, what runs out next first: those that were logged, and stubs. drawing_id: of one drawing
    alone, those that were used most first.
    """
    with collection() as session:
        hand, colours = at_hand_now(session), chart_by_id(session)
        hours = _Hours(session)
        wear = _wear_by_range(session, colours, hours)
        pencils = session.scalars(select(Pencil).order_by(Pencil.id)).all()
        used = hours.by_colour(drawing_id)
        shown = []
        for pencil in pencils:
            of = colours[pencil.colour_id]
            stub = pencil.length_mm is not None and pencil.length_mm < hand.stub_mm
            mine = used.get(pencil.colour_id, 0.0)
            if pencil.state is not PencilState.IN_USE or not (mine > 0.0 or (stub and drawing_id is None)):
                continue
            rate = wear[of.range_id]
            left = None if pencil.length_mm is None else lasts(rate, pencil.length_mm, hand.stub_mm)
            each = hours.a_sitting(pencil.colour_id)
            sittings = Lasts(left.hours / each, left.low / each, left.high / each) if left and each else None
            shown.append(
                RunningOut(pencil.id, of, pencil.state, pencil.length_mm, mine, rate, left, sittings)
            )  # fmt: skip
        if drawing_id is not None:
            shown.sort(key=lambda one: -one.hours)
        else:
            shown.sort(key=lambda one: one.lasts.hours if one.lasts else float("inf"))
        return RunningOuts(tuple(shown[:_MOST_SHOWN]), _gone(pencils, colours), hand.stub_mm)


def measure_pencil(collection: Collection, pencil_id: int, length_mm: int) -> Changed:
    """How long a pencil is now. Raises NotFoundError, RefusedError for a length that cannot be."""
    with writing(collection, "Length") as session:
        pencil = find_pencil(session, pencil_id)
        note_length(session, pencil, length_mm)
        relabel(session, f"{colour_named(session, pencil.colour_id)} is {length_mm} mm long")
        return changed(session)


def _gone(
    pencils: Sequence[Pencil], colours: Mapping[int, ColourRow]
) -> tuple[tuple[ColourRow, PencilState], ...]:  # fmt: skip
    states: dict[int, set[PencilState]] = defaultdict(set)
    for pencil in pencils:
        states[pencil.colour_id].add(pencil.state)
    return tuple(
        (colours[i], PencilState.LOST if PencilState.LOST in states[i] else PencilState.USED_UP)
        for i in colours
        if i in states and states[i] <= {PencilState.LOST, PencilState.USED_UP}
    )


@dataclass(frozen=True)
class _Use:
    """Hours with a colour in one sitting, and when that began."""

    colour_id: int
    drawing_id: int
    sitting_id: int
    at: datetime
    hours: float


class _Hours:
    """Hours with each colour: the time at a step in a sitting, shared alike among the pencils logged there."""

    def __init__(self, session: Session) -> None:
        logged: dict[tuple[int, int], set[int]] = defaultdict(set)
        for entry in session.scalars(select(LogEntry).where(LogEntry.colour_id.is_not(None))):
            if entry.sitting_id is not None and entry.colour_id is not None:
                logged[entry.sitting_id, entry.step_id or 0].add(entry.colour_id)
        self._uses: list[_Use] = []
        rows = session.execute(select(SittingTime, Sitting).join(Sitting, SittingTime.sitting_id == Sitting.id))
        for time, sitting in rows:
            sharing = logged.get((sitting.id, time.step_id), set())
            self._uses += [
                _Use(i, sitting.drawing_id, sitting.id, sitting.begun_at, time.seconds / 3600.0 / len(sharing))
                for i in sharing
            ]

    def by_colour(self, drawing_id: int | None) -> dict[int, float]:
        """Hours with each colour, of one drawing or of all."""
        found: dict[int, float] = defaultdict(float)
        for use in self._uses:
            if drawing_id is None or use.drawing_id == drawing_id:
                found[use.colour_id] += use.hours
        return found

    def between(self, colour_id: int, start: datetime, end: datetime) -> float:
        """Hours with a colour in the sittings that began between two times."""
        return sum(use.hours for use in self._uses if use.colour_id == colour_id and start <= use.at < end)

    def a_sitting(self, colour_id: int) -> float:
        """Hours with a colour in a sitting in which it was used, in the mean; 0 where there was none."""
        mine: dict[int, float] = defaultdict(float)
        for use in self._uses:
            if use.colour_id == colour_id:
                mine[use.sitting_id] += use.hours
        return sum(mine.values()) / len(mine) if mine else 0.0


def _wear_by_range(session: Session, colours: Mapping[int, ColourRow], hours: _Hours) -> Mapping[int, Wear]:
    """How fast each range wears, from the lengths of its pencils and the hours between them."""
    lengths: dict[int, list[PencilLength]] = defaultdict(list)
    for row in session.scalars(select(PencilLength).order_by(PencilLength.measured_at, PencilLength.id)):
        lengths[row.pencil_id].append(row)
    stretches: dict[int, list[Stretch]] = defaultdict(list)
    for pencil in session.scalars(select(Pencil).where(Pencil.id.in_(list(lengths)))):
        of = colours[pencil.colour_id]
        rows = lengths[pencil.id]
        for before, after in pairwise(rows):
            worn = before.length_mm - after.length_mm
            used = hours.between(of.id, before.measured_at, after.measured_at)
            # Longer than before: another pencil was put in its place, or a slip; it tells nothing of wear.
            if worn > 0:
                stretches[of.range_id].append(Stretch(float(worn), used))
    return {of.range_id: wear_of(stretches.get(of.range_id, ())) for of in colours.values()}
