"""A colour's page: its marks on every paper, twins and what parts them, grades, neighbours, recipes, history."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.components import Difference, value_step
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.marks.neighbours import neighbours
from tidy_tinder.core.names.grades import grade_family
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.twins import CHART, Condition, MarksAt, near_twins
from tidy_tinder.services.background.cache import MARK_TABLES
from tidy_tinder.services.background.runtime import Collection, for_version
from tidy_tinder.services.collection.at_hand import Owning, at_hand_now
from tidy_tinder.services.collection.chart import entry_of
from tidy_tinder.services.collection.marks import (
    LabTriple,
    Mark,
    Patch,
    Trust,
    charted_colours,
    find_paper,
    known_marks,
    marks_on,
    patch,
)
from tidy_tinder.services.errors import NotFoundError
from tidy_tinder.services.standins.mark_beside_mark import RankedStandins, rank_for_colour
from tidy_tinder.services.swatches.one_by_one import PaperOpacity, PastSwatch, history_of, opacity_of
from tidy_tinder.storage.models import BoxedSet, Paper, Recipe, RecipeCall, RecipeStep, TrayPencil
from tidy_tinder.storage.queries.colours import ColourRow, PencilRow, pencils_by_colour


@dataclass(frozen=True)
class PaperMark:
    """A colour's mark on one paper."""

    paper_id: int
    paper_name: str
    mark: Mark


@dataclass(frozen=True)
class CalledBy:
    """A recipe that calls a colour, in which of its steps (counted from 1)."""

    recipe_id: int
    title: str
    steps: tuple[int, ...]


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
class ColourPage:
    """What the panel says of one colour. shown_as says of which mark or chart value `patch` and value speak."""

    colour: ColourRow
    owning: Owning
    in_tray: bool
    pencils: tuple[tuple[PencilRow, str], ...]
    mark: Mark
    patch: Patch | None
    shown_as: str
    value: float | None
    papers: tuple[PaperMark, ...]
    nearest: RankedStandins
    called_by: tuple[CalledBy, ...]
    sister_ids: tuple[int, ...]
    opacity: tuple[PaperOpacity, ...]


@dataclass(frozen=True)
class ColourKin:
    """Whose relative a colour is, and its history."""

    twins: tuple[NearTwin, ...]
    family: tuple[Relation, ...]
    neighbours: tuple[Relation, ...]
    sisters: tuple[Relation, ...]
    history: tuple[PastSwatch, ...]


def colour_page(collection: Collection, colour_id: int, paper_id: int, closest: Closest) -> ColourPage:
    """What the panel says of one colour on a paper. Raises NotFoundError for an unknown colour or paper."""
    with collection() as session:
        paper = find_paper(session, paper_id)
        rows = charted_colours(session)
        row = _row(rows, colour_id)
        hand, pencils = at_hand_now(session), tuple(pencils_by_colour(session).get(colour_id, ()))
        mark = marks_on(session, paper)[colour_id]
        lab, shown_as = _shown(mark, paper)
        papers = session.scalars(select(Paper).order_by(Paper.position, Paper.id)).all()
        sets: dict[int, str] = dict(session.execute(select(BoxedSet.id, BoxedSet.name)).all())
        pulled = session.scalar(select(TrayPencil.id).where(TrayPencil.colour_id == colour_id))
        return ColourPage(
            colour=row,
            owning=hand.owning(pencils),
            in_tray=pulled is not None,
            pencils=tuple((p, sets.get(p.set_id or 0, "")) for p in pencils),
            mark=mark,
            patch=patch(lab) if lab else None,
            shown_as=shown_as,
            value=float(value_step(lab)) if lab else None,
            papers=tuple(PaperMark(p.id, p.name, marks_on(session, p)[colour_id]) for p in papers),
            nearest=rank_for_colour(session, colour_id, paper, "heavy", 1, closest, limit=1),
            called_by=_called_by(session, colour_id),
            sister_ids=_sisters(rows, row),
            opacity=opacity_of(history_of(session, colour_id)),
        )


def colour_kin(collection: Collection, colour_id: int, paper_id: int) -> ColourKin:
    """Twins, grades, neighbours, sisters and history of a colour. Raises NotFoundError."""
    with collection() as session:
        paper = find_paper(session, paper_id)
        rows = charted_colours(session)
        row = _row(rows, colour_id)
        kin = _Kin(session, paper, rows)
        family = grade_family(entry_of(row), [entry_of(r) for r in rows])
        return ColourKin(
            twins=kin.twins(colour_id),
            family=tuple(kin.relation(e.key, "") for e in family if e.key != colour_id),
            neighbours=kin.neighbours(colour_id),
            sisters=tuple(kin.relation(i, "same code and name, another range") for i in _sisters(rows, row)),
            history=history_of(session, colour_id),
        )


class _Kin:
    """Relatives of a colour, on one paper."""

    def __init__(self, session: Session, paper: Paper, rows: Sequence[ColourRow]) -> None:
        self._paper = paper
        self._rows = {row.id: row for row in rows}
        self._marks = marks_on(session, paper)
        self._pencils, self._hand = pencils_by_colour(session), at_hand_now(session)
        self._papers = {p.id: p.name for p in session.scalars(select(Paper))}
        self._known = for_version(session, "conditions", MARK_TABLES, lambda: _conditions(session, rows))

    def relation(self, colour_id: int, words: str, apart: Difference | None = None) -> Relation:
        """Another colour as it is shown."""
        owning = self._hand.owning(self._pencils.get(colour_id, ()))
        return Relation(self._rows[colour_id], owning, self._marks[colour_id], words, apart)

    def twins(self, colour_id: int) -> tuple[NearTwin, ...]:
        """Near twins across all ranges: those measured here, then those by chart; owned first in each."""
        if self._rows[colour_id].effect != "ordinary":
            return ()
        first = Condition(self._paper.id, "heavy", 1)
        found = [
            NearTwin(
                self.relation(t.key, "", t.difference), self._where(t.at), self._where(t.parts_at), t.parting, t.kinds
            )
            for t in near_twins(colour_id, self._known, first, limit=10)
        ]
        return tuple(sorted(found, key=lambda t: (t.compared == _BY_CHART, t.relation.owning is Owning.NOT_OWNED)))

    def neighbours(self, colour_id: int) -> tuple[Relation, ...]:
        """A step lighter and darker, a turn of hue to either side, of the same kind of knowledge."""
        own = self._marks[colour_id]
        if not own.zones:
            return ()
        others = {i: np.array(m.zones[0].lab) for i, m in self._marks.items() if i != colour_id and _comparable(m, own)}
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


_BY_CHART = "by chart"

_NEIGHBOUR_WORDS = {
    "lighter": "a step lighter",
    "darker": "a step darker",
    "hue up": "a turn of hue one way",
    "hue down": "a turn of hue the other way",
}


def _conditions(session: Session, rows: Sequence[ColourRow]) -> Mapping[Condition, MarksAt]:
    """By every kind of mark, and by chart, the ordinary colours that are known by it."""
    ordinary = {r.id for r in rows if r.effect == "ordinary"}
    charted = {r.id: np.array(r.lab) for r in rows if r.lab and r.id in ordinary}
    found: dict[Condition, dict[int, Lab]] = {CHART: charted}
    for paper in session.scalars(select(Paper)):
        for colour_id, marks in known_marks(session, paper).items():
            for (pressure, layers), mark in marks.items():
                if colour_id in ordinary:
                    kind = found.setdefault(Condition(paper.id, pressure, layers), {})
                    kind[colour_id] = np.array(mark.lab)
    return {condition: MarksAt(marks) for condition, marks in found.items()}


def _row(rows: Sequence[ColourRow], colour_id: int) -> ColourRow:
    row = next((r for r in rows if r.id == colour_id), None)
    if row is None:
        raise NotFoundError(f"There is no colour number {colour_id}. It may have been removed in another window.")
    return row


def _shown(mark: Mark, paper: Paper) -> tuple[LabTriple | None, str]:
    """The Lab that a colour's figures speak of: its darkest known zone here, else nothing."""
    if not mark.zones:
        return None, f"no colour known on {paper.name}, nor by chart"
    zone = mark.zones[0]
    words = {
        Trust.MEASURED: f"{zone.pressure}, measured on {paper.name}",
        Trust.PREDICTED: f"{zone.pressure}, predicted on {paper.name} ± {zone.band} ΔE",
    }
    return zone.lab, words.get(zone.trust, "chart value, on white")


def _sisters(rows: Sequence[ColourRow], row: ColourRow) -> tuple[int, ...]:
    """Same code and name in another range of the same maker: kept apart, but worth knowing."""
    same = (r for r in rows if r.code == row.code and r.name == row.name and r.maker == row.maker)
    return tuple(r.id for r in same if r.id != row.id)


def _called_by(session: Session, colour_id: int) -> tuple[CalledBy, ...]:
    """The recipes that call a colour, and in which steps."""
    numbered = (
        select(Recipe.id, Recipe.title, RecipeStep.id)
        .join(RecipeStep, RecipeStep.recipe_id == Recipe.id)
        .join(RecipeCall, RecipeCall.step_id == RecipeStep.id)
        .where(RecipeCall.colour_id == colour_id)
        .order_by(Recipe.position, RecipeStep.position)
    )
    found: dict[int, tuple[str, list[int]]] = {}
    for recipe_id, title, step_id in session.execute(numbered).all():
        found.setdefault(recipe_id, (title, []))[1].append(step_id)
    result = []
    for recipe_id, (title, step_ids) in found.items():
        steps = session.scalars(
            select(RecipeStep.id)
            .where(RecipeStep.recipe_id == recipe_id, RecipeStep.kind == "step")
            .order_by(RecipeStep.position)
        ).all()
        numbers = tuple(dict.fromkeys(steps.index(i) + 1 for i in step_ids if i in steps))
        result.append(CalledBy(recipe_id, title, numbers))
    return tuple(result)
