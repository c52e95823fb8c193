"""Requests that nobody sends by accident: each is refused in words, quickly, and nothing of it is echoed at length."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

import pytest
from flask.testing import FlaskClient
from tests.web.test_api import problem, upload, upload_large

OWNED = "/api/tidy/owned"
HEADING = b"range,code,name,L,a,b,owned\n"


@pytest.mark.parametrize(
    "body",
    [
        b"[" * 100_000 + b"]" * 100_000,
        b'{"a":' * 50_000 + b"1" + b"}" * 50_000,
        b'{"colour_ids":' + b"[" * 5_000 + b"]" * 5_000 + b',"owned":true}',
        b'{"colour_ids":[NaN],"owned":true}',
        b'{"colour_ids":[1e400],"owned":true}',
        b'{"colour_ids":[' + b"9" * 5_000 + b'],"owned":true}',
        b'{"colour_ids":["\\ud800"],"owned":true}',
        b"\xff\xfe{",
        b'{"colour_ids":[1],"owned":true',
    ],
)
def test_json_that_cannot_be_read_is_refused(client: FlaskClient, body: bytes) -> None:
    refused = client.post(OWNED, data=body, content_type="application/json")
    assert refused.status_code == 422
    said = problem(refused)
    assert said["title"] == "The request was not understood"
    assert 10 < len(said["detail"]) < 300


@pytest.mark.parametrize(
    ("path", "body", "said"),
    [
        ("/api/layering?paper=1" + 41 * "&laid=1:medium:1", None, "laid: it may have at most 40, not 41"),
        ("/api/layering?paper=one&laid=1:light:1", None, "paper: it must be a whole number"),
        ("/api/layering?paper=0&laid=1:light:1", None, "paper: it must be 1 or more"),
        ("/api/layering?paper=1", None, "laid: this is missing"),
        ("/api/swatches/beside", {"marks": []}, "marks: it must have at least 2, not 0"),
        ("/api/swatching", {"paper_id": 1, "which": "mine", "pressures": []},
         "which: it must be 'owned', 'tray', 'set' or 'chosen'"),
        ("/api/swatching", {"paper_id": 1, "which": "owned", "pressures": "light"}, "pressures: it must be a list"),
        ("/api/swatching", {"paper_id": 1, "which": "owned", "pressures": ["soft"]},
         "pressures.0: it must be 'light', 'medium' or 'heavy'"),
        ("/api/swatching", {"paper_id": 1, "which": "owned", "pressures": [], "layers": 13},
         "layers: it must be 12 or less"),
        ("/api/swatching", {"paper_id": 1, "which": "owned", "pressures": [], "over_black": "so"},
         "over_black: it must be true or false"),
        ("/api/recipes", {"text": "a", "title": 7}, "title: it must be text"),
    ],
)  # fmt: skip
def test_fields_that_do_not_fit_are_named_in_plain_words(
    client: FlaskClient, path: str, body: dict[str, Any] | None, said: str
) -> None:
    refused = client.get(path) if body is None else client.post(path, json=body)
    assert refused.status_code == 422
    told = problem(refused)
    assert told["detail"] == said
    assert told["where"] == [said.split(":", maxsplit=1)[0]]


def test_more_pencils_than_the_table_takes_are_refused_in_its_words(client: FlaskClient) -> None:
    refused = client.get("/api/layering?paper=1" + 6 * "&laid=1:medium:1")
    assert refused.status_code == 422
    assert problem(refused)["detail"] == "One to 3 pencils are laid, and one may burnish them."


def test_a_file_that_is_sent_as_words_is_refused(client: FlaskClient) -> None:
    for path in ("/api/catalogue", "/api/catalogue/preview", "/api/collection/restore", "/api/recipes/file"):
        refused = client.post(path, data={"file": "range,code,name"})
        assert (refused.status_code, path) == (422, path)
        assert problem(refused)["detail"] == "file: This must be sent as a file."


@pytest.mark.parametrize(
    ("cell", "column"),
    [
        (b"M,1,x,,,," + b"9" * 5_000, "owned"),
        (b"M,1,x,z" + b"w" * 100_000 + b",1,1,", "L"),
        (b"M,1,x\x00y,50,0,0,", ""),
        (b"M\x1b,1,x,50,0,0,", "range"),
    ],
)
def test_cells_that_nobody_writes_are_named_and_cut(client: FlaskClient, cell: bytes, column: str) -> None:
    # After the first few thousand bytes, which alone were looked at for what is no text.
    many = b"".join(b"M,%d,Ochre,50,0,0,\n" % i for i in range(100, 600))
    answer = upload(client, "/api/catalogue/preview", HEADING + many + cell + b"\n")
    told = answer.get_json()
    [wrong] = told["problems"]
    assert (wrong["line"], wrong["column"]) == (502, column)
    # What a column may be read as is the same for every file; the rest is of this one.
    assert len(answer.data) - len(json.dumps(told["fields"])) < 1_000


def test_so_many_colours_are_too_many_for_one_file(client: FlaskClient) -> None:
    many = HEADING + b"".join(b"M,%d,O,,,,\n" % i for i in range(50_001))
    [wrong] = upload_large(client, "/api/catalogue/preview", many).get_json()["problems"]
    assert (wrong["line"], "at most 50,000" in wrong["message"]) == (50_002, True)


@pytest.mark.parametrize("origin", ["http://[", "null", "http://elsewhere.test", "file://", "x" * 5_000])
def test_a_page_elsewhere_is_refused_by_its_origin(client: FlaskClient, origin: str) -> None:
    refused = client.post(OWNED, json={"colour_ids": [1], "owned": True}, headers={"Origin": origin})
    assert refused.status_code == 403
    assert len(problem(refused)["detail"]) < 150


def test_a_page_elsewhere_is_refused_where_it_says_no_origin(client: FlaskClient) -> None:
    for path in ("/api/collection", "/api/catalogue"):
        assert client.get(path, headers={"Sec-Fetch-Site": "cross-site"}).status_code == 403
        for site in ("same-origin", "none"):
            assert client.get(path, headers={"Sec-Fetch-Site": site}).status_code == 200
    # A link elsewhere may open the page.
    assert client.get("/tidy", headers={"Sec-Fetch-Site": "cross-site"}).status_code in (200, 404)


@pytest.mark.parametrize(
    "path", ["/assets/%00.js", f"/assets/{'a' * 5_000}.js", f"/{'a/' * 3_000}x.js", "/assets/%ff.js"]
)
def test_addresses_that_no_file_can_have_name_nothing(client: FlaskClient, path: str) -> None:
    missing = client.get(path)
    assert missing.status_code == 404
    assert len(problem(missing)["detail"]) < 150


def test_a_backup_whose_manifest_is_a_bomb_is_refused_before_it_is_read(client: FlaskClient) -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("manifest.json", b"[" + b" " * 200_000_000 + b"]")
        file.writestr("collection.sqlite", b"")
    refused = client.post("/api/collection/restore", data={"file": (io.BytesIO(packed.getvalue()), "backup.zip")})
    assert refused.status_code == 422
    assert "manifest is larger" in problem(refused)["detail"]


def test_a_recipe_whose_number_has_no_end_is_refused(client: FlaskClient) -> None:
    file = b'{"format":"tidy-tinder recipe","version":' + b"9" * 5_000 + b',"title":"x","steps":[]}'
    refused = client.post("/api/recipes/file", data={"file": (io.BytesIO(file), "recipe.json")})
    assert refused.status_code == 422
    assert "more digits" in problem(refused)["detail"]


@pytest.mark.parametrize("at", ["0001-01-01T00:00:00+14:00", "9999-12-31T23:59:00-14:00", "1999-12-31T23:59:00Z"])
def test_a_time_that_nobody_can_mean_keeps_no_line_and_is_no_correction(client: FlaskClient, at: str) -> None:
    """Found by a hundred thousand made-up requests: at the ends of the calendar a time has no UTC."""
    client.post("/api/drawings", json={"name": "Quince", "paper_id": 1, "width_mm": 200, "height_mm": 280})
    [drawing] = [one["id"] for one in client.get("/api/drawings").get_json()["drawings"]]
    line = {"key": "far", "kind": "note", "note": "warm greys first", "at": at}
    assert client.post(f"/api/drawings/{drawing}/log", json={"entries": [line]}).status_code == 200
    kept = next(
        one for one in client.get(f"/api/drawings/{drawing}/log").get_json()["entries"] if one["note"] == line["note"]
    )
    # A clock that is wrong loses nothing: the line is of now.
    assert kept["made_at"] > "2026"
    refused = client.put(f"/api/log/{kept['id']}", json={"revision": kept["revision"], "made_at": at})
    assert refused.status_code == 422
    assert "a time lies between 2000-01-01 and 2200-01-01" in problem(refused)["detail"]
