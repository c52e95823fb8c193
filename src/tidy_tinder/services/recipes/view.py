"""Recipes looked at on a paper: how each call stands, and what was chosen for it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from sqlalchemy import select

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import Coat, Layer
from tidy_tinder.core.vocabulary import Finish, Pressure, SaidPressure, SaidPurpose, SaidRole, StepKind
from tidy_tinder.formats.recipe_purposes import purpose_in, waits_in
from tidy_tinder.formats.recipe_reading import Span
from tidy_tinder.formats.recipe_short_codes import longer_codes
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.cards import cards_on
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.marks import Mark
from tidy_tinder.services.collection.passage import DEFAULT_PRESSURE, meant
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.recipes.looking_through import left_in
from tidy_tinder.services.recipes.rows import find_recipe
from tidy_tinder.services.standins.in_passage import chosen_layers
from tidy_tinder.services.standins.layered import LayeredOffer
from tidy_tinder.services.standins.mark_beside_mark import RankedOffer, rank_for_colour
from tidy_tinder.storage.models import CallState, Choice, Drawing, Exclusion, Recipe, RecipeCall, RecipeStep
from tidy_tinder.storage.queries.colours import ColourRow


class Answer(StrEnum):
    """How a call stands, in the words of the interface."""

    OWNED = "owned"
    STAND_IN = "stand-in"
    OPEN = "open"
    UNSETTLED = "to settle"
    DISMISSED = "not a colour"


@dataclass(frozen=True)
class RecipeCard:
    """A recipe in the list: its title and how its calls stand; to_look_through: lines that may name more colours."""

    id: int
    title: str
    calls: int
    owned: int
    stand_ins: int
    open: int
    unsettled: int
    to_look_through: int


@dataclass(frozen=True)
class Called:
    """A colour that a recipe calls for, with its mark on the paper at hand; at_hand: whether it can be drawn with."""

    colour: ColourRow
    mark: Mark
    owning: Owning
    at_hand: bool


@dataclass(frozen=True)
class ListedRecipe(RecipeCard):
    """A recipe in the list. drawing: the name of the drawing that it belongs to, "" for none; called: the colours that
    it calls for, each once, in order of value from light to dark.
    """

    drawing: str
    called: tuple[Called, ...]


@dataclass(frozen=True)
class CallView:
    """One call on a paper. start: where its words stand in the step's text.

    elsewhere: owned, but in no tin that is with her today. candidates: what an unsettled call can mean. other: the
    second of “A or B”, where `colour` is the one that counts now. chosen: the pencil chosen for this paper, with
    how it differs from what is wanted; layered: the layers chosen for it, in the passage; working: these are still
    being worked out. locked: a plan leaves what is chosen as it is; excluded: pencils that plans do not offer for
    it.
    """

    id: int
    # It says nothing of what the call is: undo brings back the same call with a higher one.
    revision: int = field(compare=False)
    as_written: str
    start: int
    answer: Answer
    colour: ColourRow | None
    other: ColourRow | None
    owning: Owning
    elsewhere: bool
    mark: Mark | None
    pressure: SaidPressure
    compared_at: Pressure
    layers: int
    role: SaidRole
    problem: str
    candidates: tuple[ColourRow, ...]
    chosen: RankedOffer | None
    layered: LayeredOffer | None
    working: bool
    locked: bool
    excluded: tuple[ColourRow, ...]


@dataclass(frozen=True)
class StepView:
    """One line of a recipe; number counts the steps only. purpose, waits: as the artist says, else by its words;
    said_purpose, said_waits: what she says, "" and False where nothing. to_look_through: the artist is still to say
    whether it names more colours; left: where the words stand that may.
    """

    id: int
    # It says nothing of what the line is.
    revision: int = field(compare=False)
    kind: StepKind
    number: int | None
    area: str
    text: str
    pressure: SaidPressure
    layers: int
    finish: Finish
    purpose: SaidPurpose
    waits: bool
    said_purpose: SaidPurpose
    said_waits: bool
    to_look_through: bool
    left: tuple[Span, ...]
    calls: tuple[CallView, ...]


@dataclass(frozen=True)
class RecipeView:
    """A recipe on a paper. revision: to change its lines with; edited: they are not as they were taken in."""

    id: int
    revision: int
    title: str
    source_text: str
    edited: bool
    steps: tuple[StepView, ...]
    card: RecipeCard


def recipe_cards(collection: Collection, paper_id: int) -> tuple[ListedRecipe, ...]:
    """All recipes in order, each with how its calls stand on a paper, and the marks of what they ask for."""
    with collection() as session:
        scene = Scene.on(session, paper_id)
        chosen = set(session.scalars(select(Choice.call_id).where(Choice.paper_id == paper_id)))
        calls: dict[int, list[tuple[Answer, int | None]]] = {}
        query = select(RecipeStep.recipe_id, RecipeCall).join(RecipeStep, RecipeCall.step_id == RecipeStep.id)
        for recipe_id, call in session.execute(query).all():
            colour_id = meant(call, scene.at_hand)
            answer = _answer(call.state, colour_id in scene.at_hand, call.id in chosen)
            calls.setdefault(recipe_id, []).append((answer, colour_id))
        to_look = Counter(session.scalars(select(RecipeStep.recipe_id).where(RecipeStep.to_look_through)))
        drawings = {drawing.id: drawing.name for drawing in session.scalars(select(Drawing))}
        recipes = session.scalars(select(Recipe).order_by(Recipe.position, Recipe.id)).all()
        return tuple(
            _listed(
                scene, recipe, calls.get(recipe.id, []), to_look[recipe.id], drawings.get(recipe.drawing_id or 0, "")
            )
            for recipe in recipes
        )


def _listed(
    scene: Scene, recipe: Recipe, calls: Sequence[tuple[Answer, int | None]], to_look_through: int, drawing: str
) -> ListedRecipe:  # fmt: skip
    cards = cards_on(scene.session, scene.paper).by_id
    called = [cards[i] for i in dict.fromkeys(i for _, i in calls if i is not None)]
    # What has no known value comes last.
    called.sort(key=lambda card: -card.order.value if card.order else 1.0)
    marks = tuple(
        Called(card.colour, scene.marks[card.colour.id], scene.owning(card.colour.id), card.colour.id in scene.at_hand)
        for card in called
    )
    return ListedRecipe(
        **vars(_card(recipe, [answer for answer, _ in calls], to_look_through)), drawing=drawing, called=marks
    )


def open_recipe(collection: Collection, recipe_id: int, paper_id: int, closest: Closest) -> RecipeView:
    """A recipe with every call answered on a paper. Raises NotFoundError."""
    with collection() as session:
        recipe = find_recipe(session, recipe_id)
        reader = _CallReader(Scene.on(session, paper_id), closest, recipe)
        steps = session.scalars(
            select(RecipeStep).where(RecipeStep.recipe_id == recipe_id).order_by(RecipeStep.position)
        ).all()
        calls = {step.id: reader.calls_of(step) for step in steps}
        numbers = iter(range(1, len(steps) + 1))
        views = tuple(
            StepView(
                s.id, s.revision, s.kind, next(numbers) if s.kind == StepKind.STEP else None, s.area, s.text,
                s.pressure, s.layers, s.finish, s.purpose or purpose_in(s.text), s.waits or waits_in(s.text), s.purpose,
                s.waits, s.to_look_through, left_in(s, reader.catalogue), calls[s.id],
            )
            for s in steps
        )  # fmt: skip
        answers = [call.answer for step in views for call in step.calls]
        to_look_through = sum(step.to_look_through for step in views)
        edited = recipe.edited_at is not None
        return RecipeView(
            recipe.id, recipe.revision, recipe.title, recipe.source_text, edited, views,
            _card(recipe, answers, to_look_through),
        )  # fmt: skip


class _CallReader:
    """Answers calls of one recipe on one paper."""

    def __init__(self, scene: Scene, closest: Closest, recipe: Recipe) -> None:
        self._scene = scene
        self._closest = closest
        self.catalogue = catalogue_of(scene.session)
        self._longer = longer_codes((call.as_written, call.colour_id) for step in recipe.steps for call in step.calls)
        chosen = select(Choice).where(Choice.recipe_id == recipe.id, Choice.paper_id == scene.paper.id)
        self._chosen: dict[int, Choice] = {row.call_id: row for row in scene.session.scalars(chosen)}
        excluded = select(Exclusion).where(Exclusion.recipe_id == recipe.id, Exclusion.paper_id == scene.paper.id)
        self._excluded: dict[int, list[int]] = {}
        for row in scene.session.scalars(excluded.order_by(Exclusion.id)):
            self._excluded.setdefault(row.call_id, []).append(row.colour_id)

    def calls_of(self, step: RecipeStep) -> tuple[CallView, ...]:
        """The calls of a step, in the order in which they go down."""
        return tuple(self._view(call) for call in step.calls)

    def _view(self, call: RecipeCall) -> CallView:
        scene, colour_id = self._scene, meant(call, self._scene.at_hand) or 0
        colour = scene.colours.get(colour_id)
        left = call.colour_id if colour_id == call.other_colour_id else call.other_colour_id
        chosen = self._chosen.get(call.id)
        answer = _answer(call.state, colour_id in scene.at_hand, chosen is not None)
        stands_in = answer is Answer.STAND_IN
        return CallView(
            id=call.id,
            revision=call.revision,
            as_written=call.as_written,
            start=call.start,
            answer=answer,
            colour=colour,
            other=scene.colours.get(left or 0),
            owning=scene.owning(colour_id),
            elsewhere=any(p.drawable for p in scene.pencils.get(colour_id, ())) and colour_id not in scene.at_hand,
            mark=scene.marks[colour.id] if colour else None,
            pressure=call.pressure,
            compared_at=call.pressure or DEFAULT_PRESSURE,
            layers=call.layers,
            role=call.role,
            problem=call.problem if answer is Answer.UNSETTLED else "",
            candidates=self._candidates(call) if answer is Answer.UNSETTLED else (),
            chosen=self._offer(call, chosen.colour_id) if stands_in and chosen and not chosen.pressure else None,
            layered=self._layers(call, chosen) if stands_in and chosen and chosen.pressure else None,
            working=stands_in and scene.known is None,
            locked=stands_in and chosen is not None and chosen.locked,
            excluded=tuple(scene.colours[i] for i in self._excluded.get(call.id, ())),
        )

    def _layers(self, call: RecipeCall, chosen: Choice) -> LayeredOffer | None:
        """The chosen layers in their passage; None where they cannot be laid any more."""
        if self._scene.known is None or not chosen.pressure:
            return None
        layers = [Layer(chosen.colour_id, chosen.pressure, chosen.layers)]
        if chosen.over_colour_id is not None and chosen.over_pressure:
            layers.append(Layer(chosen.over_colour_id, chosen.over_pressure, chosen.over_layers))
        return chosen_layers(self._scene, self._scene.known, call, self._closest, layers)

    def _offer(self, call: RecipeCall, chosen: int) -> RankedOffer | None:
        """The chosen pencil with how it differs; None where it is not at hand any more."""
        coat = Coat(call.pressure or DEFAULT_PRESSURE, call.layers)
        ranking = rank_for_colour(self._scene, call.colour_id or 0, coat, self._closest, limit=None)
        return next((o for o in ranking.on_paper + ranking.by_chart if o.colour.id == chosen), None)

    def _candidates(self, call: RecipeCall) -> tuple[ColourRow, ...]:
        """What an unsettled call can mean: a code of the recipe that it is short for, then by the charts now."""
        finding = self.catalogue.suggest(call.as_written)
        both = finding.conflict.by_code + finding.conflict.by_name if finding.conflict else ()
        longer = self._longer.get(call.as_written)
        keys = dict.fromkeys([*([longer.key] if longer else []), *(entry.key for entry in finding.hits or both)])
        return tuple(self._scene.colours[key] for key in keys)[:8]


def _answer(state: CallState, owned: bool, chosen: bool) -> Answer:
    """How a call stands."""
    if state == CallState.UNSETTLED:
        return Answer.UNSETTLED
    if state == CallState.DISMISSED:
        return Answer.DISMISSED
    if owned:
        return Answer.OWNED
    return Answer.STAND_IN if chosen else Answer.OPEN


def _card(recipe: Recipe, answers: Sequence[Answer], to_look_through: int) -> RecipeCard:
    """How the calls of a recipe stand, counted; what is no colour does not count."""
    count = {answer: answers.count(answer) for answer in Answer}
    real = len(answers) - count[Answer.DISMISSED]
    return RecipeCard(
        recipe.id, recipe.title, real, count[Answer.OWNED], count[Answer.STAND_IN], count[Answer.OPEN],
        count[Answer.UNSETTLED], to_look_through,
    )  # fmt: skip
