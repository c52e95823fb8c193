"""What recipes call for and what was picked, each on the paper that it is for: what pencils are needed for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.layers import Layer
from tidy_tinder.core.reference.picking import band_of_spread
from tidy_tinder.core.reference.words import name_of
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.collection.at_work import paper_at_hand
from tidy_tinder.services.collection.passage import layer_of, meant
from tidy_tinder.services.collection.patches import LabTriple
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.reference.answers import shown_labs
from tidy_tinder.storage.models import CallState, Drawing, DrawingState, Pick, Recipe, Reference
from tidy_tinder.storage.queries.colours import drawable_colours

# Of what is finished or put away counts so much, beside 1 for what is still to come; the artist can set it.
PUT_AWAY_WEIGHT = 0.25
UNANSWERED = 60.0
"""A demand that nothing at all answers counts as this far off: beyond what could be taken for any other colour."""


DEMAND_TABLES = (
    "recipe", "recipe_step", "recipe_call", "drawing", "reference", "pick", "pencil", "colour", "fade_result", "paper",
)  # fmt: skip
"""What is needed, owned and known rests on these, besides the fits."""


class DemandOf(StrEnum):
    """Where something is asked for."""

    CALL = "call"
    PICK = "pick"


@dataclass(frozen=True)
class Demand:
    """A colour that is needed on a paper. of, id: the call or pick; title: its recipe or picture; words: as it is
    written there; lab: as it is to look; band: the ΔE00 within which nine of ten lie; weight: how much it counts;
    meant: the colours that are called for, each of which is the answer, none for a pick; is_open: whether no such
    pencil is owned.
    """

    of: DemandOf
    id: int
    paper_id: int
    title: str
    words: str
    lab: LabTriple
    band: float
    weight: float
    meant: frozenset[int]
    is_open: bool


@dataclass(frozen=True)
class Demands:
    """All that is needed; left_out: calls that say nothing that could be compared."""

    all: tuple[Demand, ...]
    left_out: int

    @property
    def missing(self) -> tuple[Demand, ...]:
        """What has no pencil of its own yet."""
        return tuple(one for one in self.all if one.is_open)


def places_by_paper(demands: Sequence[Demand]) -> Mapping[int, list[int]]:
    """Where the demands of each paper stand."""
    places: dict[int, list[int]] = {}
    for i, one in enumerate(demands):
        places.setdefault(one.paper_id, []).append(i)
    return places


def paper_of_recipes(session: Session) -> int:
    """The paper of recipes that belong to no drawing: the one at hand."""
    paper = paper_at_hand(session)
    return paper.id if paper is not None else 0


def demands_now(session: Session, put_away: float = PUT_AWAY_WEIGHT, recipes: Sequence[int] | None = None) -> Demands:
    """Everything that recipes call for and that was picked. put_away: the weight of what is finished; recipes: of these
    alone, without picks.
    """
    reader = _Reader(session, put_away)
    calls = list(reader.calls(recipes))
    picks = list(reader.picks()) if recipes is None else []
    return Demands((*calls, *picks), reader.left_out)


class _Reader:
    """Reads recipes and pictures; scenes are put together once for each paper."""

    def __init__(self, session: Session, put_away: float) -> None:
        self._session, self._put_away = session, put_away
        self._owned = drawable_colours(session)
        self._scenes: dict[int, Scene] = {}
        self._drawings = {one.id: one for one in session.scalars(select(Drawing))}
        self._paper_at_hand = paper_of_recipes(session)
        self.left_out = 0

    def calls(self, recipes: Sequence[int] | None) -> Iterator[Demand]:
        """The calls of recipes; those of the same colour laid alike in one recipe are one."""
        for recipe in self._session.scalars(select(Recipe).order_by(Recipe.position, Recipe.id)):
            if recipes is not None and recipe.id not in recipes:
                continue
            drawing = self._drawings.get(recipe.drawing_id or 0)
            scene = self._scene(drawing.paper_id if drawing else self._paper_at_hand)
            seen: set[Layer[int]] = set()
            for call in (call for step in recipe.steps for call in step.calls):
                if call.state == CallState.DISMISSED:
                    continue
                either = frozenset(i for i in (call.colour_id, call.other_colour_id) if i is not None)
                layer = layer_of(call, meant(call, self._owned))
                mark = _mark(scene, layer) if either else None
                if mark is None:
                    self.left_out += 1
                    continue
                if layer in seen:
                    continue
                seen.add(layer)
                lab, band = mark
                yield Demand(
                    DemandOf.CALL, call.id, scene.paper.id, recipe.title, call.as_written, lab, band,
                    self._weight(drawing), either, not either & self._owned,
                )  # fmt: skip

    def picks(self) -> Iterator[Demand]:
        """The picks of pictures: what was seen, whoever's pencil it is."""
        for reference in self._session.scalars(select(Reference).order_by(Reference.id)):
            drawing = self._drawings[reference.drawing_id]
            labs = shown_labs(self._session, reference.id)
            mine = select(Pick).where(Pick.reference_id == reference.id).order_by(Pick.number)
            for pick in self._session.scalars(mine):
                L, a, b = (float(v) for v in labs[pick.id])
                called = pick.name or f"pick {pick.number}, {name_of(labs[pick.id])}"
                yield Demand(
                    DemandOf.PICK, pick.id, drawing.paper_id, drawing.name, called,
                    (L, a, b), band_of_spread(pick.spread), self._weight(drawing), frozenset(), True,
                )  # fmt: skip

    def _scene(self, paper_id: int) -> Scene:
        if paper_id not in self._scenes:
            self._scenes[paper_id] = Scene.on(self._session, paper_id)
        return self._scenes[paper_id]

    def _weight(self, drawing: Drawing | None) -> float:
        return self._put_away if drawing is not None and drawing.state is DrawingState.ARCHIVED else 1.0


def _mark(scene: Scene, asked: Layer[int]) -> tuple[LabTriple, float] | None:
    """How a call is to look by itself; None where nothing is known of its pencil."""
    pressure = asked.pressure if asked.pressure in MARK_PRESSURES else Pressure.HEAVY
    mark = scene.predicted(min(asked.layers, 3)).of(asked.pencil, pressure)
    return None if mark is None else (mark.lab, mark.band)


def labs_of(demands: Sequence[Demand]) -> tuple[np.ndarray, np.ndarray]:
    """Lab (C, 3) and bands (C,) of some demands."""
    return np.array([one.lab for one in demands]).reshape(-1, 3), np.array([one.band for one in demands])
