"""A plan as it is shown: every passage as asked for and as planned, call by call, and what would change."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from tidy_tinder.core.difference.ciede2000 import delta_e_2000
from tidy_tinder.core.difference.components import Band, Difference, difference, value_step
from tidy_tinder.core.difference.priorities import weighted_difference
from tidy_tinder.core.planning.certificate import Surety
from tidy_tinder.core.planning.objective import DISTINCT, NOT_CLOSER, order_need
from tidy_tinder.core.planning.plan import Plan, PlannedPassage
from tidy_tinder.core.planning.question import PlannedCall, Way
from tidy_tinder.core.quantities import Lab
from tidy_tinder.services.collection.patches import Patch, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import Laid, layers_in_words, owned_layers
from tidy_tinder.services.recipes.asking import Asking
from tidy_tinder.services.recipes.rows import ChosenWay
from tidy_tinder.services.standins.nearest import nearest_singles
from tidy_tinder.storage.models import RecipeCall
from tidy_tinder.storage.queries.colours import ColourRow

# Colours to buy that are named for a call.
_TO_BUY = 3


@dataclass(frozen=True)
class CallPlan:
    """One call in a plan. asked_after, planned_after: its passage after it, as asked for and as planned, and how these
    differ; asked, alone: the mark that it asks for and what is planned, each by itself on the paper.

    instead: of “A or B” the second, where that is planned for. settled: it stays as it is, because its pencil is at
    hand or the artist has locked it. now: what is chosen for it now, in words, "" for nothing; changes: whether
    taking the plan changes that.
    """

    call_id: int
    laid: tuple[Laid, ...]
    said: str
    instead: ColourRow | None
    asked: Patch
    alone: Patch
    asked_after: Patch
    planned_after: Patch
    difference: Difference
    settled: bool
    now: str
    changes: bool


@dataclass(frozen=True)
class PassagePlan:
    """One passage. difference: of the finished ones, in the plan; expected: that difference as it is to be expected,
    and by_itself where each call is answered by itself (ΔE00 by the meaning of closest); plus_minus: how far it may be
    off, nine times of ten; asked_value, planned_value: Munsell value of the finished ones.

    to_buy: where the plan makes another colour of the passage, pencils that would come closer for its open calls.
    """

    area: str
    calls: tuple[CallPlan, ...]
    difference: Difference
    expected: float
    by_itself: float
    plus_minus: float
    asked_value: float
    planned_value: float
    to_buy: tuple[ColourRow, ...]


@dataclass(frozen=True)
class PlanView:
    """A plan. expected: the expected differences of all finished passages together, by_itself: the same where each
    call is answered by itself. warnings: what it loses between passages, in words; left_out: calls that are not in it,
    and why; changes: calls that taking it would change. gap: by how much a better plan could be better at most, None
    where that is not known; tried: ways to lay whole passages that were looked at.
    """

    standing: Surety
    passages: tuple[PassagePlan, ...]
    expected: float
    by_itself: float
    cost: float
    gap: float | None
    tried: int
    pencils: int
    warnings: tuple[str, ...]
    left_out: Mapping[int, str]
    changes: int


def view_of(scene: Scene, asking: Asking, plan: Plan, first: Plan, now: Mapping[int, ChosenWay]) -> PlanView:
    """A plan beside the first answer, call by call, and beside what is chosen now."""
    passages = tuple(
        _passage(scene, asking, one, alone, now) for one, alone in zip(plan.passages, first.passages, strict=True)
    )
    free = asking.question.free
    pencils = {pencil for one in plan.passages for way in one.ways for pencil in way.pencils} - free
    gap = plan.certificate.gap
    return PlanView(
        standing=plan.certificate.standing,
        passages=passages,
        expected=sum(one.expected for one in plan.passages),
        by_itself=sum(one.expected for one in first.passages),
        cost=plan.cost.total,
        gap=gap if np.isfinite(gap) else None,
        tried=plan.certificate.tried,
        pencils=len(pencils),
        warnings=tuple(_lost_between(asking, plan.passages)),
        left_out=asking.left_out,
        changes=sum(call.changes for passage in passages for call in passage.calls),
    )


def _passage(
    scene: Scene, asking: Asking, one: PlannedPassage, alone: PlannedPassage, now: Mapping[int, ChosenWay]
) -> PassagePlan:
    states = zip(one.passage.calls, one.ways, one.asked, one.states, strict=True)
    calls = tuple(_call(scene, call, way, asked, state, now) for call, way, asked, state in states)
    finished = difference(one.asked[-1], one.states[-1])
    return PassagePlan(
        area=asking.areas[one.passage.key],
        calls=calls,
        difference=finished,
        expected=one.expected,
        by_itself=alone.expected,
        plus_minus=one.band,
        asked_value=float(value_step(one.asked[-1])),
        planned_value=float(value_step(one.states[-1])),
        to_buy=_to_buy(scene, asking, one) if finished.band is Band.ANOTHER else (),
    )


def _call(scene: Scene, call: PlannedCall, way: Way, asked: Lab, state: Lab, now: Mapping[int, ChosenWay]) -> CallPlan:
    laid = owned_layers(scene, way.layers)
    chosen = now.get(call.key)
    owned = call.settled and way.layers == (call.asked,)
    return CallPlan(
        call_id=call.key,
        laid=laid,
        said=layers_in_words(laid),
        instead=None if call.settled else _instead(scene, call),
        asked=patch(call.mark),
        alone=patch(way.alone),
        asked_after=patch(asked),
        planned_after=patch(state),
        difference=difference(asked, state),
        settled=call.settled,
        now=layers_in_words(owned_layers(scene, chosen.layers)) if chosen is not None and not owned else "",
        changes=not call.settled and (chosen is None or chosen.layers != way.layers),
    )


def _instead(scene: Scene, call: PlannedCall) -> ColourRow | None:
    """The second of “A or B”, where the plan is for that one."""
    first = scene.session.get_one(RecipeCall, call.key).colour_id
    return None if call.asked.pencil == first else scene.colours[call.asked.pencil]


def _to_buy(scene: Scene, asking: Asking, one: PlannedPassage) -> tuple[ColourRow, ...]:
    """Pencils to buy for the open call which is answered worst: the one it asks for, then those that come closest."""
    open_calls = [(call, way) for call, way in zip(one.passage.calls, one.ways, strict=True) if not call.settled]
    if not open_calls:
        return ()
    closest = asking.question.closest
    call, _ = max(open_calls, key=lambda both: float(weighted_difference(both[0].mark, both[1].alone, closest)))
    others = {i for i in asking.question.pencils if i not in scene.at_hand}
    near = nearest_singles(scene, others, call.mark, closest, _TO_BUY)
    wanted = dict.fromkeys([call.asked.pencil, *(layers[0].pencil for layers, _ in near)])
    return tuple(scene.colours[i] for i in list(wanted)[:_TO_BUY])


def _lost_between(asking: Asking, passages: Sequence[PlannedPassage]) -> list[str]:
    """Passages that have more layers than the paper takes, change places in value, or come so near that they look
    alike, in words.
    """
    lost, takes = [], asking.question.most_layers
    for each in passages:
        layers = sum(way.passes for way in each.ways)
        if layers > takes:
            area = asking.areas[each.passage.key] or "the rest"
            lost.append(f"“{area}” has {layers} layers in this plan, and the paper takes about {takes}.")
    for p, q in combinations(passages, 2):
        one, other = (f"“{asking.areas[each.passage.key] or 'the rest'}”" for each in (p, q))
        need = order_need(float(p.asked[-1][0]), float(q.asked[-1][0]))
        if need and np.sign(need) * float(p.states[-1][0] - q.states[-1][0]) < 0.0:
            lighter, darker = (one, other) if need > 0 else (other, one)
            lost.append(f"{lighter} was asked for lighter than {darker} and becomes darker.")
        asked = float(delta_e_2000(p.asked[-1], q.asked[-1]))
        planned = float(delta_e_2000(p.states[-1], q.states[-1]))
        if asked >= DISTINCT and planned < NOT_CLOSER:
            lost.append(f"{one} and {other} were asked for {asked:.1f} ΔE apart and come within {planned:.1f}.")
    return lost
