"""Some six hundred broken files of every format that is taken in: each is refused in words, or harmless, and none of
what is here changes.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient
from tests.formats.mangling import broken
from tests.web.test_api import problem, upload_large

from tidy_tinder.core.vocabulary import Pressure
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.exchange.catalogue import import_catalogue
from tidy_tinder.services.recipes.text import save_recipe
from tidy_tinder.services.swatches.one_by_one import NewTyped, type_swatch
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices

EACH = 72
CATALOGUE = (
    b"range,code,name,L,a,b,owned\nLane,101,Oxlip,87,-4,50,1\nLane,102,Lemon,88,-9,70,0\nLane,103,Gate,30,20,9,2\n"
)
# Where it is taken in, and where a whole one comes from.
FILES = {
    "catalogue": ("/api/catalogue", "/api/catalogue"),
    "swatches as CSV": ("/api/swatches/file", "/api/swatches/file?kind=csv"),
    "swatches as CGATS": ("/api/swatches/file", "/api/swatches/file?kind=cgats"),
    "swatches as CxF": ("/api/swatches/file", "/api/swatches/file?kind=cxf"),
    "drawing": ("/api/drawings/file", "/api/drawings/1/file"),
    "recipe": ("/api/recipes/file", "/api/recipes/1/file?kind=json&paper=1"),
    "backup": ("/api/collection/restore", "/api/collection/backup"),
    "collection as JSON": ("/api/collection/restore", "/api/collection/json"),
}


@pytest.fixture
def small(empty: Collection) -> Iterator[FlaskClient]:
    """A collection of three colours with a mark, a recipe and a drawing."""
    import_catalogue(empty, CATALOGUE)
    type_swatch(empty, NewTyped(1, 1, Pressure.HEAVY, (80.0, -3.0, 44.0)))
    save_recipe(empty, "A leaf\nLane 101, heavy\nthen 102 over it\n")
    app = create_app(empty)
    client = app.test_client()
    client.post("/api/drawings", json={"name": "Plate", "paper_id": 1, "width_mm": 200, "height_mm": 280})
    client.post("/api/drawings/1/log", json={"entries": [{"key": "a", "kind": "note", "note": "masked the stem"}]})
    yield client
    close_devices(app)


def seen(client: FlaskClient) -> list[Any]:
    """What the artist has."""
    return [
        client.get(path).get_json()
        for path in ("/api/tidy?paper=1", "/api/recipes?paper=1", "/api/drawings", "/api/board")
    ]


@pytest.mark.parametrize("what", list(FILES))
def test_broken_files_are_refused_in_words_and_change_nothing(small: FlaskClient, what: str) -> None:
    into, out = FILES[what]
    whole = small.get(out)
    assert whole.status_code == 200, whole.data[:200]
    before, refused, rng = seen(small), 0, random.Random(what)
    for _ in range(EACH):
        sent = upload_large(small, into, broken(whole.data, rng))
        if sent.status_code == 200:
            # What was mangled where nothing is told by it does no harm; what was taken in is taken back.
            if into.endswith("restore"):
                assert upload_large(small, into, whole.data).status_code == 200
            elif (change := sent.get_json()["change"]) is not None:
                assert small.post(f"/api/changes/{change['id']}/undo").status_code == 200
            continue
        refused += 1
        assert sent.status_code in (413, 422), sent.data[:300]
        said = problem(sent)["detail"]
        assert 10 < len(said) < 2000
        assert "Error" not in said
    assert seen(small) == before
    assert refused > EACH // 3, f"{refused} refused"
