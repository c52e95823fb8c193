"""A drawing with its log as JSON: what is said of it, its recipes, its sections, its sittings, and all that was logged.

docs/formats.md tells of it; docs/drawing.schema.json is its JSON Schema, written from here. Pictures are not in it.
What belongs to a line is named by its place in the file, counted from 0.
"""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import (
    LARGEST_DRAWING_MM,
    MOST_LAYERS,
    SMALLEST_DRAWING_MM,
    Blacks,
    LogKind,
    Pressure,
    StepState,
    WorkOrder,
)
from tidy_tinder.formats.moments import Moment
from tidy_tinder.formats.own_json import OwnKind, Strict, as_json, from_json, schema_of
from tidy_tinder.formats.recipe_json import RecipeFile

KIND = OwnKind("drawing", 1, 8_000_000, "Bring it in there.")
# More than anybody does; what is written here stays below them.
_MOST_RECIPES, _MOST_SITTINGS, _MOST_LINES, _MOST_SECTIONS = 100, 5_000, 5_000, 255
_MOST_TIMES, _MOST_MARKS = 10_000, 50_000
_LONGEST_MAP = 400_000
# Of all recipes together: writing so many takes some ten seconds, in which nobody else writes.
_MOST_CALLS_IN_ALL = 20_000

Side = Annotated[float, Field(ge=SMALLEST_DRAWING_MM, le=LARGEST_DRAWING_MM)]
Place = Annotated[int, Field(ge=0)]


class ColourInFile(Strict):
    """A colour as its chart has it."""

    maker: str = Field(default="", max_length=200)
    range: str = Field(default="", max_length=200)
    code: str = Field(default="", max_length=60)
    name: str = Field(default="", max_length=200)


class AlongInFile(Strict):
    """Along what something was done; none where it was as one went, or is gone from the recipe by now."""

    recipe: Place | None = None
    step: Place | None = None
    section: Place | None = None


class TimeInFile(AlongInFile):
    """Seconds of a sitting at one step in one section."""

    seconds: float = Field(ge=0, le=10_000_000)


class SittingInFile(Strict):
    """One sitting, with the seconds of it that count."""

    begun_at: Moment
    ended_at: Moment
    recipe: Place | None = None
    times: tuple[TimeInFile, ...] = Field(default=(), max_length=_MOST_TIMES)


class LineInFile(AlongInFile):
    """One line of the log. call: of the step; instead_of: the colour in whose place it was laid; layers: 0 where nobody
    said.
    """

    at: Moment
    kind: LogKind
    sitting: Place | None = None
    call: Place | None = None
    colour: ColourInFile | None = None
    instead_of: ColourInFile | None = None
    area: str = Field(default="", max_length=16_000)
    pressure: Pressure | Literal[""] = ""
    layers: int = Field(default=0, ge=0, le=MOST_LAYERS)
    note: str = Field(default="", max_length=500)

    @model_validator(mode="after")
    def _pencil_has_colour(self) -> LineInFile:
        if (self.kind is LogKind.PENCIL) != (self.colour is not None):
            raise ValueError("a line of a pencil names its colour, and no other line does")
        return self


class MarkInFile(AlongInFile):
    """What became of a step in a section."""

    state: StepState


class SectionInFile(Strict):
    """One section; label: its number in the map."""

    label: int = Field(ge=0, lt=_MOST_SECTIONS)
    name: str = Field(default="", max_length=60)
    state: str = Field(max_length=20)


class SectionsInFile(Strict):
    """How the drawing is parted, its sections in the order of work; places: a PNG in base64, of which section each
    place of the drawing is.
    """

    kind: str = Field(max_length=20)
    places: str = Field(max_length=_LONGEST_MAP)
    width_mm: Side
    height_mm: Side
    sections: tuple[SectionInFile, ...] = Field(min_length=1, max_length=_MOST_SECTIONS)


class DrawingFile(Strict):
    """A drawing; paper: the name of its paper."""

    format: Literal["tidy-tinder drawing"] = "tidy-tinder drawing"
    version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=80)
    paper: str = Field(min_length=1, max_length=200)
    width_mm: Side
    height_mm: Side
    closest: Closest = Closest.OVERALL
    for_sale: bool = False
    black: Blacks = Blacks.ALLOWED
    solvent: bool = False
    work_order: WorkOrder = WorkOrder.LIGHT_TO_DARK
    begun_on: date
    notes: str = Field(default="", max_length=4_000)
    recipes: tuple[RecipeFile, ...] = Field(default=(), max_length=_MOST_RECIPES)
    parted: SectionsInFile | None = None
    sittings: tuple[SittingInFile, ...] = Field(default=(), max_length=_MOST_SITTINGS)
    marks: tuple[MarkInFile, ...] = Field(default=(), max_length=_MOST_MARKS)
    log: tuple[LineInFile, ...] = Field(default=(), max_length=_MOST_LINES, description="the oldest first")

    @model_validator(mode="after")
    def _can_be_written_at_once(self) -> DrawingFile:
        lines = sum(1 + len(step.calls) for recipe in self.recipes for step in recipe.steps)
        if lines > _MOST_CALLS_IN_ALL:
            raise ValueError(
                f"its recipes have {lines:,} lines and calls together, and at most {_MOST_CALLS_IN_ALL:,} are read"
            )
        return self

    @model_validator(mode="after")
    def _places_are_there(self) -> DrawingFile:
        for at, sitting in enumerate(self.sittings):
            self._check_along(AlongInFile(recipe=sitting.recipe), f"sittings › {at}")
            for time in sitting.times:
                self._check_along(time, f"sittings › {at} › times")
        for at, mark in enumerate(self.marks):
            self._check_along(mark, f"marks › {at}")
        for at, line in enumerate(self.log):
            self._check_along(line, f"log › {at}")
            self._check_line(line, f"log › {at}")
        return self

    def _check_along(self, along: AlongInFile, where: str) -> None:
        """Raises ValueError unless what is named by its place is in the file."""
        recipes = self.recipes
        _check(along.recipe, len(recipes), "recipe", where)
        if along.step is not None and along.recipe is None:
            raise ValueError(f"{where} names a step and no recipe")
        if along.recipe is not None:
            _check(along.step, len(recipes[along.recipe].steps), "step", where)
        _check(along.section, len(self.parted.sections) if self.parted else 0, "section", where)

    def _check_line(self, line: LineInFile, where: str) -> None:
        _check(line.sitting, len(self.sittings), "sitting", where)
        if line.call is None:
            return
        if line.recipe is None or line.step is None:
            raise ValueError(f"{where} names a call and no step")
        _check(line.call, len(self.recipes[line.recipe].steps[line.step].calls), "call", where)


def drawing_as_json(drawing: DrawingFile) -> str:
    """A drawing as JSON that a person can read, too."""
    return as_json(drawing)


def drawing_from_json(content: bytes) -> DrawingFile:
    """The drawing that a file holds. Raises UnreadableError, which says where and what is wrong."""
    return from_json(content, DrawingFile, KIND)


def drawing_schema() -> dict[str, Any]:
    """The JSON Schema of a drawing's file."""
    return schema_of(DrawingFile)


def _check(place: int | None, count: int, what: str, where: str) -> None:
    if place is not None and place >= count:
        raise ValueError(f"{where} names {what} {place}, and the file has {count}, counted from 0")
