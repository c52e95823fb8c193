"""A recipe checked on a paper: what will not work, what is to be minded, and the advice followed by a button."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tidy_tinder.core.layering.prediction.stacks import FittedLayer, predict_stacks
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.checks.cautions import FIRST, Caution, cautions_for
from tidy_tinder.core.planning.checks.facts import CheckedCall, CheckedRecipe, CheckedStep
from tidy_tinder.core.planning.checks.finding import Act, Finding, Remedy, Rule
from tidy_tinder.core.planning.checks.rules import check
from tidy_tinder.core.standins.roles import is_black
from tidy_tinder.core.vocabulary import Blacks, Opacity, Pressure, StepKind, WorkOrder
from tidy_tinder.formats.recipe_purposes import in_places, materials_in, purpose_in, waits_in
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.collection.passage import layer_of, meant
from tidy_tinder.services.collection.preferences import read_list, write_list
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.errors import NotFoundError, RefusedError
from tidy_tinder.services.journal import Changed, changed, now, relabel, writing
from tidy_tinder.services.recipes.editing import Line, Rewriting, lines_of
from tidy_tinder.services.recipes.rows import ChosenWay, chosen_ways, find_recipe
from tidy_tinder.services.recipes.supposing import in_words
from tidy_tinder.services.recipes.versions import keep_as_taken_in
from tidy_tinder.services.standins.nearest import ability_of
from tidy_tinder.storage.models import CallState, Choice, Drawing, Pick, Recipe, RecipeCall, RecipeStep
from tidy_tinder.storage.queries.colours import ColourRow

_OFF = "checks_off"


@dataclass(frozen=True)
class StepCautions:
    """What is to be minded at one step."""

    step: int
    cautions: tuple[Caution, ...]


@dataclass(frozen=True)
class CheckedView:
    """What the checks of a recipe find. off_here, off_everywhere: checks that are switched off; working: what the
    layers look like is not known yet, so that those checks which need it wait; rules: all checks that there are; first:
    what comes before every caution.
    """

    findings: tuple[Finding, ...]
    cautions: tuple[StepCautions, ...]
    off_here: tuple[Rule, ...]
    off_everywhere: tuple[Rule, ...]
    working: bool
    rules: tuple[Rule, ...] = tuple(Rule)
    first: str = FIRST


def check_recipe(collection: Collection, recipe_id: int, paper_id: int) -> CheckedView:
    """What will not work in a recipe as it would be laid on a paper now. Raises NotFoundError."""
    with collection() as session:
        recipe, scene = find_recipe(session, recipe_id), Scene.on(session, paper_id)
        facts = _Facts(scene, recipe).read()
        here, everywhere = _off_in(recipe.checks_off), _off_in(read_list(session, _OFF))
        return CheckedView(
            findings=check(facts, {*here, *everywhere}),
            cautions=tuple(
                StepCautions(step.key, cautions) for step in facts.steps if (cautions := cautions_for(step.materials))
            ),
            off_here=here,
            off_everywhere=everywhere,
            working=scene.known is None,
        )


def switch_check(collection: Collection, recipe_id: int, rule: Rule, off: bool, everywhere: bool) -> Changed | None:
    """Switch a check off or on: for one recipe, or for all of them. Raises NotFoundError."""
    with writing(collection, "Check switched") as session:
        recipe = find_recipe(session, recipe_id)
        now = _off_in(read_list(session, _OFF) if everywhere else recipe.checks_off)
        then = [each.value for each in Rule if (each in now or (each is rule and off)) and (each is not rule or off)]
        if [each.value for each in now] == then:
            return None
        if everywhere:
            write_list(session, _OFF, tuple(then))
        else:
            recipe.checks_off = then
        where = "everywhere" if everywhere else f"for “{recipe.title}”"
        relabel(session, f"The check “{rule}” switched {'off' if off else 'on'} {where}")
        return changed(session)


def follow_advice(
    collection: Collection, recipe_id: int, paper_id: int, rule: Rule, step: int, call: int | None
) -> Changed:
    """Do what a check advises. Raises NotFoundError, and RefusedError where it is not found any more, or nothing can be
    done about it by a button.
    """
    with writing(collection, "Advice followed") as session:
        recipe, scene = find_recipe(session, recipe_id), Scene.on(session, paper_id)
        findings = check(_Facts(scene, recipe).read())
        found = next((each for each in findings if (each.rule, each.step, each.call) == (rule, step, call)), None)
        if found is None:
            raise RefusedError("This is not found any more: the recipe was changed meanwhile. Look at it again.")
        if found.remedy is None:
            raise RefusedError("No button does this: change the recipe by hand.")
        keep_as_taken_in(session, recipe)
        _Remedied(session, recipe, paper_id).apply(found.remedy)
        relabel(session, f"{found.remedy.words} in “{recipe.title}”")
        return changed(session)


class _Facts:
    """Reads a recipe as its checks look at it: what is chosen for a call, else what it asks for."""

    def __init__(self, scene: Scene, recipe: Recipe) -> None:
        self._scene, self._recipe = scene, recipe
        self._chosen: Mapping[int, ChosenWay] = chosen_ways(scene.session, recipe.id, scene.paper.id)

    def read(self) -> CheckedRecipe:
        """All of it."""
        scene, session = self._scene, self._scene.session
        numbers = iter(range(1, len(self._recipe.steps) + 1))
        lines = [(next(numbers) if s.kind == StepKind.STEP else None, s) for s in self._recipe.steps]
        steps = [self._step(number, step) for number, step in lines if step.kind != StepKind.HEADING]
        drawing = session.get(Drawing, self._recipe.drawing_id) if self._recipe.drawing_id else None
        picked = select(func.min(Pick.lab_L)).where(Pick.reference_id == self._recipe.reference_id)
        return CheckedRecipe(
            steps=tuple(self._as_laid(steps)),
            most_layers=scene.paper.most_layers,
            stands_solvent=scene.paper.stands_solvent,
            for_sale=drawing is not None and drawing.for_sale,
            dark_first=drawing is not None and drawing.work_order == WorkOrder.DARK_FIRST,
            darkest_wanted=session.scalar(picked) if self._recipe.reference_id else None,
            darkest_here=self._darkest(drawing is not None and drawing.black == Blacks.NONE),
        )

    def _step(self, number: int | None, step: RecipeStep) -> CheckedStep:
        return CheckedStep(
            key=step.id,
            number=number,
            area=step.area,
            purpose=step.purpose or purpose_in(step.text),
            finish=step.finish,
            waits=step.waits or waits_in(step.text),
            materials=materials_in(step.text),
            in_places=in_places(step.text),
            calls=tuple(call for row in step.calls if (call := self._call(row)) is not None),
        )

    def _call(self, row: RecipeCall) -> CheckedCall | None:
        asked = meant(row, self._scene.at_hand)
        colour = self._scene.colours.get(asked or 0)
        if colour is None or row.state == CallState.DISMISSED:
            return None
        owned, chosen = asked in self._scene.at_hand, self._chosen.get(row.id)
        layers = chosen.layers if chosen is not None and not owned else (layer_of(row, asked),)
        rows = [self._scene.colours[one.pencil] for one in layers]
        weakest = next((each for each in rows if not each.lasts), rows[0])
        ability = ability_of(self._scene, colour.id)
        return CheckedCall(
            key=row.id,
            colour=colour.id,
            name=_named(layers, self._scene.colours, colour),
            asked=in_words(colour),
            layers=layers,
            role=row.role,
            masstone=ability.masstone,
            opacity=Opacity.OPAQUE if any(each.opacity == Opacity.OPAQUE for each in rows) else rows[0].opacity,
            rated=weakest.rated,
            own_test=weakest.tested != "",
        )

    def _as_laid(self, steps: Sequence[CheckedStep]) -> Iterator[CheckedStep]:
        """The same with what each call leaves, where that is known: each passage as it grows, on the bare paper."""
        if self._scene.known is None:
            yield from steps
            return
        below: dict[str, list[FittedLayer]] = {}
        stacks: list[list[FittedLayer]] = []
        at: dict[int, int] = {}
        for step in steps:
            for call in step.calls:
                laid = self._scene.modelled(call.layers)
                if laid is None:
                    continue
                passage = below.setdefault(step.area, [])
                passage.extend(laid)
                at[call.key] = len(stacks)
                stacks += [list(passage), laid]
        # Only what is expected is asked for: nobody's doubts count.
        seen = predict_stacks(stacks, self._scene.fit, doubted=())
        for step in steps:
            calls = tuple(
                replace(call, after=seen.lab[i], room=float(seen.room[i]), alone=seen.lab[i + 1])
                if (i := at.get(call.key)) is not None
                else call
                for call in step.calls
            )
            yield replace(step, calls=calls)

    def _darkest(self, no_black: bool) -> tuple[str, float] | None:
        """The pencil at hand whose heavy mark is the darkest here."""
        if self._scene.known is None:
            return None
        reached = [
            (float(mark.lab[0]), i)
            for i in self._scene.at_hand
            if (mark := self._scene.predicted().of(i, Pressure.HEAVY)) is not None
            and not (no_black and is_black(ability_of(self._scene, i)))
        ]
        if not reached:
            return None
        value, darkest = min(reached)
        row = self._scene.colours[darkest]
        return in_words(row), value


class _Remedied:
    """Does what a remedy says to a recipe."""

    def __init__(self, session: Session, recipe: Recipe, paper_id: int) -> None:
        self._session, self._recipe, self._paper_id = session, recipe, paper_id

    def apply(self, remedy: Remedy) -> None:
        """Do it. Raises RefusedError where a line is gone."""
        if remedy.act in (Act.PRESS, Act.LAYERS):
            self._lay(remedy)
            return
        lines = lines_of(self._recipe)
        at = _place(lines, remedy.step)
        match remedy.act:
            case Act.WAIT:
                lines[at] = replace(lines[at], waits=True)
            case Act.ADD_AFTER:
                lines.insert(at + 1, Line(remedy.text))
            case Act.MOVE_BEFORE | Act.MOVE_AFTER:
                line = lines.pop(at)
                lines.insert(_place(lines, remedy.beside) + (remedy.act is Act.MOVE_AFTER), line)
        Rewriting(self._session, self._recipe).write(lines)

    def _lay(self, remedy: Remedy) -> None:
        """Lay a call otherwise: what stands in for it, where that has layers of its own, else what it asks for."""
        mine = (Choice.call_id == remedy.call, Choice.paper_id == self._paper_id, Choice.pressure != "")
        choice = self._session.scalar(select(Choice).where(*mine))
        call = self._session.get_one(RecipeCall, remedy.call)
        if choice is None:
            call.pressure, call.layers = remedy.pressure or call.pressure, remedy.layers or call.layers
        elif choice.over_colour_id is not None:
            choice.over_pressure = remedy.pressure or choice.over_pressure
            choice.over_layers = remedy.layers or choice.over_layers
        else:
            choice.pressure, choice.layers = remedy.pressure or choice.pressure, remedy.layers or choice.layers
        self._recipe.edited_at = now()


def _named(layers: Sequence[Layer[int]], colours: Mapping[int, ColourRow], asked: ColourRow) -> str:
    """What is laid, and what it stands in for."""
    if [one.pencil for one in layers] == [asked.id]:
        return in_words(asked)
    return f"{' and '.join(in_words(colours[one.pencil]) for one in layers)} (for {asked.code})"


def _place(lines: Sequence[Line], step: int | None) -> int:
    place = next((i for i, line in enumerate(lines) if line.id == step), None)
    if place is None:
        raise NotFoundError("A line of this recipe is gone. Open it again.")
    return place


def _off_in(names: Sequence[str]) -> tuple[Rule, ...]:
    """The checks of these names; one that a newer program knew is left out."""
    return tuple(rule for rule in Rule if rule.value in names)
