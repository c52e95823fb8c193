"""What the last run left of its first page is given until it holds no longer."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from tests.conftest import demo_copy
from tidy_tinder.commands.serving import Serving
from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.web.app import create_app
from tidy_tinder.web.kept_answers import KeptAnswers

TIDY, OTHER = "/api/tidy?paper=1", "/api/tidy?paper=2"
LEFT = json.dumps({"left": "by the last run"})


@pytest.fixture
def serving(demo_file: Path, tmp_path: Path) -> Iterator[tuple[Serving, FlaskClient]]:
    """The demo, where the last run left an answer that is known from what would be worked out."""
    database = demo_copy(demo_file, tmp_path / "tinder" / "collection.sqlite")
    kept = KeptAnswers(database)
    kept.keep({TIDY: LEFT})
    with closing(open_collection(database)) as collection:
        app = create_app(collection)
        made = Serving(collection, app, kept, kept.read())
        yield made, app.test_client()


def test_what_was_left_is_given_to_whoever_asks_the_same(serving: tuple[Serving, FlaskClient]) -> None:
    _, client = serving
    answer = client.get(TIDY)
    assert answer.text == LEFT
    assert answer.headers["Content-Type"] == "application/json"
    assert answer.headers["Cache-Control"] == "no-store"
    assert "shelves" in client.get(OTHER).get_json()


def test_not_once_anything_was_written(serving: tuple[Serving, FlaskClient]) -> None:
    _, client = serving
    assert client.post("/api/tidy/owned", json={"colour_ids": [1], "owned": False}).status_code == 200
    assert "shelves" in client.get(TIDY).get_json()


def test_not_once_all_is_drawn(serving: tuple[Serving, FlaskClient]) -> None:
    made, client = serving
    made.all_is_drawn()
    assert "shelves" in client.get(TIDY).get_json()


def test_not_to_a_page_from_elsewhere(serving: tuple[Serving, FlaskClient]) -> None:
    _, client = serving
    assert client.get(TIDY, headers={"Host": "elsewhere.example"}).text != LEFT
