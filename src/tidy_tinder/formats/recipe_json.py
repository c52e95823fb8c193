"""A recipe as JSON: its lines as they were written, and what each calls for, by maker, range and code.

docs/formats.md tells of it; docs/recipe.schema.json is its JSON Schema, written from here.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from tidy_tinder.core.vocabulary import MOST_LAYERS, Finish, MarkPressure, Purpose, Role, StepKind
from tidy_tinder.formats.own_json import OwnKind, Strict, as_json, from_json, schema_of

VERSION = 3
"""2: a step says what it is for, and whether it is left to dry; a call may be a choice of two. 3: a step says whether
it is still to be looked through for colours that were not read.
"""
LONGEST_FILE = 1_000_000
"""Bytes of a file that is taken in; a recipe is far shorter."""
# A text may have a line for every two of its characters, and a line a span of forty codes for every eight.
_MOST_STEPS, _MOST_CALLS, _LONGEST = 8_000, 10_000, 16_000


class CallInFile(Strict):
    """One colour that a step asks for; without a code it is still to be settled."""

    as_written: str = Field(max_length=_LONGEST, description="its words in the step's text")
    start: int = Field(ge=0, le=_LONGEST, description="where these begin in the step's text")
    maker: str = Field(default="", max_length=200)
    range: str = Field(default="", max_length=200)
    code: str = Field(default="", max_length=60)
    name: str = Field(default="", max_length=200)
    or_maker: str = Field(default="", max_length=200, description="the second of two that serve: “A or B”")
    or_range: str = Field(default="", max_length=200)
    or_code: str = Field(default="", max_length=60)
    no_colour: bool = Field(default=False, description="the artist said that these words are no colour")
    pressure: MarkPressure | Literal[""] = ""
    layers: int = Field(default=1, ge=1, le=MOST_LAYERS)
    role: Role | Literal[""] = ""


class StepInFile(Strict):
    """One line: a heading, a note, or a step with its calls in the order in which they go down."""

    kind: StepKind
    area: str = Field(default="", max_length=_LONGEST)
    text: str = Field(max_length=_LONGEST)
    pressure: MarkPressure | Literal[""] = ""
    layers: int = Field(default=1, ge=1, le=MOST_LAYERS)
    finish: Finish = Finish.DRY
    purpose: Purpose | Literal[""] = Field(default="", description="as the artist says; else its words count")
    waits: bool = Field(default=False, description="the artist says that it is left to dry")
    to_look_through: bool = Field(default=False, description="its words may name a colour that was not read")
    calls: tuple[CallInFile, ...] = Field(default=(), max_length=_MOST_CALLS)


class RecipeFile(Strict):
    """A recipe; source_text: the text as it was pasted."""

    format: Literal["tidy-tinder recipe"] = "tidy-tinder recipe"
    version: Literal[1, 2, 3] = 3
    title: str = Field(min_length=1, max_length=200)
    source_text: str = Field(default="", max_length=100_000)
    steps: tuple[StepInFile, ...] = Field(max_length=_MOST_STEPS)


def recipe_as_json(recipe: RecipeFile) -> str:
    """A recipe as JSON that a person can read, too."""
    return as_json(recipe)


def recipe_from_json(content: bytes) -> RecipeFile:
    """The recipe that a file holds. Raises UnreadableError, which says where and what is wrong."""
    return from_json(
        content, RecipeFile, OwnKind("recipe", VERSION, LONGEST_FILE, "Bring it in there, or ask for it as text.")
    )


def recipe_as_kept(content: str) -> RecipeFile:
    """A recipe that this program wrote itself, however long."""
    return RecipeFile.model_validate_json(content)


def recipe_schema() -> dict[str, Any]:
    """The JSON Schema of a recipe's file."""
    return schema_of(RecipeFile)
