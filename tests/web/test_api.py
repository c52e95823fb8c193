"""The API through HTTP: one problem format, own pages only, nothing that breaks it."""

from __future__ import annotations

import io
import json
import sqlite3
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import event
from werkzeug.test import TestResponse

from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.web.errors import status_of
from tidy_tinder.web.tidy.schemas import ShelvesOut


def problem(response: TestResponse) -> dict[str, Any]:
    """The problem of an answer, having checked that it is one."""
    assert response.mimetype == "application/problem+json"
    found: dict[str, Any] = response.get_json(force=True)
    assert set(found) == {"title", "detail", "status", "where", "code", "versions", "revision"}
    assert found["status"] == response.status_code
    assert found["title"]
    assert "Traceback" not in json.dumps(found)
    return found


def upload(client: FlaskClient, path: str, content: bytes) -> TestResponse:
    return client.post(path, data={"file": (io.BytesIO(content), "catalogue.csv")})


def upload_large(client: FlaskClient, path: str, content: bytes) -> TestResponse:
    """The same, written by hand: the test client leaves the temporary file of a large form open."""
    head = b'--X\r\nContent-Disposition: form-data; name="file"; filename="file"\r\n\r\n'
    body, kind = head + content + b"\r\n--X--\r\n", "multipart/form-data; boundary=X"
    return client.post(path, data=body, content_type=kind)


def test_the_story_over_http(client: FlaskClient) -> None:
    context = client.get("/api/collection").get_json()
    assert (context["owned"], context["charted"], context["recipes"], context["demo"]) == (165, 400, 7, True)
    context = client.put("/api/settings", json={"paper_id": 4, "closest": "value"}).get_json()
    assert (context["paper_id"], context["closest"]) == (4, "value")
    shelves = client.get("/api/tidy?paper=4").get_json()["shelves"]
    wader = next(s for s in shelves if s["name"] == "Wader")
    ticked = client.post("/api/tidy/ticks", json={"range_id": wader["range_id"], "text": "101, 999"}).get_json()
    assert (ticked["newly"], ticked["unknown"]) == (1, ["999"])
    undone = client.post(f"/api/changes/{ticked['change']['id']}/undo").get_json()
    assert undone["change"]["label"].startswith("Undo: Wader 101")
    saved = client.post("/api/recipes", json={"text": "A leaf\nHeron\n126, medium\n"}).get_json()
    recipe = client.get(f"/api/recipes/{saved['recipe_id']}?paper=4").get_json()
    call = recipe["steps"][1]["calls"][0]
    assert (call["answer"], call["compared_at"]) == ("open", "medium")
    standins = client.get(f"/api/calls/{call['id']}/standins?paper=4&closest=value").get_json()
    best = standins["on_paper"][0]
    assert best["basis"] == "predicted on this paper"
    assert best["plus_minus"] > 0
    chosen = {"paper_id": 4, "colour_id": best["colour"]["id"]}
    assert client.put(f"/api/calls/{call['id']}/choice", json=chosen).status_code == 200
    again = client.get(f"/api/recipes/{saved['recipe_id']}?paper=4").get_json()
    assert again["steps"][1]["calls"][0]["answer"] == "stand-in"
    cleared = client.put(f"/api/calls/{call['id']}/choice", json={"paper_id": 4, "colour_id": None})
    assert cleared.status_code == 200
    assert client.delete(f"/api/recipes/{saved['recipe_id']}").status_code == 200
    assert client.get(f"/api/recipes/{saved['recipe_id']}?paper=4").status_code == 404


def test_a_catalogue_over_http(client: FlaskClient) -> None:
    good = b"range,code,name,L,a,b\nLane,1,One,50,0,0\n"
    assert upload(client, "/api/catalogue/preview", good).get_json()["new_colours"] == 1
    bad = upload(client, "/api/catalogue/preview", good.replace(b"50", b"x")).get_json()
    assert [(p["line"], p["column"]) for p in bad["problems"]] == [(2, "L")]
    assert "line 2, column L" in problem(upload(client, "/api/catalogue", good.replace(b"50", b"x")))["detail"]
    assert upload(client, "/api/catalogue", good).get_json()["change"]["rows"] == 2
    assert upload(client, "/api/catalogue", good).get_json()["change"] is None


def test_the_finder_over_http(client: FlaskClient) -> None:
    (hit,) = client.get("/api/find?q=heron+119&paper=1").get_json()["hits"]
    assert (hit["card"]["colour"]["code"], hit["owning"]) == ("119", "spare")
    assert hit["card"]["mark"]["zones"]
    look = client.get("/api/find?q=dull+green&paper=1").get_json()
    assert look["look"] == ["dull", "green"]
    assert look["by_look"]
    assert client.get("/api/find?q=moss&paper=1").get_json()["by_look"] == []
    assert client.get("/api/find?q=moss&paper=999").status_code == 404
    assert client.get("/api/lab?hex=%23777777").get_json()["lab"] == pytest.approx([50.03, 0, 0], abs=0.01)
    assert client.get("/api/lab?hex=red").status_code == 422
    conflict = client.get("/api/find?q=Bracken+M12&paper=1").get_json()
    assert "do not belong together" in conflict["message"]
    assert len(conflict["hits"]) == 3


@pytest.mark.parametrize(
    ("method", "path", "body", "status"),
    [
        ("get", "/api/nothing", None, 404),
        ("get", "/api/tidy?paper=x", None, 422),
        ("get", "/api/tidy", None, 422),
        ("get", "/api/tidy?paper=99", None, 404),
        ("get", "/api/tidy?paper=99999999999999999999999", None, 422),
        ("get", "/api/colours/99999?paper=1", None, 404),
        ("get", "/api/colours/1?paper=1&closest=nearest", None, 422),
        ("get", "/assets/nothing.js", None, 404),
        ("post", "/api/tidy", {}, 405),
        ("post", "/api/tidy/ticks", {"range_id": 1}, 422),
        ("post", "/api/tidy/ticks", {"range_id": 1, "text": ""}, 422),
        ("post", "/api/recipes", {"text": "  "}, 422),
        ("post", "/api/changes/99999/undo", None, 404),
        ("put", "/api/settings", {"closest": "hue first"}, 422),
        ("put", "/api/calls/99999", {"colour_id": None, "revision": 1}, 404),
        ("put", "/api/calls/1/choice", {"paper_id": 1, "colour_id": 99999}, 404),
        ("post", "/api/catalogue", None, 422),
    ],
)
def test_whatever_goes_wrong_is_a_problem_in_words(
    client: FlaskClient, method: str, path: str, body: object, status: int
) -> None:
    response = getattr(client, method)(path, json=body) if body is not None else getattr(client, method)(path)
    assert response.status_code == status
    assert problem(response)["detail"]


@pytest.mark.parametrize("text", ["{", "[]", '"x"', "", "\x00"])
def test_a_body_that_is_no_json_object_is_a_problem(client: FlaskClient, text: str) -> None:
    response = client.post("/api/recipes", data=text, content_type="application/json")
    assert response.status_code == 422
    problem(response)


@pytest.mark.parametrize("host", ["evil.example", "127.0.0.1.evil.example", "10.0.0.1:8731", "localhost.evil"])
def test_another_host_name_is_refused(client: FlaskClient, host: str) -> None:
    response = client.get("/api/collection", headers={"Host": host})
    assert response.status_code == 403
    problem(response)


@pytest.mark.parametrize("host", ["127.0.0.1:8731", "localhost:1", "[::1]:8731"])
def test_this_machines_own_names_are_taken(client: FlaskClient, host: str) -> None:
    assert client.get("/api/collection", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize("origin", ["http://evil.example", "http://localhost:9999", "null", "https://127.0.0.1:1"])
def test_another_origin_is_refused(client: FlaskClient, origin: str) -> None:
    response = client.post("/api/recipes", json={"text": "x"}, headers={"Origin": origin, "Host": "127.0.0.1:8731"})
    assert response.status_code == 403
    problem(response)


def test_its_own_origin_is_taken(client: FlaskClient) -> None:
    headers = {"Origin": "http://127.0.0.1:8731", "Host": "127.0.0.1:8731"}
    assert client.get("/api/collection", headers=headers).status_code == 200


def test_an_unforeseen_error_shows_no_stack_trace(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    from tidy_tinder.web.collection import routes

    def broken(_sessions: object) -> None:
        raise ZeroDivisionError("secret")

    monkeypatch.setattr(routes, "context", broken)
    response = client.get("/api/collection")
    assert response.status_code == 500
    assert "secret" not in problem(response)["detail"]


def test_every_error_of_ours_has_a_status() -> None:
    from tidy_tinder.core.errors import TidyTinderError
    from tidy_tinder.formats.errors import UnreadableError
    from tidy_tinder.storage.errors import DatabaseTooNewError

    def leaves(kind: type[TidyTinderError]) -> list[type[TidyTinderError]]:
        return [kind, *(leaf for child in kind.__subclasses__() for leaf in leaves(child))]

    for kind in leaves(TidyTinderError):
        assert 400 <= status_of(kind("x")) < 600
        assert kind.title
    assert status_of(DatabaseTooNewError("x")) == status_of(UnreadableError("x")) == 422


def test_answers_are_never_kept_by_the_browser(client: FlaskClient) -> None:
    response = client.get("/api/tidy?paper=1", headers={"Accept-Encoding": "gzip"})
    # Over the loopback packing costs more than it saves.
    assert "Content-Encoding" not in response.headers
    assert response.headers["Cache-Control"] == "no-store"
    assert "script" not in response.headers["Content-Security-Policy"].split("default-src 'self'")[0]


def test_the_fast_shelves_are_of_the_documented_shape(client: FlaskClient) -> None:
    answer = client.get("/api/tidy?paper=4").get_json()
    assert ShelvesOut.model_validate(answer).model_dump(mode="json") == answer
    assert sum(len(s["colours"]) for s in answer["shelves"]) == 400


def test_a_change_that_comes_too_late_carries_both_versions(client: FlaskClient) -> None:
    stick = client.get("/api/colours/20?paper=1").get_json()["pencils"][0]
    number = stick.pop("id")
    del stick["set_name"]
    assert client.put(f"/api/pencils/{number}", json={**stick, "tin": "left"}).status_code == 200
    late = client.put(f"/api/pencils/{number}", json={**stick, "tin": "right"})
    told = problem(late)
    assert (late.status_code, told["revision"]) == (409, stick["revision"] + 1)
    assert told["versions"] == [{"field": "tin", "yours": "right", "theirs": "left"}]


def test_swatching_over_http_with_a_fault(client: FlaskClient) -> None:
    body = {"paper_id": 3, "which": "chosen", "colour_ids": [20], "pressures": ["light", "heavy"]}
    assert client.post("/api/swatching/count", json=body).get_json()["marks"] == 2
    number = client.post("/api/swatching", json=body).get_json()["id"]
    marks = [i["id"] for i in client.get(f"/api/swatching/{number}").get_json()["items"]]
    told = problem(client.post(f"/api/swatching/marks/{marks[0]}/reading"))
    assert (told["status"], told["code"]) == (424, "not-connected")
    assert client.post("/api/reader/simulated").get_json()["info"]["simulated"] is True
    assert problem(client.post(f"/api/swatching/marks/{marks[0]}/reading"))["code"] == "not-calibrated"
    client.post("/api/reader/calibration")
    read = client.post(f"/api/swatching/marks/{marks[0]}/reading").get_json()
    assert (read["outcome"], read["item"]["state"]) == ("stored", "read")
    client.post("/api/reader/fault", json={"kind": "silent"})
    assert problem(client.post(f"/api/swatching/marks/{marks[1]}/reading"))["code"] == "silent"
    assert client.post(f"/api/swatching/marks/{marks[1]}/reading").get_json()["outcome"] == "stored"
    row = next(r for r in client.get("/api/board").get_json()["rows"] if r["paper_id"] == 3)
    assert row["cells"][0]["measured"] == [1, 0, 1]


def test_backup_and_restore_over_http(client: FlaskClient) -> None:
    packed = client.get("/api/collection/backup")
    assert packed.headers["Content-Disposition"].startswith('attachment; filename="tidy-tinder-')
    client.post("/api/tidy/owned", json={"colour_ids": [20], "owned": False})
    assert client.get("/api/collection").get_json()["owned"] == 164
    restored = upload(client, "/api/collection/restore", packed.data).get_json()
    assert Path(restored["safety_copy"]).exists()
    assert client.get("/api/collection").get_json()["owned"] == 165
    told = problem(upload(client, "/api/collection/restore", packed.data[:5000]))
    assert (told["status"], told["title"]) == (422, "This backup cannot be restored")


def test_the_exported_catalogue_changes_nothing_when_it_is_taken_in(client: FlaskClient) -> None:
    file = client.get("/api/catalogue")
    assert file.mimetype == "text/csv"
    seen = upload(client, "/api/catalogue/preview", file.data).get_json()
    assert (seen["problems"], seen["changes_nothing"], seen["same_colours"]) == ([], True, 400)


def test_an_asset_cannot_be_asked_for_outside_its_folder(client: FlaskClient) -> None:
    for path in ("/../app.py", "/assets/../../app.py", "/%2e%2e/app.py", "/..%2fapp.py"):
        response = client.get(path)
        assert response.status_code == 404 or b"create_app" not in response.data


def test_a_collection_that_another_program_writes_to_is_busy_and_nothing_is_lost(
    client: FlaskClient, demo: Collection
) -> None:
    """A writer waits for another one and then says so with 503; what was answered before is there."""
    event.listen(demo.engine, "connect", lambda raw, _: raw.execute("PRAGMA busy_timeout=50"))
    demo.engine.dispose()
    before = client.get("/api/collection").get_json()
    other = sqlite3.connect(demo.database, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    told = problem(client.post("/api/tidy/ticks", json={"range_id": 1, "text": "101"}))
    assert told["status"] == 503
    assert "Another program is writing" in told["detail"]
    assert client.get("/api/collection").get_json() == before
    other.execute("ROLLBACK")
    other.close()
    assert client.post("/api/tidy/ticks", json={"range_id": 1, "text": "101"}).status_code == 200


@pytest.mark.parametrize(
    ("pragma", "status", "says", "undone"),
    [
        ("max_page_count = 1", 507, "no room left on the disk", "max_page_count = 1073741823"),
        ("query_only = 1", 503, "may not be written", "query_only = 0"),
    ],
)
def test_what_the_disk_does_not_take_is_said_and_goes_on_when_it_does(
    client: FlaskClient, demo: Collection, pragma: str, status: int, says: str, undone: str
) -> None:
    """SQLite itself is told to take no further page, or no write: what it then says is what a full disk lets it say."""
    before = client.get("/api/collection").get_json()
    now = pragma
    event.listen(demo.engine, "checkout", lambda raw, *_: raw.execute(f"PRAGMA {now}"))
    recipe = {"text": "A leaf\nHeron\n126, medium\n" + "a long note\n" * 1300}
    told = problem(client.post("/api/recipes", json=recipe))
    assert (told["status"], told["title"] != "Something went wrong") == (status, True)
    assert says in told["detail"]
    assert "all that was kept before is safe" in told["detail"]
    assert client.get("/api/collection").get_json() == before
    now = undone
    assert client.post("/api/recipes", json=recipe).status_code == 200


def test_a_call_is_settled_by_whoever_saw_it_as_it_is(client: FlaskClient) -> None:
    saved = client.post("/api/recipes", json={"text": "A leaf\nHeron\n126, medium\n"}).get_json()
    recipe = f"/api/recipes/{saved['recipe_id']}?paper=1"

    def call() -> dict[str, Any]:
        found: dict[str, Any] = client.get(recipe).get_json()["steps"][1]["calls"][0]
        return found

    seen = call()
    meant = {"colour_id": 20, "revision": seen["revision"]}
    assert client.put(f"/api/calls/{seen['id']}", json=meant).status_code == 200
    assert call()["revision"] == seen["revision"] + 1
    late = client.put(f"/api/calls/{seen['id']}", json={"colour_id": None, "revision": seen["revision"]})
    assert late.status_code == 409
    said = problem(late)
    assert "another window" in said["detail"]
    assert {version["field"] for version in said["versions"]} == {"state", "colour_id"}
    assert call()["colour"]["id"] == 20
