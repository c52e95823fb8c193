"""The API fuzzed from its committed OpenAPI document; `python -m tools.fuzz_often` does it a hundred thousand times."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
import schemathesis
from tests.web.fuzzing import bound, document, fuzz, operations


@pytest.fixture(scope="module")
def read_once() -> schemathesis.schemas.BaseSchema:
    """The committed document."""
    return document()


@pytest.fixture
def fuzzed(
    read_once: schemathesis.schemas.BaseSchema, demo_file: Path, tmp_path: Path
) -> Iterator[schemathesis.schemas.BaseSchema]:
    """The committed document, bound to the application on a copy of the demo."""
    path = tmp_path / "collection.sqlite"
    path.write_bytes(demo_file.read_bytes())
    with bound(read_once, path) as here:
        yield here


@pytest.mark.parametrize(("path", "verb"), operations())
def test_no_request_breaks_it(fuzzed: schemathesis.schemas.BaseSchema, path: str, verb: str) -> None:
    assert fuzz(fuzzed, path, verb, 12).requests > 0
