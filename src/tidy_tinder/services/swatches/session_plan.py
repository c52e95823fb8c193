"""What a swatching session is to read: which pencils, at which pressures, of those not measured yet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from itertools import cycle

from tidy_tinder.core.vocabulary import MARK_PRESSURES, MOST_LAYERS, Effect, Finish, Ground, Opacity, Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_work import pulled_out
from tidy_tinder.services.collection.in_layers import IN_LAYERS, LAYERS_LAID, far_apart, pencils_in_layers, takes_layers
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, relabel, writing
from tidy_tinder.storage.models import BoxedSet, SessionItem, SwatchSession
from tidy_tinder.storage.queries.colours import ColourRow, set_contents
from tidy_tinder.storage.queries.swatches import made_twice, measured_marks, tried_over_black

MOST_MARKS = 2400


class Which(StrEnum):
    """Which pencils a session is for."""

    OWNED = "owned"
    TRAY = "tray"
    SET = "set"
    CHOSEN = "chosen"


MADE_TWICE = 4
"""How many pencils a session has made twice where that is asked: with light, medium and heavy marks of each, twelve
differences that nothing but the hand has made."""

FEW_OVER_BLACK = 8
"""How many pencils a session has laid over a black bar where that is asked: what they tell of the layers of all pencils
is measured in docs/decisions/0058."""

# By turns: medium layers alone tell little of how much wax a tooth holds once it is full.
_LAID = (Pressure.MEDIUM, Pressure.HEAVY)

# How well a pencil covers, as charts print it; "" where they say nothing.
_COVERS = (*Opacity, "")


@dataclass(frozen=True)
class SessionPlan:
    """What a session is to read. only_missing leaves out marks that are measured already; twice: a few of the pencils
    are made once more at the end, which tells how much the hand varies; few_over_black: a few are laid heavily over a
    black bar, too, which tells how wax covers; layered: a few are laid in several layers, too, which tells how wax
    takes to wax on this paper.
    """

    paper_id: int
    which: Which
    pressures: tuple[Pressure, ...]
    over_black: bool = False
    only_missing: bool = True
    set_id: int | None = None
    range_id: int | None = None
    colour_ids: tuple[int, ...] = ()
    layers: int = 1
    finish: Finish = Finish.DRY
    burnisher_id: int | None = None
    average_of: int = 1
    twice: bool = False
    few_over_black: bool = False
    layered: bool = False


@dataclass(frozen=True)
class MarkToRead:
    """One mark that a session is to read."""

    colour_id: int
    pressure: Pressure
    layers: int = 1
    over: Ground = Ground.PAPER


def start_session(collection: Collection, plan: SessionPlan) -> tuple[int, Changed]:
    """Begin a session. Raises NotFoundError; RefusedError where there is nothing to read or too much."""
    _check_plan(plan)
    with writing(collection, "Swatching session") as session:
        scene = Scene.on(session, plan.paper_id)
        marks = _marks_to_read(scene, plan)
        if not marks:
            raise RefusedError("Nothing is left to read there: all of it is measured already, or no pencil is at hand.")
        if len(marks) > MOST_MARKS:
            raise RefusedError(f"That would be {len(marks)} marks; a session has at most {MOST_MARKS}. Take fewer.")
        title = f"{scene.paper.name}, {len(marks)} marks"
        row = SwatchSession(
            title=title, paper_id=plan.paper_id, layers=plan.layers, finish=plan.finish, burnisher_id=plan.burnisher_id,
            average_of=plan.average_of, started_on=datetime.now(UTC).date(),
        )  # fmt: skip
        session.add(row)
        session.flush()
        session.add_all(
            SessionItem(
                session_id=row.id,
                position=i,
                colour_id=mark.colour_id,
                pressure=mark.pressure,
                over=mark.over,
                layers=mark.layers if mark.layers != plan.layers else None,
            )
            for i, mark in enumerate(marks)
        )
        relabel(session, f"Session begun: {title}")
        return row.id, changed(session)


@dataclass(frozen=True)
class SessionCount:
    """How many marks a session would have, of how many kinds of mark two makings were measured so far, of how many
    pencils a mark over black, and of how many one of several layers on its paper. takes_layers: whether that takes as
    many as would be laid.
    """

    marks: int
    made_twice: int
    over_black: int
    layered: int
    takes_layers: bool


def count_marks(collection: Collection, plan: SessionPlan) -> SessionCount:
    """How many marks a session would have; nothing is changed. Raises NotFoundError, RefusedError."""
    _check_plan(plan)
    with collection() as session:
        scene = Scene.on(session, plan.paper_id)
        return SessionCount(
            len(_marks_to_read(scene, plan)), made_twice(session), len(tried_over_black(session)), len(scene.layered),
            takes_layers(scene),
        )  # fmt: skip


def _check_plan(plan: SessionPlan) -> None:
    of_few = plan.few_over_black or plan.layered
    if not (plan.pressures or plan.over_black or of_few) or set(plan.pressures) - set(MARK_PRESSURES):
        raise RefusedError(f"Choose at least one of {', '.join(MARK_PRESSURES)}.")
    if plan.finish not in tuple(Finish):
        raise RefusedError(f"A finish is {', '.join(Finish)}.")
    if plan.finish == Finish.BURNISHED and plan.burnisher_id is None:
        raise RefusedError("Say with which pencil the marks are burnished.")
    if plan.finish != Finish.BURNISHED and plan.burnisher_id is not None:
        raise RefusedError("A burnisher is named only for burnished marks.")
    if plan.average_of not in (1, 3):
        raise RefusedError("A mark is read once, or three times for an average.")
    if not 1 <= plan.layers <= MOST_LAYERS:
        raise RefusedError(f"A mark has 1 to {MOST_LAYERS} layers.")
    if of_few and (plan.layers != 1 or plan.finish != Finish.DRY):
        few = f"{IN_LAYERS} pencils in {LAYERS_LAID} layers" if plan.layered else f"{FEW_OVER_BLACK} pencils over black"
        raise RefusedError(f"{few} are asked for beside dry marks of one layer.")


def _marks_to_read(scene: Scene, plan: SessionPlan) -> list[MarkToRead]:
    """In chart order: light, medium, heavy, and heavy over the black bar; then those once more that are made twice,
    those few over black, and last those in several layers.
    """
    wanted = _wanted(scene, plan)
    rows = [r for r in scene.colours.values() if r.id in wanted]
    if plan.range_id is not None:
        rows = [r for r in rows if r.range_id == plan.range_id]
    plain = plan.only_missing and plan.finish == Finish.DRY
    here = scene.measured if plain else {}
    black = measured_marks(scene.session, scene.paper.id, Ground.BLACK) if plain else {}
    marks = []
    for row in rows:
        for pressure in (p for p in MARK_PRESSURES if p in plan.pressures):
            if (pressure, plan.layers) not in here.get(row.id, {}):
                marks.append(MarkToRead(row.id, pressure, plan.layers))
        if plan.over_black and (Pressure.HEAVY, plan.layers) not in black.get(row.id, {}):
            marks.append(MarkToRead(row.id, Pressure.HEAVY, plan.layers, Ground.BLACK))
    once_more = _once_more(marks) if plan.twice else []
    few = _few_over_black(scene, rows, plan) if plan.few_over_black and not plan.over_black else []
    known = scene.layered if plan.only_missing else frozenset()
    return marks + once_more + few + (_in_layers(scene, rows, known) if plan.layered else [])


def _once_more(marks: Sequence[MarkToRead]) -> list[MarkToRead]:
    """The marks on bare paper of a few pencils: made at the end, so that the hand has forgotten the first ones."""
    bare = [mark for mark in marks if mark.over == Ground.PAPER]
    again = far_apart(list(dict.fromkeys(mark.colour_id for mark in bare)), MADE_TWICE)
    return [mark for mark in bare if mark.colour_id in again]


def _few_over_black(scene: Scene, rows: Sequence[ColourRow], plan: SessionPlan) -> list[MarkToRead]:
    """A few of these pencils heavy over a black bar, of all classes of cover, but for those that are known so."""
    known = tried_over_black(scene.session) if plan.only_missing else frozenset()
    open_ones = [row for row in rows if row.effect == Effect.ORDINARY and row.id not in known]
    # What is told of all pencils is told by those of a printed class; others come only where these are too few.
    by_cover = sorted(open_ones, key=lambda row: _COVERS.index(row.opacity))
    classed = sum(bool(row.opacity) for row in open_ones)
    few = far_apart([row.id for row in by_cover[: max(classed, FEW_OVER_BLACK)]], FEW_OVER_BLACK)
    return [MarkToRead(colour_id, Pressure.HEAVY, over=Ground.BLACK) for colour_id in few]


def _in_layers(scene: Scene, rows: Sequence[ColourRow], known: frozenset[int]) -> list[MarkToRead]:
    """A few of these pencils in several layers, but for those that are known so."""
    laid = zip(pencils_in_layers(scene, rows, known), cycle(_LAID), strict=False)
    return [MarkToRead(colour_id, pressure, LAYERS_LAID) for colour_id, pressure in laid]


def _wanted(scene: Scene, plan: SessionPlan) -> frozenset[int]:
    session = scene.session
    if plan.which is Which.TRAY:
        return frozenset(pulled_out(session))
    if plan.which is Which.CHOSEN:
        return frozenset(plan.colour_ids)
    if plan.which is Which.SET:
        if plan.set_id is None or session.get(BoxedSet, plan.set_id) is None:
            raise NotFoundError(f"There is no set number {plan.set_id}.")
        return frozenset(i for set_id, _, _, ids in set_contents(session) if set_id == plan.set_id for i in ids)
    return scene.at_hand
