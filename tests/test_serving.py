"""What the last run left of its first page is given until it holds no longer."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import TypeAlias

import pytest
from flask.testing import FlaskClient

from tests.conftest import demo_copy
from tidy_tinder.commands.serving import Serving
from tidy_tinder.services.background.runtime import open_collection
from tidy_tinder.web.app import create_app
from tidy_tinder.web.first_page import FirstPage
from tidy_tinder.web.kept_answers import KeptAnswers

TIDY, OTHER = "/api/tidy?paper=1", "/api/tidy?paper=2"
LEFT = json.dumps({"left": "by the last run"})
Served: TypeAlias = tuple[Serving, FirstPage, FlaskClient]


@pytest.fixture
def serving(demo_file: Path, tmp_path: Path) -> Iterator[Served]:
    """The demo, where the last run left an answer that is known from what would be worked out."""
    database = demo_copy(demo_file, tmp_path / "tinder" / "collection.sqlite")
    kept = KeptAnswers(database)
    kept.keep({TIDY: LEFT})
    with closing(open_collection(database)) as collection:
        app = create_app(collection)
        page = FirstPage(collection, demo=False, kept=kept, left=kept.read())
        yield Serving(collection, app, page, kept), page, app.test_client()


def test_what_was_left_is_given_to_whoever_asks_the_same(serving: Served) -> None:
    _, _, client = serving
    answer = client.get(TIDY)
    assert answer.text == LEFT
    assert answer.headers["Content-Type"] == "application/json"
    assert answer.headers["Cache-Control"] == "no-store"
    assert "shelves" in client.get(OTHER).get_json()


def test_not_once_anything_was_written(serving: Served) -> None:
    _, _, client = serving
    assert client.post("/api/tidy/owned", json={"colour_ids": [1], "owned": False}).status_code == 200
    assert "shelves" in client.get(TIDY).get_json()


def test_not_once_all_is_drawn(serving: Served) -> None:
    _, page, client = serving
    page.all_is_drawn()
    assert "shelves" in client.get(TIDY).get_json()


def test_not_to_a_page_from_elsewhere(serving: Served) -> None:
    _, _, client = serving
    assert client.get(TIDY, headers={"Host": "elsewhere.example"}).text != LEFT


def test_it_is_kept_for_the_next_start_even_if_nobody_asked_the_application(serving: Served, tmp_path: Path) -> None:
    """All of it was given at the door."""
    made, page, client = serving
    page.all_is_drawn()
    answer = client.get(OTHER).text
    made.close()
    kept = KeptAnswers(tmp_path / "tinder" / "collection.sqlite").read()
    assert list(kept) == ["/api/collection", OTHER]
    assert kept[OTHER] == answer


def test_what_was_left_is_left_again_where_nothing_else_was_drawn(serving: Served, tmp_path: Path) -> None:
    """A program that is stopped at once must not leave less than it found."""
    made, _, _ = serving
    made.close()
    assert KeptAnswers(tmp_path / "tinder" / "collection.sqlite").read()[TIDY] == LEFT
