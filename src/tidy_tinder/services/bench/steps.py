"""One step of a recipe as it is worked: which pencils, where they stand, how they are laid, what it will look like."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import func, select

from tidy_tinder.core.difference.components import Difference, difference
from tidy_tinder.core.layers import Layer
from tidy_tinder.core.planning.checks.cautions import Caution, cautions_for
from tidy_tinder.core.vocabulary import Finish, Material, SaidPurpose, StepKind, StepState, Wetting
from tidy_tinder.formats.recipe_purposes import materials_in, purpose_in, waits_in
from tidy_tinder.services.bench.preparation import Needs
from tidy_tinder.services.bench.rows import is_worked
from tidy_tinder.services.collection.at_hand import Owning
from tidy_tinder.services.collection.marks import Mark
from tidy_tinder.services.collection.paper import paper_lab
from tidy_tinder.services.collection.passage import layer_of, meant
from tidy_tinder.services.collection.patches import Seen, Trust, patch
from tidy_tinder.services.collection.scene import Scene
from tidy_tinder.services.collection.stacks import look_at
from tidy_tinder.services.recipes.rows import ChosenWay, chosen_ways
from tidy_tinder.storage.models import CallState, LogEntry, Recipe, RecipeCall, RecipeStep, StepMark
from tidy_tinder.storage.queries.colours import ColourRow


@dataclass(frozen=True)
class StepLine:
    """A step in the list: done: in how many sections it is done or skipped; of: in how many it is to be done."""

    id: int
    number: int
    area: str
    text: str
    state: StepState
    done: int
    of: int


@dataclass(frozen=True)
class ToLay:
    """A pencil of a step. call_id: the call that it serves; place: tin and slot, "" where nobody said; ticked: layers
    that are laid here already; stands_in_for: the colour that is called for, where this is another; apart: how the
    whole of the stand-in differs from it, with its last pencil.
    """

    call_id: int
    layer: Layer[int]
    colour: ColourRow
    mark: Mark
    owning: Owning
    place: str
    ticked: int
    stands_in_for: ColourRow | None
    apart: Difference | None


@dataclass(frozen=True)
class StepAtBench:
    """The step at hand in the section at hand. missing: calls with no pencil yet, as they are written; now, after: the
    passage before and after it on the drawing's paper, None where it is not known; changes: what the step does; notes:
    lines of the recipe that are to be read before it.
    """

    id: int
    number: int
    of: int
    area: str
    text: str
    notes: tuple[str, ...]
    purpose: SaidPurpose
    waits: bool
    state: StepState
    pencils: tuple[ToLay, ...]
    missing: tuple[str, ...]
    now: Seen | None
    after: Seen | None
    changes: Difference | None
    wetting: Wetting | None
    cautions: tuple[Caution, ...]


class RecipeAtBench:
    """A recipe worked on a drawing's paper."""

    def __init__(self, scene: Scene, recipe: Recipe, drawing_id: int) -> None:
        self._scene, self._drawing_id = scene, drawing_id
        self.steps: Sequence[RecipeStep] = [step for step in recipe.steps if is_worked(step)]
        self._notes = _notes_before(recipe.steps)
        self._chosen: Mapping[int, ChosenWay] = chosen_ways(scene.session, recipe.id, scene.paper.id)
        marks = select(StepMark).where(StepMark.drawing_id == drawing_id)
        self._marks = {(m.step_id, m.section_id): m.state for m in scene.session.scalars(marks)}

    @property
    def needs(self) -> Needs:
        """What it names that something is to be made ready for."""
        texts = [step.text for step in self.steps]
        return Needs(
            frozenset(purpose for step in self.steps if (purpose := step.purpose or purpose_in(step.text))),
            frozenset(step.finish for step in self.steps),
            frozenset(material for text in texts for material in materials_in(text)),
        )

    @property
    def missing(self) -> tuple[str, ...]:
        """Its calls with no pencil at hand or chosen, as they are written."""
        return tuple(call.as_written for step in self.steps for call, way in self.ways_of(step) if not way)

    def state(self, step_id: int, section_id: int) -> StepState:
        """What became of a step in a section."""
        return self._marks.get((step_id, section_id), StepState.TO_DO)

    def lines(self, section_id: int, sections: Sequence[int]) -> tuple[StepLine, ...]:
        """The steps in a section; sections: all there are, or the whole."""
        return tuple(
            StepLine(
                step.id, number, step.area, step.text, self.state(step.id, section_id),
                sum(self.state(step.id, each) is not StepState.TO_DO for each in sections), len(sections),
            )
            for number, step in enumerate(self.steps, 1)
        )  # fmt: skip

    def at(self, step_id: int, section_id: int) -> StepAtBench | None:
        """One step as it is worked in a section; None where the recipe has no such step (any more)."""
        number = next((i for i, step in enumerate(self.steps) if step.id == step_id), None)
        if number is None:
            return None
        step = self.steps[number]
        answered = self.ways_of(step)
        ticked = self._ticked(section_id)
        pencils = [one for call, way in answered for one in self._to_lay(call, way, ticked.get(call.id, 0))]
        before, after = self._passage(step)
        return StepAtBench(
            id=step.id,
            number=number + 1,
            of=len(self.steps),
            area=step.area,
            text=step.text,
            notes=self._notes.get(step.id, ()),
            purpose=step.purpose or purpose_in(step.text),
            waits=step.waits or waits_in(step.text),
            state=self.state(step.id, section_id),
            pencils=tuple(pencils),
            missing=tuple(call.as_written for call, way in answered if not way),
            now=before,
            after=after,
            changes=difference(before.patch.lab, after.patch.lab) if before and after else None,
            wetting=_wetting(step),
            cautions=cautions_for(_materials(step)),
        )

    def ways_of(self, step: RecipeStep) -> list[tuple[RecipeCall, tuple[Layer[int], ...]]]:
        """The calls of a step, each with how it is laid; nothing where no pencil is at hand or chosen for it."""
        return [(call, self._way(call)) for call in step.calls if call.state != CallState.DISMISSED]

    def _way(self, call: RecipeCall) -> tuple[Layer[int], ...]:
        """How a call is laid: as it asks where it is at hand, else as was chosen; nothing where nothing was."""
        colour_id = meant(call, self._scene.at_hand)
        if colour_id in self._scene.at_hand:
            return (layer_of(call, colour_id),)
        chosen = self._chosen.get(call.id)
        return chosen.layers if chosen else ()

    def _to_lay(self, call: RecipeCall, way: Sequence[Layer[int]], ticked: int) -> list[ToLay]:
        """The pencils of a call; ticks fill the layers in their order."""
        scene, asked = self._scene, meant(call, self._scene.at_hand)
        lines, left = [], ticked
        stands_in = bool(way) and any(layer.pencil != asked for layer in way)
        for i, layer in enumerate(way):
            mine = min(left, layer.layers)
            left -= mine
            colour = scene.colour(layer.pencil)
            other = scene.colours.get(asked or 0) if layer.pencil != asked else None
            lines.append(
                ToLay(
                    call.id, layer, colour, scene.marks[colour.id], scene.owning(colour.id), scene.place_of(colour.id),
                    mine, other, self._apart(call, way) if stands_in and i == len(way) - 1 else None,
                )
            )  # fmt: skip
        return lines

    def _apart(self, call: RecipeCall, way: Sequence[Layer[int]]) -> Difference | None:
        """How what stands in, by itself on the paper, differs from what is called for, where both are known."""
        if self._scene.known is None:
            return None
        asked, offered = self._scene.look(layer_of(call)), look_at(self._scene, [way])[0]
        return difference(asked.patch.lab, offered.patch.lab) if asked and offered else None

    def _passage(self, step: RecipeStep) -> tuple[Seen | None, Seen | None]:
        """The passage before and after a step."""
        if self._scene.known is None:
            return None, None
        area = [one for one in self.steps if one.area == step.area]
        before = [one for one in area if one.position < step.position]
        below, here = (
            [layer for one in some for call in one.calls for layer in self._way(call)] for some in (before, [step])
        )
        dissolved = any(one.finish is Finish.SOLVENT for one in before)
        return self._seen(below, dissolved), self._seen([*below, *here], dissolved or step.finish is Finish.SOLVENT)

    def _seen(self, layers: Sequence[Layer[int]], dissolved: bool) -> Seen | None:
        if not layers:
            return Seen(patch(paper_lab(self._scene.paper)), Trust.MEASURED, None)
        return look_at(self._scene, [layers], dissolved)[0]

    def _ticked(self, section_id: int) -> dict[int, int]:
        """Layers that are ticked here, by call."""
        query = (
            select(LogEntry.call_id, func.sum(LogEntry.layers))
            .where(
                LogEntry.drawing_id == self._drawing_id,
                LogEntry.section_id == section_id,
                LogEntry.call_id.is_not(None),
            )
            .group_by(LogEntry.call_id)
        )
        return {call_id: layers for call_id, layers in self._scene.session.execute(query).all() if call_id is not None}


def _notes_before(lines: Sequence[RecipeStep]) -> Mapping[int, tuple[str, ...]]:
    """The notes that stand before each step, by its number; those after the last step stand with it."""
    notes: dict[int, tuple[str, ...]] = {}
    read: list[str] = []
    last = 0
    for line in lines:
        if is_worked(line):
            notes[line.id], read, last = tuple(read), [], line.id
        elif line.kind is StepKind.NOTE:
            read.append(line.text)
    if read and last:
        notes[last] = (*notes[last], *read)
    return notes


def _wetting(step: RecipeStep) -> Wetting | None:
    """What a step leaves wet."""
    if step.finish is Finish.SOLVENT:
        return Wetting.SOLVENT
    if step.finish is Finish.WET:
        return Wetting.WASH
    return Wetting.FIXATIVE if Material.SPRAY in materials_in(step.text) else None


def _materials(step: RecipeStep) -> frozenset[Material]:
    named = materials_in(step.text)
    return named | {Material.SOLVENT} if step.finish is Finish.SOLVENT else named
