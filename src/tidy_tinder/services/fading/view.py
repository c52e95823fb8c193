"""Fade tests as they are shown: what each mark has come to, what that is held to show, and when to read again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.fading.classes import FadeClass
from tidy_tinder.core.fading.reminding import next_reading
from tidy_tinder.core.vocabulary import FadeHalf, FadePlace, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.collection.paper import find_paper
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.fading.results import Seen, held_of, seen_of
from tidy_tinder.services.fading.store import find_strip, looks_of, marks_of
from tidy_tinder.services.journal import now
from tidy_tinder.storage.models import FadeLook, FadeReading, FadeStrip, Photo, Sheet, SheetPlace
from tidy_tinder.storage.queries.colours import ColourRow


@dataclass(frozen=True)
class FadedMark:
    """A mark of a strip. open, covered: as they were read last; seen: its days; held: what the newest is held to show,
    none while the chart stands.
    """

    id: int
    colour: ColourRow
    pressure: Pressure
    open: Patch | None
    covered: Patch | None
    seen: tuple[Seen, ...]
    held: tuple[FadeClass, ...]


@dataclass(frozen=True)
class HalfRead:
    """A half that was read."""

    mark_id: int
    half: FadeHalf


@dataclass(frozen=True)
class LookView:
    """A day on which a strip was read: which halves, and the light until then."""

    read_on: date
    halves: tuple[HalfRead, ...]
    light_hours: float | None
    wool: int | None


@dataclass(frozen=True)
class StripView:
    """A strip. days: in the light so far; due: the day from which it is time to read it again, None where it is not
    waited for any more; is_due: whether that has come.
    """

    id: int
    name: str
    paper: str
    place: FadePlace
    begun_on: date
    over: bool
    days: int
    due: date | None
    is_due: bool
    marks: tuple[FadedMark, ...]
    looks: tuple[LookView, ...]


@dataclass(frozen=True)
class SheetPhoto:
    """A photo of a printed sheet that has pencils of a strip on it."""

    id: int
    name: str
    added_on: date


def fade_strips(collection: Collection) -> tuple[StripView, ...]:
    """All strips: those that are due first, then the newest."""
    with collection() as session:
        views = [_view(session, strip) for strip in session.scalars(select(FadeStrip).order_by(FadeStrip.id.desc()))]
        return tuple(sorted(views, key=lambda one: (one.over, not one.is_due)))


def fade_strip(collection: Collection, strip_id: int) -> tuple[StripView, tuple[SheetPhoto, ...]]:
    """One strip, and the photos of sheets that it can be read from. Raises NotFoundError."""
    with collection() as session:
        strip = find_strip(session, strip_id)
        colours = {mark.colour_id for mark in marks_of(session, strip_id)}
        sheets = (
            select(SheetPlace.sheet_id)
            .join(Sheet, SheetPlace.sheet_id == Sheet.id)
            .where(SheetPlace.colour_id.in_(colours), Sheet.paper_id == strip.paper_id)
        )
        photos = session.scalars(select(Photo).where(Photo.sheet_id.in_(sheets)).order_by(Photo.id.desc())).all()
        return _view(session, strip), tuple(SheetPhoto(one.id, one.name, one.added_on) for one in photos)


def _view(session: Session, strip: FadeStrip) -> StripView:
    looks, marks, colours = looks_of(session, strip.id), marks_of(session, strip.id), chart_by_id(session)
    seen = seen_of(session, [mark.id for mark in marks])
    readings = _readings(session, looks)
    due = _due(strip, looks)
    return StripView(
        id=strip.id, name=strip.name, paper=find_paper(session, strip.paper_id).name, place=strip.place,
        begun_on=strip.begun_on, over=strip.over, days=max((now().date() - strip.begun_on).days, 0), due=due,
        is_due=due is not None and due <= now().date(),
        marks=tuple(
            FadedMark(
                mark.id, colours[mark.colour_id], mark.pressure, _last(readings, mark.id, FadeHalf.OPEN),
                _last(readings, mark.id, FadeHalf.COVERED), seen.get(mark.id, ()),
                held_of(seen.get(mark.id, ()), colours[mark.colour_id].lightfastness),
            )
            for mark in marks
        ),
        looks=tuple(
            LookView(
                look.read_on, tuple(HalfRead(one.mark_id, one.half) for one in readings if one.look_id == look.id),
                look.light_hours, look.wool,
            )
            for look in looks
        ),
    )  # fmt: skip


def _due(strip: FadeStrip, looks: Sequence[FadeLook]) -> date | None:
    """The next day on which to read it; nothing once it is over."""
    last = max(((look.read_on - strip.begun_on).days for look in looks), default=None)
    days = None if strip.over else next_reading(last)
    return None if days is None else strip.begun_on + timedelta(days=days)


def _readings(session: Session, looks: Sequence[FadeLook]) -> Sequence[FadeReading]:
    """Every reading of these days, in order."""
    order = {look.id: i for i, look in enumerate(looks)}
    rows = session.scalars(select(FadeReading).where(FadeReading.look_id.in_(list(order)))).all()
    return sorted(rows, key=lambda row: order[row.look_id])


def _last(readings: Sequence[FadeReading], mark_id: int, half: FadeHalf) -> Patch | None:
    mine = [one for one in readings if one.mark_id == mark_id and one.half == half]
    return patch((mine[-1].lab_L, mine[-1].lab_a, mine[-1].lab_b)) if mine else None
