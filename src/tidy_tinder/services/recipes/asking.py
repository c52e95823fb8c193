"""What a plan is asked for a recipe on a paper: its passages, and for each open call the ways to lay it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select

from tidy_tinder.core.difference.priorities import Closest, weighted_difference
from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.question import AskedPassage, PlannedCall, Question, Way
from tidy_tinder.core.planning.stacking import Ways
from tidy_tinder.core.quantities import Lab
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.standins.roles import Water, unfit_for
from tidy_tinder.core.vocabulary import Finish, Pressure, SaidRole
from tidy_tinder.services.background.stored_fits import Fitted
from tidy_tinder.services.collection.passage import layer_of, meant, water_for
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.standins.layered import Wish, unwished
from tidy_tinder.services.standins.nearest import Layers, ability_of, nearest_layered, nearest_singles
from tidy_tinder.storage.models import CallState, RecipeCall, RecipeStep

# Ways looked at for each open call: pencils by themselves as each comes nearest, the same in one thin layer, and pairs.
# The prototype of the design missed 11 to 14 % of the best cost with 10 of them, 4 to 7 % with 15, up to 2 % with 25.
_SINGLES, _THIN, _PAIRS, _LOOKED_AT = 7, 3, 15, 360


@dataclass(frozen=True, eq=False)
class Asking:
    """The question of one recipe on one paper. areas: by the key of a passage; left_out: calls that cannot be planned,
    and why, in words.
    """

    question: Question
    areas: tuple[str, ...]
    left_out: Mapping[int, str]


class Asker:
    """Reads a recipe as a question. kept: by call, layers that stay; unwanted: by call, pencils not to be offered."""

    def __init__(
        self, scene: Scene, known: Fitted, table: PairTable | None, closest: Closest, wish: Wish,
        kept: Mapping[int, Layers], unwanted: Mapping[int, frozenset[int]],
    ) -> None:  # fmt: skip
        self._scene, self._known, self._table = scene, known, table
        self._closest, self._wish = closest, wish
        self._kept, self._unwanted = kept, unwanted
        self._left_out: dict[int, str] = {}
        self._fit: dict[tuple[SaidRole, Water], frozenset[int]] = {}

    def ask(self, recipe_id: int) -> Asking:
        """The whole question."""
        session = self._scene.session
        steps = session.scalars(
            select(RecipeStep).where(RecipeStep.recipe_id == recipe_id).order_by(RecipeStep.position)
        ).all()
        areas: dict[str, list[RecipeStep]] = {}
        for step in steps:
            areas.setdefault(step.area, []).append(step)
        passages = (self._passage(key, each) for key, each in enumerate(areas.values()))
        question = Question(
            tuple(p for p in passages if p.calls), self._known.survey.pencils, self._scene.fit, self._closest,
            self._scene.paper.most_layers,
        )  # fmt: skip
        return Asking(question, tuple(areas), self._left_out)

    def _passage(self, key: int, steps: Sequence[RecipeStep]) -> AskedPassage:
        solvent = any(step.finish == Finish.SOLVENT for step in steps)
        calls: list[PlannedCall] = []
        for at, step in enumerate(steps):
            wet = any(later.finish == Finish.WET for later in steps[at:])
            calls.extend(made for call in step.calls if (made := self._call(call, wet)) is not None)
        return AskedPassage(key, tuple(calls), solvent)

    def _call(self, call: RecipeCall, wet: bool) -> PlannedCall | None:
        """A call with its ways; None where it cannot be planned, or is no colour."""
        if call.state == CallState.DISMISSED:
            return None
        if call.colour_id is None:
            self._left_out[call.id] = "it is not settled yet which colour is meant"
            return None
        if call.colour_id not in self._known.survey.pencils:
            self._left_out[call.id] = "how it lays is not known: it has no mark here and no chart value"
            return None
        asked = layer_of(call, meant(call, self._scene.at_hand))
        mark, kept = self._alone((asked,)), self._settled(call, asked)
        if kept is not None:
            return PlannedCall(call.id, asked, mark, (Way(kept, self._alone(kept)),), settled=True)
        ways = self._ways(call, asked, mark, wet)
        if not ways:
            self._left_out[call.id] = "no pencil at hand does what is asked of it"
            return None
        return self._nearer_of_two(call, PlannedCall(call.id, asked, mark, ways), wet)

    def _nearer_of_two(self, call: RecipeCall, first: PlannedCall, wet: bool) -> PlannedCall:
        """Of “A or B”, of which none is at hand, the one to which something comes nearer by itself."""
        if call.other_colour_id not in self._known.survey.pencils:
            return first
        asked = layer_of(call, call.other_colour_id)
        mark = self._alone((asked,))
        second = PlannedCall(call.id, asked, mark, self._ways(call, asked, mark, wet))
        return min(first, second, key=self._nearest)

    def _nearest(self, call: PlannedCall) -> float:
        """How near the nearest of its ways comes by itself."""
        alone = np.stack([way.alone for way in call.ways])
        return float(np.min(weighted_difference(call.mark, alone, self._closest)))

    def _settled(self, call: RecipeCall, asked: Layer[int]) -> Layers | None:
        """The layers that a call is laid in whatever the plan: its own pencil, or what the artist has decided."""
        if asked.pencil in self._scene.at_hand:
            return (asked,)
        kept = self._kept.get(call.id)
        return kept if kept is not None and self._can_be_laid(kept) else None

    def _can_be_laid(self, layers: Layers) -> bool:
        return all(one.pencil in self._known.survey.pencils and one.pencil in self._scene.at_hand for one in layers)

    def _ways(self, call: RecipeCall, asked: Layer[int], mark: Lab, wet: bool) -> tuple[Way, ...]:
        """What may stand in, the nearest by themselves first."""
        water = water_for(self._scene.session, call, wet)
        may = self._fit_for(call.role, water) - self._unwanted.get(call.id, frozenset())
        burnishes = asked.pressure == Pressure.BURNISH
        count = _SINGLES + _THIN if burnishes else _SINGLES
        found = nearest_singles(self._scene, may, mark, self._closest, count, burnishes)
        if not burnishes:
            found += nearest_singles(self._scene, may, mark, self._closest, _THIN, most_layers=1)
        if self._table is not None and not burnishes:
            mask = np.array([key in may for key in self._table.keys], dtype=bool)
            found += nearest_layered(self._table, mask, mark, self._closest, _PAIRS, _LOOKED_AT)
        return tuple(Way(layers, lab) for layers, lab in dict(found).items())

    def _fit_for(self, role: SaidRole, water: Water) -> frozenset[int]:
        """The pencils at hand that can do what is asked of them, and that the wish does not leave out."""
        if (role, water) not in self._fit:
            self._fit[role, water] = frozenset(
                i
                for i in self._known.survey.pencils
                if i in self._scene.at_hand
                and unfit_for(role, ability_of(self._scene, i), water) is None
                and not unwished(self._scene, self._wish, i)
            )
        return self._fit[role, water]

    def _alone(self, layers: Layers) -> Lab:
        """Layers by themselves on the bare paper; what burnishes is rubbed in as hard as a heavy mark."""
        if len(layers) == 1:
            one = layers[0]
            pressure = Pressure.HEAVY if one.pressure == Pressure.BURNISH else one.pressure
            mark = self._scene.predicted(one.layers).of(one.pencil, pressure)
            assert mark is not None, "a fitted pencil has a prediction"
            return np.array(mark.lab)
        return np.array(predict_stacks([self._modelled(layers)], self._scene.fit).lab[0])

    def _modelled(self, layers: Layers) -> list[FittedLayer]:
        return [one.of(self._known.survey.pencils[one.pencil]) for one in layers]


def by_itself(passage: AskedPassage, closest: Closest) -> Ways:
    """The way of each call (calls,) that comes nearest by itself on the bare paper."""
    nearest = [
        int(np.argmin(weighted_difference(call.mark, np.stack([way.alone for way in call.ways]), closest)))
        for call in passage.calls
    ]
    return np.array(nearest, dtype=np.int64)
