"""The API fuzzed from its committed OpenAPI document: whatever is sent, the answer is one that it declares."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices

DOCUMENT = json.loads((Path(__file__).parents[2] / "src/tidy_tinder/web/openapi.json").read_text(encoding="utf-8"))
CHECKS = (not_a_server_error, status_code_conformance, response_schema_conformance)


@pytest.fixture(scope="module")
def document() -> schemathesis.schemas.BaseSchema:
    """The committed document, read once."""
    return schemathesis.openapi.from_dict(DOCUMENT)


@pytest.fixture
def fuzzed(
    document: schemathesis.schemas.BaseSchema, demo_file: Path, tmp_path: Path
) -> Iterator[schemathesis.schemas.BaseSchema]:
    """The committed document, bound to the application on a copy of the demo."""
    path = tmp_path / "collection.sqlite"
    path.write_bytes(demo_file.read_bytes())
    collection = open_collection(path)
    begin_collection(collection)
    app = create_app(collection, demo=True)
    document.app = app
    yield document
    close_devices(app)
    collection.close()


def operations() -> list[tuple[str, str]]:
    verbs = ("get", "put", "post", "delete")
    return [(path, verb) for path, item in DOCUMENT["paths"].items() for verb in verbs if verb in item]


@pytest.mark.parametrize(("path", "verb"), operations())
def test_no_request_breaks_it(fuzzed: schemathesis.schemas.BaseSchema, path: str, verb: str) -> None:
    operation = fuzzed[path][verb.upper()]

    @settings(max_examples=12, suppress_health_check=list(HealthCheck), derandomize=True, deadline=None)
    @given(case=operation.as_strategy())
    def check(case: schemathesis.Case) -> None:
        case.call_and_validate(checks=CHECKS, headers={"Host": "127.0.0.1"})

    check()
