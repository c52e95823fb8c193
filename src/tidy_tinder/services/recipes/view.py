"""Station 4, first part: recipes pasted as text, their calls, and what is chosen for each."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import Enum

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.layers import LaidLayer
from tidy_tinder.core.names.finding import Entry
from tidy_tinder.core.standins.pairs import Coat
from tidy_tinder.formats.recipe_text import LONGEST_TEXT, ReadCall, RecipeReading, read_recipe
from tidy_tinder.services.background.runtime import Collection, fitted
from tidy_tinder.services.collection.at_hand import Owning, at_hand_now
from tidy_tinder.services.collection.chart import catalogue_of
from tidy_tinder.services.collection.marks import Mark, charted_colours, find_paper, marks_on
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, writing
from tidy_tinder.services.standins.in_passage import LayeredOffer, chosen_layers
from tidy_tinder.services.standins.mark_beside_mark import DEFAULT_PRESSURE, RankedOffer, rank_for_colour
from tidy_tinder.storage.models import Choice, Colour, Paper, Recipe, RecipeCall, RecipeStep
from tidy_tinder.storage.queries.colours import ColourRow, pencils_by_colour


class Answer(Enum):
    """How a call stands, in the words of the interface."""

    OWNED = "owned"
    STAND_IN = "stand-in"
    OPEN = "open"
    UNSETTLED = "to settle"
    DISMISSED = "not a colour"


@dataclass(frozen=True)
class RecipeCard:
    """A recipe in the list: its title and how its calls stand."""

    id: int
    title: str
    calls: int
    owned: int
    stand_ins: int
    open: int
    unsettled: int


@dataclass(frozen=True)
class CallView:
    """One call on a paper. start: where its words stand in the step's text.

    elsewhere: owned, but in no tin that is with her today. candidates: what an unsettled call can mean.
    chosen: the pencil chosen for this paper, with how it differs from what is wanted; layered: the layers chosen for
    it, in the passage; working: these are still being worked out.
    """

    id: int
    as_written: str
    start: int
    answer: Answer
    colour: ColourRow | None
    owning: Owning
    elsewhere: bool
    mark: Mark | None
    pressure: str
    compared_at: str
    layers: int
    role: str
    problem: str
    candidates: tuple[ColourRow, ...]
    chosen: RankedOffer | None
    layered: LayeredOffer | None
    working: bool


@dataclass(frozen=True)
class StepView:
    """One line of a recipe; number counts the steps only."""

    id: int
    kind: str
    number: int | None
    area: str
    text: str
    pressure: str
    layers: int
    finish: str
    calls: tuple[CallView, ...]


@dataclass(frozen=True)
class RecipeView:
    """A recipe on a paper."""

    id: int
    title: str
    source_text: str
    steps: tuple[StepView, ...]
    card: RecipeCard


@dataclass(frozen=True)
class ReadCallPreview:
    """A call of a text that is only being looked at: the colour it is read as, or what it can mean."""

    call: ReadCall
    colour: Entry | None
    candidates: tuple[Entry, ...]


def preview_recipe(collection: Collection, text: str) -> tuple[RecipeReading, tuple[ReadCallPreview, ...]]:
    """How a pasted text would be read; nothing is kept. Raises RefusedError where there is nothing to read."""
    with collection() as session:
        reading = _read(session, text)
        entries = {entry.key: entry for entry in catalogue_of(session).entries}
    calls = tuple(
        ReadCallPreview(call, entries.get(call.key or 0), tuple(entries[key] for key in call.candidates))
        for call in reading.calls
    )
    return reading, calls


def save_recipe(collection: Collection, text: str, title: str = "") -> tuple[int, Changed]:
    """Read a pasted text and keep it: its number, and the change. Raises RefusedError for an empty text."""
    with writing(collection, "Recipe") as session:
        reading = _read(session, text)
        last = session.scalar(select(func.max(Recipe.position))) or 0
        recipe = Recipe(title=title.strip() or reading.title, source_text=text, position=last + 1)
        session.add(recipe)
        session.flush()
        _add_steps(session, recipe.id, reading)
        session.info["journal_change"].label = f"Recipe “{recipe.title}” taken in"
        return recipe.id, changed(session)


def remove_recipe(collection: Collection, recipe_id: int) -> Changed:
    """Remove a recipe with its calls and choices; undo brings all of it back. Raises NotFoundError."""
    with writing(collection, "Recipe removed") as session:
        recipe = _recipe(session, recipe_id)
        session.info["journal_change"].label = f"Recipe “{recipe.title}” removed"
        steps = session.scalars(select(RecipeStep).where(RecipeStep.recipe_id == recipe_id)).all()
        calls = session.scalars(select(RecipeCall).where(RecipeCall.step_id.in_([s.id for s in steps]))).all()
        choices = session.scalars(select(Choice).where(Choice.recipe_id == recipe_id)).all()
        # Children first, each by the ORM: what the database removed by itself would not be in the journal.
        for rows in (choices, calls, steps, [recipe]):
            for row in rows:
                session.delete(row)
            session.flush()
        return changed(session)


def recipe_cards(collection: Collection, paper_id: int) -> tuple[RecipeCard, ...]:
    """All recipes in order, each with how its calls stand on a paper."""
    with collection() as session:
        find_paper(session, paper_id)
        hand = at_hand_now(session)
        owned = {i for i, pencils in pencils_by_colour(session).items() if hand.has(pencils)}
        chosen = set(session.scalars(select(Choice.call_id).where(Choice.paper_id == paper_id)))
        calls: dict[int, list[Answer]] = {}
        query = select(RecipeStep.recipe_id, RecipeCall.id, RecipeCall.state, RecipeCall.colour_id).join(
            RecipeStep, RecipeCall.step_id == RecipeStep.id
        )
        for recipe_id, call_id, state, colour_id in session.execute(query).all():
            answer = _answer(state, colour_id in owned, call_id in chosen)
            calls.setdefault(recipe_id, []).append(answer)
        recipes = session.scalars(select(Recipe).order_by(Recipe.position, Recipe.id)).all()
        return tuple(_card(recipe, calls.get(recipe.id, [])) for recipe in recipes)


def open_recipe(collection: Collection, recipe_id: int, paper_id: int, closest: Closest) -> RecipeView:
    """A recipe with every call answered on a paper. Raises NotFoundError."""
    with collection() as session:
        recipe = _recipe(session, recipe_id)
        paper = find_paper(session, paper_id)
        steps = session.scalars(
            select(RecipeStep).where(RecipeStep.recipe_id == recipe_id).order_by(RecipeStep.position)
        ).all()
        reader = _CallReader(session, paper, closest, recipe_id)
        calls = {step.id: reader.calls_of(step) for step in steps}
        numbers = iter(range(1, len(steps) + 1))
        views = tuple(
            StepView(
                s.id, s.kind, next(numbers) if s.kind == "step" else None, s.area, s.text, s.pressure, s.layers,
                s.finish, calls[s.id],
            )
            for s in steps
        )  # fmt: skip
        answers = [call.answer for step in views for call in step.calls]
        return RecipeView(recipe.id, recipe.title, recipe.source_text, views, _card(recipe, answers))


def settle_call(collection: Collection, call_id: int, colour_id: int | None) -> Changed:
    """Say which colour a call means; None says that it is no colour at all. Raises NotFoundError."""
    with writing(collection, "Call settled") as session:
        call = _call(session, call_id)
        if colour_id is None:
            call.state, call.colour_id = "dismissed", None
            label = f"“{call.as_written}” is no colour"
        else:
            colour = session.get(Colour, colour_id)
            if colour is None:
                raise NotFoundError(f"There is no colour number {colour_id}.")
            call.state, call.colour_id = "settled", colour_id
            label = f"“{call.as_written}” means {colour.code} {colour.name}"
        for choice in session.scalars(select(Choice).where(Choice.call_id == call_id)):
            session.delete(choice)
        session.info["journal_change"].label = label
        return changed(session)


def choose_standin(
    collection: Collection, call_id: int, paper_id: int, colour_id: int, laid: Sequence[LaidLayer] = ()
) -> Changed:
    """Use a pencil for a call on a paper from now on; another choice there is replaced.

    laid: one or two layers, the lower first, where it is not simply laid as the call asks; the first is of this colour.
    Raises NotFoundError, and RefusedError for a colour that is not at hand, an unsettled call, or layers that do not
    begin with this colour.
    """
    with writing(collection, "Stand-in chosen") as session:
        call, paper = _call(session, call_id), find_paper(session, paper_id)
        if call.colour_id is None:
            raise RefusedError(f"“{call.as_written}” is not settled yet: say first which colour is meant.")
        if laid and laid[0].pencil != colour_id:
            raise RefusedError("The first layer is not of the pencil that is chosen.")
        names = [_at_hand(session, i) for i in (colour_id, *(one.pencil for one in laid[1:]))]
        recipe_id = session.scalar(select(RecipeStep.recipe_id).where(RecipeStep.id == call.step_id)) or 0
        row = session.scalar(select(Choice).where(Choice.call_id == call_id, Choice.paper_id == paper_id))
        if row is None:
            row = Choice(recipe_id=recipe_id, call_id=call_id, paper_id=paper_id, colour_id=colour_id)
            session.add(row)
        below, over = laid[0] if laid else None, laid[1] if len(laid) > 1 else None
        row.colour_id = colour_id
        row.pressure, row.layers = (below.pressure, below.layers) if below else ("", 1)
        row.over_colour_id = over.pencil if over else None
        row.over_pressure, row.over_layers = (over.pressure, over.layers) if over else ("", 1)
        label = f"{names[0]} stands in" if over is None else f"{names[0]} under {names[1]} stand in"
        session.info["journal_change"].label = f"{label} on {paper.name}"
        return changed(session)


def _at_hand(session: Session, colour_id: int) -> str:
    """The code and name of a colour; raises where there is none or it cannot be drawn with."""
    colour = session.get(Colour, colour_id)
    if colour is None:
        raise NotFoundError(f"There is no colour number {colour_id}.")
    if not at_hand_now(session).has(pencils_by_colour(session).get(colour_id, ())):
        raise RefusedError(f"{colour.code} {colour.name} is not at hand, so it cannot stand in.")
    return f"{colour.code} {colour.name}"


def clear_choice(collection: Collection, call_id: int, paper_id: int) -> Changed:
    """Leave a call open again on a paper. Raises NotFoundError where nothing was chosen."""
    with writing(collection, "Stand-in taken back") as session:
        row = session.scalar(select(Choice).where(Choice.call_id == call_id, Choice.paper_id == paper_id))
        if row is None:
            raise NotFoundError("No stand-in is chosen for this call on this paper.")
        session.delete(row)
        return changed(session)


class _CallReader:
    """Answers calls of one recipe on one paper."""

    def __init__(self, session: Session, paper: Paper, closest: Closest, recipe_id: int) -> None:
        self._session = session
        self._paper = paper
        self._closest = closest
        self._colours: Mapping[int, ColourRow] = {row.id: row for row in charted_colours(session)}
        self._catalogue = catalogue_of(session)
        self._pencils = pencils_by_colour(session)
        self._hand = at_hand_now(session)
        self._marks = marks_on(session, paper)
        self._known = fitted(session)
        chosen = select(Choice).where(Choice.recipe_id == recipe_id, Choice.paper_id == paper.id)
        self._chosen: dict[int, Choice] = {row.call_id: row for row in session.scalars(chosen)}

    def calls_of(self, step: RecipeStep) -> tuple[CallView, ...]:
        """The calls of a step, in the order in which they go down."""
        return tuple(self._view(call) for call in step.calls)

    def _view(self, call: RecipeCall) -> CallView:
        pencils = self._pencils.get(call.colour_id or 0, ())
        colour = self._colours.get(call.colour_id or 0)
        chosen = self._chosen.get(call.id)
        answer = _answer(call.state, self._hand.has(pencils), chosen is not None)
        pressure = call.pressure or DEFAULT_PRESSURE
        stands_in = answer is Answer.STAND_IN
        return CallView(
            id=call.id,
            as_written=call.as_written,
            start=call.start,
            answer=answer,
            colour=colour,
            owning=self._hand.owning(pencils),
            elsewhere=any(p.drawable for p in pencils) and not self._hand.has(pencils),
            mark=self._marks[colour.id] if colour else None,
            pressure=call.pressure,
            compared_at=pressure,
            layers=call.layers,
            role=call.role,
            problem=call.problem if answer is Answer.UNSETTLED else "",
            candidates=self._candidates(call) if answer is Answer.UNSETTLED else (),
            chosen=self._offer(call, chosen.colour_id) if stands_in and chosen and not chosen.pressure else None,
            layered=self._layers(call, chosen) if stands_in and chosen and chosen.pressure else None,
            working=stands_in and self._known is None,
        )

    def _layers(self, call: RecipeCall, chosen: Choice) -> LayeredOffer | None:
        """The chosen layers in their passage; None where they cannot be laid any more."""
        if self._known is None:
            return None
        layers = [(chosen.colour_id, Coat(chosen.pressure, chosen.layers))]
        if chosen.over_colour_id is not None:
            layers.append((chosen.over_colour_id, Coat(chosen.over_pressure, chosen.over_layers)))
        return chosen_layers(self._session, self._known, self._paper, call, self._closest, layers)

    def _offer(self, call: RecipeCall, chosen: int) -> RankedOffer | None:
        """The chosen pencil with how it differs; None where it is not at hand any more."""
        ranking = rank_for_colour(
            self._session, call.colour_id or 0, self._paper, call.pressure or DEFAULT_PRESSURE, call.layers,
            self._closest, limit=len(self._pencils) + 1,
        )  # fmt: skip
        return next((o for o in ranking.on_paper + ranking.by_chart if o.colour.id == chosen), None)

    def _candidates(self, call: RecipeCall) -> tuple[ColourRow, ...]:
        """What an unsettled call can mean by the charts as they are now."""
        finding = self._catalogue.suggest(call.as_written)
        both = finding.conflict.by_code + finding.conflict.by_name if finding.conflict else ()
        keys = dict.fromkeys(entry.key for entry in finding.hits or both)
        return tuple(self._colours[key] for key in keys)[:8]


def _answer(state: str, owned: bool, chosen: bool) -> Answer:
    """How a call stands."""
    if state == "unsettled":
        return Answer.UNSETTLED
    if state == "dismissed":
        return Answer.DISMISSED
    if owned:
        return Answer.OWNED
    return Answer.STAND_IN if chosen else Answer.OPEN


def _card(recipe: Recipe, answers: list[Answer]) -> RecipeCard:
    """How the calls of a recipe stand, counted; what is no colour does not count."""
    count = {answer: answers.count(answer) for answer in Answer}
    real = len(answers) - count[Answer.DISMISSED]
    return RecipeCard(
        recipe.id, recipe.title, real, count[Answer.OWNED], count[Answer.STAND_IN], count[Answer.OPEN],
        count[Answer.UNSETTLED],
    )  # fmt: skip


def _read(session: Session, text: str) -> RecipeReading:
    if not text.strip():
        raise RefusedError("There is no text yet. Paste the recipe as it was written, one step a line.")
    if len(text) > LONGEST_TEXT:
        raise RefusedError(f"The text has {len(text)} characters; a recipe has at most {LONGEST_TEXT}. Split it.")
    return read_recipe(text, catalogue_of(session))


def _add_steps(session: Session, recipe_id: int, reading: RecipeReading) -> None:
    for position, step in enumerate(reading.steps):
        row = RecipeStep(
            recipe_id=recipe_id, position=position, kind=step.kind, area=step.area, text=step.text,
            pressure=step.pressure, layers=step.layers, finish=step.finish,
        )  # fmt: skip
        session.add(row)
        session.flush()
        session.add_all(_call_row(row.id, i, call) for i, call in enumerate(step.calls))


def _call_row(step_id: int, position: int, call: ReadCall) -> RecipeCall:
    return RecipeCall(
        step_id=step_id, position=position, as_written=call.as_written, start=call.start, colour_id=call.key,
        state="read" if call.key is not None else "unsettled", problem=call.problem, pressure=call.pressure,
        layers=call.layers, role=call.role,
    )  # fmt: skip


def _recipe(session: Session, recipe_id: int) -> Recipe:
    recipe = session.get(Recipe, recipe_id)
    if recipe is None:
        raise NotFoundError(f"There is no recipe number {recipe_id}. It may have been removed in another window.")
    return recipe


def _call(session: Session, call_id: int) -> RecipeCall:
    call = session.get(RecipeCall, call_id)
    if call is None:
        raise NotFoundError(f"There is no call number {call_id}. It may have been removed in another window.")
    return call
