"""Whose relative a colour is: near twins and what parts them, grades, neighbours, sisters; and its history."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference
from tidy_tinder.core.marks.neighbours import Direction, neighbours
from tidy_tinder.core.names.grades import grade_family
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.twins import CHART, Condition, MarksAt, near_twins
from tidy_tinder.core.vocabulary import Effect, Pressure
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.chart import charted_colours, entry_of
from tidy_tinder.services.collection.marks import Mark, known_marks
from tidy_tinder.services.collection.patches import Trust
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.swatches.one_by_one import PastSwatch, history_of
from tidy_tinder.storage.models import Paper
from tidy_tinder.storage.queries.colours import ColourRow

_BY_CHART = "by chart"

_NEIGHBOUR_WORDS = {
    Direction.LIGHTER: "a step lighter",
    Direction.DARKER: "a step darker",
    Direction.HUE_UP: "a turn of hue one way",
    Direction.HUE_DOWN: "a turn of hue the other way",
}


@dataclass(frozen=True)
class Relation:
    """Another colour and how it differs from this one; words say what it is to it."""

    colour: ColourRow
    owning: Owning
    mark: Mark
    words: str
    difference: Difference | None


@dataclass(frozen=True)
class NearTwin:
    """A near twin: where the two were compared, and where they part most."""

    relation: Relation
    compared: str
    parts: str
    parting: Difference
    kinds: int


@dataclass(frozen=True)
class ColourKin:
    """Whose relative a colour is, and its history."""

    twins: tuple[NearTwin, ...]
    family: tuple[Relation, ...]
    neighbours: tuple[Relation, ...]
    sisters: tuple[Relation, ...]
    history: tuple[PastSwatch, ...]


def colour_kin(collection: Collection, colour_id: int, paper_id: int) -> ColourKin:
    """Twins, grades, neighbours, sisters and history of a colour. Raises NotFoundError."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        row, kin = scene.colour(colour_id), _Kin(scene)
        family = grade_family(entry_of(row), [entry_of(r) for r in scene.colours.values()])
        return ColourKin(
            twins=kin.twins(colour_id),
            family=tuple(kin.relation(e.key, "") for e in family if e.key != colour_id),
            neighbours=kin.neighbours(colour_id),
            sisters=tuple(kin.relation(i, "same code and name, another range") for i in sisters(scene, row)),
            history=history_of(session, colour_id),
        )


def sisters(scene: Scene, row: ColourRow) -> tuple[int, ...]:
    """Same code and name in another range of the same maker: kept apart, but worth knowing."""
    own = (row.code, row.name, row.maker)
    return tuple(r.id for r in scene.colours.values() if (r.code, r.name, r.maker) == own and r.id != row.id)


class _Kin:
    """Relatives of a colour, on one paper."""

    def __init__(self, scene: Scene) -> None:
        self._scene = scene

    @cached_property
    def _known(self) -> Mapping[Condition, MarksAt]:
        session = self._scene.session
        return for_version(session, "conditions", MARK_TABLES, lambda: _conditions(session))

    @cached_property
    def _papers(self) -> Mapping[int, str]:
        return {p.id: p.name for p in self._scene.session.scalars(select(Paper))}

    def relation(self, colour_id: int, words: str, apart: Difference | None = None) -> Relation:
        """Another colour as it is shown."""
        scene = self._scene
        return Relation(scene.colours[colour_id], scene.owning(colour_id), scene.marks[colour_id], words, apart)

    def twins(self, colour_id: int) -> tuple[NearTwin, ...]:
        """Near twins across all ranges: those measured here, then those by chart; owned first in each."""
        if self._scene.colours[colour_id].effect != Effect.ORDINARY:
            return ()
        first = Condition(self._scene.paper.id, Pressure.HEAVY, 1)
        twins = [
            NearTwin(
                self.relation(t.key, "", t.difference), self._where(t.at), self._where(t.parts_at), t.parting, t.kinds
            )
            for t in near_twins(colour_id, self._known, first, limit=10)
        ]
        return tuple(sorted(twins, key=lambda t: (t.compared == _BY_CHART, t.relation.owning is Owning.NOT_OWNED)))

    def neighbours(self, colour_id: int) -> tuple[Relation, ...]:
        """A step lighter and darker, a turn of hue to either side, of the same kind of knowledge."""
        marks = self._scene.marks
        own = marks[colour_id]
        if not own.zones:
            return ()
        others = {i: np.array(m.zones[0].lab) for i, m in marks.items() if i != colour_id and _comparable(m, own)}
        return tuple(
            self.relation(n.key, _NEIGHBOUR_WORDS[n.direction], n.difference)
            for n in neighbours(np.array(own.zones[0].lab), others)
        )

    def _where(self, condition: Condition) -> str:
        if condition.is_chart:
            return _BY_CHART
        layers = f", {condition.layers} layers" if condition.layers > 1 else ""
        return f"{condition.pressure}{layers} on {self._papers[condition.paper]}"


def _comparable(one: Mark, other: Mark) -> bool:
    """Whether the leading zones of two marks are of one kind: both on this paper at one pressure, or both by chart."""
    if not one.zones or not other.zones or one.zones[0].pressure != other.zones[0].pressure:
        return False
    return (one.trust is Trust.CHART) == (other.trust is Trust.CHART)


def _conditions(session: Session) -> Mapping[Condition, MarksAt]:
    """By every kind of mark, and by chart, the ordinary colours that are known by it."""
    rows = [row for row in charted_colours(session) if row.effect == Effect.ORDINARY]
    ordinary = {row.id for row in rows}
    conditions: dict[Condition, dict[int, Lab]] = {CHART: {row.id: np.array(row.lab) for row in rows if row.lab}}
    for paper in session.scalars(select(Paper)):
        for colour_id, marks in known_marks(session, paper).items():
            for (pressure, layers), mark in marks.items():
                if colour_id in ordinary:
                    kind = conditions.setdefault(Condition(paper.id, pressure, layers), {})
                    kind[colour_id] = np.array(mark.lab)
    return {condition: MarksAt(marks) for condition, marks in conditions.items()}
