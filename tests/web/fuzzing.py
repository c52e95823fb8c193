"""Requests made up from the committed OpenAPI document: whatever is sent, the answer is one that it declares."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices

DOCUMENT = json.loads((Path(__file__).parents[2] / "src/tidy_tinder/web/openapi.json").read_text(encoding="utf-8"))
_CHECKS = (not_a_server_error, status_code_conformance, response_schema_conformance)


@dataclass(frozen=True)
class Fuzzed:
    """What came of it: requests that were sent, and the seconds of the slowest answer."""

    requests: int
    slowest: float


def operations() -> list[tuple[str, str]]:
    """Every path of the document with each of its verbs."""
    verbs = ("get", "put", "post", "delete")
    return [(path, verb) for path, item in DOCUMENT["paths"].items() for verb in verbs if verb in item]


def document() -> schemathesis.schemas.BaseSchema:
    """The committed document, read."""
    return schemathesis.openapi.from_dict(DOCUMENT)


@contextmanager
def bound(read: schemathesis.schemas.BaseSchema, database: Path) -> Iterator[schemathesis.schemas.BaseSchema]:
    """The document, bound to the application on a database."""
    collection = open_collection(database)
    begin_collection(collection)
    app = create_app(collection, demo=True)
    read.app = app
    try:
        yield read
    finally:
        close_devices(app)
        collection.close()


def fuzz(read: schemathesis.schemas.BaseSchema, path: str, verb: str, requests: int, afresh: bool = False) -> Fuzzed:
    """Send so many requests to one operation; raises what schemathesis finds. afresh: others each time."""
    times: list[float] = []

    @settings(max_examples=requests, suppress_health_check=list(HealthCheck), derandomize=not afresh, deadline=None)
    @given(case=read[path][verb.upper()].as_strategy())
    def send(case: schemathesis.Case) -> None:
        begun = time.perf_counter()
        answer = case.call(headers={"Host": "127.0.0.1"})
        times.append(time.perf_counter() - begun)
        case.validate_response(answer, checks=_CHECKS)

    send()
    return Fuzzed(len(times), max(times))
