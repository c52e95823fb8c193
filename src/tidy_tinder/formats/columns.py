"""Which column of a table is read as what: by what its heading is called, here and elsewhere, or as the artist says."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import TypeAlias

Columns: TypeAlias = Mapping[str, str]
"""What the artist says: the field for each heading, as `folded` has it; "" where that column is not to be read."""
NOTHING_SAID: Columns = MappingProxyType({})

# Characters of a heading that are looked at: an open bracket is looked for its end from each place anew.
_LONGEST = 300
_IN_BRACKETS = re.compile(r"[(\[].*?[)\]]")


@dataclass(frozen=True)
class Field:
    """What a column can be read as, and what that is in plain words."""

    field: str
    meaning: str


@dataclass(frozen=True)
class ReadAs:
    """A column that is read: what it is called in the file, its field ("" for the bands of a spectrum), in plain words,
    and whether the artist said so, now or before.
    """

    heading: str
    field: str
    meaning: str
    as_said: bool = False


def folded(heading: str) -> str:
    """A heading without what stands in brackets, blanks and signs; 400.0 is 400. Of an endless one its beginning."""
    bare = re.sub(r"(\d)\.0+\b", r"\1", _IN_BRACKETS.sub("", heading[:_LONGEST]))
    return re.sub(r"[\s_.\-/]", "", bare.strip().casefold())


def in_brackets(heading: str) -> list[str]:
    """What stands in brackets in a heading."""
    return [group[1:-1] for group in _IN_BRACKETS.findall(heading[:_LONGEST])]


def called(names: Mapping[str, str]) -> Mapping[str, str]:
    """The field for each folded heading, from each field with all that it is called, parted by blanks."""
    return {other: field for field, others in names.items() for other in others.split()}
