"""The first page before the application: what is said then is what the application says."""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator, Mapping
from contextlib import closing
from pathlib import Path

import pytest
from tests.conftest import demo_copy

from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.background.stored_fits import Surveys
from tidy_tinder.services.collection.at_work import set_paper
from tidy_tinder.services.tray import put_in_tray
from tidy_tinder.web.app import create_app
from tidy_tinder.web.first_page import FirstPage
from tidy_tinder.web.kept_answers import KeptAnswers

NOTHING: Mapping[str, str] = {}


@pytest.fixture
def collection(demo_file: Path, tmp_path: Path) -> Iterator[Collection]:
    with closing(open_collection(demo_copy(demo_file, tmp_path / "collection.sqlite"))) as opened:
        put_in_tray(opened, [3, 7, 11], True)
        yield opened


def page_of(collection: Collection, demo: bool = False, left: Mapping[str, str] = NOTHING) -> FirstPage:
    return FirstPage(collection, demo, KeptAnswers(collection.database, demo), left)


@pytest.mark.parametrize("demo", [False, True])
def test_it_says_what_the_application_says(collection: Collection, demo: bool) -> None:
    client = create_app(collection, demo=demo).test_client()
    given = dict(page_of(collection, demo).at_hand())
    assert list(given) == ["/api/collection", "/api/tidy?paper=1", "/api/tray?paper=1"]
    for address, answer in given.items():
        assert answer == client.get(address).data


def test_it_is_that_of_the_paper_at_hand(collection: Collection) -> None:
    set_paper(collection, 2)
    assert list(dict(page_of(collection).at_hand())) == ["/api/collection", "/api/tidy?paper=2", "/api/tray?paper=2"]


def test_it_waits_for_no_fit(collection: Collection, monkeypatch: pytest.MonkeyPatch) -> None:
    """The fits of a large collection take minutes; charts must do until they are there."""
    begun, go_on = threading.Event(), threading.Event()

    def first() -> None:
        begun.set()
        go_on.wait(20)

    monkeypatch.setattr(Surveys, "now", lambda *_: pytest.fail("it was fitted at once"))
    collection.keep_fitted(first=first)
    try:
        assert begun.wait(20)
        given = dict(page_of(collection).at_hand())
    finally:
        go_on.set()
    trusts = {
        colour["card"]["mark"]["trust"]
        for shelf in json.loads(given["/api/tidy?paper=1"])["shelves"]
        for colour in shelf["colours"]
    }
    assert trusts == {"measured", "chart"}


@pytest.mark.parametrize(
    "address",
    ["/api/tidy", "/api/tidy?paper=999", "/api/tidy?paper=1&paper=2", "/api/tidy?paper=-1", "/api/tray?paper=x",
     "/api/collection?x=1", "/api/recipes?paper=1", "/tidy"],
)  # fmt: skip
def test_whatever_else_is_for_the_application(collection: Collection, address: str) -> None:
    page = page_of(collection)
    page.note(address)
    assert list(page.answers()) == ["/api/collection"]


def test_what_was_asked_for_last_is_answered_anew_to_be_kept(collection: Collection) -> None:
    page = page_of(collection, left={"/api/tidy?paper=1": "left", "/api/tray?paper=1": "left"})
    page.note("/api/tidy?paper=2")
    page.note("/api/tidy?paper=2&more=1")
    before = page.answers()
    assert list(before) == ["/api/collection", "/api/tidy?paper=2", "/api/tray?paper=1"]
    put_in_tray(collection, [3], False)
    after = page.answers()
    assert after["/api/tray?paper=1"] != before["/api/tray?paper=1"]
    assert after["/api/tidy?paper=2"] == before["/api/tidy?paper=2"]
