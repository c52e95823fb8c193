"""A recipe as JSON: its lines as they were written, and what each calls for, by maker, range and code.

docs/formats.md tells of it; docs/recipe.schema.json is its JSON Schema, written from here.
"""

from __future__ import annotations

import json
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from tidy_tinder.core.vocabulary import MOST_LAYERS, Finish, MarkPressure, Purpose, Role, StepKind
from tidy_tinder.formats.errors import UnreadableError

FORMAT = "tidy-tinder recipe"
VERSION = 2
"""2: a step says what it is for, and whether it is left to dry; a call may be a choice of two."""
LONGEST_FILE = 1_000_000
"""Bytes of a file that is taken in; a recipe is far shorter."""
# A text may have a line for every two of its characters, and a line a span of forty codes for every eight.
_MOST_STEPS, _MOST_CALLS, _LONGEST = 8_000, 10_000, 16_000


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class CallInFile(_Strict):
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


class StepInFile(_Strict):
    """One line: a heading, a note, or a step with its calls in the order in which they go down."""

    kind: StepKind
    area: str = Field(default="", max_length=_LONGEST)
    text: str = Field(max_length=_LONGEST)
    pressure: MarkPressure | Literal[""] = ""
    layers: int = Field(default=1, ge=1, le=MOST_LAYERS)
    finish: Finish = Finish.DRY
    purpose: Purpose | Literal[""] = Field(default="", description="as the artist says; else its words count")
    waits: bool = Field(default=False, description="the artist says that it is left to dry")
    calls: tuple[CallInFile, ...] = Field(default=(), max_length=_MOST_CALLS)


class RecipeFile(_Strict):
    """A recipe; source_text: the text as it was pasted."""

    format: Literal["tidy-tinder recipe"] = "tidy-tinder recipe"
    version: Literal[1, 2] = 2
    title: str = Field(min_length=1, max_length=200)
    source_text: str = Field(default="", max_length=100_000)
    steps: tuple[StepInFile, ...] = Field(max_length=_MOST_STEPS)


def recipe_as_json(recipe: RecipeFile) -> str:
    """A recipe as JSON that a person can read, too."""
    return json.dumps(recipe.model_dump(mode="json"), ensure_ascii=False, indent=1) + "\n"


def recipe_from_json(content: bytes) -> RecipeFile:
    """The recipe that a file holds. Raises UnreadableError, which says where and what is wrong."""
    if len(content) > LONGEST_FILE:
        raise UnreadableError(f"The file has {len(content):,} bytes; a recipe has at most {LONGEST_FILE:,}.")
    try:
        data = json.loads(content.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise UnreadableError(f"The file is not written in UTF-8 (byte {error.start}). Save it as UTF-8.") from error
    except json.JSONDecodeError as error:
        raise UnreadableError(f"This is no JSON: line {error.lineno}, column {error.colno}: {error.msg}.") from error
    except ValueError as error:
        raise UnreadableError("This JSON holds a number of more digits than any in a recipe.") from error
    except RecursionError as error:
        raise UnreadableError("This JSON is nested too deep to be a recipe.") from error
    _check_kind(data)
    try:
        return RecipeFile.model_validate_json(json.dumps(data))
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = " › ".join(str(part) for part in first["loc"]) or "the whole"
        more = error.error_count() - 1
        others = f" ({more} more)" if more else ""
        raise UnreadableError(f"At {where}: {first['msg']}{others}.") from error


def recipe_as_kept(content: str) -> RecipeFile:
    """A recipe that this program wrote itself, however long."""
    return RecipeFile.model_validate_json(content)


def recipe_schema() -> dict[str, Any]:
    """The JSON Schema of a recipe's file."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **RecipeFile.model_json_schema()}


def _check_kind(data: Any) -> None:
    """That this is a recipe of ours, and of a version that is known here."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise UnreadableError(f"This is no {FORMAT}: such a file begins with the format, “{FORMAT}”.")
    version = data.get("version")
    if isinstance(version, int) and version > VERSION:
        raise UnreadableError(
            f"The file is of version {version}, from a newer Tidy Tinder; this one reads up to version {VERSION}. "
            "Bring it in there, or ask for it as text."
        )
