"""The closed words, from the core to the browser: said once, and the same everywhere."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from enum import StrEnum
from pathlib import Path
from typing import Any

import pytest

from tidy_tinder.core import vocabulary

ROOT = Path(__file__).parents[2]
DOCUMENT = json.loads((ROOT / "src/tidy_tinder/web/openapi.json").read_text(encoding="utf-8"))
SCHEMAS: dict[str, Any] = DOCUMENT["components"]["schemas"]
IN_SCRIPT = (ROOT / "frontend/src/shared/vocabulary.ts").read_text(encoding="utf-8")
WORDS = [
    word
    for word in vars(vocabulary).values()
    if isinstance(word, type) and issubclass(word, StrEnum) and word is not StrEnum
]
# Fields that hold one of few words wherever they stand.
CLOSED = {"pressure", "finish", "tooth", "effect", "opacity", "role", "owning", "trust", "source", "verdict", "lamp"}


def fields() -> Iterator[tuple[str, str, dict[str, Any]]]:
    for schema, said in SCHEMAS.items():
        for name, field in said.get("properties", {}).items():
            yield schema, name, field


def is_closed(field: dict[str, Any]) -> bool:
    """Whether only listed words fit: a reference, an enumeration, one word, or lists and choices of these."""
    if field.get("type") == "array":
        return is_closed(field["items"])
    if "anyOf" in field:
        return all(is_closed(one) for one in field["anyOf"])
    return "$ref" in field or "enum" in field or "const" in field or field.get("type") == "null"


@pytest.mark.parametrize("word", [w for w in WORDS if w.__name__ in SCHEMAS], ids=lambda w: w.__name__)
def test_the_document_lists_the_words_of_the_core(word: type[StrEnum]) -> None:
    assert SCHEMAS[word.__name__]["enum"] == [one.value for one in word]


def test_every_word_reaches_the_document() -> None:
    assert {w.__name__ for w in WORDS} <= SCHEMAS.keys()


def test_no_field_of_closed_words_is_a_free_string() -> None:
    free = [f"{schema}.{name}" for schema, name, field in fields() if name in CLOSED and not is_closed(field)]
    assert free == []


def test_a_free_string_would_be_seen() -> None:
    assert not is_closed({"type": "string"})
    assert not is_closed({"anyOf": [{"type": "string"}, {"type": "null"}]})
    assert is_closed({"anyOf": [{"$ref": "#/components/schemas/Opacity"}, {"const": ""}]})


@pytest.mark.parametrize(
    ("listed", "words"),
    [
        ("MARK_PRESSURES", list(vocabulary.MARK_PRESSURES)),
        ("FINISHES", list(vocabulary.Finish)),
        ("PURPOSES", list(vocabulary.Purpose)),
        ("STEP_KINDS", list(vocabulary.StepKind)),
    ],
)
def test_the_browser_has_the_words_in_the_same_order(listed: str, words: list[StrEnum]) -> None:
    said = re.search(rf"export const {listed}[^=]*= \[([^\]]*)\]", IN_SCRIPT)
    assert said is not None
    assert re.findall(r'"([^"]+)"', said[1]) == [str(word) for word in words]


@pytest.mark.parametrize("limit", ["MOST_LAYERS", "MOST_PENCILS"])
def test_the_browser_has_the_same_limits(limit: str) -> None:
    said = re.search(rf"export const {limit} = (\d+);", IN_SCRIPT)
    assert said is not None
    assert int(said[1]) == getattr(vocabulary, limit)


def test_no_script_casts_what_the_document_already_says() -> None:
    casts = re.compile(r"\bas (?:Mark)?(?:Pressure|Finish|Closest|Tooth|Effect|Opacity|Role|Verdict)\b")
    scripts = [p for p in (ROOT / "frontend/src").rglob("*.ts*") if p.name != "schema.d.ts"]
    assert [p.name for p in scripts if casts.search(p.read_text(encoding="utf-8"))] == []


def test_days_moments_and_amounts_are_written_in_one_place() -> None:
    """`toLocaleString` without a language is that of the operating system, not of the browser's reader."""
    sources = [
        path for path in (ROOT / "frontend/src").rglob("*.ts*") if ".toLocale" in path.read_text(encoding="utf-8")
    ]
    assert [path.name for path in sources] == ["dates.ts"]
