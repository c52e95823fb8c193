"""Stations 1 and 2 over HTTP: what the page sends and gets, wish by wish."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient
from tests.web.test_api import problem

FLY_CAP = 20
VELLUM, PRINT, BUFF = 1, 3, 4


def made(client: FlaskClient, method: str, path: str, **body: Any) -> Any:
    """The answer to a wish that is granted."""
    response = getattr(client, method)(path, json=body) if body else getattr(client, method)(path)
    assert response.status_code == 200, response.data
    return response.get_json()


def page(client: FlaskClient, colour: int = FLY_CAP, paper: int = VELLUM) -> Any:
    return client.get(f"/api/colours/{colour}?paper={paper}").get_json()


def test_pencils_are_lost_found_moved_added_and_removed(client: FlaskClient) -> None:
    assert page(client)["owning"] == "spare"
    for act, owning in (("lost", "owned"), ("lost", "lost"), ("found", "spare"), ("used up", "owned")):
        made(client, "post", "/api/tidy/pencils", colour_ids=[FLY_CAP], act=act)
        assert page(client)["owning"] == owning, act
    moved = made(client, "post", "/api/tidy/pencils", colour_ids=[FLY_CAP], act="move", tin="travel")
    assert moved["change"]["label"] == "Fly Cap moved to travel"
    tins = {t["name"]: t for t in made(client, "get", "/api/tins")["tins"]}
    assert tins["travel"]["pencils"] == 1
    made(client, "post", f"/api/colours/{FLY_CAP}/pencils")
    newest = page(client)["pencils"][-1]
    assert (newest["state"], newest["set_name"]) == ("spare", "")
    made(client, "delete", f"/api/pencils/{newest['id']}")
    assert client.delete(f"/api/pencils/{newest['id']}").status_code == 404


def test_travelling_narrows_everything(client: FlaskClient) -> None:
    refused = client.put("/api/settings", json={"with_me": True})
    assert "No tin is marked" in problem(refused)["detail"]
    made(client, "post", "/api/tidy/pencils", colour_ids=[FLY_CAP], act="move", tin="travel")
    travelling = made(client, "put", "/api/tins/travel", tin="travel", along=True)
    assert [t["name"] for t in travelling["tins"] if t["travels"]] == ["travel"]
    context = made(client, "put", "/api/settings", with_me=True)
    assert (context["owned"], context["travel"]) == (1, ["travel"])
    shelved = made(client, "get", "/api/tidy?paper=1")["shelves"]
    assert [c["id"] for s in shelved for c in s["colours"] if c["with_me"]] == [FLY_CAP]
    assert made(client, "put", "/api/settings", with_me=False)["owned"] == 165


def test_charts_are_written_corrected_and_struck(client: FlaskClient) -> None:
    mine = made(client, "post", "/api/ranges", maker="M", name="Mine", new_length_mm=160)["id"]
    sock = made(client, "post", f"/api/ranges/{mine}/colours", code="1", name="Odd Sock", lab=[50, 10, -20])["id"]
    boxed = made(client, "post", f"/api/ranges/{mine}/sets", name="Mine 1", codes="1")["id"]
    chart = page(client, sock)["chart"]
    assert chart == {"lab": [50, 10, -20], "chart_source": "typed", "revision": 1}
    made(client, "put", f"/api/colours/{sock}", code="1", name="Even Sock", lab=None, revision=1)
    assert page(client, sock)["colour"]["name"] == "Even Sock"
    late = problem(client.put(f"/api/colours/{sock}", json={"code": "1", "name": "Lone Sock", "revision": 1}))
    assert {v["field"]: (v["yours"], v["theirs"]) for v in late["versions"]} == {"name": ("Lone Sock", "Even Sock")}
    shelf = next(s for s in made(client, "get", "/api/tidy?paper=1")["shelves"] if s["range_id"] == mine)
    made(client, "put", f"/api/ranges/{mine}", maker="M", name="Ours", revision=shelf["revision"])
    made(client, "delete", f"/api/sets/{boxed}")
    made(client, "delete", f"/api/colours/{sock}")
    made(client, "delete", f"/api/ranges/{mine}")
    assert len(made(client, "get", "/api/tidy?paper=1")["shelves"]) == 5
    assert "pencils that you own" in problem(client.delete(f"/api/colours/{FLY_CAP}"))["detail"]


@pytest.mark.parametrize(
    ("path", "body", "said"),
    [
        ("/api/ranges", {"name": "Heron", "maker": "Quillfen"}, "already"),
        ("/api/ranges/1/colours", {"code": "101", "name": "Twice"}, "is Oxlip on this chart already"),
        ("/api/ranges/1/colours", {"code": "x", "name": "Sun", "lab": [120, 0, 0]}, "L* lies between"),
        ("/api/ranges/1/sets", {"name": "Odd", "codes": "9999"}, "Not on the chart"),
        ("/api/papers", {"name": "Vellum board", "lab": [90, 0, 0], "tooth": "medium", "most_layers": 5}, "already"),
        ("/api/swatching", {"paper_id": 1, "which": "tray", "pressures": ["heavy"]}, "Nothing is left to read"),
        ("/api/swatches/beside", {"marks": [{"colour_id": 1, "paper_id": 1, "pressure": "heavy"}]}, "at least 2"),
    ],
)
def test_what_cannot_be_is_refused_with_the_reason(
    client: FlaskClient, path: str, body: dict[str, Any], said: str
) -> None:
    response = client.post(path, json=body)
    assert response.status_code == 422
    assert said in problem(response)["detail"]


def test_papers_over_http(client: FlaskClient) -> None:
    kraft = {"name": "Kraft", "lab": [63, 8, 24], "tooth": "medium", "most_layers": 6}
    number = made(client, "post", "/api/papers", **kraft)["id"]
    made(client, "put", f"/api/papers/{number}", **{**kraft, "tooth": "rough", "revision": 1})
    late = problem(client.put(f"/api/papers/{number}", json={**kraft, "revision": 1}))
    assert (late["status"], late["versions"][0]["field"]) == (409, "tooth")
    copy = made(client, "post", f"/api/papers/{number}/batch")["id"]
    pages = {p["id"]: p for p in made(client, "get", "/api/papers")["papers"]}
    assert (pages[copy]["said"]["name"], pages[copy]["copied_from"]) == ("Kraft, batch 2", "Kraft")
    assert "1 later batch of it" in problem(client.delete(f"/api/papers/{number}"))["detail"]
    made(client, "delete", f"/api/papers/{copy}")
    made(client, "delete", f"/api/papers/{number}")


def test_swatches_are_typed_noted_laid_beside_and_removed(client: FlaskClient) -> None:
    typed = {"colour_id": FLY_CAP, "paper_id": PRINT, "pressure": "heavy", "lab": [44, 55, 30]}
    number = made(client, "post", "/api/swatches", **typed)["id"]
    kin = made(client, "get", f"/api/colours/{FLY_CAP}/kin?paper={PRINT}")
    row = next(h["row"] for h in kin["history"] if h["row"]["id"] == number)
    assert (row["source"], row["paper_id"]) == ("typed", PRINT)
    made(client, "put", f"/api/swatches/{number}/note", note="by a friend", revision=row["revision"])
    marks = [{"colour_id": FLY_CAP, "paper_id": paper, "pressure": "heavy"} for paper in (VELLUM, PRINT, BUFF)]
    laid = made(client, "post", "/api/swatches/beside", marks=marks)["laid"]
    assert [one["difference"] is None for one in laid] == [True, False, False]
    assert laid[1]["patch"]["lab"] == [44, 55, 30]
    made(client, "delete", f"/api/swatches/{number}")
    assert client.delete(f"/api/swatches/{number}").status_code == 404


def test_a_worn_stamp_over_http(client: FlaskClient) -> None:
    lab = page(client)["mark"]["zones"][0]["lab"]
    found = made(client, "post", "/api/tidy/what", lab=lab, paper=VELLUM, pressure="heavy")
    best = max(found["here"], key=lambda s: s["share"])
    assert best["colour"]["id"] == FLY_CAP
    assert sum(s["share"] for s in found["here"]) + found["none_share"] == pytest.approx(1.0, abs=0.02)


def test_a_pasted_list_over_http(client: FlaskClient) -> None:
    lines = made(client, "post", "/api/tidy/pasted", text="Heron\n119\nBraken")["lines"]
    assert [(x["text"], [c["name"] for c in x["colours"]][:1], x["problem"] == "") for x in lines] == [
        ("119", ["Fly Cap"], True), ("Braken", ["Bracken"], False),
    ]  # fmt: skip


def test_the_tray_over_http(client: FlaskClient) -> None:
    made(client, "put", "/api/tray", colour_ids=[FLY_CAP, 3, 30], into=True)
    pulled = made(client, "get", "/api/tray?paper=1")["pulled"]
    values = [p["card"]["order"]["value"] for p in pulled]
    assert values == sorted(values, reverse=True)
    assert page(client)["in_tray"] is True
    made(client, "delete", "/api/tray")
    assert made(client, "get", "/api/tray?paper=1")["pulled"] == []


def test_the_reader_over_http(client: FlaskClient) -> None:
    assert made(client, "get", "/api/reader")["connected"] is False
    assert problem(client.post("/api/reader/connect", json={"port": 9}))["code"] == "not-connected"
    made(client, "post", "/api/reader/simulated")
    made(client, "post", "/api/reader/calibration")
    under = made(client, "put", "/api/reader/under", colour_id=FLY_CAP, paper_id=VELLUM)
    assert (under["follows"], under["under_it"]) == (False, "Heron 119 Fly Cap, heavy, on Vellum board")
    read = made(client, "post", "/api/reader/reading")
    assert len(read["reflectance"]) == 31
    bare = made(client, "put", "/api/reader/under", paper_id=VELLUM)
    assert bare["under_it"] == "bare Vellum board"
    assert made(client, "put", "/api/reader/follow", follows=True)["follows"] is True
    assert made(client, "post", f"/api/papers/{VELLUM}/reading")["lab"][0] == pytest.approx(94.5, abs=1.5)
    assert made(client, "delete", "/api/reader")["connected"] is False


def test_the_changes_are_listed_with_their_undo(client: FlaskClient) -> None:
    made(client, "post", "/api/tidy/owned", colour_ids=[5], owned=True)
    newest = made(client, "get", "/api/changes")["changes"][0]
    assert (newest["label"], newest["undone"]) == ("Straw Hat owned", False)
    made(client, "post", f"/api/changes/{newest['id']}/undo")
    listed = made(client, "get", "/api/changes")["changes"]
    assert [c["undone"] for c in listed if c["id"] == newest["id"]] == [True]
    again = problem(client.post(f"/api/changes/{newest['id']}/undo"))
    assert "already taken back" in again["detail"]


def test_the_served_document_is_the_committed_one_and_names_every_route(client: FlaskClient) -> None:
    document = made(client, "get", "/api/openapi.json")
    routes = {
        rule.rule for rule in client.application.url_map.iter_rules() if rule.rule.startswith("/api/")
    } - {"/api/openapi.json"}  # fmt: skip
    documented = {path.replace("{", "<int:").replace("}", ">") for path in document["paths"]}
    assert documented == routes
