"""The JSON files of this program's own kinds: written for people too, read strictly, refused by place and in words."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from tidy_tinder.core.errors import echoed
from tidy_tinder.formats.errors import UnreadableError

# What pydantic says in words of its own trade.
_IN_WORDS = {"extra_forbidden": "nothing of that name belongs there", "missing": "this is missing"}
_DRAFT = "https://json-schema.org/draft/2020-12/schema"


class Strict(BaseModel):
    """What stands in such a file: only what is named, and never changed."""

    model_config = ConfigDict(extra="forbid", frozen=True)


InFile = TypeVar("InFile", bound=Strict)


@dataclass(frozen=True)
class OwnKind:
    """One kind of file. what: “recipe”; version: the newest that is read; longest: bytes of a file that is taken in;
    else_do: what helps with a file of a newer version.
    """

    what: str
    version: int
    longest: int
    else_do: str

    @property
    def format(self) -> str:
        """With what such a file begins."""
        return f"tidy-tinder {self.what}"


def as_json(file: Strict) -> str:
    """A file that a person can read, too."""
    return json.dumps(file.model_dump(mode="json"), ensure_ascii=False, indent=1) + "\n"


def schema_of(kind: type[Strict]) -> dict[str, Any]:
    """The JSON Schema of a kind of file."""
    return {"$schema": _DRAFT, **kind.model_json_schema()}


def from_json(content: bytes, model: type[InFile], kind: OwnKind) -> InFile:
    """What a file holds. Raises UnreadableError, which says where and what is wrong."""
    if len(content) > kind.longest:
        raise UnreadableError(f"The file has {len(content):,} bytes; a {kind.what} has at most {kind.longest:,}.")
    try:
        data = json.loads(content.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise UnreadableError(f"The file is not written in UTF-8 (byte {error.start}). Save it as UTF-8.") from error
    except json.JSONDecodeError as error:
        raise UnreadableError(f"This is no JSON: line {error.lineno}, column {error.colno}: {error.msg}.") from error
    except ValueError as error:
        raise UnreadableError(f"This JSON holds a number of more digits than any in a {kind.what}.") from error
    except RecursionError as error:
        raise UnreadableError(f"This JSON is nested too deep to be a {kind.what}.") from error
    _check_kind(data, kind)
    try:
        return model.model_validate_json(json.dumps(data))
    except ValidationError as error:
        more = error.error_count() - 1
        others = f" ({more} more)" if more else ""
        raise UnreadableError(f"At {first_fault(error)}{others}.") from error


def first_fault(error: ValidationError) -> str:
    """Where the first fault is, and what is wrong there; what the file itself calls a place is cut to a length."""
    first = error.errors(include_url=False)[0]
    where = " › ".join(echoed(str(part)) for part in first["loc"]) or "the whole"
    return f"{where}: {_IN_WORDS.get(first['type'], first['msg'].removeprefix('Value error, '))}"


def _check_kind(data: Any, kind: OwnKind) -> None:
    """That this is a file of ours, and of a version that is known here."""
    if not isinstance(data, dict) or data.get("format") != kind.format:
        raise UnreadableError(f"This is no {kind.format}: such a file begins with the format, “{kind.format}”.")
    version = data.get("version")
    if isinstance(version, int) and version > kind.version:
        raise UnreadableError(
            f"The file is of version {version}, from a newer Tidy Tinder; this one reads up to version {kind.version}. "
            f"{kind.else_do}"
        )
