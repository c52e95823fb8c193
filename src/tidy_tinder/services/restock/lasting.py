"""How long pencils last: lengths typed in, hours from the log, how fast each range wears, what runs out next."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.restocking.wear import LAYERS, Lasts, Stretch, Wear, lasts, wear_of
from tidy_tinder.core.vocabulary import PencilState
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import at_hand_now
from tidy_tinder.services.collection.chart import chart_by_id, colour_named
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.services.reference.sections import areas_of_sections
from tidy_tinder.services.tidy.pencils import find_pencil, note_length
from tidy_tinder.storage.models import LogEntry, Pencil, PencilLength, Sitting, SittingTime
from tidy_tinder.storage.queries.colours import ColourRow

_MOST_SHOWN = 60


@dataclass(frozen=True)
class RunningOut:
    """A pencil that is used. hours: with it so far, by the log; length_mm: None where nobody measured; wear: of its
    range; lasts: hours until it is a stub, None without a length; sittings: the same in sittings as they were with it,
    None while there were none; layers: the same in layers over 100 cm², None while no use over known areas was
    measured.
    """

    pencil_id: int
    colour: ColourRow
    state: PencilState
    length_mm: int | None
    hours: float
    wear: Wear
    lasts: Lasts | None
    sittings: Lasts | None
    layers: Lasts | None


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
        hours, worn = _Hours(session), _worn(session)
        wear, by_layer = _wear_by_range(worn, colours, hours), _wear_by_layer(worn, colours, _Covered(session))
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
            sittings = Lasts(left.use / each, left.low / each, left.high / each) if left and each else None
            covering = by_layer.get(of.range_id)
            layers = (
                lasts(covering, pencil.length_mm, hand.stub_mm) if pencil.length_mm is not None and covering else None
            )
            shown.append(
                RunningOut(pencil.id, of, pencil.state, pencil.length_mm, mine, rate, left, sittings, layers)
            )  # fmt: skip
        if drawing_id is not None:
            shown.sort(key=lambda one: -one.hours)
        else:
            shown.sort(key=lambda one: one.lasts.use if one.lasts else float("inf"))
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


class _Covered:
    """What was covered with each colour, in layers over 100 cm², where the log says in which sections."""

    def __init__(self, session: Session) -> None:
        entries = session.scalars(select(LogEntry).where(LogEntry.colour_id.is_not(None))).all()
        areas = areas_of_sections(session, {entry.section_id for entry in entries})
        self._lines: dict[int, list[tuple[datetime, float | None]]] = defaultdict(list)
        for entry in entries:
            cm2 = areas.get(entry.section_id)
            # A line of the log is a layer where nobody said how many; it is taken to cover its section.
            layers = None if cm2 is None else max(entry.layers, 1) * cm2 / 100.0
            self._lines[entry.colour_id or 0].append((entry.made_at, layers))

    def between(self, colour_id: int, start: datetime, end: datetime) -> float:
        """Layers over 100 cm² between two times; 0 where it is not known of every line."""
        mine = [layers for at, layers in self._lines[colour_id] if start <= at < end]
        return 0.0 if None in mine else sum(layers or 0.0 for layers in mine)


@dataclass(frozen=True)
class _Worn:
    """A pencil that became shorter between two times."""

    colour_id: int
    start: datetime
    end: datetime
    mm: float


def _worn(session: Session) -> tuple[_Worn, ...]:
    """Each two lengths of a pencil that follow one another."""
    lengths: dict[int, list[PencilLength]] = defaultdict(list)
    for row in session.scalars(select(PencilLength).order_by(PencilLength.measured_at, PencilLength.id)):
        lengths[row.pencil_id].append(row)
    found = []
    for pencil in session.scalars(select(Pencil).where(Pencil.id.in_(list(lengths)))):
        for before, after in pairwise(lengths[pencil.id]):
            worn = before.length_mm - after.length_mm
            # Longer than before: another pencil was put in its place, or a slip; it tells nothing of wear.
            if worn > 0:
                found.append(_Worn(pencil.colour_id, before.measured_at, after.measured_at, float(worn)))
    return tuple(found)


def _wear_by_range(worn: Sequence[_Worn], colours: Mapping[int, ColourRow], hours: _Hours) -> Mapping[int, Wear]:
    """How fast each range wears by the hour: a guess for those that were never measured."""
    stretches: dict[int, list[Stretch]] = defaultdict(list)
    for one in worn:
        used = hours.between(one.colour_id, one.start, one.end)
        stretches[colours[one.colour_id].range_id].append(Stretch(one.mm, used))
    return {of.range_id: wear_of(stretches.get(of.range_id, ())) for of in colours.values()}


def _wear_by_layer(worn: Sequence[_Worn], colours: Mapping[int, ColourRow], covered: _Covered) -> Mapping[int, Wear]:
    """How fast each range wears by the layer over 100 cm²: those alone of which it was measured."""
    stretches: dict[int, list[Stretch]] = defaultdict(list)
    for one in worn:
        layers = covered.between(one.colour_id, one.start, one.end)
        stretches[colours[one.colour_id].range_id].append(Stretch(one.mm, layers))
    wear = {range_id: wear_of(mine, LAYERS) for range_id, mine in stretches.items()}
    return {range_id: one for range_id, one in wear.items() if not one.is_guess}
