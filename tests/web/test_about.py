"""Which program this is, and the file that goes along with the report of a fault: it tells nothing of the artist."""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from flask.testing import FlaskClient
from tests.web.test_api import upload_large

from tidy_tinder import __version__
from tidy_tinder.services.background.runtime import Collection


def test_it_says_its_version_and_where_it_keeps_things(client: FlaskClient, demo: Collection) -> None:
    about = client.get("/api/about").get_json()
    assert about["version"] == __version__
    assert Path(about["collection"]) == demo.database
    assert Path(about["backups"]) == demo.database.parent / "backups"


def test_the_diagnosis_counts_and_times_and_names_nothing_of_hers(client: FlaskClient, demo: Collection) -> None:
    for _ in range(3):
        client.get("/api/collection")
    client.get("/api/colours/987654?paper=1&closest=overall")
    client.get("/api/secret-diary")
    file = client.get("/api/diagnosis")
    assert file.headers["Content-Disposition"].startswith('attachment; filename="tidy-tinder-diagnosis-')
    text = file.get_data(as_text=True)
    found = json.loads(text)
    with closing(sqlite3.connect(demo.database)) as connection:
        tables = [str(name) for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        counts = {name: connection.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0] for name in tables}
        words = [str(word) for (word,) in connection.execute(
            "SELECT name FROM paper UNION SELECT name FROM colour UNION SELECT title FROM recipe")]  # fmt: skip
    assert found["rows"] == {name: counts[name] for name in found["rows"]}
    assert found["rows"]["colour"] == 400
    assert found["bytes"]["database"] == demo.database.stat().st_size
    assert (found["program"], len(found["packages"])) == (__version__, 8)
    assert "not there" not in found["packages"].values()
    answers = {one["question"]: one for one in found["answers"]}
    assert answers["GET /api/collection"]["asked"] == 3
    assert 0 < answers["GET /api/collection"]["median_ms"] <= answers["GET /api/collection"]["longest_ms"]
    colour = answers["GET /api/colours/<int:colour_id>"]
    assert (colour["asked"], colour["refused"], colour["failed"]) == (1, 1, 0)
    assert len(words) > 300
    for word in [*words, str(demo.database.parent), "987654", "diary"]:
        assert f'"{word}' not in text, word
        assert len(word) < 8 or word not in text, word


def test_the_collection_goes_out_as_json_and_comes_back(client: FlaskClient, demo: Collection) -> None:
    file = client.get("/api/collection/json")
    assert file.headers["Content-Disposition"].endswith(f'{datetime.now(UTC):%Y-%m-%d}.json"')
    before = client.get("/api/tidy?paper=1").get_json()
    client.post("/api/tidy/owned", json={"colour_ids": [1, 2, 3], "owned": False})
    assert client.get("/api/tidy?paper=1").get_json() != before
    restored = upload_large(client, "/api/collection/restore", file.data)
    assert restored.status_code == 200
    assert Path(restored.get_json()["safety_copy"]).exists()
    demo.fit_once()
    assert client.get("/api/tidy?paper=1").get_json() == before
    broken = upload_large(client, "/api/collection/restore", file.data[:-9])
    assert broken.status_code == 422
    assert "its JSON cannot be read: line" in broken.get_json(force=True)["detail"]
    assert client.get("/api/tidy?paper=1").get_json() == before
