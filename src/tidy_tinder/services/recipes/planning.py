"""Plans of a recipe on a paper: worked out in the background, told as they come, taken as a whole."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import islice

from sqlalchemy import select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.planning.plan import Plan, Step, work_out
from tidy_tinder.core.standins.pairs import PairTable
from tidy_tinder.core.vocabulary import Blacks
from tidy_tinder.services.background.pair_tables import MIXING_FAILED
from tidy_tinder.services.background.runtime import Collection, mixed_pairs
from tidy_tinder.services.background.thinking import Doing, GoOn, SoFar
from tidy_tinder.services.collection.at_work import drawing_at_hand
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.journal import tables_version
from tidy_tinder.services.recipes.asking import Asker, Asking, by_itself
from tidy_tinder.services.recipes.plan_view import PlanView, view_of
from tidy_tinder.services.recipes.rows import chosen_ways, find_recipe
from tidy_tinder.services.recipes.supposing import NOTHING, Supposed, scene_for
from tidy_tinder.services.standins.layered import Wish
from tidy_tinder.services.standins.nearest import Layers
from tidy_tinder.storage.models import CallState, Drawing, Exclusion, RecipeCall, RecipeStep

# So long a thread waits for pairs before it says how far they are.
_MIXING_SECONDS = 0.3
_RECIPE_TABLES = ("recipe_step", "recipe_call")


@dataclass(frozen=True)
class PlanSoFar:
    """The best plan there is yet (None before the first), and how far the work on it is; problem: why there is none, or
    none with pairs; failed: because of a mistake of the program, and it can be tried again.
    """

    plan: PlanView | None
    doing: str
    done: int
    total: int
    ended: bool
    stopped: bool
    problem: str
    failed: bool = False


@dataclass(frozen=True, eq=False)
class _Found:
    """A plan, the question that it answers, the first answer call by call, and whether pairs were looked at."""

    asking: Asking
    plan: Plan
    first: Plan
    pairs: bool


@dataclass(frozen=True)
class _About:
    """What a plan is asked about: all that it depends on."""

    recipe_id: int
    paper_id: int
    closest: Closest
    wish: Wish
    kept: Mapping[int, Layers]
    unwanted: Mapping[int, frozenset[int]]
    supposed: Supposed = NOTHING

    def key(self, scene: Scene) -> Hashable:
        """By which its answer is kept."""
        version = scene.known.version if scene.known is not None else 0
        return (
            self.recipe_id, self.paper_id, self.closest, self.wish, frozenset(self.kept.items()), self.supposed,
            frozenset(self.unwanted.items()), version, scene.at_hand, tables_version(scene.session, _RECIPE_TABLES),
        )  # fmt: skip


def plan_for(
    collection: Collection, recipe_id: int, paper_id: int, closest: Closest, wait: float = 0.0, again: bool = False,
    supposed: Supposed = NOTHING,
) -> PlanSoFar:  # fmt: skip
    """The plan of a recipe on a paper as far as it is; it is begun by asking. Raises NotFoundError, RefusedError.

    wait: seconds to wait for the first answer; again: begin anew what was stopped or failed; supposed: with which
    pencils, where not with those at hand.
    """
    with collection() as session:
        scene = scene_for(session, paper_id, supposed)
        about = _about(session, recipe_id, paper_id, closest, supposed)
        if scene.known is None:
            return PlanSoFar(None, "Your swatches are being worked out", 0, 0, False, False, "")
        found = collection.plans.about(
            about.key(scene), lambda go_on: _think(collection, about, go_on), wait, again
        )  # fmt: skip
        return _told(scene, about, found)


def stop_planning(
    collection: Collection, recipe_id: int, paper_id: int, closest: Closest, supposed: Supposed = NOTHING
) -> None:  # fmt: skip
    """Stop working on a plan; what was found stands. Raises NotFoundError."""
    with collection() as session:
        scene = scene_for(session, paper_id, supposed)
        collection.plans.stop(_about(session, recipe_id, paper_id, closest, supposed).key(scene))


def ways_in_plan(
    collection: Collection, recipe_id: int, paper_id: int, closest: Closest, supposed: Supposed
) -> Mapping[int, Layers]:  # fmt: skip
    """What the plan that was found last lays for each call. Raises NotFoundError, RefusedError where there is none."""
    with collection() as session:
        scene = scene_for(session, paper_id, supposed)
        about = _about(session, recipe_id, paper_id, closest, supposed)
        found = collection.plans.about(about.key(scene), lambda go_on: _think(collection, about, go_on), 0.0)
    if found.answer is None:
        raise RefusedError("There is no plan yet. Wait until one is worked out, and try again.")
    passages = found.answer.plan.passages
    return {
        call.key: way.layers for one in passages for call, way in zip(one.passage.calls, one.ways, strict=True)
    }  # fmt: skip


def wish_for(drawing: Drawing | None) -> Wish:
    """What a drawing leaves out: blacks, where it is made without; what fades, where it is for sale."""
    if drawing is None:
        return Wish()
    return Wish(no_black=drawing.black is Blacks.NONE, lasting=drawing.for_sale)


def _about(session: Session, recipe_id: int, paper_id: int, closest: Closest, supposed: Supposed) -> _About:
    recipe = find_recipe(session, recipe_id)
    drawing = session.get(Drawing, recipe.drawing_id) if recipe.drawing_id else drawing_at_hand(session)
    wish = wish_for(drawing)
    if supposed.no_black is not None:
        wish = replace(wish, no_black=supposed.no_black)
    if supposed.other_hands:
        return _About(recipe_id, paper_id, closest, wish, {}, {}, supposed)
    unwanted: dict[int, set[int]] = {}
    excluded = select(Exclusion).where(Exclusion.recipe_id == recipe_id, Exclusion.paper_id == paper_id)
    for row in session.scalars(excluded):
        unwanted.setdefault(row.call_id, set()).add(row.colour_id)
    kept = {call: way.layers for call, way in chosen_ways(session, recipe_id, paper_id).items() if way.locked}
    frozen = {call: frozenset(pencils) for call, pencils in unwanted.items()}
    return _About(recipe_id, paper_id, closest, wish, kept, frozen, supposed)


def _think(collection: Collection, about: _About, go_on: GoOn) -> Iterator[_Found | Doing]:
    """Plans, each better than the one before: the first with single pencils only while pairs are still being mixed."""
    with collection() as session:
        scene = scene_for(session, about.paper_id, about.supposed)
        known = scene.known
        assert known is not None, "it was there when the plan was asked for"
        pencils = None if about.supposed == NOTHING else scene.at_hand
        mixed = mixed_pairs(session, known, scene.fit, about.paper_id, _MIXING_SECONDS, pencils=pencils)
        early = mixed.table is None and not mixed.failed
        if early:
            asking = _asking(scene, about, None)
            yield from (_Found(asking, one, one, False) for one in _plans(asking, go_on, 1))
        while mixed.table is None and not mixed.failed and go_on():
            yield Doing("Your pencils are being mixed", mixed.done, mixed.total)
            mixed = mixed_pairs(session, known, scene.fit, about.paper_id, _MIXING_SECONDS, pencils=pencils)
        asking = _asking(scene, about, mixed.table)
    first: Plan | None = None
    for one in work_out(asking.question, lambda passage: by_itself(passage, about.closest), go_on):
        if isinstance(one, Step):
            yield Doing("Passages are being laid", one.done, one.total)
        else:
            first = first or one
            yield _Found(asking, one, first, mixed.table is not None)


def _asking(scene: Scene, about: _About, table: PairTable | None) -> Asking:
    assert scene.known is not None, "it was there when the plan was asked for"
    asker = Asker(scene, scene.known, table, about.closest, about.wish, about.kept, about.unwanted)
    return asker.ask(about.recipe_id)


def _plans(asking: Asking, go_on: GoOn, most: int) -> Iterator[Plan]:
    """The first few plans of a question."""
    plans = work_out(asking.question, lambda passage: by_itself(passage, asking.question.closest), go_on)
    yield from islice((one for one in plans if isinstance(one, Plan)), most)


def _told(scene: Scene, about: _About, found: SoFar[_Found]) -> PlanSoFar:
    answer, problem = found.answer, ""
    if found.failed:
        problem = "Working out the plan failed. The reason stands in the window where the program was started."
    elif answer is not None and found.ended and not answer.pairs and not found.stopped:
        problem = MIXING_FAILED
    elif answer is None and found.ended and not found.stopped:
        problem = _why_none(scene.session, about.recipe_id)
    view = None
    if answer is not None:
        now = chosen_ways(scene.session, about.recipe_id, about.paper_id)
        view = view_of(scene, answer.asking, answer.plan, answer.first, now)
    return PlanSoFar(
        view, found.doing, found.done, found.total, found.ended, found.stopped, problem, found.failed
    )  # fmt: skip


def _why_none(session: Session, recipe_id: int) -> str:
    unsettled = select(RecipeCall.id).join(RecipeStep, RecipeCall.step_id == RecipeStep.id)
    mine = (RecipeStep.recipe_id == recipe_id, RecipeCall.state == CallState.UNSETTLED)
    if session.scalar(unsettled.where(*mine).limit(1)) is not None:
        return "Nothing can be planned yet: say first what the calls mean that are still to settle."
    return "Nothing can be planned here: no call of this recipe names a colour whose marks are known."
